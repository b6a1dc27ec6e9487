/** Where the boxes of `::before` and `::after` lie that are taken out of the flow: no element's box tells of them (CSS Pseudo 4 §4.1). */
import type { Edges, Rect } from '../geometry/rect.ts';
import type { Pseudo } from '../reading/reading.ts';
import { laidAreas } from './areas.ts';
import { holdsAbsolute } from './formatting-contexts.ts';
import { edgesFrom, hasBox, inside, pxOf, type BoxTree } from './tree.ts';

export interface GeneratedBox {
  element: number;
  name: 'before' | 'after';
  /** Border box in CSS px of the document. */
  rect: Rect;
  values: Pseudo['values'];
}

/** The corner from which insets of what is generated in an element are counted. */
function originOf(tree: BoxTree, element: number): [x: number, y: number] {
  for (let at = element; at >= 0; at = tree.reading.parent[at]!) {
    if (!hasBox(tree, at) || holdsAbsolute(tree, at) === null) continue;
    const { rect, border } = laidAreas(tree, at);
    return [rect.x + border.left, rect.y + border.top];
  }
  return [0, 0];
}

/** Absolutely positioned generated boxes that no transform moves, with their places (CSS Positioned Layout 3 §4). */
export function absoluteGeneratedBoxes(tree: BoxTree): GeneratedBox[] {
  const out: GeneratedBox[] = [];
  for (const [element, list] of inside(tree).pseudos)
    for (const { name, values } of list) {
      if (values['position'] !== 'absolute' || !/^(none|)$/.test(values['transform'] ?? '')) continue;
      const [left, top, width, height] = ['left', 'top', 'width', 'height'].map((property) =>
        pxOf(values[property] ?? ''),
      );
      if (![left, top, width, height].every(Number.isFinite)) continue;
      const [x, y] = originOf(tree, element);
      const [margin, padding, border] = ['margin', 'padding', 'border-width'].map((property) =>
        edgesFrom(values[property] ?? ''),
      ) as [Edges, Edges, Edges];
      const isBorderBox = values['box-sizing'] === 'border-box';
      const [across, down] = isBorderBox
        ? [0, 0]
        : [
            padding.left + padding.right + border.left + border.right,
            padding.top + padding.bottom + border.top + border.bottom,
          ];
      out.push({
        element,
        name,
        values,
        rect: {
          x: x + left! + margin.left,
          y: y + top! + margin.top,
          width: width! + across,
          height: height! + down,
        },
      });
    }
  return out;
}
