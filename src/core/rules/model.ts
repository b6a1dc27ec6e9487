/** What is wrong on a page: where, by how many px, because of what, and a change that takes it away. */
import type { Axis } from '../geometry/rect.ts';
import type { Source } from '../css/cascade/styles.ts';

export const KINDS = [
  'overflow',
  'stray-scroll',
  'overlap',
  'clip',
  'gap',
  'size',
  'percent-height',
  'inert',
  'dropped',
  'viewport',
  'defaults',
] as const;
export type FindingKind = (typeof KINDS)[number];

/** Something that is wrong, as it is seen in one reading, before anyone is blamed. */
export interface Suspect {
  kind: FindingKind;
  /** CSS px by which it is wrong; 0: not a matter of px. */
  px: number;
  /** The same where it is least wrong of all places. */
  least: number;
  axis: Axis;
  subject: number;
  other: number | null;
  /** Everywhere that it is seen, the subject first. */
  places: number[];
  /** Which of the forms of its kind it has, for those that look for causes; '': the kind has but one. */
  form: string;
  /** What is wrong in one sentence, without a full stop and without the reason. */
  what: string;
  /** Why it is probably meant; '': nothing says so. */
  meant: string;
  /** Whether `meant` says why it may not be so at all, rather than why somebody wanted it. */
  isDoubtful: boolean;
  /** Boxes that may be to blame, the likeliest first. */
  boxes: number[];
  /** CSS px that a visitor loses or sees wrong, for the order of findings. */
  weight: number;
  /** The declaration that it is about where there is one: what is inert, dropped, or not as declared. */
  source: Source | null;
}

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
  /** By which rule it has its effect: `declared`, `content-box`, `nowrap` ... */
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

export const suspect = (
  made: Pick<Suspect, 'kind' | 'px' | 'axis' | 'subject' | 'what'> & Partial<Suspect>,
): Suspect => ({
  other: null,
  form: '',
  meant: '',
  isDoubtful: false,
  boxes: [made.subject],
  weight: made.px,
  source: null,
  places: [made.subject],
  least: made.px,
  ...made,
});
