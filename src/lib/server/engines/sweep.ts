/** A page at every width that matters, measured in several frames of a headless engine at once. */
import type { Analysis } from '../../../core/analysis.ts';
import type { Look } from '../../../core/sweep/look.ts';
import { sweep } from '../../../core/sweep/sweep.ts';
import type { Opened } from './headless.ts';

export interface SweepOptions {
  from: number;
  to: number;
  height: number;
  progress?: (done: number, expected: number) => void;
}

/** `frames`: the same page, opened several times. `analysis`: a reading to take names from. */
export async function sweepOn(
  frames: readonly Opened[],
  { from, to, height, progress }: SweepOptions,
): Promise<{ analysis: Analysis; looks: Map<number, Look> }> {
  const firsts = await Promise.all(frames.map((frame) => frame.measure()));
  const analysis = firsts[0]!;
  const looks = await sweep(analysis, {
    from,
    to,
    frames: frames.length,
    ...(progress && { progress: (_width, _look, done, expected) => progress(done, expected) }),
    measure: async (frame, width, changed) => {
      const { viewport } = firsts[frame]!.reading;
      const isFirst = viewport.width === width && viewport.height === height;
      return isFirst ? firsts[frame]! : frames[frame]!.measureAt({ width, height }, changed);
    },
    complete: (frame, at, run) => frames[frame]!.complete(at, run),
  });
  return { analysis, looks };
}
