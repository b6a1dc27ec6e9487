/** What should hold instead of what a rule tells of: numbers that can be measured without the rule. */
import type { Analysis } from '../analysis.ts';
import type { Axis } from '../geometry/rect.ts';
import { pathOf } from '../reading/labels.ts';
import type { Relation, Wish } from '../wishes/model.ts';

export const wishFor = ({ reading }: Analysis, element: number, relation: Relation): Wish => ({
  paths: [pathOf(reading, element)],
  relation,
});

/** A border box of at least or at most so many CSS px. */
export const sizeWish = (
  analysis: Analysis,
  element: number,
  axis: Axis,
  bound: 'at-least' | 'at-most',
  px: number,
): Wish => wishFor(analysis, element, { is: 'size', axis, bound, px: Math.max(0, px) });
