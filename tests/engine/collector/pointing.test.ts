/** Pointing and naming held against the engine: the box under a point, and the path that selects a box. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { hit, makeHitIndex } from '../../../src/core/boxes/hit-test.ts';
import { rectOf } from '../../../src/core/boxes/tree.ts';
import type { Rect } from '../../../src/core/geometry/rect.ts';
import { elementAt, labelOf, pathOf } from '../../../src/core/reading/labels.ts';
import type { Headless } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';
import { corpusPages, demoPages } from '../../support/corpus.ts';

const SAMPLE = /landing|profile|login|about|quickstart/;
const SIZE = { width: 1280, height: 800 };
const STEP = 17;
const FIRST = 3;

/** Runs in the page: for a grid of points, the number of the element uppermost there. */
function uppermost({
  width,
  height,
  step,
  first,
}: Record<'width' | 'height' | 'step' | 'first', number>): number[] {
  const numbers = new Map(Array.from(document.querySelectorAll('*'), (element, i) => [element, i]));
  const out: number[] = [];
  for (let y = first; y < height; y += step)
    for (let x = first; x < width; x += step) {
      const found = document.elementFromPoint(x, y);
      out.push(found ? numbers.get(found)! : -1);
    }
  return out;
}

/** Runs in the page: whether each path selects the element of its place in document order, and no other. */
function selects(paths: string[]): string[] {
  const elements = Array.from(document.querySelectorAll('*'));
  return paths.filter((path, i) => {
    const found = document.querySelectorAll(path);
    return found.length !== 1 || found[0] !== elements[i];
  });
}

/** What the engine calls transparent to the pointer is there all the same, so it is left out of the comparison. */
function untouchable(): number[] {
  return Array.from(document.querySelectorAll('*')).flatMap((element, i) =>
    getComputedStyle(element).pointerEvents === 'none' ? [i] : [],
  );
}

const nearEdge = (rect: Rect, x: number, y: number): boolean =>
  Math.min(...[rect.x - x, rect.x + rect.width - x, rect.y - y, rect.y + rect.height - y].map(Math.abs)) <= 1;

describe('pointing and naming', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (const { name, entry, files } of [
    ...demoPages(),
    ...corpusPages().filter((page) => SAMPLE.test(page.name)),
  ])
    test(name, async (t) => {
      const opened = await headless.open(files, entry, SIZE);
      const { reading, order } = await opened.measure();
      const hits = makeHitIndex(reading, order);
      const frame = headless.page.frames().find((frame) => frame.url() === opened.address)!;
      await frame.evaluate('globalThis.__name = (f) => f');

      const paths = Array.from({ length: reading.count }, (_, i) => pathOf(reading, i));
      assert.deepEqual(await frame.evaluate(selects, paths), [], 'a path selects another element than its own');
      assert.deepEqual(
        paths.filter((path, i) => elementAt(reading, path) !== i),
        [],
      );

      const { clientWidth, clientHeight } = reading.document;
      const expected = await frame.evaluate(uppermost, {
        width: clientWidth,
        height: clientHeight,
        step: STEP,
        first: FIRST,
      });
      const skipped = new Set(await frame.evaluate(untouchable));
      const wrong: string[] = [];
      let compared = 0;
      let i = 0;
      for (let y = FIRST; y < clientHeight; y += STEP)
        for (let x = FIRST; x < clientWidth; x += STEP) {
          const engine = expected[i++]!;
          const own = hit(hits, x, y);
          if (skipped.has(own)) continue;
          // Engines snap boxes to whole px when they are pointed at: a point so close to an edge says nothing.
          if (own !== engine && [own, engine].some((element) => nearEdge(rectOf(reading, element), x, y)))
            continue;
          compared++;
          if (own !== engine)
            wrong.push(
              `${x},${y}: ${own < 0 ? 'nothing' : labelOf(reading, own)}, engine ${engine < 0 ? 'nothing' : labelOf(reading, engine)}`,
            );
        }
      await opened.close();
      t.diagnostic(`${compared - wrong.length} of ${compared} points agree`);
      assert.ok(compared > 500);
      assert.ok(wrong.length / compared < 0.01, wrong.slice(0, 12).join('\n'));
    });
});
