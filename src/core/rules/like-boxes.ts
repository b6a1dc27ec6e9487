/** Boxes that are of one sort: same element and same classes, in one container. */
import type { Analysis } from '../analysis.ts';
import { childrenOf, hasBox } from '../boxes/tree.ts';
import { labelOf } from '../reading/labels.ts';

/** Element and classes of a box, without its id and without classes that only one of several may have. */
export const sortOf = ({ reading }: Analysis, element: number): string =>
  labelOf(reading, element)
    .replace(/#[^.]*/, '')
    .split('.')
    .slice(0, 2)
    .join('.');

export const isSameSort = (analysis: Analysis, a: number, b: number): boolean =>
  sortOf(analysis, a) === sortOf(analysis, b);

/** Boxes of a container that take part in its layout. */
export const itemsOf = ({ tree }: Analysis, container: number): number[] =>
  childrenOf(tree, container).filter(
    (child) => hasBox(tree, child) && !/absolute|fixed/.test(tree.kinds[child]!),
  );
