/** What else a change moves. */
import type { Analysis } from '../analysis.ts';
import { differences } from '../compare/reading-diff.ts';

export interface SideEffects {
  /** Of the viewport at which they were measured, in CSS px. */
  width: number;
  moved: number;
  resized: number;
  /** CSS px of the largest change. */
  largest: number;
}

export function sideEffectsOf(before: Analysis, after: Analysis): SideEffects {
  const { counts, largest } = differences(before.tree, after.tree);
  const { width } = after.reading.viewport;
  return { width, moved: counts.moved, resized: counts.resized + counts.wrapped, largest };
}
