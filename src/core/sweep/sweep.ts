/** A page at every width that matters: where it is measured, and what is kept of that. */
import { shareIntrinsic, type Analysis, type ContentWidths } from '../analysis.ts';
import type { Changed } from '../boxes/reading.ts';
import { breakpointsOf } from '../css/breakpoints.ts';
import { detectAll } from '../findings/index.ts';
import { scan, type Scanning } from '../search/scan.ts';
import { guessBetween } from './guess.ts';
import { isSameLook, lookAt, type Look } from './look.ts';
import { leastLooks, stepAt } from './step.ts';
import { movingBoxes, varying } from './varying.ts';

export interface Sweeping extends Pick<Scanning<Look>, 'signal' | 'progress'> {
  /** CSS px, both included. */
  from: number;
  to: number;
  /** The same page, opened so many times. */
  frames: number;
  /** A full reading at a width, reasoned about. `changed`: what depends on the width besides layout; null: anything may. */
  measure: (frame: number, width: number, changed: Changed | null) => Promise<Analysis>;
  /** Runs what asks accounts, and again with the content widths that these lacked. */
  complete: <T>(frame: number, analysis: Analysis, run: () => T) => Promise<T>;
}

/** `first`: a reading of the page at any width. By width, ascending. Throws `Stopped.` where the signal is aborted. */
export function sweep(
  first: Analysis,
  { from, to, frames, measure, complete, signal, progress }: Sweeping,
): Promise<Map<number, Look>> {
  const changed = varying(first);
  const moving = movingBoxes(first);
  const { parent, count } = first.reading;
  const pool: ContentWidths = new Map();
  return scan({
    from,
    to,
    step: stepAt,
    edges: breakpointsOf(first.sources.plan).map(({ width }) => Math.ceil(width)),
    parallel: frames,
    isSame: isSameLook,
    guess: (low, high, below, above) => guessBetween(parent, low, high, below, above),
    least: leastLooks(count, from, to),
    ...(signal && { signal }),
    ...(progress && { progress }),
    look: async (width, frame) => {
      const at = await measure(frame, width, changed);
      if (moving) shareIntrinsic(pool, at, moving);
      return lookAt(at, await complete(frame, at, () => detectAll(at)));
    },
  });
}
