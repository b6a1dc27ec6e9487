/** What keeps one box of a finding as large as it is. */
import type { Analysis } from '../../analysis.ts';
import type { Observation } from '../../finding.ts';
import { selfAndAncestors } from '../../visibility/visibility.ts';
import { put, type Step } from '../model.ts';

export interface SizeQuestion {
  analysis: Analysis;
  observation: Observation;
  /** The box, its name, and its border box on the axis of the finding, in CSS px. */
  element: number;
  label: string;
  used: number;
}

/** What lets the flex and grid items around a box shrink, up to the box that a finding is about. */
export const itemsAround = (analysis: Analysis, element: number, subject: number): Step[] =>
  selfAndAncestors(analysis, analysis.reading.parent[element]!, analysis.reading.parent[subject]!)
    .filter((at) => /flex-item|grid-item/.test(analysis.tree.kinds[at]!))
    .map((at) => put(analysis, at, 'min-width', '0'));
