/** A page at every width that matters: where it is measured, and what is kept of that. */
import { shareIntrinsicSizes, type Analysis, type ContentWidths } from '../analysis.ts';
import type { Changed } from '../reading/reading.ts';
import { telling } from './across.ts';
import { observeAll } from '../rules/index.ts';
import { scan, type Scanning } from '../search/scan.ts';
import { guessBetween } from './guess.ts';
import { isSameSnapshot, snapshotOf, type Snapshot } from './snapshot.ts';
import { leastLooks, stepAt } from './step.ts';
import { movingBoxes, varying } from './width-dependent.ts';

export interface Sweeping extends Pick<Scanning<Snapshot>, 'signal' | 'progress'> {
  /** CSS px, both included. */
  from: number;
  to: number;
  /** The same page, opened so many times. */
  frames: number;
  /** Whether no scripts run in it, so that nothing but its styles makes it another at another width. */
  areScriptsHeld: boolean;
  /**
   * A full reading at a width, reasoned about. `changed`: what depends on the width besides layout; null: anything may, as in
   * the first reading of each.
   */
  measure: (frame: number, width: number, changed: Changed | null) => Promise<Analysis>;
  /** Runs what asks accounts, and again with the content widths that these lacked. */
  complete: <T>(frame: number, analysis: Analysis, run: () => T) => Promise<T>;
}

/**
 * Looks by width, ascending, and a reading to take names from. Throws `Stopped.` where the signal is aborted.
 */
export async function sweep({
  from,
  to,
  frames,
  areScriptsHeld: isStill,
  measure,
  complete,
  signal,
  progress,
}: Sweeping): Promise<{ analysis: Analysis; looks: Map<number, Snapshot> }> {
  // One begins where the range does, all others where it ends.
  const firsts = await Promise.all(
    Array.from({ length: frames }, (_, frame) => measure(frame, frame === 0 ? from : to, null)),
  );
  const analysis = firsts.at(-1)!;
  const changed = isStill ? varying(analysis) : null;
  const moving = isStill ? movingBoxes(analysis) : null;
  const { parent, count } = analysis.reading;
  const pool: ContentWidths = new Map();
  const looks = await scan<Snapshot>({
    from,
    to,
    step: stepAt,
    edges: telling(analysis).map(({ width }) => Math.ceil(width)),
    parallel: frames,
    isSame: isSameSnapshot,
    guess: (low, high, below, above) => guessBetween(parent, low, high, below, above),
    least: leastLooks(count, from, to),
    ...(signal && { signal }),
    ...(progress && { progress }),
    look: async (width, frame) => {
      const first = firsts[frame]!;
      const at = first.reading.viewport.width === width ? first : await measure(frame, width, changed);
      if (moving) shareIntrinsicSizes(pool, at, moving);
      return snapshotOf(at, await complete(frame, at, () => observeAll(at)));
    },
  });
  return { analysis, looks };
}
