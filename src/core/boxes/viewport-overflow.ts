/** Whose overflow is the viewport's, and how far a user can scroll the page (CSS Overflow 3 §3.3). */
import type { Axis } from '../geometry/rect.ts';
import { oncePerReading } from '../reading/column-predicates.ts';
import type { RawReading } from '../reading/reading.ts';
import { usedText } from './tree.ts';
import { tagOf } from '../reading/labels.ts';

const bodyIn = (reading: RawReading): number => {
  for (let i = 1; i < reading.count; i++) if (reading.parent[i] === 0 && tagOf(reading, i) === 'body') return i;
  return -1;
};

/** Whether a value of `contain` keeps the overflow of body for body (CSS Contain 2 §3). */
const isContained = (value: string): boolean => value !== '' && value !== 'none';

/** The element whose overflow is the viewport's: the root, or body where the root's is visible. */
export const viewportOverflowFrom = oncePerReading((reading): number => {
  const body = bodyIn(reading);
  const isVisible = /^(visible|)( visible)?$/.test(usedText(reading, 'overflow', 0));
  const mayPass = [0, body].every((element) => !isContained(usedText(reading, 'contain', element)));
  return body >= 0 && isVisible && mayPass && usedText(reading, 'display', body) !== 'none' ? body : 0;
});

/** Whether a user can scroll the page on an axis, where there is anything to scroll to. */
export function viewportScrolls(reading: RawReading, axis: Axis): boolean {
  const [x = '', y = x] = usedText(reading, 'overflow', viewportOverflowFrom(reading)).split(' ');
  return !/^(hidden|clip)$/.test(axis === 'x' ? x : y);
}

/** CSS px over which a user can scroll the page. 0: there is nothing, or it cannot be scrolled. */
export function scrollableBy(reading: RawReading, axis: Axis): number {
  const { scrollWidth, clientWidth, scrollHeight, clientHeight } = reading.document;
  const beyond = axis === 'x' ? scrollWidth - clientWidth : scrollHeight - clientHeight;
  return viewportScrolls(reading, axis) ? Math.max(0, beyond) : 0;
}
