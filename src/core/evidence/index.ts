/** The signals that are asked of every observation, and its grade. Adding a signal is adding its file and its line here. */
import type { Analysis } from '../analysis.ts';
import type { Observation } from '../finding.ts';
import { heldScripts } from './held-scripts.ts';
import { gradeOf, type Fact } from './model.ts';
import { priorOf } from './strengths.ts';

/** What a signal is asked about: an observation before it is graded. */
export type Ungraded = Omit<Observation, 'grade'>;

/** Makes a signal for one reading; it gives a fact, or null where it has nothing to say. */
export type Signal = (analysis: Analysis) => (observation: Ungraded) => Fact | null;

const SIGNALS: readonly Signal[] = [heldScripts];

/** Adds what the signals say to an observation's own evidence, and grades it. */
export function judging(analysis: Analysis): (observation: Ungraded) => Observation {
  const signals = SIGNALS.map((signal) => signal(analysis));
  return (observation) => {
    const evidence = [...observation.evidence, ...signals.flatMap((signal) => signal(observation) ?? [])];
    return { ...observation, evidence, grade: gradeOf(priorOf(observation.rule), evidence) };
  };
}

/** What is told by a rule with further evidence, and the grade that all of it comes to. */
export function regraded(
  { rule, evidence }: Pick<Observation, 'rule' | 'evidence'>,
  more: readonly Fact[],
): Pick<Observation, 'evidence' | 'grade'> {
  const all = [...evidence, ...more];
  return { evidence: all, grade: gradeOf(priorOf(rule), all) };
}

/** An observation with further evidence, graded again. */
export const graded = (observation: Observation, more: readonly Fact[]): Observation => ({
  ...observation,
  ...regraded(observation, more),
});
