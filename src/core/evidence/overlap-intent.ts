/** Whether somebody meant two things to lie over each other. */
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { attribute, rectOf, usedText, type BoxTree } from '../boxes/tree.ts';
import { resolve } from '../css/cascade/cascade.ts';
import {
  intersection,
  hasBackground,
  isSelfOrAncestor,
  inkOf,
  isSameInk,
  isReplacedOrControl,
  isTransformed,
  boxName,
  selfAndAncestors,
} from '../visibility/visibility.ts';
import { facts, type Fact } from './model.ts';
import { isBarOfView } from '../visibility/placement.ts';
import { tagOf } from '../reading/labels.ts';

export function overlapIntent(analysis: Analysis, a: number, b: number, from: number, to: number): Fact[] {
  const { reading, tree } = analysis;
  for (const [top, deep] of [
    [a, from],
    [b, to],
  ] as const)
    for (const at of selfAndAncestors(analysis, deep, reading.parent[top]!)) {
      const position = usedText(reading, 'position', at);
      if (position === 'absolute') {
        if (isSameInk(analysis, from, to))
          return facts(['says-the-same', `${boxName(analysis, at)} says the same in the same place`]);
        if (isUnreadable(analysis, at, from, to)) continue;
        if (isInField(analysis, from, to))
          return facts([
            'label-in-field',
            `${boxName(analysis, at)} lies in a field, as labels do that move away when it is filled in`,
          ]);
        return facts(['placed-by-hand', `${boxName(analysis, at)} is placed over the page by hand`]);
      }
      if (position === 'fixed' && isBarOfView(analysis, a) && isBarOfView(analysis, b)) continue;
      if (position === 'fixed' || position === 'sticky')
        return facts([
          'stays-while-scrolling',
          `${boxName(analysis, at)} stays in its place while the page scrolls`,
        ]);
      if (isTransformed(analysis, at)) {
        if (isUnreadable(analysis, at, from, to) && !isTwoFaced(analysis, from, to)) continue;
        return facts(['moved-by-transform', `${boxName(analysis, at)} is moved by a transform`]);
      }
    }
  if (/grid$/.test(usedText(reading, 'display', reading.parent[a]!))) {
    const [ra, rb] = [rectOf(reading, a), rectOf(reading, b)];
    const common = intersection(ra, rb);
    if (common && common.width * common.height > 0.5 * Math.min(ra.width * ra.height, rb.width * rb.height))
      return facts(['one-grid-area', 'They are set into one grid area']);
  }
  if (tagOf(tree.reading, from) === 'option' || tagOf(tree.reading, to) === 'option')
    return facts(['one-control', 'They belong to one control']);
  return [];
}

/** Whether one of two is a field for text, and the other text over where what is entered stands. */
function isInField(analysis: Analysis, ...two: [number, number]): boolean {
  const { tree, reading } = analysis;
  const field = two.find((at) => /^(input|textarea)$/.test(tagOf(reading, at)) && !isMark(tree, at));
  const text = two.find((at) => at !== field);
  if (field === undefined || text === undefined || isReplacedOrControl(tree, text)) return false;
  const { content } = laidAreas(tree, field);
  return inkOf(analysis, text).some((ink) => {
    const common = intersection(ink, content);
    return common !== null && common.width > 8 && common.height > 0.5 * ink.height;
  });
}

/** Whether a box is a control that the engine draws and nothing is entered in: a box to tick, a knob to choose by. */
export const isMark = (tree: BoxTree, element: number): boolean =>
  tagOf(tree.reading, element) === 'input' &&
  /^(checkbox|radio|range|color)$/i.test(attribute(tree, element, 'type') ?? '');

/** Whether what is placed by hand spoils what it lies over: letters on letters, or a band over the text of the page. */
export function isUnreadable(analysis: Analysis, placed: number, from: number, to: number): boolean {
  const { tree, reading } = analysis;
  const hasLetters = (element: number): boolean =>
    !isReplacedOrControl(tree, element) && inkOf(analysis, element).length > 0;
  const isText = [from, to].every(hasLetters);
  if ((isMark(tree, from) && hasLetters(to)) || (isMark(tree, to) && hasLetters(from))) return true;
  const deep = isSelfOrAncestor(analysis, placed, from) ? from : to;
  const grounded = selfAndAncestors(analysis, deep, reading.parent[placed]!).some((at) =>
    hasBackground(analysis, at),
  );
  if (!grounded) return isText;
  return (
    tree.containingBlock[placed]! < 0 &&
    rectOf(reading, placed).width >= reading.document.clientWidth * 0.9 &&
    isText
  );
}

/** Whether one of two is the back of something that turns, and is not seen while the other is (CSS Transforms 2 §5). */
export const isTwoFaced = (analysis: Analysis, ...two: number[]): boolean =>
  two.some((element) =>
    selfAndAncestors(analysis, element).some(
      (at) => resolve(analysis.styles, at, 'backface-visibility').value === 'hidden',
    ),
  );
