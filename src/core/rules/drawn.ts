/** Where the px of an observation lie: stretches that several rules draw. */
import type { Analysis } from '../analysis.ts';
import { rectOf } from '../boxes/tree.ts';
import type { Observation } from '../finding.ts';
import { endOf, startOf } from '../geometry/rect.ts';
import { intersection, overflowsLeft } from '../visibility/visibility.ts';
import { laidAreas } from '../boxes/areas.ts';

type Stretch = readonly [from: number, to: number];

/** From the end of the subject on. */
export const afterEnd = ({ reading }: Analysis, { subject, axis, px }: Observation): Stretch => {
  const end = endOf(rectOf(reading, subject), axis);
  return [end, end + px];
};

/** The last px of the subject. */
export const beforeEnd = ({ reading }: Analysis, { subject, axis, px }: Observation): Stretch => {
  const end = endOf(rectOf(reading, subject), axis);
  return [end - px, end];
};

/** The px before the start of the subject: it lies further on than it should by that much. */
export const beforeStart = ({ reading }: Analysis, { subject, axis, px }: Observation): Stretch => {
  const start = startOf(rectOf(reading, subject), axis);
  return [start - px, start];
};

/** The first px of the subject. */
export const fromStart = ({ reading }: Analysis, { subject, axis, px }: Observation): Stretch => {
  const start = startOf(rectOf(reading, subject), axis);
  return [start, start + px];
};

/** All of the subject. */
export const whole = ({ reading }: Analysis, { subject, axis }: Observation): Stretch => {
  const rect = rectOf(reading, subject);
  return [startOf(rect, axis), endOf(rect, axis)];
};

/** From the edge of the document to the subject. */
export const fromZero = ({ reading }: Analysis, { subject, axis }: Observation): Stretch => [
  0,
  startOf(rectOf(reading, subject), axis),
];

/** Beyond the end of the page, on the side to which it scrolls. */
export const pastPage = (analysis: Analysis, { axis, px }: Observation): Stretch => {
  const { clientWidth } = analysis.reading.document;
  return axis === 'x' && overflowsLeft(analysis, 0) ? [-px, 0] : [clientWidth, clientWidth + px];
};

/** The last px to which the page scrolls. */
export const endOfPage = ({ reading }: Analysis, { axis, px }: Observation): Stretch => {
  const { scrollWidth, scrollHeight } = reading.document;
  const end = axis === 'x' ? scrollWidth : scrollHeight;
  return [end - px, end];
};

/** Before the start of another box; null: of the page. */
export const beforeOther = ({ reading }: Analysis, other: number | null, px: number): Stretch => {
  const edge = other === null ? 0 : rectOf(reading, other).x;
  return [edge - px, edge];
};

/** Beyond the end of the other box, on the side to which what is in it goes. */
export const pastOther = (analysis: Analysis, { axis, px, other }: Observation): Stretch => {
  if (axis === 'x' && overflowsLeft(analysis, other ?? 0)) return beforeOther(analysis, other, px);
  const end = endOf(rectOf(analysis.reading, other ?? 0), axis);
  return [end, end + px];
};

/** Below the inner edge of the subject's lower border. */
export const belowEnd = ({ reading, tree }: Analysis, { subject, px }: Observation): Stretch => {
  const inner = endOf(rectOf(reading, subject), 'y') - laidAreas(tree, subject).border.bottom;
  return [inner, inner + px];
};

/** What two boxes have in common. Where only letters are counted, they end where the boxes do. */
export const common = ({ reading }: Analysis, { subject, other, axis, px }: Observation): Stretch => {
  const [rect, covered] = [rectOf(reading, subject), rectOf(reading, other ?? subject)];
  const both = intersection(rect, covered) ?? covered;
  const [low, high] = [startOf(both, axis), endOf(both, axis)];
  return startOf(covered, axis) >= startOf(rect, axis) ? [low, low + px] : [high - px, high];
};
