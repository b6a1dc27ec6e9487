/** What Seek, Isolate and Compare begin with: the picked finding, its number and its culprit. */
import { labelOf } from '$core/reading/labels.ts';
import type { Source } from '$core/css/cascade/styles.ts';
import { questionOf, type Question } from '$core/search/question.ts';
import type { Bench } from './bench.svelte.ts';

export interface Asked extends Question {
  /** By what the finding is known. */
  key: string;
  words: string;
  /** The declaration that it is traced to, where one is known. */
  culprit: Source | null;
}

/** Null: no finding is picked, or it is about no number. */
export function askedOf({ finder, reading }: Bench): Asked | null {
  const finding = finder.found?.find(({ key }) => key === finder.picked);
  const question = finding && reading ? questionOf(reading, finding) : null;
  if (!finding || !question) return null;
  const culprit = finder.blames.get(finding.key)?.culprits[0]?.source ?? null;
  const about = labelOf(reading!, finding.subject);
  return { ...question, key: finding.key, words: `${finding.kind.replace('-', ' ')}: ${about}`, culprit };
}
