/** A page at every width that matters, measured in several frames of a headless engine at once. */
import type { Analysis } from '../../../core/analysis.ts';
import type { Snapshot } from '../../../core/sweep/snapshot.ts';
import { sweep } from '../../../core/sweep/sweep.ts';
import type { Opened } from './headless.ts';

export interface SweepOptions {
  from: number;
  to: number;
  height: number;
  progress?: (done: number, expected: number) => void;
}

/** `frames`: the same page, opened several times. `analysis`: a reading to take names from. */
export const sweepOn = (
  frames: readonly Opened[],
  { from, to, height, progress }: SweepOptions,
): Promise<{ analysis: Analysis; looks: Map<number, Snapshot> }> =>
  sweep({
    from,
    to,
    frames: frames.length,
    areScriptsHeld: frames.every((frame) => frame.areScriptsHeld),
    ...(progress && { progress: (_width, _look, done, expected) => progress(done, expected) }),
    measure: (frame, width, changed) => frames[frame]!.measureAt({ width, height }, changed),
    complete: (frame, at, run) => frames[frame]!.complete(at, run),
  });
