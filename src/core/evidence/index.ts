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

/** An observation with further evidence, graded again. */
export function graded(observation: Observation, more: readonly Fact[]): Observation {
  const evidence = [...observation.evidence, ...more];
  return { ...observation, evidence, grade: gradeOf(priorOf(observation.rule), evidence) };
}
