/** Whether somebody meant two things to lie over each other. */
import type { Analysis } from '../analysis.ts';
import { rectOf, usedText } from '../boxes/tree.ts';
import { resolve } from '../css/cascade/cascade.ts';
import {
  cut,
  hasGround,
  holds,
  inkOf,
  isAgain,
  isThing,
  isTransformed,
  name,
  tagOf,
  upward,
} from '../visibility/visibility.ts';
import { isBar } from '../visibility/placement.ts';

export function meantBy(analysis: Analysis, a: number, b: number, from: number, to: number): string {
  const { reading, tree } = analysis;
  for (const [top, deep] of [
    [a, from],
    [b, to],
  ] as const)
    for (const at of upward(analysis, deep, reading.parent[top]!)) {
      const position = usedText(reading, 'position', at);
      if (position === 'absolute') {
        if (isAgain(analysis, from, to)) return `${name(analysis, at)} says the same in the same place`;
        if (isUnreadable(analysis, at, from, to)) continue;
        return `${name(analysis, at)} is placed over the page by hand`;
      }
      if (position === 'fixed' && isBar(analysis, a) && isBar(analysis, b)) continue;
      if (position === 'fixed') return `${name(analysis, at)} stays in its place while the page scrolls`;
      if (position === 'sticky') return `${name(analysis, at)} sticks while the page scrolls`;
      if (isTransformed(analysis, at)) {
        if (isUnreadable(analysis, at, from, to) && !isTwoFaced(analysis, from, to)) continue;
        return `${name(analysis, at)} is moved by a transform`;
      }
    }
  if (/grid$/.test(usedText(reading, 'display', reading.parent[a]!))) {
    const [ra, rb] = [rectOf(reading, a), rectOf(reading, b)];
    const common = cut(ra, rb);
    if (common && common.width * common.height > 0.5 * Math.min(ra.width * ra.height, rb.width * rb.height))
      return 'They are set into one grid area';
  }
  if (tagOf(tree, from) === 'option' || tagOf(tree, to) === 'option') return 'They belong to one control';
  return '';
}

/** Whether what is placed by hand spoils what it lies over: letters on letters, or a band over the text of the page. */
export function isUnreadable(analysis: Analysis, placed: number, from: number, to: number): boolean {
  const { tree, reading } = analysis;
  const isText = [from, to].every((element) => !isThing(tree, element) && inkOf(analysis, element).length > 0);
  const deep = holds(analysis, placed, from) ? from : to;
  const grounded = upward(analysis, deep, reading.parent[placed]!).some((at) => hasGround(analysis, at));
  if (!grounded) return isText;
  return (
    tree.containingBlock[placed]! < 0 &&
    rectOf(reading, placed).width >= reading.document.clientWidth * 0.9 &&
    isText
  );
}

/** Whether one of two is the back of something that turns, and is not seen while the other is (CSS Transforms 2 §5). */
const isTwoFaced = (analysis: Analysis, ...two: number[]): boolean =>
  two.some((element) =>
    upward(analysis, element).some(
      (at) => resolve(analysis.styles, at, 'backface-visibility').value === 'hidden',
    ),
  );
