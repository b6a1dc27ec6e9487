/** What the kinds of changes share: how a declaration stands, and how a change of it is put. */
import type { Analysis } from '../analysis.ts';
import { usedText } from '../boxes/tree.ts';
import { candidates } from '../css/cascade/candidates.ts';
import { resolve, type Resolution } from '../css/cascade/cascade.ts';
import type { Source } from '../css/cascade/styles.ts';
import { placeOf } from '../accounts/sizing/declared.ts';
import type { Proposal, Step, Suspect } from '../rules/model.ts';

export interface Remedy {
  name: string;
  propose: (analysis: Analysis, suspect: Suspect) => Proposal[];
}

export interface Said {
  element: number;
  /** The element that says it: the box itself, or the one that it inherits from. */
  owner: number;
  property: string;
  value: string;
  source: Source;
}

/** What an author says of a longhand of a box; null: nobody does. */
export function said(analysis: Analysis, element: number, property: string): Said | null {
  const made: Resolution = resolve(analysis.styles, element, property);
  const owner = made.from === 'inherited' ? made.inheritedFrom : element;
  const winner =
    made.winner ?? (owner >= 0 && owner !== element ? resolve(analysis.styles, owner, property).winner : null);
  if (!winner || winner.source.origin === 'browser') return null;
  return { element, owner, property, value: made.value, source: winner.source };
}

/** The block of an element's own in which a new declaration is put: that of its most specific rule which does not sweep. */
export function blockFor(analysis: Analysis, element: number): Source | null {
  let best: { source: Source; weight: number } | null = null;
  for (const list of candidates(analysis.styles, element).values())
    for (const { source, specificity, conditions } of list) {
      if (source.origin !== 'author' || source.line === 0 || conditions.length > 0) continue;
      if (/^\*|,/.test(source.selector) || !/[.#[]/.test(source.selector)) continue;
      const weight = specificity[0]! * 1e6 + specificity[1]! * 1e3 + specificity[2]!;
      if (!best || weight > best.weight) best = { source, weight };
    }
  return best?.source ?? null;
}

/** A step that gives a declaration another value; '': it goes. */
export const alter = (one: Said, value: string): Step => ({
  element: one.owner,
  source: one.source,
  beside: null,
  property: one.source.property,
  value,
});

/** A step that gives a property a value: where the box's own declaration of it stands, else in a block of its own. */
export function put(analysis: Analysis, element: number, property: string, value: string): Step {
  const own = said(analysis, element, property);
  const isOwn =
    own !== null && own.owner === element && /^(author|inline)$/.test(own.source.origin) && own.source.line > 0;
  if (isOwn && own.source.property === property) return alter(own, value);
  return { element, source: null, beside: isOwn ? own.source : blockFor(analysis, element), property, value };
}

export const written = ({ source }: Said): string => `${source.property}: ${source.value}`;

/** `(`white-space: nowrap`, board.css:6)`: the declaration and its place. */
export const cite = (one: Said): string => `(${written(one)}, ${placeWords(one.source)})`;

export const placeWords = (source: Source): string =>
  source.origin === 'inline'
    ? 'style attribute'
    : source.origin === 'attribute'
      ? 'an attribute'
      : placeOf(source).replace(/:\d+$/, '').split('/').pop()!;

export const used = ({ reading }: Analysis, property: string, element: number): string =>
  usedText(reading, property, element);

export const isLength = (value: string): boolean =>
  /^-?\d*\.?\d+(px|rem|em|pt|ch|ex|vw|vh|vmin|vmax|%|cm|mm|in)$|^(calc|min|max|clamp)\(/i.test(value);
