/** Boxes that are of one sort: same element and same first class. */
import type { Analysis } from '../analysis.ts';
import { childrenOf, hasBox } from '../boxes/tree.ts';
import { labelOf } from '../reading/labels.ts';
import { oncePerAnalysis } from './model.ts';

const sorts = oncePerAnalysis(({ tree }): (string | undefined)[] => new Array<string | undefined>(tree.count));

/** Element and first class of a box: its id, and classes that only one of several may have, are left out. */
export const sortOf = (analysis: Analysis, element: number): string =>
  (sorts(analysis)[element] ??= labelOf(analysis.reading, element)
    .replace(/#[^.]*/, '')
    .split('.')
    .slice(0, 2)
    .join('.'));

export const isSameSort = (analysis: Analysis, a: number, b: number): boolean =>
  sortOf(analysis, a) === sortOf(analysis, b);

/** Boxes of a container that take part in its layout. */
export const itemsOf = ({ tree }: Analysis, container: number): number[] =>
  childrenOf(tree, container).filter(
    (child) => hasBox(tree, child) && !/absolute|fixed/.test(tree.kinds[child]!),
  );
