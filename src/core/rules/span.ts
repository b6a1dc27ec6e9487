/** Where the px of a finding lie on the page: the two ends of its dimension line. */
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { rectOf } from '../boxes/tree.ts';
import type { Axis, Rect } from '../geometry/rect.ts';
import type { Suspect } from './model.ts';
import { cut, goesLeft, inkOf, paddingBox } from '../visibility/visibility.ts';

/** Document coordinates in CSS px, `from` before `to`; `across`: where on the other axis the line lies. */
export interface Span {
  axis: Axis;
  from: number;
  to: number;
  across: number;
}

const startOf = (rect: Rect, axis: Axis): number => (axis === 'x' ? rect.x : rect.y);
const sizeOf = (rect: Rect, axis: Axis): number => (axis === 'x' ? rect.width : rect.height);
const endOf = (rect: Rect, axis: Axis): number => startOf(rect, axis) + sizeOf(rect, axis);

/** null: it is not a matter of px, or not of one stretch. */
export function spanOf(analysis: Analysis, suspect: Suspect): Span | null {
  const ends = endsOf(analysis, suspect);
  if (!ends) return null;
  const [from, to] = ends;
  const { axis } = suspect;
  const other: Axis = axis === 'x' ? 'y' : 'x';
  const rect = rectOf(analysis.reading, suspect.subject);
  return { axis, from, to, across: startOf(rect, other) + Math.min(sizeOf(rect, other) / 2, 200) };
}

function endsOf(analysis: Analysis, suspect: Suspect): [number, number] | null {
  const { reading, tree } = analysis;
  const { kind, form, axis, px, subject, other } = suspect;
  const rect = rectOf(reading, subject);
  const [start, end] = [startOf(rect, axis), endOf(rect, axis)];
  if (px < 0.5) return null;
  switch (kind) {
    case 'overflow':
      if (form === 'before') return [-px, 0];
      if (axis === 'x' && goesLeft(analysis, form === 'text' ? subject : (other ?? 0))) {
        const edge = form === 'text' ? start : other === null ? 0 : rectOf(reading, other).x;
        return [edge - px, edge];
      }
      if (form === 'text') return [end, end + px];
      if (form === 'fixed') {
        const { scrollX, scrollY, clientWidth, clientHeight } = reading.document;
        const edge = axis === 'x' ? clientWidth + scrollX : clientHeight + scrollY;
        return [edge, edge + px];
      }
      if (form === 'hangs' || form === 'float') {
        const inner = end - laidAreas(tree, subject).border.bottom;
        return [inner, inner + px];
      }
      if (other !== null) {
        const edge = endOf(rectOf(reading, other), axis);
        return [edge, edge + px];
      }
      return [reading.document.clientWidth, reading.document.clientWidth + px];
    case 'stray-scroll': {
      const { scrollWidth, scrollHeight } = reading.document;
      const whole = axis === 'x' ? scrollWidth : scrollHeight;
      return form === 'fits' && other !== null ? [end - px, end] : [whole - px, whole];
    }
    case 'overlap': {
      if (form === 'hangs') return [end, end + px];
      if (form === 'stays-top') return [end - px, end];
      if (form === 'stuck') return [start, start + px];
      if (form === 'stays-bottom') return [start, start + px];
      if (form === 'lines' || other === null) return null;
      const covered = rectOf(reading, other);
      const common = cut(rect, covered);
      // Where only letters are counted, they end where the boxes do.
      const [low, high] = [startOf(common ?? covered, axis), endOf(common ?? covered, axis)];
      return startOf(covered, axis) >= start ? [low, low + px] : [high - px, high];
    }
    case 'clip': {
      if (form === 'path') return null;
      const box = paddingBox(analysis, subject);
      const ink = inkOf(analysis, other ?? subject);
      const lost = Math.max(...ink.map((one) => endOf(one, axis) - endOf(box, axis)));
      return Math.abs(lost - px) < 1
        ? [endOf(box, axis), endOf(box, axis) + px]
        : [startOf(box, axis) - px, startOf(box, axis)];
    }
    case 'gap':
      return ofGap(suspect, start, end);
    case 'size':
      if (form === 'shape') return null;
      return form === 'larger' ? [end - px, end] : [end, end + px];
    default:
      return null;
  }
}

function ofGap({ form, px }: Suspect, start: number, end: number): [number, number] {
  if (form === 'rhythm-near') return [start, start + px];
  if (form === 'picture') return [end, end + px];
  if (form === 'escaped-bottom') return [end, end + px];
  if (form.startsWith('empty')) return [start, end];
  if (form === 'default-margin') return [0, start];
  if (form === 'default-margin-inline') return [start - px, start];
  if (form === 'basis') return [end - px, end];
  if (form === 'default-padding-right') return [end - px, end];
  if (form.startsWith('default-')) return [start, start + px];
  // It lies lower than it should by that much.
  return [start - px, start];
}
