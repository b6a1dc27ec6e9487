/** Guesses at where something changes, held against the width at which it does: of two looks at a page, far apart. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { guessBetween } from '../../../src/core/sweep/guess.ts';
import { isSameSnapshot, snapshotOf, type Snapshot } from '../../../src/core/sweep/snapshot.ts';
import type { Headless } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';

const HEAD =
  '<!doctype html><meta name=viewport content="width=device-width"><style>body { margin: 0; font: 16px/20px monospace }';

/** Pages of which one thing changes between two widths, and by how many px a guess may be off. */
interface Case {
  name: string;
  css: string;
  html: string;
  between: [number, number];
  off?: number;
  /** It is a finding that changes; else findings are left out. */
  isFinding?: boolean;
}

const CASES: Case[] = [
  {
    name: 'a heading takes one line',
    css: 'h1 { margin: 0 30px; padding: 0 5px; font-size: 20px }',
    html: '<h1>Ferries that leave for Mole Point</h1>',
    between: [420, 500],
  },
  {
    name: 'a heading of which a part is set in another font',
    css: 'h1 { margin: 0; font-size: 20px } code { font-size: 17px; padding: 0 4px; border: 1px solid }',
    html: '<h1>Ferries <code>that leave</code> for Mole Point</h1>',
    between: [330, 470],
  },
  {
    name: 'three lines of a heading become two',
    css: 'h1 { margin: 0; font-size: 20px }',
    html: '<h1>Ferries that leave for Mole Point and return before the tide turns</h1>',
    between: [380, 440],
  },
  {
    name: 'a text beside a picture in a flex container',
    css: 'div { display: flex; gap: 12px; padding: 0 10px } i { flex: none; width: 24px; height: 24px } h2 { margin: 0; font-size: 16px }',
    html: '<div><h2>Ferries that leave for Mole Point</h2><i></i></div>',
    between: [300, 380],
    // From some width on it is as wide as it needs to be, and which is not told.
    off: 4,
  },
  {
    name: 'flex items with gaps go into one row',
    css: 'div { display: flex; flex-wrap: wrap; gap: 14px } p { margin: 0; width: 150px }',
    html: '<div><p>A</p><p>B</p></div>',
    between: [240, 400],
  },
  {
    name: 'flex items with margins of their own',
    css: 'div { display: flex; flex-wrap: wrap } p { margin: 0 9px 0 4px; width: 150px }',
    html: '<div><p>A</p><p>B</p><p>C</p></div>',
    between: [350, 520],
  },
  {
    name: 'flex items that grow from a basis',
    css: 'div { display: flex; flex-wrap: wrap; gap: 10px } p { margin: 0; flex: 1 1 180px }',
    html: '<div><p>A</p><p>B</p></div>',
    between: [300, 440],
  },
  {
    name: 'keys with words between them',
    css: 'div { display: flex; flex-wrap: wrap; gap: 8px } kbd { width: 60px }',
    html: '<div>Hold <kbd>A</kbd> and <kbd>B</kbd> until the <kbd>C</kbd></div>',
    between: [300, 460],
  },
  {
    name: 'inline-blocks with spaces between them',
    css: 'b { display: inline-block; width: 150px; height: 20px }',
    html: '<div><b></b> <b></b> <b></b></div>',
    between: [340, 520],
  },
  {
    name: 'floats in half of the page',
    css: 'div { width: 50% } b { float: left; width: 90px; height: 20px }',
    html: '<div><b></b><b></b></div>',
    between: [300, 420],
  },
  {
    name: 'the page stops to scroll sideways',
    css: 'p { margin: 0; width: 333px }',
    html: '<p>A</p>',
    between: [300, 400],
    off: 0,
  },
  {
    name: 'what sticks out of a box in a quarter of the page',
    css: 'div { width: 25%; background: teal } p { margin: 0; width: 110px; background: gold }',
    html: '<div><p>A</p></div>',
    between: [400, 460],
    isFinding: true,
  },
  {
    name: 'one of two boxes that stick out fits',
    css: 'div { width: 25%; background: teal } p { margin: 0; background: gold } .a { width: 110px } .b { width: 140px }',
    html: '<div><p class="x a">A</p></div><div><p class="x b">B</p></div>',
    between: [420, 460],
    isFinding: true,
  },
];

describe('where between two looks a page changes', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (const { name, css, html, between, off = 1, isFinding = false } of CASES)
    test(name, async () => {
      const text = `${HEAD} ${css}</style><body>${html}`;
      const files = [{ path: 'index.html', bytes: Buffer.from(text), type: 'text/html' }];
      const opened = await headless.open(files, 'index.html', { width: between[0], height: 600 });
      const look = async (width: number): Promise<Snapshot> => {
        await opened.resize({ width, height: 600 });
        const analysis = await opened.measure();
        return isFinding ? snapshotOf(analysis) : snapshotOf(analysis, []);
      };
      const { parent } = (await opened.measure()).reading;
      const [low, high] = [await look(between[0]), await look(between[1])];
      let [same, other] = between;
      assert.ok(!isSameSnapshot(low, high), 'nothing changes between the two');
      while (other - same > 1) {
        const middle = (same + other) >> 1;
        if (isSameSnapshot(await look(middle), low)) same = middle;
        else other = middle;
      }
      const guess = guessBetween(parent, low, high);
      assert.ok(guess !== null && Math.abs(guess - other) <= off, `${guess}, and it changes at ${other}`);
      await opened.close();
    });
});
