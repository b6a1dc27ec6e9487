/** Tracks of a grid as used, and the area of each item (Grid 2 §6.2, §7.1, §8). */
import type { Axis, Rect } from '../geometry/rect.ts';
import { laidAreas } from './areas.ts';
import { boxAbove } from './formatting-contexts.ts';
import { ahead, edgeOf, flowSides, sizeOf } from '../geometry/writing-modes.ts';
import { hasBox, pxOf, usedPx, usedText, type BoxTree } from './tree.ts';

export interface Tracks {
  axis: Axis;
  /** Used sizes in CSS px, first track first. */
  sizes: number[];
  /** Where each track begins, in CSS px from the container's content edge at its start. */
  starts: number[];
  gap: number;
  /** What is left over in the container once tracks and gaps are taken. */
  free: number;
  /** Room before the first track, and beyond the gap between two. */
  before: number;
  between: number;
}

/** `none` and `subgrid` have no sizes; names of lines are left out. */
function sizesOf(value: string): number[] {
  return value
    .replace(/\[[^\]]*\]/g, ' ')
    .trim()
    .split(/\s+/)
    .map(pxOf)
    .filter((size) => !Number.isNaN(size));
}

/** Room that content distribution puts before the first and between every two (Box Alignment 3 §5.3). */
export function distribute(value: string, free: number, count: number): { before: number; between: number } {
  const word = value.replace(/^(safe|unsafe|first|last)\s+/, '');
  const room = free < 0 && /^space/.test(word) ? 0 : free;
  if (/^(center)$/.test(word)) return { before: free / 2, between: 0 };
  if (/^(end|flex-end|right)$/.test(word)) return { before: free, between: 0 };
  if (word === 'space-between') return { before: 0, between: count > 1 ? room / (count - 1) : 0 };
  if (word === 'space-around') return { before: room / count / 2, between: room / count };
  if (word === 'space-evenly') return { before: room / (count + 1), between: room / (count + 1) };
  return { before: 0, between: 0 };
}

/** A gap as used: `normal` is 0 in grids and flex containers (Box Alignment 3 §8.1). */
export function gapOf(
  tree: BoxTree,
  container: number,
  property: 'row-gap' | 'column-gap',
  size: number,
): number {
  const value = usedText(tree.reading, property, container);
  if (value.endsWith('%')) return (Number.parseFloat(value) / 100) * size;
  return usedPx(tree.reading, property, container) || 0;
}

/** `which`: tracks along the container's inline axis are its columns. */
export function tracksOf(tree: BoxTree, container: number, which: 'columns' | 'rows'): Tracks {
  const { reading } = tree;
  const sides = flowSides(reading, container);
  const axis = which === 'columns' ? sides.inline : sides.block;
  const sizes = sizesOf(usedText(reading, `grid-template-${which}`, container));
  const room = sizeOf(laidAreas(tree, container).content, axis);
  const gap = gapOf(tree, container, which === 'columns' ? 'column-gap' : 'row-gap', room);
  const free = room - sizes.reduce((sum, size) => sum + size, 0) - gap * Math.max(0, sizes.length - 1);
  const align = usedText(reading, which === 'columns' ? 'justify-content' : 'align-content', container);
  const { before, between } = distribute(align, Math.abs(free) < 0.05 ? 0 : free, sizes.length);
  let at = before;
  const starts = sizes.map((size) => {
    const start = at;
    at += size + gap + between;
    return start;
  });
  return { axis, sizes, starts, gap, free, before, between };
}

export interface Span {
  first: number;
  last: number;
}

const NEAR = 0.1;

function span(
  tree: BoxTree,
  item: number,
  which: 'column' | 'row',
  tracks: Tracks,
  from: number,
  to: number,
): Span {
  const { sizes, starts } = tracks;
  const end = (i: number) => starts[i]! + sizes[i]!;
  const clamped = (i: number) => Math.max(0, Math.min(sizes.length - 1, i));
  const text = (edge: 'start' | 'end') => usedText(tree.reading, `grid-${which}-${edge}`, item);
  const spanned = (value: string) => Number(/^span (\d+)$/.exec(value)?.[1] ?? NaN);
  const line = (value: string) => (/^\d+$/.test(value) ? Number(value) - 1 : NaN);
  const [s, e] = [text('start'), text('end')];
  let first = line(s);
  let last = line(e) - 1;
  const count = spanned(s) || spanned(e) || (s === 'auto' && e === 'auto' ? 1 : NaN);
  if (Number.isNaN(first) && !Number.isNaN(last) && !Number.isNaN(count)) first = last - count + 1;
  if (Number.isNaN(first)) first = starts.findLastIndex((start) => start <= from + NEAR);
  first = clamped(first);
  if (Number.isNaN(last) && !Number.isNaN(count)) last = first + count - 1;
  if (Number.isNaN(last))
    last = e === 'auto' && !Number.isNaN(line(s)) ? first : sizes.findIndex((_, i) => end(i) >= to - NEAR);
  return { first, last: Math.max(first, clamped(last < 0 ? sizes.length - 1 : last)) };
}

export interface Area {
  container: number;
  rect: Rect;
  columns: Tracks;
  rows: Tracks;
  column: Span;
  row: Span;
}

/** The area that an item lies in; null where the grid's tracks are not known (subgrids). */
export function areaOf(tree: BoxTree, item: number): Area | null {
  const container = boxAbove(tree, item);
  if (container < 0 || !hasBox(tree, container)) return null;
  const sides = flowSides(tree.reading, container);
  const columns = tracksOf(tree, container, 'columns');
  const rows = tracksOf(tree, container, 'rows');
  if (columns.sizes.length === 0 || rows.sizes.length === 0) return null;
  const { content } = laidAreas(tree, container);
  const { rect, margin } = laidAreas(tree, item);
  const place = (which: 'column' | 'row', tracks: Tracks) => {
    const [start, end] =
      which === 'column'
        ? ([sides.inlineStart, sides.inlineEnd] as const)
        : ([sides.blockStart, sides.blockEnd] as const);
    const origin = edgeOf(content, start);
    const moved =
      usedText(tree.reading, 'position', item) === 'relative' ? usedPx(tree.reading, start, item) || 0 : 0;
    const from = ahead(start, origin, edgeOf(rect, start)) - margin[start] - moved;
    const to = ahead(start, origin, edgeOf(rect, end)) + margin[end] - moved;
    const at = span(tree, item, which, tracks, from, to);
    const begin = tracks.starts[at.first]!;
    const size = tracks.starts[at.last]! + tracks.sizes[at.last]! - begin;
    const physical = start === 'left' || start === 'top' ? origin + begin : origin - begin - size;
    return { at, physical, size };
  };
  const across = place('column', columns);
  const down = place('row', rows);
  const [x, y] = sides.inline === 'x' ? [across, down] : [down, across];
  return {
    container,
    columns,
    rows,
    column: across.at,
    row: down.at,
    rect: { x: x.physical, y: y.physical, width: x.size, height: y.size },
  };
}
