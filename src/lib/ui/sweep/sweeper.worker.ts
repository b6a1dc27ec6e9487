/** Sweeps a page: says at which widths it wants to be measured, and what the readings come to. */
import { analyse, retryWithSizes, readSources, type Analysis, type Sources } from '$core/analysis.ts';
import { drawingOf, type Drawing } from '$core/reports/drawing.ts';
import { labelOf, pathOf } from '$core/reading/labels.ts';
import { checkedReading, type Changed, type Defaults, type Described } from '$core/reading/reading.ts';
import type { PlanRequest, Validity } from '$core/css/cascade/plan.ts';
import type { Point } from '$core/search/seek.ts';
import { quantityWords, type Quantity } from '$core/search/measured-quantity.ts';
import { across, type Across } from '$core/sweep/across.ts';
import type { Snapshot } from '$core/sweep/snapshot.ts';
import { numbersOf } from '$core/sweep/numbers.ts';
import { sweep } from '$core/sweep/sweep.ts';
import { overlay } from '$core/trials/overlay.ts';
import type { Edit } from '$core/trials/edit.ts';
import * as Comlink from 'comlink';
import { isKept, keep, recall } from './store.ts';

/** A frame of the main thread, by its number. */
export interface Measuring {
  read: (frame: number, width: number, changed: Changed | null) => Promise<unknown>;
  intrinsic: (frame: number, batches: number[][]) => Promise<number[]>;
  progress: (done: number, expected: number) => void;
}

export interface Named {
  label: string;
  path: string;
}

/** A sweep with the names of the elements that it speaks of. */
export type Swept = Across & { names: Record<number, Named> };

let sources: Sources | null = null;
let validity: Validity = { supports: [], declarations: [] };
let defaults: Defaults = {};
let analysis: Analysis | null = null;
let looks = new Map<number, Snapshot>();
let drawings = new Map<number, Drawing>();
let signal = { aborted: false };

const make = (raw: unknown, last: Analysis | null = null): Analysis =>
  analyse(sources!, validity, defaults, checkedReading(raw), last);

const need = (): Analysis => {
  if (!analysis) throw new Error('The page was not measured yet.');
  return analysis;
};

const sweeper = {
  /** The texts of the files as they are under edits. */
  laid: (page: string, texts: Record<string, string>, edits: Edit[]): Record<string, string> =>
    overlay(texts, edits, page).texts,
  plan(page: string, texts: Record<string, string>, described: Described, frameBase: string): PlanRequest {
    sources = readSources(page, texts, described, frameBase);
    return sources.plan.request;
  },
  settle(answer: Validity, previous: Defaults): void {
    [validity, defaults] = [answer, previous];
  },
  isKept,
  /**
   * Takes a sweep over that was kept under a name, up to `to`, and says when it was made, in ms since 1970; null: there is none,
   * or the page has not as many elements as then.
   */
  async recall(name: string, to: number, measuring: Measuring): Promise<number | null> {
    const storedSweep = await recall(name);
    if (!storedSweep) return null;
    const first = make(await measuring.read(0, to, null));
    if (first.reading.count !== storedSweep.count) return null;
    analysis = first;
    looks = new Map(storedSweep.looks.map((look) => [look.width, look]));
    drawings = new Map(storedSweep.drawings);
    return storedSweep.made;
  },
  /** Keeps what was measured last under a name. */
  keep: (name: string): Promise<void> =>
    keep(name, {
      made: Date.now(),
      count: need().reading.count,
      looks: [...looks.values()],
      drawings: [...drawings],
    }),
  /** Measures a range. `frames`: how many the main thread has open; each has been read once. */
  async sweep(from: number, to: number, frames: number, measuring: Measuring): Promise<void> {
    signal = { aborted: false };
    const ownSignal = signal;
    looks = new Map();
    drawings = new Map();
    analysis = null;
    const lasts: Analysis[] = [];
    await sweep({
      from,
      to,
      frames,
      areScriptsHeld: true,
      signal: ownSignal,
      measure: async (frame, width, changed) => {
        const at = (lasts[frame] = make(await measuring.read(frame, width, changed), lasts[frame]));
        analysis ??= at;
        drawings.set(width, drawingOf(at.reading));
        return at;
      },
      complete: (frame, at, run) => retryWithSizes(at, (batches) => measuring.intrinsic(frame, batches), run),
      progress: (width, look, done, expected) => {
        looks.set(width, look);
        measuring.progress(done, expected);
      },
    });
  },
  stop: (): void => {
    signal.aborted = true;
  },
  /** What is known so far; null: nothing. */
  result: (): Swept | null => {
    if (!analysis || looks.size === 0) return null;
    const { reading } = analysis;
    const result = across(analysis, looks);
    const elements = new Set([
      ...result.bands.flatMap(({ subject, other }) => (other === null ? [subject] : [subject, other])),
      ...result.flips.flatMap(({ element }) => (element === null ? [] : [element])),
    ]);
    const names: Swept['names'] = {};
    for (const element of elements)
      names[element] = { label: labelOf(reading, element), path: pathOf(reading, element) };
    return { ...result, names };
  },
  drawing: (width: number): Drawing | null => drawings.get(width) ?? null,
  /** A number at every width that was looked at. */
  numbers: (quantity: Quantity): { points: Point[]; words: string } => ({
    points: numbersOf(need(), looks.values(), quantity),
    words: quantityWords(need().tree, quantity),
  }),
  /** Null: no element is there. */
  named: (element: number): Named | null => {
    const { reading } = need();
    return element >= 0 && element < reading.count
      ? { label: labelOf(reading, element), path: pathOf(reading, element) }
      : null;
  },
};

export type Sweeper = typeof sweeper;
Comlink.expose(sweeper);
