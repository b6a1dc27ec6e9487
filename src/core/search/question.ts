/** What to ask about a finding: the number that is wrong, and what it should be instead. */
import type { Observation } from '../finding.ts';
import { pathOf } from '../reading/labels.ts';
import type { RawReading } from '../reading/reading.ts';
import { rectOf } from '../boxes/tree.ts';
import type { Side } from '../geometry/rect.ts';
import type { Quantity, Target } from './measured-quantity.ts';

export interface Question {
  quantity: Quantity;
  target: Target;
}

type About = Pick<Observation, 'kind' | 'axis' | 'px' | 'subject' | 'other'>;

const SIDES = { x: ['left', 'right'], y: ['top', 'bottom'] } as const;

/** The number of a finding, in CSS px, and its target. Null: it is not about a number of the page. */
export function questionOf(reading: RawReading, { kind, axis, px, subject, other }: About): Question | null {
  const path = (element: number): string => pathOf(reading, element);
  if (px === 0 || subject < 0 || /^(viewport|dropped|defaults)$/.test(kind)) return null;
  const { scrollWidth, clientWidth } = reading.document;
  if ((kind === 'overflow' || kind === 'stray-scroll') && axis === 'x' && scrollWidth > clientWidth)
    return { quantity: { of: 'overflow', axis }, target: { is: 'at-most', value: 0 } };
  if ((kind === 'overlap' || kind === 'gap') && other !== null) {
    const [start, end] = SIDES[axis];
    const isFirst = startOf(reading, subject, axis) <= startOf(reading, other, axis);
    const [first, second] = isFirst ? [subject, other] : [other, subject];
    const at = (element: number, side: Side) => ({ path: path(element), side });
    return {
      quantity: { of: 'distance', a: at(first, end), b: at(second, start) },
      target: kind === 'overlap' ? { is: 'at-least', value: 0 } : { is: 'changes', value: 0 },
    };
  }
  return { quantity: { of: 'size', path: path(subject), axis }, target: { is: 'changes', value: 0 } };
}

function startOf(reading: RawReading, element: number, axis: 'x' | 'y'): number {
  const { x, y } = rectOf(reading, element);
  return axis === 'x' ? x : y;
}
