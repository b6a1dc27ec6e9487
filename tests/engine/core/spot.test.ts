/** Spots of a page: whose room they are, and the order of painting held against the engine's own. */
import assert from 'node:assert/strict';
import { before, describe, test } from 'node:test';
import { spotAt } from '../../../src/core/spot/spot.ts';
import type { Headless, Opened } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';

async function opened(headless: Headless, html: string): Promise<Opened> {
  const files = [
    { path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(`<!doctype html>${html}`) },
  ];
  return headless.open(files, 'index.html', { width: 600, height: 400 });
}

/** The page, a point, the kind of room, and what is said of it. */
const ROOMS: [html: string, x: number, y: number, kind: string, says: RegExp][] = [
  [
    '<style>body{margin:0}p{margin:0;padding:20px;background:tan}</style><p>Text</p>',
    10,
    10,
    'padding',
    /padding of p at the top: 20 px \(padding: 20px/,
  ],
  [
    '<style>body{margin:0}p{margin:0;border:12px solid}</style><p>Text</p>',
    5,
    25,
    'border',
    /border of p at the left: 12 px/,
  ],
  [
    '<style>body{margin:0}h1{margin:0}</style><h1>A</h1><p>B</p>',
    20,
    45,
    'margin',
    /margin of p at the top: 16 px, which is the browser’s default/,
  ],
  [
    '<style>body{margin:0}.r{display:flex;gap:40px}i{display:block;width:50px;height:50px;background:tan}</style><div class=r><i></i><i></i></div>',
    70,
    20,
    'between',
    /40 gap of div\.r/,
  ],
  [
    '<style>body{margin:0}.r{display:flex;height:90px;background:tan}i{display:block;width:50px}</style><div class=r><i>a</i></div>',
    300,
    40,
    'leftover',
    /beside i, which ends 250 px before it/,
  ],
  [
    '<style>body{margin:0;line-height:0}img{width:60px;height:40px}div{line-height:40px;background:tan}</style><div><img></div>',
    20,
    48,
    'line',
    /under img, which stands on the baseline/,
  ],
  [
    '<style>body{margin:0}p{margin:0;line-height:60px}</style><p>Text</p>',
    10,
    5,
    'line',
    /above its letters: the line is 60 px tall \(line-height: 60px/,
  ],
];

/** Runs in the page: the element whose ground is uppermost at a point, by its number in the document. */
function elementAt([x, y]: number[]): number {
  const numbers = new Map(Array.from(document.querySelectorAll('*'), (element, i) => [element, i]));
  const found = document.elementFromPoint(x!, y!);
  return found ? numbers.get(found)! : -1;
}

/** Runs in the page: takes an element away from the pointer; −1: gives all of them back. */
function letThrough(number: number): void {
  const elements = Array.from(document.querySelectorAll<HTMLElement>('*'));
  if (number < 0) for (const element of elements) element.style.pointerEvents = 'auto';
  else elements[number]!.style.pointerEvents = 'none';
}

const POINTS: [number, number][] = [
  [70, 70],
  [100, 90],
  [180, 110],
  [90, 140],
  [120, 170],
];

/** A generator of numbers from 0 to 1 that is the same in every run. */
function random(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 1103515245 + 12345) % 2147483648;
    return state / 2147483648;
  };
}

const PLACES = ['static', 'static', 'relative', 'absolute'];
// None below 0: engines let the ground of a stacking context be hit before what is painted over it there.
const LEVELS = ['auto', 'auto', '0', '1', '2'];
const MORE = ['', '', '', 'float: left', 'display: inline-block', 'opacity: 0.9', 'transform: translate(1px)'];

/** Boxes with grounds, in each other and over each other. */
function stackedPage(next: () => number): string {
  const pick = (list: string[]): string => list[Math.floor(next() * list.length)]!;
  const box = (depth: number): string => {
    const inner = depth < 2 ? Array.from({ length: 2 }, () => box(depth + 1)).join('') : '';
    const style = `position: ${pick(PLACES)}; z-index: ${pick(LEVELS)}; ${pick(MORE)}; margin: ${Math.floor(next() * 40) - 30}px 0 0; width: 160px; min-height: 40px; background: tan`;
    return `<div style="${style}">${inner}</div>`;
  };
  return `<style>body { margin: 0; padding: 60px }</style><body>${box(0)}${box(0)}${box(0)}`;
}

describe('a spot of the page', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });

  for (const [html, x, y, kind, says] of ROOMS)
    test(`${kind}: ${says.source}`, async () => {
      const page = await opened(headless, html);
      const analysis = await page.measure();
      const { rooms } = await page.complete(analysis, () => spotAt(analysis, { x, y, width: 0, height: 0 }));
      await page.close();
      const found = rooms.find((room) => room.kind === kind);
      assert.ok(found, JSON.stringify(rooms));
      assert.match(found.words, says);
    });

  test('boxes with grounds are painted in the order in which the engine paints them', async () => {
    let [same, all] = [0, 0];
    const wrong: string[] = [];
    for (let seed = 1; seed <= 12; seed++) {
      const page = await opened(headless, stackedPage(random(seed * 7919)));
      const analysis = await page.measure();
      const frame = headless.page.frames().find((one) => one.url() === page.address)!;
      await frame.evaluate('globalThis.__name = (f) => f');
      for (const [x, y] of POINTS) {
        const { layers } = spotAt(analysis, { x, y, width: 0, height: 0 });
        // It is inherited: each says for itself that it is there.
        await frame.evaluate(letThrough, -1);
        // What is uppermost is made to let the pointer through, then the next is: the engine says the whole order by itself.
        for (const { element } of layers.slice(0, -1)) {
          const engine = await frame.evaluate(elementAt, [x, y]);
          all++;
          if (engine === element) same++;
          else wrong.push(`page ${seed} at ${x}, ${y}: ${element}, and the engine ${engine}`);
          await frame.evaluate(letThrough, engine);
        }
      }
      await page.close();
    }
    assert.ok(all >= 150, `${all} compared`);
    // A point in a line hits the block that the line is in before floats over its ground.
    assert.ok(same >= 0.97 * all, `${same} of ${all}: ${wrong.slice(0, 5).join('; ')}`);
  });

  test('findings of any grade are told where their px lie, and nowhere else', async () => {
    const page = await opened(
      headless,
      '<style>body{margin:0}.a{width:60px;height:90px}.b{width:700px;height:20px;background:tan}</style><div class=a></div><div class=b></div>',
    );
    const analysis = await page.measure();
    const rules = (x: number, y: number) =>
      spotAt(analysis, { x, y, width: 4, height: 4 }).findings.map(({ rule }) => rule);
    assert.ok(rules(650, 95).includes('overflow/page'));
    assert.deepEqual(rules(300, 40), []);
    assert.throws(() => spotAt(analysis, { x: 9000, y: 0, width: 1, height: 1 }), /is not on the page/);
    await page.close();
  });
});
