/** How far a box lies from the border edge of the one that holds it, by the kind of layout that put it there. */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { boxAbove, layoutOf } from '../../boxes/formatting-contexts.ts';
import { contentsOf, flowParent, levelOf, renderedLegend } from '../../boxes/flow.ts';
import { labelOf, tagOf } from '../../reading/labels.ts';
import { ahead, edgeOf, flowSides, sizeOf } from '../../geometry/writing-modes.ts';
import { cellOf, haveRowsSpacing, tableAbove, tableGrid } from '../../boxes/table-grid.ts';
import { usedPx, usedText } from '../../boxes/tree.ts';
import { isSvg } from '../../css/cascade/styles.ts';
import { px, sidesOf, type Axis, type Rect, type Side } from '../../geometry/rect.ts';
import { betweenTerms, itemTerms, sinceFloat } from '../sizing/auto-block-size.ts';
import { declaredOf } from '../sizing/declared.ts';
import { shiftTerms } from '../block/gaps.ts';
import { inlineExtent } from '../../boxes/line-boxes.ts';
import { blockFlowOf, floatsBefore } from '../block/margins.ts';
import { boxTerm, edgeTerms, lengthTerm, marginTerms, scrollbarTerms } from '../model/term-builders.ts';
import { negated, sumOf, term, type Term } from '../model/term.ts';
import { flexStatic, flexPlace, gridPlace } from '../flex/item-placement.ts';

const lowSide = (axis: Axis): Side => sidesOf(axis)[0];

export const isLow = (side: Side): boolean => side === 'left' || side === 'top';

const PAGE: Rect = { x: 0, y: 0, width: 0, height: 0 };

export const laid = (analysis: Analysis, element: number): Rect =>
  element < 0
    ? { ...PAGE, width: analysis.reading.document.clientWidth, height: analysis.reading.document.clientHeight }
    : laidAreas(analysis.tree, element).rect;

export function placeTerms(analysis: Analysis, element: number, holder: number, axis: Axis): Term[] {
  const { tree, reading } = analysis;
  const kind = tree.kinds[element]!;
  if (isSvg(reading, element) && tagOf(reading, element) !== 'svg')
    return [
      term({
        px: laid(analysis, element)[axis] - laid(analysis, holder)[axis],
        what: 'drawing',
        rule: 'drawn',
        box: element,
        note: 'drawn by SVG: no CSS box',
      }),
    ];
  if (kind === 'absolute' || kind === 'fixed') return insetTerms(analysis, element, holder, axis);
  const low = lowSide(axis);
  const inner =
    holder < 0 ? [] : [...edgeTerms(analysis, holder, low), ...scrollbarTerms(analysis, holder, low)];
  if (kind === 'root') return marginTerms(analysis, element, low, 1);
  if (kind === 'flex-item') return [...inner, ...flexPlace(analysis, element, axis)];
  if (kind === 'grid-item') return [...inner, ...gridPlace(analysis, element, axis)];
  if (kind === 'table-caption') return marginTerms(analysis, element, low, 1);
  if (kind.startsWith('table-')) return tablePlace(analysis, element, holder, axis);
  const sides = flowSides(reading, flowParent(tree, element) < 0 ? 0 : flowParent(tree, element));
  const level = levelOf(tree, element);
  const fromEnd = (list: Term[], end: Side): Term[] =>
    holder < 0
      ? []
      : [
          boxTerm(
            holder,
            axis,
            sizeOf(laid(analysis, holder), axis),
            'container',
            'room',
            labelOf(reading, holder),
          ),
          ...negated([...edgeTerms(analysis, holder, end), ...scrollbarTerms(analysis, holder, end), ...list]),
          boxTerm(element, axis, sizeOf(laid(analysis, element), axis), 'box', 'own', 'its own size', -1),
        ];
  if (level === 'inline' || level === 'atom') return [...inner, ...linePlace(analysis, element, holder, axis)];
  if (level === 'float') return floatPlace(analysis, element, holder, axis, inner);
  if (holder >= 0 && renderedLegend(tree, holder) === element && axis === 'y')
    return marginTerms(analysis, element, 'top', 1);
  if (axis === sides.block) {
    const above = precedingTerms(analysis, element);
    return isLow(sides.blockStart) ? [...inner, ...above] : fromEnd(above, sides.blockStart);
  }
  const start = sides.inlineStart;
  const margin = marginTerms(analysis, element, start, 1);
  const aligned = alignedBlock(analysis, element, holder, axis);
  if (aligned) return [...inner, ...aligned];
  return isLow(start) ? [...inner, ...margin] : fromEnd(margin, start);
}

/** Everything between a container's content start and an in-flow block. */
export function precedingTerms(analysis: Analysis, element: number, until: number | null = null): Term[] {
  const container = flowParent(analysis.tree, element);
  if (container < 0) return marginTerms(analysis, element, 'top', 1);
  const blockFlow = blockFlowOf(analysis, container);
  const out: Term[] = until === null ? shiftTerms(analysis, blockFlow) : [];
  let counting = until === null;
  for (const between of blockFlow.betweens) {
    if (counting) out.push(...betweenTerms(analysis, blockFlow, between).terms);
    const item = blockFlow.items[between.after];
    if (item?.what === 'block' && item.element === element) return out;
    if (counting && item) out.push(...itemTerms(analysis, blockFlow, between.after));
    if (item?.what === 'block' && item.element === until) counting = true;
  }
  return out;
}

/** Blocks that the old `align` attributes put in the middle or at the end (HTML §15.3.3). */
function alignedBlock(analysis: Analysis, element: number, holder: number, axis: Axis): Term[] | null {
  if (holder < 0) return null;
  const align = /^-(?:webkit|moz)-(center|right)$/.exec(usedText(analysis.reading, 'text-align', holder))?.[1];
  if (!align || axis !== 'x') return null;
  const { content } = laidAreas(analysis.tree, holder);
  const { margin, rect } = laidAreas(analysis.tree, element);
  const free = content.width - rect.width - margin.left - margin.right;
  if (free < 0.05) return null;
  const part = align === 'center' ? 0.5 : 1;
  return [
    ...marginTerms(analysis, element, 'left', 1),
    term({
      px: free * part,
      what: 'free',
      rule: 'aligned',
      box: holder,
      source: declaredOf(analysis, holder, 'text-align').source,
      note: `${px(part)} of the ${px(free)} that it leaves free`,
    }),
  ];
}

function insetTerms(analysis: Analysis, element: number, holder: number, axis: Axis): Term[] {
  const { tree, reading } = analysis;
  const [low, high] = sidesOf(axis);
  const border =
    holder < 0 ? [] : edgeTerms(analysis, holder, low).filter(({ what }) => what.startsWith('border'));
  const isSet = (side: Side) => !/^(auto|initial)$/i.test(declaredOf(analysis, element, side).value);
  const rtl = holder >= 0 && flowSides(reading, holder).inlineStart === 'right' && axis === 'x';
  if (isSet(low) && !(rtl && isSet(high)))
    return [
      ...border,
      lengthTerm(analysis, element, low, usedPx(reading, low, element), low),
      ...marginTerms(analysis, element, low, 1),
    ];
  if (isSet(high)) {
    const whole = laid(analysis, holder);
    const far =
      holder < 0 ? [] : edgeTerms(analysis, holder, high).filter(({ what }) => what.startsWith('border'));
    const bars = holder < 0 ? [] : scrollbarTerms(analysis, holder, high);
    return [
      holder < 0
        ? term({ px: sizeOf(whole, axis), what: 'container', rule: 'room', box: -1, note: 'the viewport' })
        : boxTerm(holder, axis, sizeOf(whole, axis), 'container', 'room', labelOf(reading, holder)),
      ...negated([
        ...far,
        ...bars,
        lengthTerm(analysis, element, high, usedPx(reading, high, element), high),
        ...marginTerms(analysis, element, high, 1),
      ]),
      boxTerm(element, axis, sizeOf(laid(analysis, element), axis), 'box', 'own', 'its own size', -1),
    ];
  }
  // Where it would stand in flow: after what comes before it in its parent (CSS 2.2 §10.3.7, §10.6.4).
  const parent = boxAbove(tree, element);
  const from = parent === holder ? 0 : laid(analysis, parent)[axis] - laid(analysis, holder)[axis];
  const inside = parent < 0 ? [] : edgeTerms(analysis, parent, low);
  const steps =
    parent === holder || parent < 0
      ? []
      : [
          boxTerm(
            parent,
            axis,
            from,
            'static',
            'static',
            `${labelOf(reading, parent)}, in which it stands, from its containing block`,
          ),
        ];
  if (parent >= 0 && layoutOf(tree, parent) === 'flex')
    return [...steps, ...inside, ...flexStatic(analysis, element, parent, axis)];
  return [
    ...steps,
    ...inside,
    ...marginTerms(analysis, element, low, 1),
    ...staticFlow(analysis, element, parent, axis),
  ];
}

/** How far down its parent the place is where a positioned box would stand. */
function staticFlow(analysis: Analysis, element: number, parent: number, axis: Axis): Term[] {
  if (parent < 0 || axis !== flowSides(analysis.reading, parent).block) return [];
  const nodes = contentsOf(analysis.tree, parent);
  const before = nodes.slice(
    0,
    nodes.findIndex((node) => node.what === 'element' && node.element === element),
  );
  if (!before.some((node) => (node.what === 'text' ? !node.blank : node.what === 'element'))) return [];
  const blockFlow = blockFlowOf(analysis, parent);
  const out: Term[] = [];
  for (const between of blockFlow.betweens) {
    const item = blockFlow.items[between.after];
    if (!item) break;
    const first =
      item.what === 'block'
        ? item.element
        : item.what === 'lines'
          ? Math.min(
              ...item.nodes.map((node) =>
                'element' in node ? node.element : 'owner' in node ? node.owner : Infinity,
              ),
            )
          : Infinity;
    if (first > element && item.what === 'block') break;
    out.push(
      ...betweenTerms(analysis, blockFlow, between).terms,
      ...itemTerms(analysis, blockFlow, between.after),
    );
  }
  return out;
}

/** A float at its side of the container, or beside the one before it (CSS 2.2 §9.5.1). */
function floatPlace(analysis: Analysis, element: number, holder: number, axis: Axis, inner: Term[]): Term[] {
  const { tree, reading } = analysis;
  const container = flowParent(tree, element);
  const sides = flowSides(reading, Math.max(0, container));
  const areas = laidAreas(tree, element);
  const side: Side = /right|inline-end/.test(usedText(reading, 'float', element))
    ? sidesOf(sides.inline)[1]
    : sidesOf(sides.inline)[0];
  if (axis === sides.inline) {
    const [low, high] = sidesOf(axis);
    const { content } = laidAreas(tree, container);
    const near =
      side === low
        ? areas.rect[axis] - areas.margin[low] - content[axis]
        : content[axis] +
          sizeOf(content, axis) -
          areas.rect[axis] -
          sizeOf(areas.rect, axis) -
          areas.margin[high];
    const before = Math.abs(near) > 0.05 ? neighbour(analysis, element, axis, side) : -1;
    const beside =
      before < 0
        ? []
        : [
            term({
              px: near,
              what: 'float',
              rule: 'float-beside',
              box: before,
              note: `beside ${labelOf(reading, before)}, which floats to the same side`,
              links: [{ box: before, axis, area: 'border', rate: 1 }],
            }),
          ];
    if (side === low) return [...inner, ...beside, ...marginTerms(analysis, element, low, 1)];
    return [
      boxTerm(
        holder,
        axis,
        sizeOf(laid(analysis, holder), axis),
        'container',
        'room',
        labelOf(reading, holder),
      ),
      ...negated([
        ...edgeTerms(analysis, holder, high),
        ...scrollbarTerms(analysis, holder, high),
        ...beside,
        ...marginTerms(analysis, element, high, 1),
      ]),
      boxTerm(element, axis, sizeOf(areas.rect, axis), 'box', 'own', 'its own size', -1),
    ];
  }
  const blockFlow = blockFlowOf(analysis, container);
  const at = blockFlow.flow.floats.find((float) => float.element === element)?.after ?? 0;
  const out: Term[] = [];
  let count = 0;
  for (; (blockFlow.betweens[count]?.after ?? Infinity) < at; count++) {
    const between = blockFlow.betweens[count]!;
    out.push(
      ...betweenTerms(analysis, blockFlow, between).terms,
      ...itemTerms(analysis, blockFlow, between.after),
    );
  }
  const next = blockFlow.betweens[count];
  // Of the margins that meet around it, those before it have been counted when it is placed.
  const waiting =
    next && next.escapes !== 'start'
      ? betweenTerms(analysis, blockFlow, {
          ...next,
          margins: next.margins.filter((margin) => margin.element < element),
          clearance: null,
          escapes: null,
        }).terms
      : [];
  out.push(...waiting);
  const above = () => negated([...waiting, ...sinceFloat(analysis, blockFlow, count)]);
  const expected = sumOf(out) + areas.margin[sides.blockStart];
  const found = ahead(
    sides.blockStart,
    edgeOf(laidAreas(tree, container).content, sides.blockStart),
    edgeOf(areas.rect, sides.blockStart),
  );
  if (found - expected > 0.5) {
    const start = ahead(sides.blockStart, 0, edgeOf(laidAreas(tree, container).content, sides.blockStart));
    const edge = start + found - areas.margin[sides.blockStart];
    const line = (blockFlow.lines[at - 1] ?? []).find((line) => Math.abs(line.start - edge) < 0.05);
    const others = floatsBefore(analysis, element, sides);
    const startOf = (other: number) => {
      const { rect, margin } = laidAreas(tree, other);
      return ahead(sides.blockStart, 0, edgeOf(rect, sides.blockStart)) - margin[sides.blockStart];
    };
    const before = others.find(({ end }) => Math.abs(end - edge) < 0.05);
    const level = others.findLast((other) => Math.abs(startOf(other.element) - edge) < 0.05);
    const from = start + expected - areas.margin[sides.blockStart];
    const past = before ?? level;
    // Below another float that it does not fit beside, or beside a later line of the text that it stands in.
    if (past) {
      const flow = above();
      const size = before
        ? []
        : [
            boxTerm(past.element, axis, 0, 'float', 'own', '', -1),
            ...sidesOf(axis).flatMap((edgeSide) => marginTerms(analysis, past.element, edgeSide, -1)),
          ];
      out.push(
        term({
          px: edge - from,
          what: 'float',
          rule: 'below-float',
          box: past.element,
          note: before
            ? `below ${labelOf(reading, past.element)}, beside which it does not fit`
            : `no higher than ${labelOf(reading, past.element)}, which floats before it (CSS 2.2 §9.5.1)`,
          causes: [...flow, ...size].flatMap(({ causes = [] }) => causes),
          links: [
            { box: past.element, axis, area: 'reach', rate: 1, from: container },
            ...[...flow, ...size].flatMap(({ links = [] }) => links),
          ],
        }),
      );
    } else if (line)
      out.push(
        term({
          px: line.start - from,
          what: 'lines',
          rule: 'before',
          box: container,
          note: 'the lines before the one that it stands in',
        }),
      );
  }
  return [...inner, ...out, ...marginTerms(analysis, element, sides.blockStart, 1)];
}

/** The float beside which another stands. */
function neighbour({ tree, reading }: Analysis, element: number, axis: Axis, side: Side): number {
  const areas = laidAreas(tree, element);
  const [low, high] = sidesOf(axis);
  for (let at = element - 1; at >= 0; at--) {
    if (tree.kinds[at] !== 'float') continue;
    const other = laidAreas(tree, at);
    const touch =
      side === low
        ? other.rect[axis] +
          sizeOf(other.rect, axis) +
          other.margin[high] -
          (areas.rect[axis] - areas.margin[low])
        : other.rect[axis] -
          other.margin[low] -
          (areas.rect[axis] + sizeOf(areas.rect, axis) + areas.margin[high]);
    if (Math.abs(touch) < 0.05 && usedText(reading, 'float', at) === usedText(reading, 'float', element))
      return at;
  }
  return -1;
}

/** Columns, rows and spacing before a part of a table. */
function tablePlace(analysis: Analysis, element: number, holder: number, axis: Axis): Term[] {
  const { tree, reading } = analysis;
  const table = tableAbove(tree, element);
  if (table < 0) return [];
  const grid = tableGrid(tree, table);
  const low = lowSide(axis);
  const cell = cellOf(grid, element);
  const inner = holder === table ? edgeTerms(analysis, table, low) : [];
  const parts: Term[] = [];
  // Any cell that spans a column alone has that column's width.
  const before = Array.from({ length: axis === 'x' && cell ? cell.column : 0 }, (_, column) =>
    grid.cells.find((cell) => cell.column === column && cell.columns === 1),
  ).flatMap((cell) => cell ?? []);
  for (const { element: other } of before)
    parts.push(boxTerm(other, axis, laid(analysis, other).width, 'column', 'before', labelOf(reading, other)));
  if (axis === 'y' && tree.kinds[element] !== 'table-cell') {
    const siblings = Array.from(tree.children.subarray(tree.first[holder], tree.first[holder + 1])).filter(
      (box) => box < element && tree.kinds[box]!.startsWith('table-') && tree.kinds[box] !== 'table-column',
    );
    for (const other of siblings)
      parts.push(boxTerm(other, axis, laid(analysis, other).height, 'row', 'before', labelOf(reading, other)));
  }
  const count = haveRowsSpacing(reading)
    ? spacingsWithinRows(analysis, element, holder, axis, parts.length)
    : parts.length + (holder === table ? 1 : 0);
  const spacing = grid.spacing[axis] * count;
  return [
    ...inner,
    ...parts,
    ...(spacing
      ? [
          term({
            px: spacing,
            what: 'spacing',
            rule: 'declared',
            box: table,
            source: declaredOf(analysis, table, 'border-spacing').source,
            note: count > 1 ? `${count} times border-spacing` : 'border-spacing',
          }),
        ]
      : []),
  ];
}

/** How many times border-spacing is before a part of a table where rows and groups have it in their own boxes. */
function spacingsWithinRows(
  { tree }: Analysis,
  element: number,
  holder: number,
  axis: Axis,
  before: number,
): number {
  const kind = tree.kinds[element]!;
  if (kind === 'table-cell') return axis === 'x' ? before + 1 : 0;
  if (kind !== 'table-row' || axis === 'x') return 0;
  const table = tableAbove(tree, element);
  const isTop = tableGrid(tree, table).rows[0]?.group === holder;
  return before + (isTop || holder === table ? 1 : 0);
}

/** What `text-align` puts before a line: all or half of what the line leaves of its container's width. */
function lineAlignment(analysis: Analysis, container: number, rect: Rect, axis: Axis): Term | null {
  const { tree, reading } = analysis;
  const align = usedText(reading, 'text-align', container);
  const sides = flowSides(reading, container);
  const part = /center/.test(align) ? 0.5 : /right$|end$/.test(align) ? 1 : 0;
  if (part === 0 || !isLow(sides.inlineStart)) return null;
  const middle = ahead(sides.blockStart, 0, rect[sides.block] + sizeOf(rect, sides.block) / 2);
  const line = blockFlowOf(analysis, container)
    .lines.flat()
    .find(({ start, end }) => middle >= start - 1 && middle <= end + 1);
  const free = line ? sizeOf(laidAreas(tree, container).content, axis) - inlineExtent(line) : 0;
  if (free < 0.005) return null;
  return term({
    px: free * part,
    what: 'free',
    rule: 'text-align',
    box: container,
    source: declaredOf(analysis, container, 'text-align').source,
    note: `text-align ${align}: ${part === 1 ? '' : 'half of '}the ${px(free)} that its line leaves free`,
  });
}

/** What stands before an inline-level box in its line, and where its line is. */
function linePlace(analysis: Analysis, element: number, holder: number, axis: Axis): Term[] {
  const { tree, reading } = analysis;
  const container = flowParent(tree, element);
  const sides = flowSides(reading, Math.max(0, container));
  const ownRect = laid(analysis, element);
  if (axis === sides.block && tree.kinds[holder] === 'inline') {
    const between = ownRect[axis] - laid(analysis, holder)[axis];
    const { source } = declaredOf(analysis, element, 'vertical-align');
    const note = `vertical-align ${usedText(reading, 'vertical-align', element)}, against the baseline of ${labelOf(reading, holder)}`;
    return Math.abs(between) < 0.005
      ? []
      : [term({ px: between, what: 'line', rule: 'aligned', box: element, source, note })];
  }
  if (axis === sides.block) {
    const blockFlow = blockFlowOf(analysis, container);
    const start = ahead(sides.blockStart, 0, edgeOf(ownRect, sides.blockStart));
    const middle = start + sizeOf(ownRect, axis) / 2;
    const shift = shiftTerms(analysis, blockFlow);
    let above = 0;
    for (const between of blockFlow.betweens) {
      const index = between.after;
      above += sumOf(betweenTerms(analysis, blockFlow, between).terms);
      const lines = blockFlow.lines[index] ?? [];
      const line = lines.findIndex((line) => middle >= line.start - 1 && middle <= line.end + 1);
      if (line >= 0) {
        const before = lines.slice(0, line).reduce((sum, line) => sum + line.end - line.start, 0);
        const inLine = start - lines[line]!.start;
        return [
          ...shift,
          ...(above + before
            ? [
                term({
                  px: above + before,
                  what: 'lines',
                  rule: 'before',
                  box: container,
                  note: 'what lies above its line',
                }),
              ]
            : []),
          ...(Math.abs(inLine) > 0.005
            ? [
                term({
                  px: inLine,
                  what: 'line',
                  rule: 'aligned',
                  box: element,
                  source: declaredOf(analysis, element, 'vertical-align').source,
                  note: `vertical-align ${usedText(reading, 'vertical-align', element)}: its place in the line`,
                }),
              ]
            : []),
        ];
      }
      if (blockFlow.items[index]) above += sumOf(itemTerms(analysis, blockFlow, index));
    }
    return [];
  }
  const parts: Term[] = [];
  const margin = marginTerms(analysis, element, sides.inlineStart, 1);
  let text = 0;
  const across = axis === 'x' ? 'y' : 'x';
  const inLine = (rect: Rect) =>
    rect[across] < ownRect[across] + sizeOf(ownRect, across) - 0.5 &&
    rect[across] + sizeOf(rect, across) > ownRect[across] + 0.5;
  const place = (rect: Rect) => rect[axis];
  const visit = (owner: number) => {
    for (const node of contentsOf(tree, owner)) {
      if (node.what === 'text') {
        for (const piece of node.pieces)
          if (inLine(piece) && place(piece) < ownRect[axis] - 0.05) text += sizeOf(piece, axis);
      } else if (
        node.what === 'element' &&
        node.element < element &&
        inLine(laid(analysis, node.element)) &&
        /^(inline|atom)$/.test(levelOf(tree, node.element))
      ) {
        parts.push(
          boxTerm(
            node.element,
            axis,
            sizeOf(laid(analysis, node.element), axis),
            'inline',
            'before',
            labelOf(reading, node.element),
          ),
        );
        for (const side of sidesOf(axis)) parts.push(...marginTerms(analysis, node.element, side, 1));
      }
    }
  };
  visit(holder);
  if (text)
    parts.push(
      term({ px: text, what: 'text', rule: 'before', box: holder, note: 'text before it in its line' }),
    );
  const aligned = lineAlignment(analysis, container, ownRect, axis);
  return aligned && tree.kinds[holder] !== 'inline' ? [aligned, ...parts, ...margin] : [...parts, ...margin];
}
