/** Lines of texts, whoever they belong to. */
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
