/** The four areas of a box as used: margin, border, padding, content, and the room of scrollbars. */
import { inset, type Edges, type Rect } from '../geometry/rect.ts';
import { cellOf, collapsedBorder, collapsedTableBorder, isTable, tableAbove, tableGrid } from './table-grid.ts';
import { renderedLegend } from './flow.ts';
import { edgesOf, hasBox, laidOut, rectOf, usedText, type BoxTree } from './tree.ts';

export interface Areas {
  margin: Readonly<Edges>;
  border: Readonly<Edges>;
  padding: Readonly<Edges>;
  /** Room that scrollbars take between border and padding. */
  scrollbar: Readonly<Edges>;
  rect: Rect;
  content: Rect;
}

const NONE: Edges = { top: 0, right: 0, bottom: 0, left: 0 };

/** In the collapsing model a cell owns half of each border around it, and its table has no padding (CSS 2.2 §17.6.2). */
export function isCollapsed(tree: BoxTree, element: number): boolean {
  const kind = tree.kinds[element];
  const table = kind === 'table-cell' ? tableAbove(tree, element) : isTable(tree, element) ? element : -1;
  return table >= 0 && usedText(tree.reading, 'border-collapse', table) === 'collapse';
}

const hasNoEdges = (kind: string): boolean =>
  kind === 'table-row' || kind === 'table-row-group' || kind === 'table-column';

/** Room of scrollbars on the right and at the bottom (on the left in RTL), from the client size that was read. */
function scrollbars({ reading }: BoxTree, element: number, paddingBox: Rect): Edges {
  const { scrolls } = reading;
  // The scrollbars of the root are the viewport's.
  if (reading.parent[element]! < 0) return NONE;
  for (let i = 0; i + 4 < scrolls.length; i += 5) {
    if (scrolls[i] !== element) continue;
    const width = paddingBox.width - scrolls[i + 1]!;
    const height = paddingBox.height - scrolls[i + 2]!;
    const rtl = usedText(reading, 'direction', element) === 'rtl';
    // Client sizes are whole px: less than one is rounding.
    const across = width >= 1 ? Math.round(width) : 0;
    return { ...NONE, bottom: height >= 1 ? Math.round(height) : 0, [rtl ? 'left' : 'right']: across };
  }
  return NONE;
}

/** Half of each border that meets at a cell, or at the edges of the table. */
function collapsedEdges(tree: BoxTree, element: number): Edges {
  const table = tree.kinds[element] === 'table-cell' ? tableAbove(tree, element) : element;
  const grid = tableGrid(tree, table);
  const cell = cellOf(grid, element);
  if (cell) return collapsedBorder(tree, grid, cell);
  return element === table ? collapsedTableBorder(tree, grid) : edgesOf(tree.reading, 'border-width', element);
}

/** Areas as laid out: transforms undone. Worked out once for each box. */
export function laidAreas(tree: BoxTree, element: number): Areas {
  const cached = (tree.late.areas ??= new Map<number, Areas>()).get(element);
  if (cached) return cached;
  const areas = snapped(tree, areasOf(tree, element, laidOut(tree, element)));
  tree.late.areas.set(element, areas);
  return areas;
}

/** Width of a box with its margins. */
export function outerWidth(tree: BoxTree, element: number): number {
  const { rect, margin } = laidAreas(tree, element);
  return rect.width + margin.left + margin.right;
}

/** Parts of a px that engines lay out in; they cut off what is finer. */
export const layoutUnit = ({ engine }: BoxTree['reading']): 60 | 64 => (engine.name === 'firefox' ? 60 : 64);

/** Values are written with six digits, so what is a hair below a unit is that unit. */
export function cutOff(size: number, unit: number): number {
  const hair = Math.abs(size) * unit * 6e-6 + 1e-4;
  return Math.trunc(size * unit + Math.sign(size) * hair) / unit;
}

/** Sides cut off to layout units, by the sides that they were: boxes share these. */
const cutEdges = { 60: new WeakMap<Readonly<Edges>, Edges>(), 64: new WeakMap<Readonly<Edges>, Edges>() };

function snapped(tree: BoxTree, areas: Areas): Areas {
  const unit = layoutUnit(tree.reading);
  const edges = (sides: Readonly<Edges>): Edges => {
    let cached = cutEdges[unit].get(sides);
    if (!cached) {
      const { top, right, bottom, left } = sides;
      const cut = (size: number) => cutOff(size, unit);
      cached = { top: cut(top), right: cut(right), bottom: cut(bottom), left: cut(left) };
      cutEdges[unit].set(sides, cached);
    }
    return cached;
  };
  const [margin, border, padding] = [edges(areas.margin), edges(areas.border), edges(areas.padding)];
  const content = inset(inset(inset(areas.rect, border), areas.scrollbar), padding);
  return { ...areas, margin, border, padding, content };
}

/** Areas in the page's coordinates, around the rectangle given. */
export function areasOf(tree: BoxTree, element: number, rect: Rect = rectOf(tree.reading, element)): Areas {
  const { reading } = tree;
  const kind = tree.kinds[element]!;
  if (!hasBox(tree, element))
    return { margin: NONE, border: NONE, padding: NONE, scrollbar: NONE, rect, content: rect };
  const bare = hasNoEdges(kind);
  const collapsed = isCollapsed(tree, element);
  let border = bare
    ? NONE
    : collapsed
      ? collapsedEdges(tree, element)
      : edgesOf(reading, 'border-width', element);
  const padding = bare || (collapsed && kind !== 'table-cell') ? NONE : edgesOf(reading, 'padding', element);
  const margin = bare || kind === 'table-cell' ? NONE : edgesOf(reading, 'margin', element);
  const legend = renderedLegend(tree, element);
  // A legend taller than the border in which it lies takes the border's place (HTML §15.3.13).
  if (legend >= 0) {
    const { height } = rectOf(reading, legend);
    const { top, bottom } = edgesOf(reading, 'margin', legend);
    border = { ...border, top: Math.max(border.top, height + top + bottom) };
  }
  const paddingBox = inset(rect, border);
  const scrollbar = scrollbars(tree, element, paddingBox);
  return { margin, border, padding, scrollbar, rect, content: inset(inset(paddingBox, scrollbar), padding) };
}
