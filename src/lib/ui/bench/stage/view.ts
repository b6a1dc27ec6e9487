/** How document px come to lie on the screen: the viewport's scroll offset and the stage's zoom. */
import type { Rect } from '$core/geometry/rect.ts';

export interface View {
  zoom: number;
  scrollX: number;
  scrollY: number;
}

export const onScreen = ({ zoom, scrollX, scrollY }: View, { x, y, width, height }: Rect): Rect => ({
  x: (x - scrollX) * zoom,
  y: (y - scrollY) * zoom,
  width: width * zoom,
  height: height * zoom,
});

export const frameOf = ({ x, y, width, height }: Rect): string => `M${x} ${y}h${width}v${height}h${-width}z`;

/** The area between two rectangles, as a path for the evenodd rule. */
export const between = (outer: Rect, inner: Rect): string => frameOf(outer) + frameOf(inner);

/** Short angles at the four corners of a rectangle. */
export function cornerTicks({ x, y, width, height }: Rect, size: number): string {
  const w = Math.min(size, width / 2);
  const h = Math.min(size, height / 2);
  const right = x + width;
  const bottom = y + height;
  return (
    `M${x} ${y + h}V${y}H${x + w}M${right - w} ${y}H${right}V${y + h}` +
    `M${right} ${bottom - h}V${bottom}H${right - w}M${x + w} ${bottom}H${x}V${bottom - h}`
  );
}

export const ZOOMS = [0.1, 0.25, 0.33, 0.5, 0.67, 0.75, 1, 1.5, 2, 3, 4, 6, 8, 12, 16];

export function nextZoom(zoom: number, direction: 1 | -1): number {
  const list =
    direction > 0
      ? ZOOMS.filter((value) => value > zoom + 0.001)
      : ZOOMS.filter((value) => value < zoom - 0.001).reverse();
  return list[0] ?? zoom;
}

/** Where one of several trials puts what it moves, in document px; told apart by letter and line. */
export interface Outlines {
  letter: string;
  dash: string;
  rects: Rect[];
}
