/** What is wrong on a page, as it is seen in one reading: where, and by how many px. */
import type { Source } from './css/cascade/styles.ts';
import type { Fact, Grade } from './evidence/model.ts';
import type { Axis } from './geometry/rect.ts';
import type { RuleId } from './rules/index.ts';

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

/** Ways in which one rule finds a thing wrong. */
export type Variant =
  | 'larger'
  | 'smaller'
  | 'further'
  | 'closer'
  | 'whole'
  | 'more'
  | 'top'
  | 'bottom'
  | 'left'
  | 'right'
  | 'sticking-out';

/** Something that is wrong, as it is seen in one reading, before anyone is blamed. */
export interface Observation {
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
  /** The rule that told of it. */
  rule: RuleId;
  /** Which way it is wrong, where its rule knows several. */
  variant: Variant | null;
  /** What is wrong in one sentence, without a full stop and without the reason. */
  what: string;
  /** What speaks for and against its being a mistake. */
  evidence: readonly Fact[];
  /** What the evidence comes to, or what the user says (`said`). */
  grade: Grade;
  /** Where the user has graded it: what the evidence came to, and why they say otherwise. */
  said?: { was: Grade; why: string };
  /** Boxes that may be to blame, the likeliest first. */
  boxes: number[];
  /** CSS px that a visitor loses or sees wrong, for the order of findings. */
  weight: number;
  /** The declaration that it is about where there is one: what is inert, dropped, or not as declared. */
  source: Source | null;
}

/** A change of declarations that would give what is asked for. */
export interface Fix {
  /** What it is, in words: “let it wrap”. */
  words: string;
  /** Declarations to be put, one after the other; '' takes the author's own out. */
  puts: readonly { element: number; property: string; value: string }[];
  /** How likely it is that somebody wants it: the higher the sooner it is tried. */
  rank: number;
}

/** A declaration or a default that an observation may be due to, as its rule knows. */
export interface Suspect {
  element: number;
  property: string;
  /** By which rule of CSS it has its effect. */
  rule: string;
  /** Why it is to blame, to be read behind “because”. */
  because: string;
  fixes: readonly Fix[];
}
