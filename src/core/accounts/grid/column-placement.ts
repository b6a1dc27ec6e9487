/** Where an item is placed among the columns of its grid. */
import { authorDeclaration } from '../author-declaration.ts';
import type { Analysis } from '../../analysis.ts';

/** The declaration that says which columns an item takes. */
export const columnPlacement = (analysis: Analysis, item: number) =>
  ['grid-column-end', 'grid-column-start']
    .map((property) => authorDeclaration(analysis, item, property))
    .find((declaration) => declaration !== null && declaration.owner === item && declaration.value !== 'auto');
