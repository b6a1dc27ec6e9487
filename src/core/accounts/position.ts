/** Why a box's edge lies where it does: from its containing block down, one step for each box on the way. */
import type { Analysis } from '../analysis.ts';
import { boxAbove } from '../boxes/formatting-contexts.ts';
import { relativeShift } from '../boxes/line-boxes.ts';
import { rectOf, usedText } from '../boxes/tree.ts';
import { sidesOf, type Axis } from '../geometry/rect.ts';
import { lengthTerm, once } from './model/term-builders.ts';
import { account, sumOf, term, type Account, type Term } from './model/term.ts';
import { laid, placeTerms } from './positioned/placement.ts';

export interface Step {
  /** The box that is placed, and the one whose border edge it is placed from; −1: the page. */
  element: number;
  holder: number;
  terms: Term[];
  /** CSS px from the holder's left or top border edge to the box's, as measured. */
  used: number;
  residual: number;
}

export interface PositionAccount extends Account {
  axis: Axis;
  steps: Step[];
}

/** The box from whose border edge a box is placed: its containing block, or the box around it. */
export function holderOf({ tree, reading }: Analysis, element: number): number {
  const position = usedText(reading, 'position', element);
  return position === 'absolute' || position === 'fixed'
    ? tree.containingBlock[element]!
    : boxAbove(tree, element);
}

/** From the page down to the box's left or top border edge. */
export function positionAccount(analysis: Analysis, element: number, axis: Axis): PositionAccount {
  return once(analysis, `position ${element} ${axis}`, () => {
    const steps: Step[] = [];
    for (let at = element; at >= 0; at = holderOf(analysis, at)) steps.unshift(stepOf(analysis, at, axis));
    const used = rectOf(analysis.reading, element)[axis];
    const terms = steps.flatMap((step) => step.terms);
    const shift = used - laid(analysis, element)[axis];
    if (Math.abs(shift) > 0.005)
      terms.push(
        term({
          px: shift,
          what: 'transform',
          rule: 'transform',
          box: element,
          note: 'a transform paints it elsewhere than layout put it',
        }),
      );
    return { ...account(used, terms), axis, steps };
  });
}

/** One step: the box's low border edge from its holder's. */
export function stepOf(analysis: Analysis, element: number, axis: Axis): Step {
  return once(analysis, `step ${element} ${axis}`, () => {
    const holder = holderOf(analysis, element);
    const used = laid(analysis, element)[axis] - laid(analysis, holder)[axis];
    const terms = [...placeTerms(analysis, element, holder, axis), ...movedTerms(analysis, element, axis)];
    return { element, holder, terms, used, residual: used - sumOf(terms) };
  });
}

/** What `position: relative` adds. */
function movedTerms(analysis: Analysis, element: number, axis: Axis): Term[] {
  const { px, side } = relativeShift(analysis.tree, element, axis);
  if (px === 0 || side === null) return [];
  const sign = side === sidesOf(axis)[0] ? 1 : -1;
  return [{ ...lengthTerm(analysis, element, side, px * sign, 'offset', sign), rule: 'relative' }];
}
