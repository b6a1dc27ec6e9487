/** Tables: columns by their cells, rows by the tallest of theirs, and what is given out beyond (CSS 2.2 §17.5; Tables 3 §3.8, §3.9). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { layoutOf } from '../../boxes/formatting-contexts.ts';
import { labelOf } from '../../reading/labels.ts';
import { cellOf, haveRowsSpacing, tableAbove, tableGrid, type TableGrid } from '../../boxes/table-grid.ts';
import { usedText } from '../../boxes/tree.ts';
import { px, same } from '../../geometry/rect.ts';
import { betweenPx, autoBlockSize, type Content } from '../sizing/auto-block-size.ts';
import { declaredOf, declaredPx } from '../sizing/declared.ts';
import { hasPercent, isAuto } from '../sizing/percentage-definiteness.ts';
import { blockFlowOf } from '../block/margins.ts';
import { around, bothEdges, boxTerm, marginTerms, once } from '../model/term-builders.ts';
import { type Sum } from '../sizing/intrinsic-sizing.ts';
import { sumOf, term, withRivals, type Rival, type Term } from '../model/term.ts';
import { columnTerms, spacingTerm } from './table-columns.ts';

/** Width of cells, rows, groups, columns and captions. */
export function tablePartWidth(analysis: Analysis, element: number): Sum {
  const { tree } = analysis;
  const grid = tableGrid(tree, tableAbove(tree, element));
  const kind = tree.kinds[element]!;
  if (kind === 'table-cell') {
    const cell = cellOf(grid, element);
    return { terms: cell ? columnTerms(analysis, grid, cell.column, cell.columns) : [], lost: [] };
  }
  if (kind === 'table-column') {
    const at = grid.columnElements.indexOf(element);
    const span = grid.columnElements.filter((columnElement) => columnElement === element).length;
    return { terms: at < 0 ? [] : columnTerms(analysis, grid, at, span), lost: [] };
  }
  const columns = columnTerms(analysis, grid, 0, grid.columns);
  const isWithin = grid.spacing.x > 0 && haveRowsSpacing(analysis.reading);
  return { terms: isWithin ? [...columns, spacingTerm(analysis, grid, 'x', 2)] : columns, lost: [] };
}

/** Height that a cell takes by itself: what is in it, or its declared height if that is more. */
function naturalHeight(analysis: Analysis, element: number): Term[] {
  const contentTerms = around(analysis, element, 'y', autoBlockSize(analysis, element).terms);
  const { value } = declaredOf(analysis, element, 'height');
  if (isAuto(value) || hasPercent(value)) return contentTerms;
  const size = declaredPx(analysis, element, 'height', value);
  const edges = bothEdges(analysis, element, 'y');
  const border = usedText(analysis.reading, 'box-sizing', element) === 'border-box';
  const declared = declaredOf(analysis, element, 'height');
  const asked = term({
    px: size,
    what: 'content',
    rule: 'declared',
    box: element,
    source: declared.source,
    note: 'a cell’s height is the least that it takes (CSS 2.2 §17.5.3)',
    causes: [{ box: element, property: 'height', rate: 1 }],
  });
  const terms = border ? [asked] : [...edges, asked];
  return sumOf(terms) > sumOf(contentTerms) ? terms : contentTerms;
}

interface Row {
  size: number;
  tallest: number;
  /** Where cells stand on one baseline: the one that reaches highest over it, and how far. */
  over: { element: number; px: number } | null;
  /** The other cells of the row. */
  rivals: Rival[];
}

/** Distance from a box's border edge to the baseline of its first line; NaN: it has none (Box Alignment 3 §9.1). */
function firstBaseline(analysis: Analysis, element: number): number {
  const { tree } = analysis;
  if (layoutOf(tree, element) !== 'flow') return NaN;
  const { border, padding } = laidAreas(tree, element);
  const blockFlow = blockFlowOf(analysis, element);
  let at = border.top + padding.top;
  for (const between of blockFlow.betweens) {
    at += betweenPx(between);
    const item = blockFlow.items[between.after];
    if (!item || item.what === 'generated') continue;
    const first = blockFlow.lines[between.after]![0];
    if (first) return at + first.baseline - first.start;
    if (item.what !== 'block') continue;
    const inner = firstBaseline(analysis, item.element);
    if (!Number.isNaN(inner)) return at + inner;
    at += laidAreas(tree, item.element).rect.height;
  }
  return NaN;
}

/** Cells aligned to the baseline of their row share it (CSS 2.2 §17.5.3). */
const onBaseline = (analysis: Analysis, element: number): boolean =>
  !/^(top|middle|bottom)$/.test(usedText(analysis.reading, 'vertical-align', element));

function rowsOf(analysis: Analysis, grid: TableGrid): Row[] {
  return once(analysis, `rows ${grid.table}`, () =>
    grid.rows.map(({ element }, row) => {
      const { value } = element < 0 ? { value: 'auto' } : declaredOf(analysis, element, 'height');
      const declaredHeight =
        isAuto(value) || hasPercent(value) ? 0 : declaredPx(analysis, element, 'height', value);
      const out: Row = {
        size: declaredHeight || 0,
        tallest: declaredHeight > 0 ? element : -1,
        over: null,
        rivals: [],
      };
      const cells = grid.cells
        .filter((cell) => cell.row === row && cell.rows === 1)
        .map((cell) => {
          const terms = naturalHeight(analysis, cell.element);
          const size = sumOf(terms);
          const baseline = onBaseline(analysis, cell.element) ? firstBaseline(analysis, cell.element) : NaN;
          return { element: cell.element, terms, size, baseline };
        });
      for (const cell of cells)
        if (cell.size > out.size + 0.01) Object.assign(out, { size: cell.size, tallest: cell.element });
      const aligned = cells.filter(({ baseline }) => !Number.isNaN(baseline));
      const over = aligned.reduce(
        (best, entry) => (entry.baseline > best.baseline ? entry : best),
        aligned[0]!,
      );
      const under = aligned.reduce(
        (best, entry) => (entry.size - entry.baseline > best.size - best.baseline ? entry : best),
        aligned[0]!,
      );
      if (aligned.length > 1 && over.baseline + under.size - under.baseline > out.size + 0.01) {
        out.size = over.baseline + under.size - under.baseline;
        out.tallest = under.element;
        out.over = { element: over.element, px: over.baseline - under.baseline };
      }
      out.rivals = cells
        .filter(({ element: cell }) => cell !== out.tallest)
        .map(({ terms, size }) => ({ terms, tie: same(size, out.size) }));
      return out;
    }),
  );
}

/** A row's height: its tallest cell, and what standing on one baseline adds. */
function rowTerms(analysis: Analysis, { size, tallest, over, rivals }: Row): Term[] {
  if (tallest < 0) return [];
  const name = labelOf(analysis.reading, tallest);
  const rowSize = over ? size - over.px : size;
  return [
    term({
      px: rowSize,
      what: 'cell',
      rule: 'tallest-cell',
      box: tallest,
      note: over
        ? `${name}, as it stands on the baseline of the row`
        : `${name} is its tallest cell (CSS 2.2 §17.5.3)`,
      links: [{ box: tallest, axis: 'y', area: 'border', rate: 1 }],
      rivals,
    }),
    ...(over
      ? [
          term({
            px: over.px,
            what: 'baseline',
            rule: 'row-baseline',
            box: over.element,
            note: `${labelOf(analysis.reading, over.element)} reaches ${px(over.px)} further over the baseline that the cells share (CSS 2.2 §17.5.3)`,
            links: [
              { box: over.element, axis: 'y', area: 'baseline', rate: 1 },
              { box: tallest, axis: 'y', area: 'baseline', rate: -1 },
            ],
          }),
        ]
      : []),
  ];
}

/** Height of cells, rows and groups. */
export function tablePartHeight(analysis: Analysis, element: number): Sum {
  const { tree } = analysis;
  const grid = tableGrid(tree, tableAbove(tree, element));
  const rows = rowsOf(analysis, grid);
  const kind = tree.kinds[element]!;
  if (kind === 'table-cell') {
    const cell = cellOf(grid, element);
    if (!cell) return { terms: [], lost: [] };
    const contentTerms = naturalHeight(analysis, element);
    const used = laidAreas(tree, element).rect.height;
    const row = rows[cell.row]!;
    if (cell.rows === 1 && row.tallest === element && !row.over && same(sumOf(contentTerms), used))
      return { terms: withRivals(contentTerms, row.rivals), lost: [] };
    if (cell.rows > 1 && same(sumOf(contentTerms), used)) return { terms: contentTerms, lost: [] };
    return { terms: rowSpanTerms(analysis, grid, cell.row, cell.rows, 'stretched'), lost: [] };
  }
  if (kind === 'table-row') {
    const at = grid.rows.findIndex((row) => row.element === element);
    const row = rows[at];
    if (!row) return { terms: [], lost: [] };
    if (row.tallest === element) {
      const { source } = declaredOf(analysis, element, 'height');
      return {
        terms: [
          term({
            px: row.size,
            what: 'row',
            rule: 'declared',
            box: element,
            source,
            causes: [{ box: element, property: 'height', rate: 1 }],
          }),
        ],
        lost: [],
      };
    }
    return { terms: rowTerms(analysis, row), lost: [] };
  }
  if (kind === 'table-row-group') {
    const list = grid.rows.flatMap(({ group }, i) => (group === element ? [i] : []));
    if (list.length === 0) return { terms: [], lost: [] };
    const rowsOfGroup = rowSpanTerms(analysis, grid, list[0]!, list.length, 'row');
    if (!grid.spacing.y || !haveRowsSpacing(analysis.reading)) return { terms: rowsOfGroup, lost: [] };
    // What is over a group is in the one before it.
    return { terms: [...rowsOfGroup, spacingTerm(analysis, grid, 'y', list[0] === 0 ? 2 : 1)], lost: [] };
  }
  return { terms: rowSpanTerms(analysis, grid, 0, grid.rows.length, 'row'), lost: [] };
}

function rowSpanTerms(analysis: Analysis, grid: TableGrid, first: number, count: number, rule: string): Term[] {
  const rows = rowsOf(analysis, grid);
  const out = grid.rows
    .slice(first, first + count)
    .flatMap(({ element }, i) =>
      element < 0
        ? rowTerms(analysis, rows[first + i]!)
        : [
            boxTerm(
              element,
              'y',
              laidAreas(analysis.tree, element).rect.height,
              'row',
              rule,
              labelOf(analysis.reading, element),
            ),
          ],
    );
  if (count > 1 && grid.spacing.y) out.push(spacingTerm(analysis, grid, 'y', count - 1));
  return out;
}

/** What a table's own height holds: captions, rows and the spacing around them. */
export function tableContent(analysis: Analysis, table: number): Content {
  const { tree, reading } = analysis;
  const grid = tableGrid(tree, table);
  const captions = grid.captions.flatMap((caption) => [
    boxTerm(
      caption,
      'y',
      laidAreas(tree, caption).rect.height,
      'caption',
      'caption',
      labelOf(reading, caption),
    ),
    ...(['top', 'bottom'] as const).flatMap((side) => marginTerms(analysis, caption, side, 1)),
  ]);
  if (grid.rows.length === 0) return { terms: captions, lost: [] };
  const rows = rowSpanTerms(analysis, grid, 0, grid.rows.length, 'row');
  const outer = grid.spacing.y ? [spacingTerm(analysis, grid, 'y', 2)] : [];
  return { terms: [...captions, ...rows, ...outer], lost: [] };
}

export const isTablePart = (kind: string): boolean => /^table-(cell|row|row-group|column)$/.test(kind);
