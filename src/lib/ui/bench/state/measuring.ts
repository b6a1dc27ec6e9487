/** Distances between edges of boxes, for measuring by hand. */
import type { Areas } from '$core/boxes/areas.ts';
import { outset, inset, type Axis, type Rect, type Side } from '$core/geometry/rect.ts';

export type AreaName = 'margin' | 'border' | 'padding' | 'content';

export interface Edge {
  element: number;
  area: AreaName;
  side: Side;
}

/** The rectangle whose edge is the outer one of an area: of `border`, the border box. */
export function areaRect(areas: Areas, area: AreaName): Rect {
  if (area === 'margin') return outset(areas.rect, areas.margin);
  if (area === 'border') return areas.rect;
  return area === 'padding' ? inset(areas.rect, areas.border) : areas.content;
}

export const axisOf = (side: Side): Axis => (side === 'left' || side === 'right' ? 'x' : 'y');

/** Where the edge lies, in document px along its axis. */
export function edgePosition(areas: Areas, { area, side }: Pick<Edge, 'area' | 'side'>): number {
  const { x, y, width, height } = areaRect(areas, area);
  return { left: x, right: x + width, top: y, bottom: y + height }[side];
}

const AREAS: AreaName[] = ['border', 'padding', 'content', 'margin'];
const SIDES: Side[] = ['left', 'right', 'top', 'bottom'];

/**
 * The edge nearest to a point (document px) among those of some boxes; of equally near ones the first box's, and of
 * these the border's, is taken. `axis` leaves only edges across it.
 */
export function snap(boxes: [number, Areas][], x: number, y: number, axis: Axis | null): Edge | null {
  let best: Edge | null = null;
  let least = Infinity;
  for (const [element, areas] of boxes)
    for (const area of AREAS)
      for (const side of SIDES) {
        if (axis && axisOf(side) !== axis) continue;
        const distance = Math.abs(edgePosition(areas, { area, side }) - (axisOf(side) === 'x' ? x : y));
        if (distance >= least - 0.01) continue;
        least = distance;
        best = { element, area, side };
      }
  return best;
}
