/** Lines of texts, whoever they belong to. */
import type { Rect } from '../geometry/rect.ts';
import { inside, type BoxTree } from './tree.ts';

/** Lines that the text of an element itself is broken into, without what lies in its children. */
export function textLines(tree: BoxTree, element: number): number {
  const runs = inside(tree).texts.get(element);
  if (!runs) return 0;
  const bottoms: number[] = [];
  for (const { pieces, blank } of runs)
    if (!blank) for (const { y, height } of pieces) if (height > 0) bottoms.push(y + height / 2);
  return linesAt(Float64Array.from(bottoms).sort());
}

/** Middles of pieces of text, ascending, that are farther apart than this are those of two lines. */
const APART = 3;

export function linesAt(middles: Float64Array): number {
  let lines = 0;
  for (let i = 0; i < middles.length; i++) if (i === 0 || middles[i]! - middles[i - 1]! > APART) lines++;
  return lines;
}

/** An element and all that lies in it, in document order. */
export function* withinOf({ reading: { parent, count } }: BoxTree, element: number): Generator<number> {
  const within = new Set([element]);
  yield element;
  for (let i = element + 1; i < count; i++) {
    if (!within.has(parent[i]!)) {
      if (parent[i]! < element) return;
      continue;
    }
    within.add(i);
    yield i;
  }
}

/** The pieces of text that can be seen in a box and in what lies in it, as rectangles of the document. */
export function textWithin(tree: BoxTree, element: number): Rect[] {
  const { texts } = inside(tree);
  return [...withinOf(tree, element)].flatMap((at) =>
    (texts.get(at) ?? []).flatMap(({ pieces, blank }) =>
      blank ? [] : pieces.filter(({ width, height }) => width > 0 && height > 0),
    ),
  );
}

/** Lines of the text in a box and in what lies in it. */
export function linesWithin(tree: BoxTree, element: number): number {
  const { texts } = inside(tree);
  const middles = [...withinOf(tree, element)].flatMap((at) =>
    (texts.get(at) ?? []).flatMap(({ pieces }) =>
      pieces.filter(({ height }) => height > 0).map(({ y, height }) => y + height / 2),
    ),
  );
  return linesAt(Float64Array.from(middles).sort());
}

/** Lines of the text in each element and in what lies in it. */
export function linesOfEach(tree: BoxTree): Int32Array {
  const { parent, count } = tree.reading;
  const middles: number[] = [];
  const owners: number[] = [];
  for (const [element, runs] of inside(tree).texts)
    for (const { pieces } of runs)
      for (const { y, height } of pieces)
        if (height > 0) {
          middles.push(y + height / 2);
          owners.push(element);
        }
  const out = new Int32Array(count);
  /** Of each element, the middle of what was met last going down the page. */
  const last = new Float64Array(count).fill(-Infinity);
  for (const i of Array.from(middles.keys()).sort((a, b) => middles[a]! - middles[b]!))
    for (let at = owners[i]!; at >= 0; at = parent[at]!) {
      if (middles[i]! - last[at]! > APART) out[at]!++;
      last[at] = middles[i]!;
    }
  return out;
}
