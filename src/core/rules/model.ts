/** A rule: one kind of mistake in layout, seen in the geometry and the declarations of a reading. */
import { once } from '../accounts/model/term-builders.ts';
import type { Analysis } from '../analysis.ts';
import type { FindingKind, Observation, Suspect } from '../finding.ts';
import type { Wish } from '../wishes/model.ts';

/** What a rule tells; who tells it is added by whoever asks. */
export type Observed = Omit<Observation, 'rule' | 'kind' | 'grade'>;

export interface Rule<Id extends string = string> {
  /** `folder/file`: as it is named in documents. */
  id: Id;
  kind: FindingKind;
  /** What is wrong, in one sentence without a full stop. */
  title: string;
  /** Specification and section. */
  spec: readonly string[];
  /** Why it happens. */
  why: string;
  /** What is usually done about it. */
  usual: string;
  /** The smallest page on which the rule tells of something. */
  example: string;
  observe: (analysis: Analysis) => Observed[];
  /**
   * What should hold instead: a remedy is proved by this number as well. null: no such number is off.
   */
  wish?: (analysis: Analysis, observation: Observation) => Wish | null;
  /** What it may be due to, the likeliest first. Not there: the mechanisms of CSS in `remedies/` know by themselves. */
  suspects?: (analysis: Analysis, observation: Observation) => Suspect[];
  /** The two ends of the dimension line on the axis, in CSS px of the document; not there: it is not a matter of one stretch. */
  drawn?: (analysis: Analysis, observation: Observation) => readonly [from: number, to: number];
}

/** An observation with what most have in common filled in. */
export const observed = (
  fields: Pick<Observed, 'px' | 'axis' | 'subject' | 'what'> & Partial<Observed>,
): Observed => ({
  other: null,
  variant: null,
  evidence: [],
  boxes: [fields.subject],
  weight: fields.px,
  source: null,
  places: [fields.subject],
  least: fields.px,
  ...fields,
});

/** What is worked out of an analysis once, whichever rule asks for it first. */
export const oncePerAnalysis =
  <T>(make: (analysis: Analysis) => T): ((analysis: Analysis) => T) =>
  (analysis) =>
    once(analysis, make, () => make(analysis));
