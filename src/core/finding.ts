/** What is wrong on a page, as it is seen in one reading: where, and by how many px. */
import type { Source } from './css/cascade/styles.ts';
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
  'larger' | 'smaller' | 'further' | 'closer' | 'whole' | 'more' | 'top' | 'bottom' | 'left' | 'right';

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
