/** A page at every width that matters, measured in several frames of a headless engine at once. */
import { shareIntrinsic, type Analysis, type ContentWidths } from '../../../core/analysis.ts';
import { breakpointsOf } from '../../../core/css/breakpoints.ts';
import { detectAll } from '../../../core/findings/index.ts';
import { scan } from '../../../core/search/scan.ts';
import { movingBoxes, varying } from '../../../core/sweep/varying.ts';
import { leastLooks, stepAt } from '../../../core/sweep/step.ts';
import { guessBetween } from '../../../core/sweep/guess.ts';
import { isSameLook, lookAt, type Look } from '../../../core/sweep/look.ts';
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
  const changed = varying(analysis);
  const moving = movingBoxes(analysis);
  const { parent } = analysis.reading;
  const pool: ContentWidths = new Map();
  const looks = await scan({
    from,
    to,
    step: stepAt,
    edges: breakpointsOf(analysis.sources.plan).map(({ width }) => Math.ceil(width)),
    parallel: frames.length,
    isSame: isSameLook,
    guess: (low, high, below, above) => guessBetween(parent, low, high, below, above),
    least: leastLooks(analysis.reading.count, from, to),
    ...(progress ? { progress: (_: number, __: Look, done: number, all: number) => progress(done, all) } : {}),
    look: async (width, worker) => {
      const frame = frames[worker]!;
      const first = firsts[worker]!;
      const { viewport } = first.reading;
      const isFirst = viewport.width === width && viewport.height === height;
      const at = isFirst ? first : await frame.measureAt({ width, height }, changed);
      if (moving) shareIntrinsic(pool, at, moving);
      return lookAt(at, await frame.complete(at, () => detectAll(at)));
    },
  });
  return { analysis, looks };
}
