/** Flow-relative directions as physical ones (Writing Modes 4 §6.4), and distances along them. */
import type { Axis, Rect, Side } from './rect.ts';
import { physical } from '../css/cascade/properties.ts';
import type { RawReading } from '../reading/reading.ts';

export interface FlowSides {
  inline: Axis;
  block: Axis;
  inlineStart: Side;
  inlineEnd: Side;
  blockStart: Side;
  blockEnd: Side;
}

const axisOfSide = (side: Side): Axis => (side === 'left' || side === 'right' ? 'x' : 'y');
const cache = new Map<string, FlowSides>();

function made(writingMode: string, direction: string): FlowSides {
  const flow = { writingMode: writingMode || 'horizontal-tb', direction: direction || 'ltr' };
  const side = (name: string) => physical(`margin-${name}`, flow).slice('margin-'.length) as Side;
  const [blockStart, inlineStart] = [side('block-start'), side('inline-start')];
  return {
    inline: axisOfSide(inlineStart),
    block: axisOfSide(blockStart),
    inlineStart,
    inlineEnd: side('inline-end'),
    blockStart,
    blockEnd: side('block-end'),
  };
}

/** The sides of the flow that an element establishes for what is in it. */
export function flowSides(reading: RawReading, element: number): FlowSides {
  const text = (property: string) => reading.strings[reading.used[property]?.[element] ?? -1] ?? '';
  const key = `${text('writing-mode')} ${text('direction')}`;
  let sides = cache.get(key);
  if (!sides) cache.set(key, (sides = made(text('writing-mode'), text('direction'))));
  return sides;
}

/** Where a side of a rectangle lies on its axis. */
export function edgeOf({ x, y, width, height }: Rect, side: Side): number {
  if (side === 'left') return x;
  if (side === 'top') return y;
  return side === 'right' ? x + width : y + height;
}

/** Signed distance in CSS px from one place to another, positive away from the `start` side. */
export const ahead = (start: Side, from: number, to: number): number =>
  start === 'left' || start === 'top' ? to - from : from - to;

export const sizeOf = (rect: Rect, axis: Axis): number => (axis === 'x' ? rect.width : rect.height);
export const opposite: Record<Side, Side> = { left: 'right', right: 'left', top: 'bottom', bottom: 'top' };
