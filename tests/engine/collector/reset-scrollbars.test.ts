/** What a page is at a width does not depend on the width that it had before. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Headless, Opened } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';

const WORDS = 'ferry quay mast rope tide berth deck sail port wave buoy crane timetable '.repeat(30);

interface Row {
  name: string;
  css: string;
  html: string;
  doctype?: string;
  /** The range in which contents come to fit into what scrolls them. */
  widths: [from: number, to: number];
  /** What scrolls, and px that a bar takes there. */
  scroller: string;
  bar: string;
}

const FONT = 'p { font: 20px/24px sans-serif }';
const OF_VIEWPORT = { scroller: 'html', bar: 'innerWidth - e.clientWidth' };
const OF_BOX = { scroller: 'body > div', bar: 'e.offsetWidth - e.clientWidth - 2 * e.clientLeft' };

const ROWS: Row[] = [
  { name: 'the viewport', css: FONT, html: `<p>${WORDS}</p>`, widths: [640, 690], ...OF_VIEWPORT },
  {
    name: 'the viewport, as the body asks for it',
    css: `body { overflow: auto } ${FONT}`,
    html: `<p>${WORDS}</p>`,
    widths: [640, 690],
    ...OF_VIEWPORT,
  },
  {
    name: 'a viewport that always has a bar for the other axis',
    css: `html { overflow: scroll auto } ${FONT}`,
    html: `<p>${WORDS}</p>`,
    widths: [640, 720],
    ...OF_VIEWPORT,
  },
  {
    name: 'a viewport in quirks mode',
    css: FONT,
    html: `<p>${WORDS}</p>`,
    doctype: '',
    widths: [640, 690],
    scroller: 'body',
    bar: 'innerWidth - e.clientWidth',
  },
  {
    name: 'a box',
    css: `.b { height: 300px; overflow: auto; border: 3px solid } ${FONT}`,
    html: `<div class=b><p>${WORDS.slice(0, 1000)}</p></div>`,
    widths: [920, 960],
    ...OF_BOX,
  },
  {
    name: 'a box in a box with a style of its own',
    css: `.a { height: 500px; overflow-y: auto } ${FONT}`,
    html: `<div class=a><div style="height: 300px; overflow: hidden auto"><p>${WORDS.slice(0, 1000)}</p></div></div>`,
    widths: [920, 960],
    scroller: 'body > div > div',
    bar: OF_BOX.bar,
  },
  {
    name: 'lines that stand upright, in a box as high as half of the page is wide,',
    css: `.b { writing-mode: vertical-rl; width: 300px; height: 50vw; overflow: auto } ${FONT}`,
    html: `<div class=b><p>${WORDS.slice(0, 620)}</p></div>`,
    widths: [1060, 1260],
    scroller: 'body > div',
    bar: 'e.offsetHeight - e.clientHeight',
  },
];

describe('what a page is at a width', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  const HEIGHT = 800;
  const open = (html: string, width: number): Promise<Opened> =>
    headless.open(
      [{ path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(html) }],
      'index.html',
      { width, height: HEIGHT },
    );
  const boxesAt = async (opened: Opened, width: number): Promise<string> =>
    [...(await opened.measureAt({ width, height: HEIGHT }, null)).reading.rects].join(' ');

  for (const { name, css, html, doctype = '<!doctype html>', widths, scroller, bar } of ROWS)
    test(`does not depend on scrollbars that ${name} had before`, async () => {
      const [from, to] = widths;
      const page = `${doctype}<style>body { margin: 10px } ${css}</style>${html}`;
      const all = Array.from({ length: to - from + 1 }, (_, i) => from + i);
      const [up, down] = await Promise.all([open(page, from), open(page, to)]);
      const rising: string[] = [];
      const bars: number[] = [];
      for (const width of all) {
        rising.push(await boxesAt(up, width));
        bars.push(await up.evaluate(scroller, bar));
      }
      const falling: string[] = [];
      for (const width of all.toReversed()) falling.unshift(await boxesAt(down, width));
      await Promise.all([up.close(), down.close()]);
      assert.deepEqual(
        all.filter((_, i) => rising[i] !== falling[i]),
        [],
      );
      // A bar is there at first and goes; on both sides of that the page is as one that is opened there.
      const goes = bars.indexOf(0);
      assert.ok(goes > 0 && bars.at(-1) === 0, bars.join());
      for (const at of [goes - 1, goes]) {
        const fresh = await open(page, all[at]!);
        assert.equal(await boxesAt(fresh, all[at]!), rising[at]);
        await fresh.close();
      }
    });
});
