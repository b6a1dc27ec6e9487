/** What a page is at a width does not depend on the width that it had before. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { openHeadless, type Headless, type Opened } from '../src/lib/server/engines/headless.ts';

const WORDS = 'ferry quay mast rope tide berth deck sail port wave buoy crane timetable '.repeat(30);

/** Pages, the range in which their contents come to fit into what scrolls them, and in how many of its widths that depends. */
const ROWS: { name: string; css: string; html: string; widths: [from: number, to: number] }[] = [
  {
    name: 'the viewport',
    css: 'p { font: 20px/24px sans-serif }',
    html: `<p>${WORDS}</p>`,
    widths: [640, 690],
  },
  {
    name: 'the viewport, as the body asks for it',
    css: 'body { overflow: auto } p { font: 20px/24px sans-serif }',
    html: `<p>${WORDS}</p>`,
    widths: [640, 690],
  },
  {
    name: 'a box',
    css: '.b { height: 300px; overflow: auto; border: 3px solid } p { font: 20px/24px sans-serif }',
    html: `<div class=b><p>${WORDS.slice(0, 1000)}</p></div>`,
    widths: [920, 960],
  },
  {
    name: 'a box in a box with a style of its own',
    css: '.a { height: 500px; overflow-y: auto } p { font: 20px/24px sans-serif }',
    html: `<div class=a><div style="height: 300px; overflow: hidden auto"><p>${WORDS.slice(0, 1000)}</p></div></div>`,
    widths: [920, 960],
  },
  {
    name: 'lines that stand upright, in a box as high as a tenth of its width',
    css: '.b { writing-mode: vertical-rl; width: 300px; height: 50vw; overflow: auto } p { font: 20px/24px sans-serif }',
    html: `<div class=b><p>${WORDS.slice(0, 700)}</p></div>`,
    widths: [1060, 1180],
  },
];

describe('what a page is at a width', () => {
  let headless: Headless;
  before(async () => {
    headless = await openHeadless();
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

  for (const {
    name,
    css,
    html,
    widths: [from, to],
  } of ROWS)
    test(`does not depend on scrollbars that ${name} had before`, async () => {
      const page = `<!doctype html><style>body { margin: 10px } ${css}</style>${html}`;
      const all = Array.from({ length: to - from + 1 }, (_, i) => from + i);
      const [up, down] = await Promise.all([open(page, from), open(page, to)]);
      const rising: string[] = [];
      for (const width of all) rising.push(await boxesAt(up, width));
      const falling: string[] = [];
      for (const width of all.toReversed()) falling.unshift(await boxesAt(down, width));
      await Promise.all([up.close(), down.close()]);
      assert.deepEqual(
        all.filter((_, i) => rising[i] !== falling[i]),
        [],
      );
      // There is something that the last width could have left behind: contents come to fit within the range.
      const ends = await Promise.all([from, to].map((width) => open(page, width)));
      for (const [i, one] of ends.entries()) {
        const width = [from, to][i]!;
        assert.equal(await boxesAt(one, width), rising[width - from]);
        await one.close();
      }
    });
});
