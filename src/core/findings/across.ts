/** What is wrong at several widths put together: the same thing at each of them is one finding. */
import type { Analysis } from '../analysis.ts';
import { keyOf } from './prove.ts';
import type { Suspect } from './finding.ts';

export interface Seen {
  key: string;
  /** By width in CSS px. */
  at: Map<number, Suspect>;
  /** The width at which it is worst. */
  worst: number;
  suspect: Suspect;
}

/** In the order in which a visitor would notice them; what is probably meant comes last. */
export function together(
  readings: ReadonlyMap<number, { analysis: Analysis; found: readonly Suspect[] }>,
): Seen[] {
  const out = new Map<string, Seen>();
  for (const [width, { analysis, found }] of readings)
    for (const suspect of found) {
      const key = keyOf(analysis, suspect);
      const known = out.get(key);
      if (!known) {
        out.set(key, { key, at: new Map([[width, suspect]]), worst: width, suspect });
        continue;
      }
      known.at.set(width, suspect);
      if (suspect.px > known.suspect.px) {
        known.worst = width;
        known.suspect = suspect;
      }
    }
  // What is meant at one width is meant at the others.
  const isMeant = ({ at }: Seen) => [...at.values()].every(({ meant }) => meant !== '');
  const weight = ({ suspect, at }: Seen) => suspect.weight * (1 + 0.25 * (at.size - 1));
  return [...out.values()].sort((a, b) => Number(isMeant(a)) - Number(isMeant(b)) || weight(b) - weight(a));
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
