/** Lines of texts, whoever they belong to. */
import { inside, type BoxTree } from './tree.ts';

/** Lines that the text of an element itself is broken into, without what lies in its children. */
export function ownLines(tree: BoxTree, element: number): number {
  const runs = inside(tree).texts.get(element);
  if (!runs) return 0;
  const bottoms: number[] = [];
  for (const { pieces, blank } of runs)
    if (!blank) for (const { y, height } of pieces) if (height > 0) bottoms.push(y + height / 2);
  bottoms.sort((a, b) => a - b);
  return bottoms.filter((one, i) => i === 0 || one - bottoms[i - 1]! > 3).length;
}
