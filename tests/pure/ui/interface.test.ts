/** What the interface works out by itself: edges to measure from, bars to scale, places on the screen, words for time. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import type { Segment } from '../../../src/core/accounts/box.ts';
import type { Areas } from '../../../src/core/boxes/areas.ts';
import { layOut } from '../../../src/lib/ui/account/bars/areas.ts';
import { axisOf, edgePosition, snap } from '../../../src/lib/ui/bench/state/measuring.ts';
import { cornerTicks, nextZoom, onScreen, ZOOMS } from '../../../src/lib/ui/bench/stage/view.ts';
import { since } from '../../../src/lib/ui/since.ts';

const all = (value: number) => ({ top: value, right: value, bottom: value, left: value });
const AREAS: Areas = {
  margin: all(8),
  border: all(2),
  padding: all(5),
  scrollbar: all(0),
  rect: { x: 100, y: 50, width: 200, height: 80 },
  content: { x: 107, y: 57, width: 186, height: 66 },
};

describe('edges', () => {
  const positions: [Parameters<typeof edgePosition>[1], number][] = [
    [{ area: 'border', side: 'left' }, 100],
    [{ area: 'margin', side: 'left' }, 92],
    [{ area: 'padding', side: 'right' }, 298],
    [{ area: 'content', side: 'bottom' }, 123],
    [{ area: 'margin', side: 'bottom' }, 138],
  ];
  for (const [edge, expected] of positions)
    test(`${edge.area} ${edge.side}`, () => assert.equal(edgePosition(AREAS, edge), expected));

  const outer: Areas = {
    ...AREAS,
    margin: all(0),
    rect: { x: 96, y: 40, width: 300, height: 200 },
    content: { x: 103, y: 47, width: 286, height: 186 },
  };
  const snaps: [string, number, number, 'x' | 'y' | null, string | null][] = [
    ['the nearest of all', 101, 90, null, '3 border left'],
    ['the padding edge where that is nearer', 102.4, 90, null, '3 padding left'],
    ['the margin edge outside of the box', 93, 90, null, '3 margin left'],
    ['an edge of the box around it', 96.4, 90, null, '2 border left'],
    ['only those of the axis asked for', 101, 100, 'y', '3 content bottom'],
  ];
  for (const [name, x, y, axis, expected] of snaps)
    test(`snaps to ${name}`, () => {
      const found = snap(
        [
          [3, AREAS],
          [2, outer],
        ],
        x,
        y,
        axis,
      );
      assert.equal(found && `${found.element} ${found.area} ${found.side}`, expected);
      if (found && axis) assert.equal(axisOf(found.side), axis);
    });
  test('no boxes, no edge', () => assert.equal(snap([], 0, 0, null), null));
});

describe('bars', () => {
  const segments = (...sizes: number[]): Segment[] => {
    const areas = ['margin', 'border', 'padding', 'content', 'padding', 'border', 'margin'] as const;
    return sizes.map((px, i) => ({ area: areas[i]!, side: null, px, declared: null }));
  };
  test('to scale where everything has room', () => {
    const { pieces, broken } = layOut(segments(50, 50, 50, 200, 50, 50, 50), 250, 20);
    assert.equal(broken, false);
    assert.deepEqual(
      pieces.map(({ start, size }) => [start, size]),
      [
        [0, 25],
        [25, 25],
        [50, 25],
        [75, 100],
        [175, 25],
        [200, 25],
        [225, 25],
      ],
    );
  });
  test('small areas keep a size that can be read, and the content is broken for it', () => {
    const { pieces, broken } = layOut(segments(0, 5, 10, 1200, 10, 5, 0), 360, 24);
    assert.equal(broken, true);
    assert.deepEqual(
      pieces.map(({ size }) => size),
      [0, 24, 24, 264, 24, 24, 0],
    );
    assert.equal(pieces.at(-1)!.start, 360);
  });
  test('nothing at all', () =>
    assert.ok(layOut(segments(0, 0, 0, 0, 0, 0, 0), 100, 20).pieces.every(({ size }) => size === 0)));
  test('never wider than the bar', () => {
    const { pieces } = layOut(segments(1, 1, 1, 1, 1, 1, 1), 100, 24);
    assert.ok(Math.abs(pieces.reduce((sum, { size }) => sum + size, 0) - 100) < 0.01);
  });
});

describe('the screen', () => {
  test('document px by scroll and zoom', () =>
    assert.deepEqual(
      onScreen({ zoom: 0.5, scrollX: 10, scrollY: 100 }, { x: 110, y: 120, width: 40, height: 20 }),
      { x: 50, y: 10, width: 20, height: 10 },
    ));
  test('ticks are never longer than half a side', () =>
    assert.match(cornerTicks({ x: 0, y: 0, width: 4, height: 40 }, 12), /^M0 12V0H2M2 0H4V12/));
  test('zoom goes by its own steps and ends', () => {
    assert.equal(nextZoom(0.497, 1), 0.5);
    assert.equal(nextZoom(1, -1), 0.75);
    assert.equal(nextZoom(16, 1), 16);
    assert.equal(ZOOMS.at(-1), 16);
  });
});

describe('time in words', () => {
  const now = new Date(2026, 10, 25, 12, 0);
  const cases: [Date, string | RegExp][] = [
    [new Date(2026, 10, 25, 11, 59, 40), 'just now'],
    [new Date(2026, 10, 25, 11, 55), '5 min ago'],
    [new Date(2026, 10, 25, 8, 30), '3 h ago'],
    [new Date(2026, 10, 24, 23, 0), 'yesterday'],
    [new Date(2026, 9, 1), /2026/],
  ];
  for (const [then, expected] of cases)
    test(String(expected), () => {
      const words = since(then.toISOString(), now);
      if (typeof expected === 'string') assert.equal(words, expected);
      else assert.match(words, expected);
    });
});
