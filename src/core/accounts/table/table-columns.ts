/** Columns of tables: by the first row in fixed layout, else between the least and the most that their cells take (CSS 2.2 §17.5.2; Tables 3 §3.8, §3.9). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas, layoutUnit } from '../../boxes/areas.ts';
import { labelOf } from '../../reading/labels.ts';
import { collapsedTableBorder, tableGrid, type Cell, type TableGrid } from '../../boxes/table-grid.ts';
import { usedText } from '../../boxes/tree.ts';
import { px, same, type Axis } from '../../geometry/rect.ts';
import { declaredOf, declaredPx } from '../sizing/declared.ts';
import { contentExtent } from '../sizing/content-contribution.ts';
import { hasPercent, isAuto } from '../sizing/percentage-definiteness.ts';
import { around, bothEdges, edgesSize, lengthTerm, once } from '../model/term-builders.ts';
import { contentWidth, intrinsicOf } from '../sizing/intrinsic-sizing.ts';
import { groundsOf, term, type Grounds, type Link, type Rival, type Term } from '../model/term.ts';

interface Column {
  min: number;
  max: number;
  percent: number;
  fixed: boolean;
  widest: number;
  /** The cell that takes the most at the least; `widest` takes the most on one line. */
  least: number;
  /** What each cell takes, by its element. */
  cells: Map<number, { min: number; max: number }>;
  size: number;
  note: string;
}

const isFixedLayout = (analysis: Analysis, table: number): boolean =>
  usedText(analysis.reading, 'table-layout', table) === 'fixed' &&
  !isAuto(declaredOf(analysis, table, 'width').value);

/** Width that columns share: the table's without its edges and the spacing. */
function columnRoom(analysis: Analysis, grid: TableGrid): number {
  const { tree } = analysis;
  const { rect, border, padding } = laidAreas(tree, grid.table);
  const edges = grid.collapsed ? collapsedTableBorder(tree, grid) : border;
  const inner = rect.width - edges.left - edges.right - padding.left - padding.right;
  return inner - grid.spacing.x * (grid.columns + 1);
}

function columnsOf(analysis: Analysis, grid: TableGrid): Column[] {
  return once(analysis, `columns ${grid.table}`, () =>
    isFixedLayout(analysis, grid.table) ? fixedColumns(analysis, grid) : autoColumns(analysis, grid),
  );
}

const blank = (): Column => ({
  min: 0,
  max: 0,
  percent: 0,
  fixed: false,
  widest: -1,
  least: -1,
  cells: new Map(),
  size: 0,
  note: '',
});

/** A width that a cell or column declares, as a border box; NaN: none in px. */
function declaredWidth(
  analysis: Analysis,
  element: number,
  isColumn: boolean,
): { px: number; percent: number } {
  const { value } = declaredOf(analysis, element, 'width');
  if (isAuto(value)) return { px: NaN, percent: 0 };
  const percent = /^([\d.]+)%$/.exec(value)?.[1];
  if (percent) return { px: NaN, percent: Number(percent) };
  const size = declaredPx(analysis, element, 'width', value);
  const border = isColumn || usedText(analysis.reading, 'box-sizing', element) === 'border-box';
  return { px: border ? size : size + edgesSize(analysis, element, 'x'), percent: 0 };
}

/** The first row and the column elements decide; what they leave is shared equally (CSS 2.2 §17.5.2.1). */
function fixedColumns(analysis: Analysis, grid: TableGrid): Column[] {
  const room = columnRoom(analysis, grid);
  const out = Array.from({ length: grid.columns }, blank);
  const take = (column: number, span: number, element: number, isColumn: boolean) => {
    const { px: size, percent } = declaredWidth(analysis, element, isColumn);
    const width = percent ? (percent / 100) * room : size;
    if (Number.isNaN(width)) return;
    for (let c = column; c < column + span; c++)
      if (out[c] && !out[c]!.fixed)
        out[c] = {
          ...blank(),
          fixed: true,
          percent,
          widest: element,
          size: (width - grid.spacing.x * (span - 1)) / span,
          note: `table-layout: fixed, and ${labelOf(analysis.reading, element)} says ${declaredOf(analysis, element, 'width').value}`,
        };
  };
  grid.columnElements.forEach((element, i) => take(i, 1, element, true));
  for (const { element, row, column, columns } of grid.cells)
    if (row === 0) take(column, columns, element, false);
  const open = out.filter(({ fixed }) => !fixed);
  const left = room - out.reduce((sum, { size }) => sum + size, 0);
  if (open.length > 0)
    for (const column of open) {
      column.size = Math.max(0, left / open.length);
      column.note = `table-layout: fixed: an equal part of the ${px(left)} that no column claims`;
    }
  else if (left > 0) {
    const total = out.reduce((sum, { size }) => sum + size, 0) || 1;
    for (const column of out) column.size += (left * column.size) / total;
  }
  return out;
}

/** Automatic layout (Tables 3 §3.8.3, §3.9.3): between the least and the most that the cells of each column take. */
function autoColumns(analysis: Analysis, grid: TableGrid): Column[] {
  const { reading } = analysis;
  const out = Array.from({ length: grid.columns }, blank);
  const sizes = (cell: Cell) => {
    const lies = contentExtent(analysis, cell.element).px;
    const intrinsic = intrinsicOf(analysis, cell.element) ?? { min: lies, max: lies };
    const edges = edgesSize(analysis, cell.element, 'x');
    const { px: size, percent } = declaredWidth(analysis, cell.element, false);
    const min = intrinsic.min + edges;
    const bound = (which: 'min' | 'max') => {
      const { value } = declaredOf(analysis, cell.element, `${which}-width`);
      const length =
        isAuto(value) || hasPercent(value) || /^none$/i.test(value)
          ? NaN
          : declaredPx(analysis, cell.element, `${which}-width`, value);
      return Number.isNaN(length)
        ? which === 'min'
          ? 0
          : Infinity
        : length + (usedText(reading, 'box-sizing', cell.element) === 'border-box' ? 0 : edges);
    };
    const least = Math.max(min, bound('min'));
    const fixed = !Number.isNaN(size);
    const most = Math.max(least, Math.min(bound('max'), fixed ? size : intrinsic.max + edges));
    return { min: least, max: most, percent, fixed };
  };
  const single = grid.cells.filter(({ columns }) => columns === 1);
  for (const cell of single) {
    const column = out[cell.column]!;
    const { min, max, percent, fixed } = sizes(cell);
    column.cells.set(cell.element, { min, max });
    if (min > column.min + 0.005 || column.least < 0) column.least = cell.element;
    column.min = Math.max(column.min, min);
    if (fixed && !column.fixed) {
      column.fixed = true;
      column.max = Math.max(max, column.min);
      column.widest = cell.element;
    } else if (fixed === column.fixed && (max > column.max || column.widest < 0)) {
      column.max = Math.max(column.max, max);
      column.widest = cell.element;
    } else if (!column.fixed) column.max = Math.max(column.max, max);
    column.percent = Math.max(column.percent, percent);
    column.max = Math.max(column.max, column.min);
  }
  grid.columnElements.forEach((element, i) => {
    const column = out[i];
    if (!column) return;
    const { px: size, percent } = declaredWidth(analysis, element, true);
    if (!Number.isNaN(size))
      Object.assign(column, { fixed: true, max: Math.max(size, column.min), widest: element });
    column.percent = Math.max(column.percent, percent);
  });
  for (const cell of grid.cells.filter(({ columns }) => columns > 1).sort((a, b) => a.columns - b.columns)) {
    const spanned = out.slice(cell.column, cell.column + cell.columns);
    const { min, max } = sizes(cell);
    for (const key of ['min', 'max'] as const) {
      const wanted = (key === 'min' ? min : max) - grid.spacing.x * (cell.columns - 1);
      const have = spanned.reduce((sum, column) => sum + column[key], 0);
      if (!(wanted > have)) continue;
      const open = spanned.filter(({ fixed, percent }) => !fixed && !percent);
      const takers = open.length > 0 ? open : spanned;
      const weight = takers.reduce((sum, column) => sum + column.max, 0);
      for (const column of takers)
        column[key] += (wanted - have) * (weight ? column.max / weight : 1 / takers.length);
    }
    for (const column of spanned) column.max = Math.max(column.max, column.min);
  }
  distributeWidth(analysis, out, columnRoom(analysis, grid));
  return out;
}

type Guess = Pick<Column, 'min' | 'max' | 'percent' | 'fixed'>;

interface Given {
  sizes: number[];
  /** How a column came by its size: the least, between two guesses, or with a part of what is left over. */
  how: 'least' | 'between' | 'most';
  rest: number;
  /** Of `rest`, by column. */
  more: number[];
}

/** Guesses from the least to the most, and what lies between two of them in proportion (Tables 3 §3.9.3.2). */
function distribute(columns: readonly Guess[], room: number, unit: number | null): Given {
  const sum = (of: (guess: Guess) => number) => columns.reduce((total, column) => total + of(column), 0);
  // Engines give out in their own units and leave what is rounded off to the last column.
  const floor = (size: number) => (unit === null ? size : Math.floor(size * unit) / unit);
  const part = (guess: Guess) => Math.max(guess.min, (guess.percent / 100) * room);
  const guesses: ((guess: Guess) => number)[] = [
    (guess) => guess.min,
    (guess) => (guess.percent ? part(guess) : guess.min),
    (guess) => (guess.percent ? part(guess) : guess.fixed ? guess.max : guess.min),
    (guess) => (guess.percent ? part(guess) : guess.max),
  ];
  const totals = guesses.map(sum);
  const more = columns.map(() => 0);
  if (room <= totals[0]! + 0.01) return { sizes: columns.map(guesses[0]!), how: 'least', rest: 0, more };
  for (let g = 1; g < guesses.length; g++) {
    if (room > totals[g]! + 0.01) continue;
    const span = totals[g]! - totals[g - 1]!;
    let left = room - totals[g - 1]!;
    const open = columns.filter((column) => guesses[g]!(column) > guesses[g - 1]!(column));
    const sizes = columns.map((column) => {
      const [low, high] = [guesses[g - 1]!(column), guesses[g]!(column)];
      const share = span > 0 ? ((room - totals[g - 1]!) * (high - low)) / span : 0;
      const shareHere = column === open.at(-1) ? left : open.includes(column) ? floor(share) : 0;
      left -= shareHere;
      return low + shareHere;
    });
    return { sizes, how: 'between', rest: 0, more };
  }
  const rest = room - totals[3]!;
  const auto = columns.filter(({ fixed, percent, max }) => !fixed && !percent && max > 0);
  const fixed = columns.filter((column) => column.fixed && !column.percent);
  const takers =
    auto.length > 0 ? auto : fixed.length > 0 ? fixed : columns.filter(({ percent }) => percent > 0);
  const list = takers.length > 0 ? takers : columns;
  const byMost = takers === auto || takers === fixed;
  const weightOf = (guess: Guess) => (byMost ? guess.max : guess.percent);
  const weight = list.reduce((total, guess) => total + weightOf(guess), 0);
  const pool = rest + list.reduce((total, guess) => total + guess.max, 0);
  let handedOut = 0;
  const sizes = columns.map((column, i) => {
    const columnShare = guesses[3]!(column);
    if (!list.includes(column)) return columnShare;
    const share = weight > 0 ? weightOf(column) / weight : 1 / list.length;
    const whole = byMost ? pool * share : columnShare + rest * share;
    more[i] = column === list.at(-1) ? rest - handedOut : floor(whole) - columnShare;
    handedOut += more[i];
    return columnShare + more[i];
  });
  return { sizes, how: 'most', rest, more };
}

function distributeWidth(analysis: Analysis, columns: Column[], room: number): void {
  const { sizes, how, rest, more } = distribute(columns, room, layoutUnit(analysis.reading));
  columns.forEach((column, i) => {
    const name = column.widest < 0 ? 'its cells' : labelOf(analysis.reading, column.widest);
    column.size = sizes[i]!;
    const least = column.least < 0 ? name : labelOf(analysis.reading, column.least);
    if (how === 'least') column.note = `the least that ${least} takes`;
    else if (how === 'most') {
      const baseHere = sizes[i]! - more[i]!;
      const base = column.percent ? `${px(column.percent)} % of ${px(room)}` : `${px(baseHere)} for ${name}`;
      column.note =
        more[i]! > 0.005 ? `${base}, and ${px(more[i]!)} of the ${px(rest)} left over, in proportion` : base;
    } else if (same(column.size, column.max)) {
      const asks = column.fixed && column.widest >= 0 ? declaredOf(analysis, column.widest, 'width').value : '';
      column.note = asks ? `${name} asks for width: ${asks}` : `what ${name} takes on one line`;
    } else if (column.percent) column.note = `${px(column.percent)} % of ${px(room)}`;
    else
      column.note = `between the least (${px(column.min)}) and the most (${px(column.max)}) that ${name} takes`;
  });
}

/**
 * The width that columns would like together: a column in percent asks for a whole of which it is that part, and the
 * others ask for one that leaves them what they take (Tables 3 §3.8.2). `asks`: the columns that decide.
 */
function wished(columns: readonly Guess[]): { px: number; asks: number[]; rate: number } {
  const percent = Math.min(
    100,
    columns.reduce((sum, column) => sum + column.percent, 0),
  );
  const all = columns.map((_, i) => i);
  const total = (list: number[]) => list.reduce((sum, i) => sum + columns[i]!.max, 0);
  const plain = all.filter((i) => !columns[i]!.percent);
  const wishes = [{ px: total(all), asks: all, rate: 1 }];
  if (percent > 0) {
    for (const i of all)
      if (columns[i]!.percent) {
        const rate = 100 / columns[i]!.percent;
        wishes.push({ px: columns[i]!.max * rate, asks: [i], rate });
      }
    const rate = percent >= 100 ? Infinity : 100 / (100 - percent);
    if (total(plain) > 0) wishes.push({ px: total(plain) * rate, asks: plain, rate });
  }
  return wishes.reduce((best, wish) => (wish.px > best.px + 0.01 ? wish : best));
}

/** The largest width that a table would like. */
export function mostOfTable(analysis: Analysis, table: number): Term[] {
  const maxContent = contentWidth(analysis, table, 'x', 'max');
  const grid = tableGrid(analysis.tree, table);
  if (isFixedLayout(analysis, table)) return maxContent;
  const columns = columnsOf(analysis, grid);
  const { px: whole, asks, rate } = wished(columns);
  if (rate === 1) return maxContent;
  const spacing = grid.spacing.x ? [spacingTerm(analysis, grid, 'x', grid.columns + 1)] : [];
  const result = term({
    px: whole,
    what: 'columns',
    rule: 'percent-columns',
    box: table,
    note: 'columns in percent ask for a whole of which they are that part',
    ...(rate === Infinity
      ? {}
      : groundsOf(
          asks.map((i) => cellGrounds(analysis, columns[i]!, 'max')),
          rate,
        )),
  });
  return around(analysis, table, 'x', [result, ...spacing]);
}

/** Columns from `first` on, with the spacing between them. */
export function columnTerms(analysis: Analysis, grid: TableGrid, first: number, count: number): Term[] {
  const columns = columnsOf(analysis, grid);
  const out = columns.slice(first, first + count).map(({ size, note, widest }, i) =>
    term({
      px: size,
      what: 'column',
      rule: isFixedLayout(analysis, grid.table) ? 'fixed-layout' : 'column',
      box: widest < 0 ? grid.table : widest,
      note: `column ${first + i + 1} of ${columns.length}: ${note}`,
      ...columnGrounds(analysis, grid, first + i),
    }),
  );
  if (count > 1 && grid.spacing.x) out.push(spacingTerm(analysis, grid, 'x', count - 1));
  return out;
}

/** What a column's width goes along with: the table's width, and what the cells of every column take. */
function columnGrounds(analysis: Analysis, grid: TableGrid, index: number): Grounds {
  const columns = columnsOf(analysis, grid);
  const room = columnRoom(analysis, grid);
  const whole = (rate: number): Link => ({ box: grid.table, axis: 'x', area: 'content', rate });
  if (isFixedLayout(analysis, grid.table)) {
    const open = columns.filter(({ fixed }) => !fixed).length;
    const column = columns[index]!;
    if (column.fixed && open > 0)
      return groundsOf([
        column.percent
          ? { links: [whole(column.percent / 100)] }
          : { causes: [{ box: column.widest, property: 'width', rate: 1 }] },
      ]);
    const others = columns.flatMap((entry) =>
      entry.fixed && !entry.percent
        ? [{ box: entry.widest, property: 'width', rate: -1 / Math.max(1, open) }]
        : [],
    );
    return groundsOf([{ causes: others, links: [whole(1 / Math.max(1, open))] }]);
  }
  const base = distribute(columns, room, null).sizes[index]!;
  // A table that has its width from its columns grows with them.
  const least = columns.reduce((sum, column) => sum + column.min, 0);
  const auto = isAuto(declaredOf(analysis, grid.table, 'width').value);
  const most = wished(columns).px;
  const byMost = auto && same(most, room);
  const byLeast = same(least, room) && !byMost;
  const widthOf = (changed: Guess[]) =>
    byMost ? wished(changed).px : byLeast ? changed.reduce((sum, guess) => sum + guess.min, 0) : room;
  const slope = (changed: Guess[], width = widthOf(changed)) =>
    (distribute(changed, width, null).sizes[index]! - base) * 8;
  const out: Grounds[] = byMost || byLeast ? [] : [{ ...NONE, links: [whole(slope(columns, room + 0.125))] }];
  columns.forEach((column, j) => {
    const grow = (by: { min?: number; max?: number }) =>
      slope(
        columns.map((column, k) => {
          if (k !== j) return column;
          const min = column.min + (by.min ?? 0);
          return { ...column, min, max: Math.max(column.max + (by.max ?? 0), min) };
        }),
      );
    if (column.least >= 0) out.push(groundsOf([cellGrounds(analysis, column, 'min')], grow({ min: 0.125 })));
    if (column.widest >= 0)
      out.push(
        groundsOf(
          [cellGrounds(analysis, column, 'max')],
          same(column.min, column.max) ? 0 : grow({ max: 0.125 }),
        ),
      );
  });
  return groundsOf(out);
}

const NONE: Grounds = groundsOf([]);

/** What the least or the most that a column takes goes along with: its largest cell, and any other as large. */
function cellGrounds(analysis: Analysis, column: Column, pressure: 'min' | 'max'): Grounds {
  const required = groundsOf(cellTerms(analysis, column, pressure));
  const main = pressure === 'min' ? column.least : column.widest;
  const best = column.cells.get(main);
  const rivals = [...column.cells].flatMap(([element, size]): Rival[] => {
    if (element === main || !best || (pressure === 'max' && column.fixed)) return [];
    const terms = cellTerms(analysis, { ...column, least: element, widest: element }, pressure);
    return [{ terms, tie: same(size[pressure], best[pressure]), against: required }];
  });
  return { ...required, rivals: [...required.rivals, ...rivals] };
}

/** Why a column takes at least, or would like, as much as it does. */
function cellTerms(analysis: Analysis, column: Column, pressure: 'min' | 'max'): Term[] {
  const cell = pressure === 'min' ? column.least : column.widest;
  if (pressure === 'min' || !column.fixed || column.max <= column.min)
    return contentWidth(analysis, cell, 'x', pressure);
  const { value } = declaredOf(analysis, cell, 'width');
  const border =
    usedText(analysis.reading, 'box-sizing', cell) === 'border-box' ||
    analysis.tree.kinds[cell] === 'table-column';
  return [
    ...(border ? [] : bothEdges(analysis, cell, 'x')),
    lengthTerm(analysis, cell, 'width', declaredPx(analysis, cell, 'width', value), 'content'),
  ];
}

/** All columns of a table with the spacing between and around them. */
export function allColumns(analysis: Analysis, table: number): Term[] {
  const grid = tableGrid(analysis.tree, table);
  const columns = columnTerms(analysis, grid, 0, grid.columns);
  return grid.spacing.x ? [...columns, spacingTerm(analysis, grid, 'x', 2)] : columns;
}

export function spacingTerm(
  analysis: Analysis,
  { table, spacing }: TableGrid,
  axis: Axis,
  count: number,
): Term {
  const { source } = declaredOf(analysis, table, 'border-spacing');
  return term({
    px: spacing[axis] * count,
    what: 'spacing',
    rule: source.origin === 'browser' ? 'default' : 'declared',
    box: table,
    source,
    note: count > 1 ? `${count} times border-spacing ${px(spacing[axis])}` : 'border-spacing',
    causes: [{ box: table, property: 'border-spacing', rate: count }],
  });
}
