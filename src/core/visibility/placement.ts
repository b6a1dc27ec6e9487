/** Where boxes are drawn, and whether they can be seen there. */
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { rectOf, usedPx, usedText, type BoxTree } from '../boxes/tree.ts';
import { hasBackground, inkOf, isTransformed } from './visibility.ts';

export const isBlock = ({ kinds }: BoxTree, element: number): boolean =>
  /^(block|list-item|flex-item|grid-item|float|table)$/.test(kinds[element]!);

/** Whether two boxes follow each other down the page, wherever they have come to lie (CSS 2.2 §9.4.1). */
export const followVertically = ({ tree }: Analysis, a: number, b: number): boolean =>
  [a, b].every((element) => /^(block|list-item)$/.test(tree.kinds[element]!));

/** Whether a box is drawn away from its place in the flow, or sticks to an edge. */
export const isOffset = ({ reading }: Analysis, element: number): boolean => {
  const position = usedText(reading, 'position', element);
  const sides = ['left', 'top', 'right', 'bottom'];
  return (
    position === 'sticky' ||
    (position === 'relative' && sides.some((side) => Math.abs(usedPx(reading, side, element)) > 0.5))
  );
};

/** Whether a transform or an offset draws a box elsewhere than where it was laid out (CSS 2.2 §9.4.3, CSS Transforms 1 §3). */
export const isDrawnAway = (analysis: Analysis, element: number): boolean =>
  isTransformed(analysis, element) ||
  (usedText(analysis.reading, 'position', element) === 'relative' && isOffset(analysis, element));

/** Whether a box has a ground, a border or ink to be seen by. */
export function isSolid(analysis: Analysis, element: number): boolean {
  const { tree } = analysis;
  const { border } = laidAreas(tree, element);
  return (
    hasBackground(analysis, element) ||
    border.top + border.bottom + border.left + border.right > 0 ||
    inkOf(analysis, element).length > 0
  );
}

/** Whether a box stays at an edge of the view and goes along most of it. */
export function isBarOfView({ tree, reading }: Analysis, element: number): boolean {
  const { clientWidth, clientHeight } = reading.document;
  const { width, height } = rectOf(reading, element);
  return tree.kinds[element] === 'fixed' && width >= clientWidth * 0.5 && height <= clientHeight * 0.5;
}
