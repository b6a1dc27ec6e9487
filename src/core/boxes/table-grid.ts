/** Rows, columns and cells of a table, and the borders that collapse between them (CSS 2.2 §17). */
import type { Edges, Side } from '../geometry/rect.ts';
import { attribute, childrenOf, edgesOf, pxOf, usedText, type BoxTree } from './tree.ts';

export interface Cell {
  element: number;
  row: number;
  column: number;
  rows: number;
  columns: number;
}

export interface TableGrid {
  table: number;
  rows: { element: number; group: number }[];
  cells: Cell[];
  columns: number;
  /** `col` elements by column; −1 where there is none. */
  columnElements: number[];
  captions: number[];
  /** Room between cells; 0 in the collapsing model. */
  spacing: { x: number; y: number };
  collapsed: boolean;
}

function spanOf(tree: BoxTree, element: number, name: string): number {
  const value = Number.parseInt(attribute(tree, element, name) ?? '', 10);
  return value >= 0 ? value : 1;
}

export function tableAbove({ reading, kinds }: BoxTree, element: number): number {
  let at = reading.parent[element]!;
  while (at >= 0 && kinds[at] !== 'table' && !/^(inline-)?table$/.test(usedText(reading, 'display', at)))
    at = reading.parent[at]!;
  return at;
}

export const isTable = ({ reading }: BoxTree, element: number): boolean =>
  /^(inline-)?table$/.test(usedText(reading, 'display', element));

export function tableGrid(tree: BoxTree, table: number): TableGrid {
  tree.late.tables ??= new Map();
  const cached = tree.late.tables.get(table);
  if (cached) return cached;
  const { reading, kinds } = tree;
  const collapsed = usedText(reading, 'border-collapse', table) === 'collapse';
  const [x = 0, y = x] = usedText(reading, 'border-spacing', table).split(' ').map(pxOf);
  const grid: TableGrid = {
    table,
    rows: [],
    cells: [],
    columns: 0,
    columnElements: [],
    captions: [],
    spacing: collapsed ? { x: 0, y: 0 } : { x: x || 0, y: y || 0 },
    collapsed,
  };
  const heads: number[] = [];
  const bodies: number[] = [];
  const feet: number[] = [];
  /** Cells without a row get an anonymous one (CSS 2.2 §17.2.1). */
  const loose: number[] = [];
  const visit = (parent: number) => {
    for (const child of childrenOf(tree, parent)) {
      const display = usedText(reading, 'display', child);
      if (kinds[child] === 'contents') visit(child);
      else if (kinds[child] === 'table-caption') grid.captions.push(child);
      else if (kinds[child] === 'table-column') addColumns(tree, grid, child, display);
      else if (kinds[child] === 'table-row') bodies.push(child);
      else if (kinds[child] === 'table-cell') loose.push(child);
      else if (kinds[child] === 'table-row-group')
        (display === 'table-header-group' && heads.length === 0
          ? heads
          : display === 'table-footer-group' && feet.length === 0
            ? feet
            : bodies
        ).push(child);
    }
  };
  visit(table);
  for (const part of [...heads, ...bodies, ...feet]) {
    if (kinds[part] === 'table-row') grid.rows.push({ element: part, group: -1 });
    else
      for (const row of childrenOf(tree, part))
        if (kinds[row] === 'table-row') grid.rows.push({ element: row, group: part });
  }
  if (loose.length > 0) grid.rows.push({ element: -1, group: -1 });
  const taken: boolean[][] = grid.rows.map(() => []);
  grid.rows.forEach(({ element }, row) => {
    let column = 0;
    for (const cell of element < 0 ? loose : childrenOf(tree, element)) {
      if (kinds[cell] !== 'table-cell') continue;
      while (taken[row]![column]) column++;
      const columns = Math.max(1, spanOf(tree, cell, 'colspan'));
      const asked = spanOf(tree, cell, 'rowspan');
      const rows = Math.min(asked === 0 ? Infinity : asked, grid.rows.length - row);
      grid.cells.push({ element: cell, row, column, rows, columns });
      for (let r = row; r < row + rows; r++)
        for (let c = column; c < column + columns; c++) taken[r]![c] = true;
      column += columns;
      grid.columns = Math.max(grid.columns, column);
    }
  });
  grid.columns = Math.max(grid.columns, grid.columnElements.length);
  tree.late.tables.set(table, grid);
  return grid;
}

function addColumns(tree: BoxTree, grid: TableGrid, element: number, display: string): void {
  if (display === 'table-column') {
    for (let i = 0; i < spanOf(tree, element, 'span'); i++) grid.columnElements.push(element);
    return;
  }
  const inner = childrenOf(tree, element).filter((child) => tree.kinds[child] === 'table-column');
  if (inner.length === 0)
    for (let i = 0; i < spanOf(tree, element, 'span'); i++) grid.columnElements.push(element);
  for (const child of inner) addColumns(tree, grid, child, 'table-column');
}

const cells = new WeakMap<TableGrid, Map<number, Cell>>();

export function cellOf(grid: TableGrid, element: number): Cell | undefined {
  let cached = cells.get(grid);
  if (!cached) cells.set(grid, (cached = new Map(grid.cells.map((cell) => [cell.element, cell]))));
  return cached.get(element);
}

const OPPOSITE: Record<Side, Side> = { top: 'bottom', bottom: 'top', left: 'right', right: 'left' };

/**
 * Half of the collapsed border on each side of a cell: of all borders that meet there the widest holds (CSS 2.2
 * §17.6.2.1). A border that is hidden is not told apart from one that is not there.
 */
export function collapsedBorder(tree: BoxTree, grid: TableGrid, cell: Cell): Edges {
  const { reading } = tree;
  const width = (element: number, side: Side) =>
    element < 0 ? 0 : edgesOf(reading, 'border-width', element)[side];
  const places = placesOf(grid);
  const at = (row: number, column: number) => places.get(row)?.get(column) ?? -1;
  const rtl = usedText(reading, 'direction', grid.table) === 'rtl';
  const last = { row: cell.row + cell.rows, column: cell.column + cell.columns };
  const border = (side: Side): number => {
    const list = [width(cell.element, side)];
    const inline = side === 'left' || side === 'right';
    if (inline) {
      const toStart = (side === 'left') !== rtl;
      const edge = toStart ? cell.column === 0 : last.column >= grid.columns;
      const previous = borderedColumns(tree, grid);
      if (!toStart && last.column > previous) {
        // Beyond the columns that have borders engines come upon those of the rows below.
        const down = Math.floor(last.column / (previous + 1));
        const column = last.column - down * (previous + 1);
        if (cell.column > previous) return 0;
        list.push(width(at(cell.row + down, column), OPPOSITE[side]));
        if (column > 0) list.push(width(at(cell.row + down, column - 1), side));
      }
      list.push(width(at(cell.row, toStart ? cell.column - 1 : last.column), OPPOSITE[side]));
      list.push(width(grid.columnElements[toStart ? cell.column : last.column - 1] ?? -1, side));
      if (edge) list.push(width(grid.table, side));
      if (edge) list.push(width(grid.rows[cell.row]!.element, side), width(grid.rows[cell.row]!.group, side));
    } else {
      const up = side === 'top';
      const edge = up ? cell.row === 0 : last.row >= grid.rows.length;
      list.push(width(at(up ? cell.row - 1 : last.row, cell.column), OPPOSITE[side]));
      const edgeRow = grid.rows[up ? cell.row : last.row - 1]!;
      const other = grid.rows[up ? cell.row - 1 : last.row];
      list.push(width(edgeRow.element, side), width(other?.element ?? -1, OPPOSITE[side]));
      if (edgeRow.group !== other?.group)
        list.push(width(edgeRow.group, side), width(other?.group ?? -1, OPPOSITE[side]));
      if (edge) list.push(width(grid.table, side));
    }
    return Math.max(...list) / 2;
  };
  return { top: border('top'), right: border('right'), bottom: border('bottom'), left: border('left') };
}

/** A border that meets others at a side of a cell or of the table; `counts`: it is the widest, or one of the widest. */
export interface Meeting {
  box: number;
  side: Side;
  counts: boolean;
}

/** Borders that meet at a side of a cell, or of the table itself, and which of them are the widest. */
export function meetingBorders(tree: BoxTree, element: number, side: Side): Meeting[] {
  const isOfTable = isTable(tree, element);
  const grid = tableGrid(tree, isOfTable ? element : tableAbove(tree, element));
  const width = (box: number, at: Side) => edgesOf(tree.reading, 'border-width', box)[at];
  const counted = (widest: number, list: Omit<Meeting, 'counts'>[]): Meeting[] =>
    list.map((entry) => ({ ...entry, counts: Math.abs(width(entry.box, entry.side) - widest) < 0.01 }));
  if (isOfTable) {
    const cells = edgeCells(tree, grid, side).map(({ cell, at }) => ({ box: cell.element, side: at }));
    return counted(collapsedTableBorder(tree, grid)[side] * 2, [{ box: element, side }, ...cells]);
  }
  const cell = cellOf(grid, element);
  if (!cell) return [];
  const rtl = usedText(tree.reading, 'direction', grid.table) === 'rtl';
  const step = {
    top: [-1, 0],
    bottom: [cell.rows, 0],
    left: [0, rtl ? cell.columns : -1],
    right: [0, rtl ? -1 : cell.columns],
  }[side];
  const [row, column] = [cell.row + step[0]!, cell.column + step[1]!];
  const other = grid.cells.find(
    (cell) =>
      row >= cell.row &&
      row < cell.row + cell.rows &&
      column >= cell.column &&
      column < cell.column + cell.columns,
  );
  return counted(collapsedBorder(tree, grid, cell)[side] * 2, [
    { box: element, side },
    ...(other ? [{ box: other.element, side: OPPOSITE[side] }] : []),
  ]);
}

/**
 * Cells whose borders make one of a collapsing table's own, with the side at which each does. Where no cell of the last
 * columns has a border, engines look for the end of a row further on: the columns that have borders are counted through
 * as if the next row followed at once.
 */
function edgeCells(tree: BoxTree, grid: TableGrid, side: Side): { cell: Cell; at: Side }[] {
  const rtl = usedText(tree.reading, 'direction', grid.table) === 'rtl';
  const of = (at: Side, is: (cell: Cell) => boolean) => grid.cells.filter(is).map((cell) => ({ cell, at }));
  if (side === 'top') return of(side, ({ row }) => row === 0);
  if (side === 'bottom') return of(side, ({ row, rows }) => row + rows >= grid.rows.length);
  if ((side === 'left') !== rtl) return of(side, ({ column }) => column === 0);
  const previous = borderedColumns(tree, grid);
  const down = Math.floor(grid.columns / (previous + 1));
  const at = grid.columns - down * (previous + 1);
  const isBelow = ({ row, rows }: Cell) => row + rows > down;
  return [
    ...of(side, (cell) => isBelow(cell) && cell.column + cell.columns === at),
    ...of(OPPOSITE[side], (cell) => isBelow(cell) && cell.column === at),
  ];
}

/** The cell at each place of a grid, worked out once: by row, then by column; the first where two lie over each other. */
const placed = new WeakMap<TableGrid, Map<number, Map<number, number>>>();

function placesOf(grid: TableGrid): Map<number, Map<number, number>> {
  const cached = placed.get(grid);
  if (cached) return cached;
  const out = new Map<number, Map<number, number>>();
  for (const { row, rows, column, columns, element } of grid.cells)
    for (let r = row; r < row + rows; r++) {
      let cells = out.get(r);
      if (!cells) out.set(r, (cells = new Map()));
      for (let c = column; c < column + columns; c++) if (!cells.has(c)) cells.set(c, element);
    }
  placed.set(grid, out);
  return out;
}

const bordered = new WeakMap<TableGrid, number>();

/** Number of columns up to the last in which something has a border. */
function borderedColumns(tree: BoxTree, grid: TableGrid): number {
  let cached = bordered.get(grid);
  if (cached === undefined) bordered.set(grid, (cached = countBordered(tree, grid)));
  return cached;
}

function countBordered(tree: BoxTree, grid: TableGrid): number {
  const hasBorder = (box: number) =>
    box >= 0 && Object.values(edgesOf(tree.reading, 'border-width', box)).some((width) => width > 0);
  const whole = [grid.table, ...grid.rows.flatMap(({ element, group }) => [element, group])].some(hasBorder);
  if (whole || grid.columnElements.some(hasBorder)) return grid.columns;
  return Math.max(
    0,
    ...grid.cells.filter(({ element }) => hasBorder(element)).map(({ column, columns }) => column + columns),
  );
}

/** The collapsing table's own border: half of what meets at its edges. */
export function collapsedTableBorder(tree: BoxTree, grid: TableGrid): Edges {
  const widest = (side: Side) =>
    Math.max(
      edgesOf(tree.reading, 'border-width', grid.table)[side] / 2,
      ...edgeCells(tree, grid, side).map(({ cell, at }) => collapsedBorder(tree, grid, cell)[at]),
    );
  return { top: widest('top'), bottom: widest('bottom'), left: widest('left'), right: widest('right') };
}

/** Whether rows and row groups have border-spacing in their own boxes: CSS Tables 3 §3.7 leaves it outside, WebKit does not. */
export const haveRowsSpacing = ({ engine }: BoxTree['reading']): boolean => engine.name === 'webkit';
