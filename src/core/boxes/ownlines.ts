/** Lines of texts, whoever they belong to. */
import { inside, type BoxTree } from './tree.ts';

/** Lines that the text of an element itself is broken into, without what lies in its children. */
export function ownLines(tree: BoxTree, element: number): number {
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

const NONE = new Float64Array();

/** Lines of the text in each element and in what lies in it. */
export function linesOfEach(tree: BoxTree): Int32Array {
  const { parent, count } = tree.reading;
  const { texts } = inside(tree);
  const out = new Int32Array(count);
  /** Middles of what lies in the children of each. */
  const below: Float64Array[][] = [];
  // What lies in an element comes after it.
  for (let i = count - 1; i >= 0; i--) {
    const lists = below[i] ?? [];
    const own: number[] = [];
    for (const { pieces } of texts.get(i) ?? [])
      for (const { y, height } of pieces) if (height > 0) own.push(y + height / 2);
    if (own.length > 0) lists.push(Float64Array.from(own));
    const middles =
      lists.length === 0 ? NONE : lists.length === 1 && own.length === 0 ? lists[0]! : merged(lists);
    delete below[i];
    if (middles.length === 0) continue;
    out[i] = linesAt(middles);
    if (parent[i]! >= 0) (below[parent[i]!] ??= []).push(middles);
  }
  return out;
}

function merged(lists: Float64Array[]): Float64Array {
  const out = new Float64Array(lists.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const list of lists) {
    out.set(list, at);
    at += list.length;
  }
  return out.sort();
}
