/** What the kinds of changes share: a proposal, and how a change of a declaration is put. */
import type { Observation } from '../finding.ts';
import { authorDeclaration, type AuthorDeclaration } from '../accounts/author-declaration.ts';
import type { Analysis } from '../analysis.ts';
import { usedText } from '../boxes/tree.ts';
import { candidates } from '../css/cascade/candidates.ts';
import type { Source } from '../css/cascade/styles.ts';

/** One change of a declaration, so that it can be made by any means. */
export interface Step {
  element: number;
  /** The declaration that is changed; null: a new one is added. */
  source: Source | null;
  /** The declaration in whose block a new one is put; null: the element's own style. */
  beside: Source | null;
  property: string;
  /** '': the declaration is taken out. */
  value: string;
}

/** A possible cause with a change that should take the finding away. */
export interface Proposal {
  element: number;
  /** The declaration, default or content that is to blame. */
  property: string;
  source: Source | null;
  /** By which rule of CSS it has its effect: `declared`, `content-box`, `nowrap` ... */
  rule: string;
  /** Why it is to blame, to be read behind "because". */
  because: string;
  /** What the change is, in words. */
  words: string;
  steps: Step[];
  /** How likely it is that this is it: the higher the sooner it is tried. */
  rank: number;
  /** CSS px that the change can give at most; where not said, any. */
  gives?: number;
  /** It is of what is around, and to blame only where nothing of what is in it is. */
  isAround?: boolean;
  /** It shows who is to blame, and is no change that anybody would want. */
  isProof?: boolean;
}

export interface Remedy {
  name: string;
  propose: (analysis: Analysis, observation: Observation) => Proposal[];
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
export const alter = (declaration: AuthorDeclaration, value: string): Step => ({
  element: declaration.owner,
  source: declaration.source,
  beside: null,
  property: declaration.source.property,
  value,
});

/** Selectors that reach whatever comes: what one box needs is not written there. */
const SWEEPING = /(^|[\s,>])\*|,[^,]*,/;

/** A step that gives a property a value: where the box's own declaration of it stands, else in a block of its own. */
export function put(analysis: Analysis, element: number, property: string, value: string): Step {
  const declaration = authorDeclaration(analysis, element, property);
  const isOwn =
    declaration !== null &&
    declaration.owner === element &&
    /^(author|inline)$/.test(declaration.source.origin) &&
    declaration.source.line > 0 &&
    !SWEEPING.test(declaration.source.selector);
  if (isOwn && declaration.source.property === property) return alter(declaration, value);
  return {
    element,
    source: null,
    beside: isOwn ? declaration.source : blockFor(analysis, element),
    property,
    value,
  };
}

export const used = ({ reading }: Analysis, property: string, element: number): string =>
  usedText(reading, property, element);
