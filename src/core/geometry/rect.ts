/** A rectangle in CSS px; `x` and `y` are its left and top edges. */
export interface Rect {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Four lengths in CSS px, one for each side of a box. */
export interface Edges {
  top: number;
  right: number;
  bottom: number;
  left: number;
}

export type Side = keyof Edges;
export type Axis = 'x' | 'y';

export const SIDES: readonly Side[] = ['top', 'right', 'bottom', 'left'];

/** Engines lay out in 1/64 or 1/60 px: two lengths are the same when they differ by less than this. */
export const EPSILON = 0.05;

export const same = (a: number, b: number): boolean => Math.abs(a - b) < EPSILON;

/** The sides that bound an axis, start first in physical order. */
export const sidesOf = (axis: Axis): [Side, Side] => (axis === 'x' ? ['left', 'right'] : ['top', 'bottom']);

/** `rect` made smaller by `edges` on each side. A side too large leaves a size of 0, never less. */
export function inset(rect: Rect, edges: Edges): Rect {
  return {
    x: rect.x + edges.left,
    y: rect.y + edges.top,
    width: Math.max(0, rect.width - edges.left - edges.right),
    height: Math.max(0, rect.height - edges.top - edges.bottom),
  };
}

/** `rect` made larger by `edges` on each side; a negative edge makes it smaller. */
export function outset(rect: Rect, edges: Edges): Rect {
  return {
    x: rect.x - edges.left,
    y: rect.y - edges.top,
    width: rect.width + edges.left + edges.right,
    height: rect.height + edges.top + edges.bottom,
  };
}

/** Whether the point lies in the rectangle, left and top edges counted, right and bottom not. */
export function contains(rect: Rect, x: number, y: number): boolean {
  return x >= rect.x && y >= rect.y && x < rect.x + rect.width && y < rect.y + rect.height;
}

/** A length as it is shown everywhere: at most two decimals, none when whole, no negative zero. */
export function px(value: number): string {
  const rounded = Math.round(value * 100) / 100;
  return String(Object.is(rounded, -0) ? 0 : rounded).replace('-', '−');
}

/** Where a rectangle begins on an axis, how long it is there, and where it ends. */
export const startOf = (rect: Rect, axis: Axis): number => (axis === 'x' ? rect.x : rect.y);
export const sizeOn = (rect: Rect, axis: Axis): number => (axis === 'x' ? rect.width : rect.height);
export const endOf = (rect: Rect, axis: Axis): number => startOf(rect, axis) + sizeOn(rect, axis);
