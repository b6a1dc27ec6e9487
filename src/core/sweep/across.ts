/** What the looks of a sweep come to: where each finding holds, and what changes at which width because of what. */
import type { Analysis } from '../analysis.ts';
import { labelOf } from '../reading/labels.ts';
import { breakpointsOf, type Breakpoint } from '../css/media/breakpoints.ts';
import { mediaWithoutEffect } from '../css/media/media-without-effect.ts';
import { makeStyles, type Source } from '../css/cascade/styles.ts';
import { regraded } from '../evidence/index.ts';
import { asGraded, userGradeOf, type ElementsOf, type UserGrade } from '../evidence/user-grades.ts';
import { isWorseGrade } from '../evidence/model.ts';
import { atSomeWidths, runsOf } from '../proof/across-widths.ts';
import type { Axis } from '../geometry/rect.ts';
import type { FoundAt, Snapshot } from './snapshot.ts';
import { causeOf, type Turned } from './cause.ts';
import { keyOfPart, partOfKey, type Part } from './layout-signature.ts';

export interface Run {
  from: number;
  to: number;
}

/** A finding over a run of widths at which it holds, both ends to 1 px unless they are those of the sweep. */
export interface Band extends FoundAt, Run {
  key: string;
  /** The width at which it is worst, and `px` what it is there. */
  worst: number;
}

/** A change between two neighbouring widths. */
export interface WidthFlip {
  /** The first width, going up, at which the new state holds. */
  width: number;
  what: string;
  part: Part | 'finding' | 'sizes';
  element: number | null;
  /** Elements that are alike and change alike, the first included. */
  places: number;
  /** The condition that turns there. */
  condition: string | null;
  source: Source | null;
}

export interface Across {
  from: number;
  to: number;
  /** Widths that were looked at, ascending. */
  widths: number[];
  overflow: Run[];
  bands: Band[];
  flips: WidthFlip[];
  /** Runs of widths within which the layout has one shape. */
  stretches: Run[];
  breakpoints: (Breakpoint & { isIdle: boolean })[];
  /** Conditions on the width that hold nowhere in the range, as written. */
  never: string[];
}

/** Breakpoints of which anything comes (`silentMedia`). */
export function telling({ sources: { plan }, reading }: Analysis): Breakpoint[] {
  const silent = mediaWithoutEffect(plan, reading);
  return breakpointsOf(plan, reading.viewport.height).filter(
    ({ text }) => !silent[plan.request.media.indexOf(text)],
  );
}

/** `analysis`: of any width, for names and sources. */
export function across(analysis: Analysis, looks: ReadonlyMap<number, Snapshot>): Across {
  const list = [...looks.values()].sort((a, b) => a.width - b.width);
  const widths = list.map(({ width }) => width);
  const [from, to] = [widths[0] ?? 0, widths.at(-1) ?? 0];
  const flips: WidthFlip[] = [];
  const stretches: Run[] = list.length > 0 ? [{ from, to }] : [];
  list.forEach((look, i) => {
    const before = list[i - 1];
    if (!before || look.width - before.width > 1) return;
    const result = flipsBetween(analysis, before, look);
    if (result.length === 0) return;
    flips.push(...result);
    stretches.at(-1)!.to = before.width;
    stretches.push({ from: look.width, to });
  });
  const seen = new Set(telling(analysis).map(({ width }) => width));
  return {
    from,
    to,
    widths,
    overflow: runsOf(widths, (width) => looks.get(width)!.shape.get('page 0') === 'scrolls'),
    bands: bandsOf(list, widths),
    flips,
    stretches,
    breakpoints: breakpointsOf(analysis.sources.plan, analysis.reading.viewport.height)
      .filter(({ width }) => width > from && width <= to)
      .map((breakpoint) => ({
        ...breakpoint,
        isIdle: isIdle(looks, breakpoint.width) ?? !seen.has(breakpoint.width),
      })),
    never: analysis.sources.plan.request.media.filter(
      (text, i) =>
        /width|aspect-ratio|orientation/i.test(text) &&
        list.every(({ shape }) => shape.get(`media ${i}`) === 'fails'),
    ),
  };
}

/** A share of the widths from which on something is there at all of them: what goes from too small to too large is right at one. */
const NEARLY_ALL = 0.95;

function bandsOf(list: readonly Snapshot[], widths: readonly number[]): Band[] {
  const keys = new Set(list.flatMap(({ found }) => [...found.keys()]));
  const holds = new Map(list.map((look) => [look.width, look]));
  const bands: Band[] = [];
  for (const key of keys) {
    const runs = runsOf(widths, (width) => holds.get(width)!.found.has(key));
    const covered = runs.reduce((sum, { from, to }) => sum + to - from + 1, 0);
    const isEverywhere = covered >= NEARLY_ALL * (widths.at(-1)! - widths[0]! + 1);
    for (const { from, to } of runs) {
      const within = list.filter(({ width }) => width >= from && width <= to);
      const worst = within.reduce((a, b) => (isWorseFound(b.found.get(key)!, a.found.get(key)!) ? b : a));
      const found = worst.found.get(key)!;
      const more = isEverywhere ? [] : atSomeWidths(found.kind, runs[0]!.from, runs.at(-1)!.to);
      bands.push({ ...found, ...regraded(found, more), key, from, to, worst: worst.width });
    }
  }
  return bands.sort((a, b) => a.from - b.from || b.to - b.from - (a.to - a.from) || b.px - a.px);
}

/** Whether one is graded worse than another, or wrong by more. */
const isWorseFound = (a: FoundAt, b: FoundAt): boolean =>
  isWorseGrade(a.grade, b.grade) || (a.grade === b.grade && a.px > b.px);

/** Bands as the user grades what they tell of, on a page of their project. */
export const gradedBands = (
  bands: readonly Band[],
  grades: readonly UserGrade[],
  page: string,
  elementsOf: ElementsOf,
): Band[] =>
  bands.map((band) =>
    asGraded(band, userGradeOf(grades, { ...band, places: [band.subject] }, page, elementsOf)),
  );

/** Px by which a size must jump from one width to the next to be no sliding along. */
const JUMP = 2;

/** Boxes of which the size jumps between two looks at neighbouring widths. */
function jumped(a: Snapshot, b: Snapshot): number[] {
  const out: number[] = [];
  const count = Math.min(a.rects.length, b.rects.length) / 4;
  for (let i = 0; i < count; i++)
    if (
      Math.abs(a.rects[i * 4 + 2]! - b.rects[i * 4 + 2]!) > JUMP ||
      Math.abs(a.rects[i * 4 + 3]! - b.rects[i * 4 + 3]!) > JUMP
    )
      out.push(i);
  return out;
}

/** Whether nothing of the layout changes where a condition turns; null: it was not looked at on both sides. */
function isIdle(looks: ReadonlyMap<number, Snapshot>, width: number): boolean | null {
  const [a, b] = [looks.get(width - 1), looks.get(width)];
  if (!a || !b) return null;
  const isShapeless = [...b.shape].every(([key, word]) => key.startsWith('media') || a.shape.get(key) === word);
  if (!isShapeless || a.shape.size !== b.shape.size || jumped(a, b).length > 0) return false;
  const places = (look: Snapshot) => look.rects.filter((_, i) => i % 4 < 2);
  const [before, after] = [places(a), places(b)];
  return before.every((value, i) => Math.abs(value - after[i]!) <= JUMP);
}

const states = new WeakMap<Analysis, Map<string, Analysis>>();

/** What rules say under the conditions of a look: layout stays that of the analysis. */
function stateAt(analysis: Analysis, { shape }: Snapshot): Analysis {
  const { reading: readingHere, styles } = analysis;
  const media = readingHere.media.map((_, i) => shape.get(keyOfPart('media', i)) === 'holds');
  if (media.every((holds, i) => holds === readingHere.media[i])) return analysis;
  let cached = states.get(analysis);
  if (!cached) states.set(analysis, (cached = new Map()));
  const key = media.map(Number).join('');
  let previous = cached.get(key);
  if (!previous) {
    const reading = { ...readingHere, media };
    previous = { ...analysis, reading, styles: makeStyles({ ...styles, reading }) };
    cached.set(key, previous);
  }
  return previous;
}

function flipsBetween(analysis: Analysis, before: Snapshot, after: Snapshot): WidthFlip[] {
  if (before.sign === after.sign) return [];
  const { width } = after;
  const silent = mediaWithoutEffect(analysis.sources.plan, analysis.reading);
  const turned: Turned = { media: [], containers: [] };
  const changed: { part: Part; of: number; was: string; is: string }[] = [];
  for (const [key, is] of after.shape) {
    const was = before.shape.get(key);
    if (was === undefined || was === is) continue;
    const { part, of } = partOfKey(key);
    if (part === 'media') {
      if (!silent[of]) turned.media.push(of);
    } else if (part === 'container') turned.containers.push(of);
    else changed.push({ part, of, was, is });
  }
  const alike = new Map<string, WidthFlip>();
  const put = (
    flip: Omit<WidthFlip, 'places' | 'width' | 'condition' | 'source'>,
    part: Part | null,
    axis: Axis = 'x',
  ): void => {
    const cached = alike.get(flip.what);
    if (cached) cached.places++;
    else
      alike.set(flip.what, {
        ...flip,
        width,
        places: 1,
        ...causeOf(stateAt(analysis, after), turned, flip.element, part, axis === 'x' ? after.rects : null),
      });
  };
  for (const { part, of, was, is } of changed)
    put({ what: wordsOf(analysis, part, of, was, is), part, element: part === 'page' ? null : of }, part);
  const found = (foundAt: FoundAt, what: string) =>
    put({ what, part: 'finding', element: foundAt.subject }, null, foundAt.axis);
  // What is doubtful comes and goes as a band alone.
  for (const [key, foundAt] of after.found)
    if (!before.found.has(key) && foundAt.grade === 'wrong') found(foundAt, foundAt.what);
  for (const [key, foundAt] of before.found)
    if (!after.found.has(key) && foundAt.grade === 'wrong') found(foundAt, `No more: ${foundAt.what}`);
  if (alike.size === 0) {
    const boxes = jumped(before, after);
    const what = `${boxes.length} ${boxes.length === 1 ? 'box changes its size' : 'boxes change their sizes'} at once`;
    if (boxes.length > 0) put({ what, part: 'sizes', element: null }, null);
  }
  return [...alike.values()];
}

const FLOW = ['display', 'position', 'float'];

function wordsOf({ reading }: Analysis, part: Part, of: number, was: string, is: string): string {
  const name = part === 'page' ? 'The page' : labelOf(reading, of);
  switch (part) {
    case 'page':
    case 'scroll':
      return is === 'scrolls' ? `${name} begins to scroll sideways` : `${name} no longer scrolls sideways`;
    case 'shown':
      return is === 'shown' ? `${name} is shown` : `${name} is hidden`;
    case 'flow': {
      const [a, b] = [was.split(' '), is.split(' ')];
      const turns = FLOW.flatMap((property, i) =>
        a[i] === b[i] ? [] : [`${property} ${b[i]} in place of ${a[i]}`],
      );
      return `${name} has ${turns.join(', ')}`;
    }
    case 'rows':
      return `${name} sets its boxes ${is}, no longer ${was}`;
    case 'lines':
      return `${name} takes ${is === '3' ? '3 or more' : is} ${is === '1' ? 'line' : 'lines'}, no longer ${was === '3' ? '3 or more' : was}`;
    case 'media':
    case 'container':
      return name;
  }
}
