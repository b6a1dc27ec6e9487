/** Evidence for and against something odd being a mistake, and the grade that it comes to. */
import { STRENGTHS, type SignalId } from './strengths.ts';

/** `wrong` is shown first, `doubtful` below it; what is `meant` is folded. */
export const GRADES = ['wrong', 'doubtful', 'meant'] as const;
export type Grade = (typeof GRADES)[number];

/** One fact that a rule or a signal gives, in a sentence without a full stop. */
export interface Fact {
  signal: SignalId;
  words: string;
}

/** Facts of which some do not hold: those without words are left out. */
export const facts = (...list: readonly (readonly [SignalId, string | false])[]): Fact[] =>
  list.flatMap(([signal, words]) => (words ? [{ signal, words }] : []));

/** The strength of a fact: above 0 it speaks for a mistake, below 0 for something that is meant. */
export const strengthOf = ({ signal }: Fact): number => STRENGTHS[signal];

/** From this sum on it is wrong; down to the negative of it, it is doubtful. */
const SURE = 1;

/** `prior`: how strongly what a rule tells speaks for a mistake by itself. Of facts with one signal one counts. */
export function gradeOf(prior: number, evidence: readonly Fact[]): Grade {
  const sum = [...new Set(evidence.map(({ signal }) => signal))].reduce(
    (all, signal) => all + STRENGTHS[signal],
    prior,
  );
  return sum >= SURE ? 'wrong' : sum > -SURE ? 'doubtful' : 'meant';
}

/** Whether the first of two grades speaks more of a mistake than the second. */
export const isWorseGrade = (a: Grade, b: Grade): boolean => GRADES.indexOf(a) < GRADES.indexOf(b);

/** What speaks against a mistake, the strongest first; nothing where it is graded wrong all the same. */
export const againstOf = ({ grade, evidence }: { grade: Grade; evidence: readonly Fact[] }): string[] =>
  grade === 'wrong'
    ? []
    : evidence
        .filter((fact) => strengthOf(fact) < 0)
        .sort((a, b) => strengthOf(a) - strengthOf(b))
        .map(({ words }) => words);

/** Why an observation is not graded wrong; '': it is. */
export const reasonOf = (observation: {
  grade: Grade;
  evidence: readonly Fact[];
  said?: { why: string };
}): string =>
  observation.grade === 'wrong'
    ? ''
    : observation.said
      ? observation.said.why
      : (againstOf(observation)[0] ?? 'Little speaks for it being a mistake');
