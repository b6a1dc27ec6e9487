/** What differs between sweeps of one page in several engines: where along the widths each has what the others have elsewhere. */
import type { SweepDocument } from './sweep.ts';

export interface SweepDifference {
  /** A trouble over a range of widths, or something that changes at one. */
  what: 'band' | 'flip';
  /** In words, as the first engine that has it says it. */
  words: string;
  path: string | null;
  /** By engine, in the order of the sweeps: runs of widths in CSS px; none: it is not there. */
  engines: { engine: string; at: { from: number; to: number }[] }[];
}

/** Up to this many CSS px a change at another width is the same one: fonts are not equally wide to the last px. */
const NEAR = 2;

/** `names`: of the engines, in the order of the documents. What is probably meant is left out. */
export function sweepDifferences(
  documents: readonly SweepDocument[],
  names: readonly string[],
): SweepDifference[] {
  const found = new Map<string, SweepDifference>();
  const put = (
    key: string,
    n: number,
    { what, words, path }: Omit<SweepDifference, 'engines'>,
    run: { from: number; to: number },
  ): void => {
    const entry = found.get(key) ?? {
      what,
      words,
      path,
      engines: names.map((engine) => ({ engine, at: [] })),
    };
    found.set(key, entry);
    entry.engines[n]!.at.push(run);
  };
  for (const [n, { bands, flips }] of documents.entries()) {
    for (const { kind, rule, grade, subject, from, to, what } of bands)
      if (grade !== 'meant')
        put(`band ${kind} ${rule} ${subject}`, n, { what: 'band', words: what, path: subject }, { from, to });
    for (const { what, path, width } of flips)
      put(
        `flip ${path ?? ''} ${what.replace(/[\d.]+/g, '#')}`,
        n,
        { what: 'flip', words: what, path },
        { from: width, to: width },
      );
  }
  return [...found.values()].filter(({ engines }) => !areAlike(engines.map(({ at }) => at)));
}

function areAlike(lists: readonly { from: number; to: number }[][]): boolean {
  const [first = [], ...others] = lists;
  return others.every(
    (list) =>
      list.length === first.length &&
      list.every(({ from, to }, n) => {
        const run = first[n]!;
        return Math.abs(from - run.from) <= NEAR && Math.abs(to - run.to) <= NEAR;
      }),
  );
}

export function sweepDifferencesText(list: readonly SweepDifference[]): string {
  if (list.length === 0) return 'All engines change at the same widths, to 2 px.';
  const runs = (at: { from: number; to: number }[]): string =>
    at.length === 0
      ? 'not there'
      : at.map(({ from, to }) => (from === to ? `${from}` : `${from}–${to}`)).join(', ');
  return [
    'By engine, in px of the viewport:',
    ...list.map(
      ({ words, engines }) =>
        ` - ${words}\n     ${engines.map(({ engine, at }) => `${engine}: ${runs(at)}`).join('   ')}`,
    ),
  ].join('\n');
}
