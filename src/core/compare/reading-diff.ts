/** What is different between two readings: boxes matched to each other, and what became of each. */

import { labelOf, pathOf } from '../reading/labels.ts';
import type { RawReading } from '../reading/reading.ts';
import type { Rect } from '../geometry/rect.ts';
import { hasBox, inside, rectOf, type BoxTree } from '../boxes/tree.ts';

/** A box that is not where or as large as it was. Numbers in CSS px; −1: it is not in that reading. */
export interface Difference {
  before: number;
  after: number;
  what: 'moved' | 'resized' | 'appeared' | 'vanished' | 'wrapped';
  label: string;
  path: string;
  dx: number;
  dy: number;
  dw: number;
  dh: number;
  /** Lines of its own text before and after; 0 and 0 where it has none or as many as before. */
  lines: [number, number];
  /** Where it was; null: it was not there. */
  from: Rect | null;
  /** What it only went along with: index in `Moved.list`; −1: it moved by itself. */
  under: number;
}

export interface Moved {
  /** Largest change first; those that went along with something follow it. */
  list: Difference[];
  counts: { moved: number; resized: number; appeared: number; vanished: number; wrapped: number };
  /** Largest change of a position or size, in CSS px. */
  largest: number;
  extents: { before: [number, number]; after: [number, number] };
}

const NEAR = 0.05;

/** Elements of two readings that are the same one: by their places among children that are alike. `[before, after]` pairs. */
export function matchBoxes(before: RawReading, after: RawReading): [number, number][] {
  const [was, is] = [childLists(before), childLists(after)];
  const out: [number, number][] = [];
  const stack: [number, number][] = [[0, 0]];
  for (let pair = stack.pop(); pair; pair = stack.pop()) {
    out.push(pair);
    const [a, b] = [was[pair[0]] ?? [], is[pair[1]] ?? []];
    for (const entry of aligned(a.map(keyIn(before)), b.map(keyIn(after))))
      stack.push([a[entry[0]]!, b[entry[1]]!]);
  }
  return out;
}

const keyIn =
  (reading: RawReading) =>
  (element: number): string =>
    `${reading.via[element]} ${labelOf(reading, element)}`;

function childLists({ parent, count }: RawReading): number[][] {
  const out: number[][] = [];
  for (let i = 0; i < count; i++) if (parent[i]! >= 0) (out[parent[i]!] ??= []).push(i);
  return out;
}

/** Indexes that belong together: what is alike at both ends, and between them the longest common subsequence. */
function aligned(a: readonly string[], b: readonly string[]): [number, number][] {
  const out: [number, number][] = [];
  let start = 0;
  while (start < a.length && start < b.length && a[start] === b[start]) out.push([start, start++]);
  let [endA, endB] = [a.length, b.length];
  const tail: [number, number][] = [];
  while (endA > start && endB > start && a[endA - 1] === b[endB - 1]) tail.push([--endA, --endB]);
  const [n, m] = [endA - start, endB - start];
  if (n > 0 && m > 0 && n * m <= 250_000) {
    const table = Array.from({ length: n + 1 }, () => new Uint16Array(m + 1));
    for (let i = n - 1; i >= 0; i--)
      for (let j = m - 1; j >= 0; j--)
        table[i]![j] =
          a[start + i] === b[start + j]
            ? table[i + 1]![j + 1]! + 1
            : Math.max(table[i + 1]![j]!, table[i]![j + 1]!);
    for (let i = 0, j = 0; i < n && j < m;)
      if (a[start + i] === b[start + j]) out.push([start + i++, start + j++]);
      else if (table[i + 1]![j]! >= table[i]![j + 1]!) i++;
      else j++;
  }
  return [...out, ...tail.reverse()];
}

function linesOf(tree: BoxTree, element: number): number {
  const tops = new Set<number>();
  for (const { pieces } of inside(tree).texts.get(element) ?? [])
    for (const { y, height } of pieces) if (height > 0) tops.add(Math.round(y));
  return tops.size;
}

/** `along`: pairs that are known to belong together; where not given, they are found. */
export function differences(before: BoxTree, after: BoxTree): Moved {
  const pairs = matchBoxes(before.reading, after.reading);
  const found: Difference[] = [];
  const byAfter = new Map<number, Difference>();
  const [seenBefore, seenAfter] = [new Set<number>(), new Set<number>()];
  for (const [a, b] of pairs) {
    seenBefore.add(a);
    seenAfter.add(b);
    const [had, has] = [hasBox(before, a), hasBox(after, b)];
    if (!had && !has) continue;
    if (!had || !has) {
      const difference = lone(had ? before : after, had ? a : b, had ? 'vanished' : 'appeared');
      difference.before = a;
      difference.after = b;
      found.push(difference);
      byAfter.set(b, difference);
      continue;
    }
    const [from, to] = [rectOf(before.reading, a), rectOf(after.reading, b)];
    const [dx, dy, dw, dh] = [to.x - from.x, to.y - from.y, to.width - from.width, to.height - from.height];
    const lines: [number, number] = [linesOf(before, a), linesOf(after, b)];
    const wrapped = lines[0] !== lines[1];
    const resized = Math.abs(dw) > NEAR || Math.abs(dh) > NEAR;
    const moved = Math.abs(dx) > NEAR || Math.abs(dy) > NEAR;
    if (!wrapped && !resized && !moved) continue;
    const result: Difference = {
      before: a,
      after: b,
      what: wrapped ? 'wrapped' : resized ? 'resized' : 'moved',
      label: labelOf(after.reading, b),
      path: pathOf(after.reading, b),
      dx,
      dy,
      dw,
      dh,
      lines: wrapped ? lines : [0, 0],
      from,
      under: -1,
    };
    found.push(result);
    byAfter.set(b, result);
  }
  for (let i = 0; i < before.reading.count; i++)
    if (!seenBefore.has(i) && hasBox(before, i) && seenBefore.has(before.reading.parent[i]!))
      found.push(lone(before, i, 'vanished'));
  for (let i = 0; i < after.reading.count; i++)
    if (!seenAfter.has(i) && hasBox(after, i) && seenAfter.has(after.reading.parent[i]!))
      found.push(lone(after, i, 'appeared'));
  return ordered(before.reading, after.reading, found, byAfter);
}

const lone = ({ reading }: BoxTree, element: number, what: 'appeared' | 'vanished'): Difference => {
  const { width, height } = rectOf(reading, element);
  const sign = what === 'appeared' ? 1 : -1;
  const gone = what === 'vanished';
  return {
    before: gone ? element : -1,
    after: gone ? -1 : element,
    what,
    label: labelOf(reading, element),
    path: pathOf(reading, element),
    dx: 0,
    dy: 0,
    dw: sign * width,
    dh: sign * height,
    lines: [0, 0],
    from: gone ? rectOf(reading, element) : null,
    under: -1,
  };
};

export const sizeOfDifference = ({ dx, dy, dw, dh }: Difference): number =>
  Math.max(Math.abs(dx), Math.abs(dy), Math.abs(dw), Math.abs(dh));

/** Folds what only went along, and puts the largest first. */
function ordered(
  before: RawReading,
  after: RawReading,
  found: Difference[],
  byAfter: Map<number, Difference>,
): Moved {
  const causes = new Map<Difference, Difference>();
  // What grew, shrank, came or went among the children of a box, in the order in which they stand.
  const changed = new Map<number, Difference[]>();
  for (const difference of found) {
    if (difference.what === 'moved') continue;
    const parent =
      difference.after >= 0
        ? after.parent[difference.after]!
        : parentAfter(before, difference.before, found, byAfter);
    changed.set(parent, [...(changed.get(parent) ?? []), difference]);
  }
  for (const difference of found) {
    const above = byAfter.get(after.parent[difference.after]!);
    if (difference.what === 'resized') {
      const same = (a: number, b: number) => Math.abs(a - b) < NEAR;
      // As much wider as what it lies in: it only fills it.
      if (
        above?.what === 'resized' &&
        !same(difference.dw, 0) &&
        same(difference.dw, above.dw) &&
        same(difference.dx, above.dx) &&
        same(difference.dy, above.dy) &&
        same(difference.dh, 0)
      )
        causes.set(difference, above);
      // As much taller as something in it: it only holds it.
      if (
        above?.what === 'resized' &&
        !same(difference.dh, 0) &&
        same(difference.dh, above.dh) &&
        same(above.dw, 0) &&
        same(above.dx, 0) &&
        same(above.dy, 0) &&
        !causes.has(above)
      )
        causes.set(above, difference);
      continue;
    }
    if (difference.what !== 'moved') continue;
    if (above && Math.abs(above.dx - difference.dx) < NEAR && Math.abs(above.dy - difference.dy) < NEAR) {
      causes.set(difference, above);
      continue;
    }
    const near = changed
      .get(after.parent[difference.after]!)
      ?.filter((other) => (other.after >= 0 ? other.after < difference.after : true))
      .at(-1);
    const cause = near ?? (above && above.what !== 'moved' ? above : undefined);
    if (cause && cause !== difference) causes.set(difference, cause);
  }
  const rootOf = (difference: Difference): Difference => {
    let at = difference;
    for (let hops = 0; causes.has(at) && hops < 1000; hops++) at = causes.get(at)!;
    return at;
  };
  const tops = found
    .filter((difference) => !causes.has(difference))
    .sort((a, b) => sizeOfDifference(b) - sizeOfDifference(a) || a.after - b.after);
  const followers = new Map<Difference, Difference[]>();
  for (const difference of found)
    if (causes.has(difference))
      followers.set(rootOf(difference), [...(followers.get(rootOf(difference)) ?? []), difference]);
  const list: Difference[] = [];
  for (const top of tops) {
    const index = list.push(top) - 1;
    for (const difference of followers.get(top) ?? []) list.push({ ...difference, under: index });
  }
  const count = (what: Difference['what']) => list.filter((difference) => difference.what === what).length;
  const size = ({ document }: RawReading): [number, number] => [document.scrollWidth, document.scrollHeight];
  return {
    list,
    counts: {
      moved: count('moved'),
      resized: count('resized'),
      appeared: count('appeared'),
      vanished: count('vanished'),
      wrapped: count('wrapped'),
    },
    largest: Math.max(0, ...list.map(sizeOfDifference)),
    extents: { before: size(before), after: size(after) },
  };
}

/** Where a box that is gone would stand now: the parent that it had, as it is numbered after. */
function parentAfter(
  before: RawReading,
  element: number,
  found: Difference[],
  byAfter: Map<number, Difference>,
): number {
  const parent = before.parent[element]!;
  for (const [after, difference] of byAfter) if (difference.before === parent) return after;
  return found.find((difference) => difference.before === parent)?.after ?? -1;
}

/**
 * What is drawn of a difference: boxes of `after` (elements; −1: it vanished) with where they were, that changed by
 * themselves and do not lie in another of them. None of `most` CSS px² or more: a frame around all tells nothing.
 */
export function outermost({ list }: Moved, after: RawReading, most: number): { from: Rect; after: number }[] {
  const alongWith = list.flatMap(({ under, from, after: element }) =>
    under < 0 && from && from.width * from.height < most ? [{ from, after: element }] : [],
  );
  const seen = new Set(alongWith.map(({ after: element }) => element));
  const liesInOne = (element: number): boolean => {
    for (let at = after.parent[element] ?? -1; at >= 0; at = after.parent[at]!) if (seen.has(at)) return true;
    return false;
  };
  return alongWith.filter(({ after: element }) => !liesInOne(element));
}
