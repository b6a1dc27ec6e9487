/** Pages in a document that holds them: at their size at once, out of sight only where nothing is missed for it. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { observeAll } from '../../../src/core/rules/index.ts';
import { corpusPages, withCorpus } from '../../support/corpus.ts';
import type { Headless, Opened } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';

const fileOf = (path: string, text: string, type = 'text/html') => ({ path, type, bytes: Buffer.from(text) });
const pageOf = (html: string, style = '') => [
  fileOf('index.html', `<!doctype html><style>${style}</style><body style="margin: 0">${html}`),
  fileOf('other.html', '<!doctype html><p>Elsewhere'),
];

describe('a page in a document that holds it', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  const frameOf = (opened: Opened) => headless.page.frames().find((frame) => frame.url() === opened.address)!;
  /** Where the page's frame lies in what holds it, in CSS px from the left. */
  const placeOf = (opened: Opened) =>
    frameOf(opened)
      .parentFrame()!
      .evaluate<number>(`document.querySelector('iframe').getBoundingClientRect().left`);
  const open = (html: string, style: string, scripts: 'hold' | 'run' = 'hold') =>
    headless.open(pageOf(html, style), 'index.html', { width: 700, height: 500 }, scripts);

  test('has each size in turn, with the conditions that hold at it', async () => {
    const opened = await open('<p>a', '@media (max-width: 500px) { p { width: 50% } } p { width: 100% }');
    for (const width of [700, 400, 1900, 501, 500]) {
      const { reading } = await opened.measureAt({ width, height: 300 }, null);
      assert.deepEqual([reading.viewport.width, reading.viewport.height], [width, 300]);
      assert.deepEqual(reading.media, [width <= 500]);
      assert.equal(reading.document.clientWidth, width);
    }
    await opened.close();
  });

  const RESTING: [name: string, style: string, scripts: 'hold' | 'run', isAway: boolean][] = [
    ['out of sight', 'p { color: red }', 'hold', true],
    ['in sight where its scripts run', 'p { color: red }', 'run', false],
    [
      'in sight where what is not near the view is not laid out',
      'p { content-visibility: auto }',
      'hold',
      false,
    ],
  ];
  for (const [name, style, scripts, isAway] of RESTING)
    test(`at another size than the first it lies ${name}`, async () => {
      const opened = await open('<p>a', style, scripts);
      await opened.measure();
      assert.equal(await placeOf(opened), 0);
      await opened.measureAt({ width: 640, height: 500 }, null);
      assert.equal((await placeOf(opened)) <= -640, isAway);
      await opened.close();
    });

  test('in several frames its sheets are read once, and those of another page apart', async () => {
    const widths = async (...styles: string[]) => {
      const all = await Promise.all(styles.map((style) => open('<p>a', style)));
      const result = await Promise.all(all.map((opened) => opened.measure()));
      for (const opened of all) await opened.close();
      return result.map(({ reading, tree, sources }) => ({
        sources,
        width: reading.rects[tree.count * 4 - 2],
      }));
    };
    const [a, b] = await widths('p { width: 90px }', 'p { width: 90px }');
    const [c] = await widths('p { width: 70px }');
    assert.equal(a!.sources, b!.sources);
    assert.notEqual(a!.sources, c!.sources);
    assert.deepEqual([a!.width, b!.width, c!.width], [90, 90, 70]);
  });

  test('a scrollbar that it needs no more is gone', withCorpus, async () => {
    // At some widths its boxes are too wide without the bar that goes down the page, and not beside it.
    const { files, entry } = corpusPages().find(({ name }) => name.includes('general_elements'))!;
    const opened = await headless.open(files, entry, { width: 1200, height: 800 });
    for (const width of [1150, 1149, 1148, 1100, 1149]) {
      const at = await opened.measureAt({ width, height: 800 }, null);
      const { clientHeight, clientWidth, scrollWidth } = at.reading.document;
      assert.equal(clientHeight < 800, scrollWidth > clientWidth, `${width}: ${scrollWidth} in ${clientWidth}`);
      const found = await opened.complete(at, () => observeAll(at, ['clip']));
      assert.deepEqual(
        found.filter(({ what }) => what.includes('avatar')),
        [],
        `${width}: text of a bar beside the bar itself`,
      );
    }
    await opened.close();
  });

  test('a page that goes elsewhere by itself is not measured there', async () => {
    const opened = await open(
      '<p>a<script>setTimeout(() => (location.href = "other.html"), 1500)</script>',
      '',
      'run',
    );
    await assert.rejects(async () => {
      for (const until = Date.now() + 20_000; Date.now() < until;) {
        const { reading } = await opened.measure();
        assert.equal(reading.document.url, opened.address);
      }
    }, /went to another address/);
    await opened.close();
  });
});
