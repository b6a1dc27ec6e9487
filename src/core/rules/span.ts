/** Where the px of a finding lie on the page: the two ends of its dimension line. */
import type { Analysis } from '../analysis.ts';
import { rectOf } from '../boxes/tree.ts';
import type { Observation } from '../finding.ts';
import { sizeOn, startOf, type Axis } from '../geometry/rect.ts';
import { ruleById } from './index.ts';

/** Document coordinates in CSS px, `from` before `to`; `across`: where on the other axis the line lies. */
export interface Span {
  axis: Axis;
  from: number;
  to: number;
  across: number;
}

/** null: it is not a matter of px, or not of one stretch. */
export function spanOf(analysis: Analysis, observation: Observation): Span | null {
  const { axis, px, rule, subject } = observation;
  const drawn = ruleById(rule).drawn;
  if (!drawn || px < 0.5) return null;
  const [from, to] = drawn(analysis, observation);
  const other: Axis = axis === 'x' ? 'y' : 'x';
  const rect = rectOf(analysis.reading, subject);
  return { axis, from, to, across: startOf(rect, other) + Math.min(sizeOn(rect, other) / 2, 200) };
}
