/** Where the boxes of `::before` and `::after` lie that are taken out of the flow: no element's box tells of them (CSS Pseudo 4 §4.1). */
import type { Rect } from '../geometry/rect.ts';
import type { Pseudo } from '../reading/reading.ts';
import { laidAreas } from './areas.ts';
import { holdsAbsolute } from './formatting-contexts.ts';
import { hasBox, inside, type BoxTree } from './tree.ts';

export interface GeneratedBox {
  element: number;
  name: 'before' | 'after';
  /** Border box in CSS px of the document. */
  rect: Rect;
  values: Pseudo['values'];
}

const sidesOf = (value: string): [top: number, right: number, bottom: number, left: number] => {
  const [top = 0, right = top, bottom = top, left = right] = value
    .split(' ')
    .map((side) => parseFloat(side) || 0);
  return [top, right, bottom, left];
};

const pxOf = (value: string | undefined): number => (/px$/.test(value ?? '') ? parseFloat(value!) : NaN);

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
        pxOf(values[property]),
      );
      if (![left, top, width, height].every(Number.isFinite)) continue;
      const [x, y] = originOf(tree, element);
      const margin = sidesOf(values['margin'] ?? '');
      const edges =
        values['box-sizing'] === 'border-box'
          ? [0, 0, 0, 0]
          : sidesOf(values['padding'] ?? '').map((side, n) => side + sidesOf(values['border-width'] ?? '')[n]!);
      out.push({
        element,
        name,
        values,
        rect: {
          x: x + left! + margin[3],
          y: y + top! + margin[0],
          width: width! + edges[1]! + edges[3]!,
          height: height! + edges[0]! + edges[2]!,
        },
      });
    }
  return out;
}
