/** How far what a box holds reaches in it. */
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { childrenOf, hasBox, inside } from '../boxes/tree.ts';

export interface ContentEnds {
  /** Upper end of the highest and lower end of the lowest of what is in the flow of a box, with its margins; CSS px of the document. */
  top: number;
  bottom: number;
}

/** null: nothing is in it. */
export function contentEnds({ tree }: Analysis, element: number): ContentEnds | null {
  let [top, bottom] = [Infinity, -Infinity];
  for (const child of childrenOf(tree, element)) {
    if (!hasBox(tree, child) || /absolute|fixed/.test(tree.kinds[child]!)) continue;
    const { rect, margin } = laidAreas(tree, child);
    top = Math.min(top, rect.y - margin.top);
    bottom = Math.max(bottom, rect.y + rect.height + margin.bottom);
  }
  for (const { pieces, blank } of inside(tree).texts.get(element) ?? [])
    if (!blank)
      for (const { y, height } of pieces) {
        top = Math.min(top, y);
        bottom = Math.max(bottom, y + height);
      }
  return bottom === -Infinity ? null : { top, bottom };
}
