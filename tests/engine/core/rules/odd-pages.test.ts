/** Pages that were told wrongly: what is scaled, what cannot scroll, what scripts would fill, what lies far outside. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { drawingOf, drawingSchema } from '../../../../src/core/reports/drawing.ts';
import { scrollableBy } from '../../../../src/core/boxes/viewport-overflow.ts';
import { observeAll } from '../../../../src/core/rules/index.ts';
import type { Observation } from '../../../../src/core/finding.ts';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';

const SIZE = { width: 800, height: 600 };

describe('odd pages', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  async function analysed(html: string, width = SIZE.width) {
    const bytes = new TextEncoder().encode(
      `<!doctype html><title>x</title><meta name=viewport content="width=device-width">${html}`,
    );
    const opened = await headless.open([{ path: 'p.html', type: 'text/html', bytes }], 'p.html', {
      ...SIZE,
      width,
    });
    const analysis = await opened.measure();
    const found = await opened.complete(analysis, () => observeAll(analysis));
    const scrollsBy = async (axis: 'X' | 'Y'): Promise<number> =>
      opened.evaluate('html', `(window.scrollBy(${axis === 'X' ? '9999, 0' : '0, 9999'}), scroll${axis})`);
    return { opened, analysis, found, scrollsBy };
  }
  const reported = (found: Observation[]): string[] =>
    found.map(({ kind, what, grade }) => `${kind}: ${what}${grade === 'wrong' ? '' : ` [${grade}]`}`);

  const LINES = (style: string, line: string) =>
    `<style>.d { ${style} } .s { font-size: 30px; line-height: ${line}; width: 400px }</style><div class=d><p class=s>Several words that break into several lines of one paragraph, here and so on for ever and ever</div>`;
  const SCALES: [string, string, string, boolean][] = [
    ['lines as they should be, scaled down', 'transform: scale(.4); transform-origin: 0 0', '1.3', false],
    ['the same, scaled up', 'transform: scale(1.5); transform-origin: 0 0', '1.3', false],
    ['the same by the property', 'scale: .5', '1.3', false],
    [
      'the same by a matrix in a scaled ancestor',
      'scale: .8; transform: matrix(.7, 0, 0, .7, 0, 0)',
      '1.3',
      false,
    ],
    [
      'lines that do lie over each other, scaled up',
      'transform: scale(1.5); transform-origin: 0 0',
      '.6',
      true,
    ],
    ['lines that do, not scaled', '', '.6', true],
  ];
  for (const [name, style, line, isClose] of SCALES)
    test(name, async () => {
      const { found } = await analysed(LINES(style, line));
      const close = found.filter(({ rule }) => rule === 'overlap/close-lines');
      assert.equal(close.length > 0, isClose, reported(found).join('\n'));
      if (isClose) assert.match(close[0]!.what, /they are 18 px apart, and the letters 30 px large/);
    });

  const WIDE = '<p style="width: 3000px; height: 2000px; margin: 0; background: red">x';
  const SCROLLS: [string, string, boolean, boolean][] = [
    ['nothing said', '', true, true],
    ['hidden on body', 'body { overflow: hidden }', false, false],
    ['hidden on the root', 'html { overflow: hidden }', false, false],
    ['clip on body', 'body { overflow: clip }', false, false],
    ['hidden across on body', 'body { overflow-x: hidden }', false, true],
    ['hidden down on the root', 'html { overflow-y: hidden }', true, false],
    ['hidden on body, auto on the root', 'html { overflow: auto } body { overflow: hidden }', false, true],
    ['hidden on a contained body', 'body { overflow: hidden; contain: paint }', false, true],
    ['scroll on body', 'body { overflow: scroll }', true, true],
  ];
  for (const [name, style, across, down] of SCROLLS)
    test(`what the page scrolls over, ${name}: as the engine scrolls it`, async () => {
      const { analysis, found } = await analysed(`<style>body { margin: 0 } ${style}</style>${WIDE}`);
      for (const [axis, expected] of [
        ['x', across],
        ['y', down],
      ] as const) {
        const by = scrollableBy(analysis.reading, axis);
        if (!expected) assert.equal(by, 0, `${axis}: ${by}`);
        else assert.ok(by > 0, `${axis}: ${by}`);
      }
      if (!across)
        assert.ok(
          !found.some(
            ({ what, grade }) =>
              grade === 'wrong' && /The page (is .* wider|scrolls (sideways|right))/.test(what),
          ),
          reported(found).join('\n'),
        );
    });

  const SCRIPTED: [string, string, RegExp | null][] = [
    [
      'a carousel that a script moves',
      '<style>.c { width: 2000px }</style><div class=c><p>one<p>two</div><script>new Carousel(".c")</script>',
      /overflow: .*div\.c.*\[doubtful\]/,
    ],
    ['the same without a script', '<style>.c { width: 2000px }</style><div class=c><p>one<p>two</div>', null],
    [
      'a box that a script only listens to',
      '<style>.c { width: 2000px }</style><div class=c><p>one<p>two</div><script>document.querySelector(".c").addEventListener("click", go)</script>',
      null,
    ],
    [
      'a canvas',
      '<canvas style="width: 2000px; height: 20px"></canvas><script>draw()</script>',
      /overflow: .*canvas.*\[doubtful\]/,
    ],
  ];
  for (const [name, html, doubt] of SCRIPTED)
    test(`scripts held: ${name}`, async () => {
      const list = reported((await analysed(html)).found);
      const wide = list.filter((text) => text.startsWith('overflow'));
      assert.ok(wide.length > 0, list.join('\n'));
      if (doubt) assert.match(wide.join('\n'), doubt);
      else assert.ok(!wide.some((text) => /doubtful/.test(text)), wide.join('\n'));
    });

  test('a drawing holds what is on it, wherever else boxes lie', async () => {
    for (const width of [360, 1280]) {
      const { analysis } = await analysed(
        '<style>p { position: absolute; width: 60px; height: 40px } .a { left: -9999px } .b { left: -999em } .c { left: -999119px; top: -99999px } .d { left: 30px; top: -10px } .e { left: 99999px }</style><p class=a>a<p class=b>b<p class=c>c<p class=d>d<p class=e>e',
        width,
      );
      const drawing = drawingSchema.parse(drawingOf(analysis.reading));
      assert.equal(drawing.marks.length, 1, JSON.stringify(drawing.marks));
    }
  });
});
