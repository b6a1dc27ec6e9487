/**
 * Why rules say nothing of a box. The checks by which a rule passes a box over go through here, so that each is of a known sort
 * and can be told to whoever asks; where nobody does, nothing is kept.
 */
import type { Analysis } from '../analysis.ts';
import { hasBox } from '../boxes/tree.ts';
import { visibilityOf } from '../visibility/visibility.ts';

/** Where boxes lie and what is declared of them; what a visitor sees of them; what says that it is meant. */
export type StopSort = 'geometry' | 'visibility' | 'evidence';

export interface Stop {
  element: number;
  sort: StopSort;
  /** A clause without a subject before it and without a full stop: “it is a table cell”. */
  why: string;
}

/** Whether a check stops a rule at a box; `false`: it does not. */
type Check = string | false;

function stops(analysis: Analysis, element: number, sort: StopSort, why: Check): boolean {
  if (why === false) return false;
  analysis.stops?.push({ element, sort, why });
  return true;
}

export const stopsByGeometry = (analysis: Analysis, element: number, why: Check): boolean =>
  stops(analysis, element, 'geometry', why);

export const stopsByVisibility = (analysis: Analysis, element: number, why: Check): boolean =>
  stops(analysis, element, 'visibility', why);

export const stopsByEvidence = (analysis: Analysis, element: number, why: Check): boolean =>
  stops(analysis, element, 'evidence', why);

/** What can be seen of the page that was asked about last: rules ask of one box after another. */
let latest: { analysis: WeakRef<Analysis>; visible: readonly boolean[] } | null = null;

/** Whether a rule stops at a box since nothing of it is shown. */
export function isUnseen(analysis: Analysis, element: number): boolean {
  if (latest?.analysis.deref() !== analysis)
    latest = { analysis: new WeakRef(analysis), visible: visibilityOf(analysis).visible };
  if (!hasBox(analysis.tree, element)) return stops(analysis, element, 'visibility', 'it has no box');
  return !latest.visible[element] && stops(analysis, element, 'visibility', 'it cannot be seen');
}

/** What a rule works out by the checks of another, none of which are its own. */
export function quietly<T>(analysis: Analysis, run: () => T): T {
  const { stops: kept } = analysis;
  analysis.stops = null;
  try {
    return run();
  } finally {
    analysis.stops = kept;
  }
}
