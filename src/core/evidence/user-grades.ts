/** What a user says of findings: a grade for a rule or a kind, everywhere or in one place, that goes before what the evidence comes to. */
import type { Source } from '../css/cascade/styles.ts';
import type { Observation } from '../finding.ts';
import type { Grade } from './model.ts';

export interface UserGrade {
  /** Path of the page from the folder of the project; '': all its pages. */
  page: string;
  /** The id of a rule, or a kind. */
  rule: string;
  /** A selector of boxes; '': wherever the rule tells of something. */
  place: string;
  /** `property: value` where it is about one declaration; '': it is not. */
  declaration: string;
  grade: Grade;
  why: string;
}

/** The boxes of a page that a place is about. */
export type ElementsOf = (place: string) => ReadonlySet<number>;

/** What a grade is held against. */
export type Gradable = Pick<Observation, 'rule' | 'kind' | 'places' | 'source'>;

/** A declaration as grades name it. */
export const declarationWords = (source: Pick<Source, 'property' | 'value'> | null): string =>
  source ? `${source.property}: ${source.value}` : '';

const isAbout = (
  { page, rule, place, declaration }: UserGrade,
  found: Gradable,
  ownPage: string,
  elementsOf: ElementsOf,
): boolean =>
  (page === '' || page === ownPage) &&
  (rule === found.rule || rule === found.kind) &&
  (declaration === '' || declaration === declarationWords(found.source)) &&
  (place === '' || found.places.some((element) => elementsOf(place).has(element)));

/** How much a grade says of what it is about. */
const particularity = ({ page, rule, place, declaration }: UserGrade): number =>
  (place === '' ? 0 : 8) + (declaration === '' ? 0 : 4) + (page === '' ? 0 : 2) + (rule.includes('/') ? 1 : 0);

/** What the user says of an observation: of several the most particular, of two alike the later; null: nothing. */
export function userGradeOf<G extends UserGrade>(
  grades: readonly G[],
  found: Gradable,
  page: string,
  elementsOf: ElementsOf,
): G | null {
  let best: G | null = null;
  for (const grade of grades)
    if (isAbout(grade, found, page, elementsOf) && (!best || particularity(grade) >= particularity(best)))
      best = grade;
  return best;
}

/** What was found, as the user grades it; the same where they say nothing of it. */
export const asGraded = <F extends Pick<Observation, 'grade' | 'said'>>(
  found: F,
  given: UserGrade | null,
): F => (given ? { ...found, grade: given.grade, said: { was: found.grade, why: given.why } } : found);
