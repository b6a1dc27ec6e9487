/** What an author declares of a box, and how it is cited. */
import { placeOf } from './sizing/declared.ts';
import type { Analysis } from '../analysis.ts';
import { type Resolution, resolve } from '../css/cascade/cascade.ts';
import type { Source } from '../css/cascade/styles.ts';

export interface AuthorDeclaration {
  element: number;
  /** The element that says it: the box itself, or the one that it inherits from. */
  owner: number;
  property: string;
  value: string;
  source: Source;
}

/** What an author says of a longhand of a box; null: nobody does. */
export function authorDeclaration(
  analysis: Analysis,
  element: number,
  property: string,
): AuthorDeclaration | null {
  const resolution: Resolution = resolve(analysis.styles, element, property);
  const owner = resolution.from === 'inherited' ? resolution.inheritedFrom : element;
  const winner =
    resolution.winner ??
    (owner >= 0 && owner !== element ? resolve(analysis.styles, owner, property).winner : null);
  if (!winner || winner.source.origin === 'browser') return null;
  return { element, owner, property, value: resolution.value, source: winner.source };
}

export const written = ({ source }: AuthorDeclaration): string => `${source.property}: ${source.value}`;

/** `(`white-space: nowrap`, board.css:6)`: the declaration and its place. */
export const cite = (declaration: AuthorDeclaration): string =>
  `(${written(declaration)}, ${placeWords(declaration.source)})`;

export const placeWords = (source: Source): string =>
  source.origin === 'inline'
    ? 'style attribute'
    : source.origin === 'attribute'
      ? 'an attribute'
      : placeOf(source).replace(/:\d+$/, '').split('/').pop()!;

export const isLength = (value: string): boolean =>
  /^-?\d*\.?\d+(px|rem|em|pt|ch|ex|vw|vh|vmin|vmax|%|cm|mm|in)$|^(calc|min|max|clamp)\(/i.test(value);
