/** What is wrong at several widths put together: the same thing at each of them is one finding. */
import type { FindingKind, Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { graded } from '../evidence/index.ts';
import { GRADES, isWorseGrade, type Fact } from '../evidence/model.ts';
import { keyOf } from './keys.ts';
import type { Blame } from './prover.ts';

export interface FindingAcrossWidths {
  key: string;
  /** By width in CSS px. */
  at: Map<number, Observation>;
  /** The width at which it is worst. */
  worst: number;
  observation: Observation;
}

/**
 * In the order in which a visitor would notice them; what is probably meant comes last. `regraded`: as the user grades what was
 * found at a width.
 */
export function acrossWidths(
  readings: ReadonlyMap<number, { analysis: Analysis; found: readonly Observation[] }>,
  regraded: (observation: Observation, width: number) => Observation = (observation) => observation,
): FindingAcrossWidths[] {
  const out = new Map<string, FindingAcrossWidths>();
  for (const [width, { analysis, found }] of readings)
    for (const observation of found) {
      const key = keyOf(analysis, observation);
      const cached = out.get(key);
      if (!cached) {
        out.set(key, { key, at: new Map([[width, observation]]), worst: width, observation });
        continue;
      }
      cached.at.set(width, observation);
      const { grade, px } = cached.observation;
      if (isWorseGrade(observation.grade, grade) || (observation.grade === grade && observation.px > px)) {
        cached.worst = width;
        cached.observation = observation;
      }
    }
  for (const finding of out.values()) ofNarrowViews(finding);
  for (const finding of out.values())
    finding.observation = regraded(gradedAcross(finding, readings.size), finding.worst);
  const standing = ({ observation }: FindingAcrossWidths) => GRADES.indexOf(observation.grade);
  const weight = ({ observation: observation, at }: FindingAcrossWidths) =>
    observation.weight * (1 + 0.25 * (at.size - 1));
  return [...out.values()].sort((a, b) => standing(a) - standing(b) || weight(b) - weight(a));
}

/** CSS px of the phone that viewport meta elements are held against. */
const PHONE = 360;

/** What a viewport meta element does to a phone is told of widths below the one at which it lays the page out, where some were asked for. */
function ofNarrowViews({ at, observation }: FindingAcrossWidths): void {
  if (observation.kind !== 'viewport' || observation.px === 0) return;
  const isNarrow = (width: number): boolean => width < observation.px + PHONE;
  if ([...at.keys()].some(isNarrow)) for (const width of [...at.keys()]) if (!isNarrow(width)) at.delete(width);
}

/** Kinds that are about what is written, whatever the width. */
const OF_DECLARATIONS = /^(inert|dropped|viewport|defaults)$/;

/** What is there at some of the widths that were looked at and not at others speaks for a mistake. */
function gradedAcross({ observation, at }: FindingAcrossWidths, widths: number): Observation {
  if (at.size === widths || observation.grade === 'meant') return observation;
  return graded(observation, atSomeWidths(observation.kind, Math.min(...at.keys()), Math.max(...at.keys())));
}

/** That something is not there at every width that was looked at, as evidence. CSS px. */
export function atSomeWidths(kind: FindingKind, first: number, last: number): Fact[] {
  if (OF_DECLARATIONS.test(kind)) return [];
  const where = first === last ? `at ${first} px` : `from ${first} to ${last} px`;
  return [
    { signal: 'at-some-widths', words: `It is there ${where}, and not at every width that was looked at` },
  ];
}

/** What has one cause is one finding: each that is gone with the cause of another is told as places of that. */
export function foldedByCause<T extends { seen: FindingAcrossWidths; blame: Pick<Blame, 'also'> }>(
  list: readonly T[],
): T[] {
  const into = foldTargets(list.map(({ seen, blame }) => ({ ...seen, also: blame.also })));
  return list.flatMap((entry) => {
    if (into.has(entry.seen.key)) return [];
    const more = list.filter(({ seen }) => into.get(seen.key) === entry.seen.key);
    if (more.length === 0) return [entry];
    const { observation: told } = entry.seen;
    const places = [
      ...new Set(
        [told, ...more.map(({ seen }) => seen.observation)].flatMap((observation) => observation.places),
      ),
    ];
    return [{ ...entry, seen: { ...entry.seen, observation: { ...told, places } } }];
  });
}

/** The key of the finding that each of those that have another's cause goes with. `list`: the most noticeable first. */
export function foldTargets(
  list: readonly { key: string; at?: ReadonlyMap<number, unknown>; also: readonly string[] }[],
): Map<string, string> {
  const place = new Map(list.map(({ key }, n) => [key, n]));
  const into = new Map<string, string>();
  for (const [n, { key, at, also }] of list.entries())
    for (const other of also) {
      const m = place.get(other);
      if (m === undefined || into.has(other)) continue;
      const otherHere = list[m]!;
      // Of two that go with each other the first is told.
      if (otherHere.also.includes(key) && m < n) continue;
      if (at && [...(otherHere.at?.keys() ?? [])].some((width) => !at.has(width))) continue;
      into.set(other, key);
    }
  const endOf = (key: string): string => {
    const seen = new Set<string>();
    let end = key;
    for (let next = into.get(end); next !== undefined && !seen.has(next); next = into.get(end)) {
      seen.add(next);
      end = next;
    }
    return end;
  };
  return new Map([...into.keys()].map((key) => [key, endOf(key)] as const).filter(([key, end]) => key !== end));
}

/** Runs of the widths asked for: `[{ from, to }]`, neighbours in the list together. */
export function runsOf(
  widths: readonly number[],
  holds: (width: number) => boolean,
): { from: number; to: number }[] {
  const out: { from: number; to: number }[] = [];
  let open: { from: number; to: number } | null = null;
  for (const width of [...widths].sort((a, b) => a - b)) {
    if (!holds(width)) open = null;
    else if (open) open.to = width;
    else out.push((open = { from: width, to: width }));
  }
  return out;
}
