/** Where flex and grid items lie in their containers: what stands before them, and what alignment adds (Flexbox 1 §8; Grid 2 §11; Box Alignment 3 §5, §6). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { boxAbove } from '../../boxes/formatting-contexts.ts';
import { areaOf, distribute } from '../../boxes/grid-tracks.ts';
import { flowSides, sizeOf } from '../../geometry/writing-modes.ts';
import { usedText } from '../../boxes/tree.ts';
import { px, sidesOf, type Axis } from '../../geometry/rect.ts';
import { declaredOf } from '../sizing/declared.ts';
import { baselineShift } from './flex.ts';
import { flexOf, mainSides } from './flex-lines.ts';
import { trackTerms } from '../grid/grid.ts';
import { boxTerm, marginTerms } from '../model/term-builders.ts';
import { alignSelf } from '../sizing/percentage-definiteness.ts';
import { sumOf, term, type Term } from '../model/term.ts';
import { isLow } from '../positioned/placement.ts';

/** In a flex container a positioned box stands as if it were the only item (Flexbox 1 §4.1). */
export function flexStatic(analysis: Analysis, element: number, parent: number, axis: Axis): Term[] {
  const { tree, reading } = analysis;
  const { main } = mainSides(analysis, parent);
  const areas = laidAreas(tree, element);
  const [low, high] = sidesOf(axis);
  const free =
    sizeOf(laidAreas(tree, parent).content, axis) -
    sizeOf(areas.rect, axis) -
    areas.margin[low] -
    areas.margin[high];
  const word = axis === main ? usedText(reading, 'justify-content', parent) : alignSelf(analysis, element);
  const part = /center|space-around|space-evenly/.test(word) ? 0.5 : /end$/.test(word) ? 1 : 0;
  const property = axis === main ? 'justify-content' : 'align-items';
  return [
    ...marginTerms(analysis, element, low, 1),
    ...(part
      ? [
          term({
            px: free * part,
            what: 'free',
            rule: 'aligned',
            box: parent,
            source: declaredOf(analysis, parent, property).source,
            note: `${property} ${word}: as if it were the only item`,
          }),
        ]
      : []),
  ];
}

/** What stands before a flex item in its line, and what alignment puts there. */
export function flexPlace(analysis: Analysis, element: number, axis: Axis): Term[] {
  const { tree, reading } = analysis;
  const container = boxAbove(tree, element);
  const box = flexOf(analysis, container);
  const { content } = laidAreas(tree, container);
  const line = box.lines.find(({ items }) => items.some((item) => item.element === element));
  if (!line) return [];
  const [low, high] = sidesOf(axis);
  const areas = laidAreas(tree, element);
  if (axis === box.main) {
    const { start } = mainSides(analysis, container);
    const index = line.items.findIndex((item) => item.element === element);
    const before = isLow(start) ? line.items.slice(0, index) : line.items.slice(index + 1);
    const used = line.items.reduce(
      (sum, item) => sum + sumOf(item.margins) + item.target,
      box.gap * (line.items.length - 1),
    );
    const free = sizeOf(content, axis) - used;
    const justify = usedText(reading, 'justify-content', container);
    const autos = line.items.flatMap((item) =>
      item.element < 0
        ? []
        : sidesOf(axis)
            .filter((side) => /^auto$/i.test(declaredOf(analysis, item.element, `margin-${side}`).value))
            .map((side) => ({ item, side })),
    );
    const shares = distribute(
      /^(normal|stretch)$/.test(justify) ? 'start' : justify,
      autos.length > 0 || Math.abs(free) < 0.05 ? 0 : free,
      line.items.length,
    );
    const lead = isLow(start) ? shares.before : free - shares.before - shares.between * (line.items.length - 1);
    const auto =
      autos.length > 0 && free > 0
        ? (free / autos.length) *
          autos.filter(({ item, side }) => before.includes(item) || (item.element === element && side === low))
            .length
        : 0;
    const extra = autos.length > 0 ? auto : (Math.abs(free) < 0.05 ? 0 : lead) + shares.between * before.length;
    return [
      ...before.flatMap((item) => [
        ...(item.element < 0
          ? item.base
          : [boxTerm(item.element, axis, item.target, 'sibling', 'before', item.label)]),
        ...item.margins,
      ]),
      ...(before.length > 0 && box.gap
        ? [
            term({
              px: box.gap * before.length,
              what: 'gap',
              rule: 'declared',
              box: container,
              source: declaredOf(
                analysis,
                container,
                axis === flowSides(reading, container).inline ? 'column-gap' : 'row-gap',
              ).source,
              note: before.length > 1 ? `${before.length} gaps of ${px(box.gap)}` : '',
            }),
          ]
        : []),
      ...(Math.abs(extra) > 0.005
        ? [
            term({
              px: extra,
              what: 'free',
              rule: autos.length > 0 ? 'auto-margin' : 'aligned',
              box: container,
              source: declaredOf(analysis, container, 'justify-content').source,
              note:
                autos.length > 0
                  ? `what auto margins take of the ${px(free)} that are free`
                  : `justify-content ${justify} gives it of the ${px(free)} that are free`,
            }),
          ]
        : []),
      ...(isLow(low)
        ? marginTerms(analysis, element, low, 1).filter(({ rule }) => rule !== 'auto-margin')
        : []),
    ];
  }
  const align = alignSelf(analysis, element).replace(/^(safe|unsafe|first|last) /, '');
  const room =
    box.wraps && box.lines.length > 1
      ? lineRoom(analysis, box.lines.indexOf(line), box, axis)
      : { start: 0, size: sizeOf(content, axis) };
  const free = room.size - sizeOf(areas.rect, axis) - areas.margin[low] - areas.margin[high];
  const part = align === 'center' ? 0.5 : /^(flex-end|end|self-end)$/.test(align) ? 1 : 0;
  const auto = sidesOf(axis).map((side) =>
    /^auto$/i.test(declaredOf(analysis, element, `margin-${side}`).value),
  );
  const freeShare = auto[0] || auto[1] ? 0 : free * part;
  const stands = /baseline$/.test(align) ? baselineShift(analysis, box, line, element) : 0;
  return [
    ...(Math.abs(stands) > 0.005
      ? [
          term({
            px: stands,
            what: 'baseline',
            rule: 'baseline',
            box: element,
            source: declaredOf(analysis, element, 'align-self').source,
            note: 'so that it stands on the baseline of its line',
          }),
        ]
      : []),
    ...(room.start
      ? [term({ px: room.start, what: 'lines', rule: 'before', box: container, note: 'the flex lines before' })]
      : []),
    ...(Math.abs(freeShare) > 0.005
      ? [
          term({
            px: freeShare,
            what: 'free',
            rule: 'aligned',
            box: container,
            source: declaredOf(analysis, element, 'align-self').source,
            note: `align-self ${align}: ${px(part)} of the ${px(free)} that its line leaves`,
          }),
        ]
      : []),
    ...marginTerms(analysis, element, low, 1),
  ];
}

/** Where a flex line begins, from the content edge, and how much room it has across. */
function lineRoom(
  analysis: Analysis,
  index: number,
  box: ReturnType<typeof flexOf>,
  axis: Axis,
): { start: number; size: number } {
  const { tree } = analysis;
  const [low, high] = sidesOf(axis);
  const { content } = laidAreas(tree, box.container);
  const extent = box.lines.map(({ items }) => {
    const edges = items
      .filter(({ element }) => element >= 0)
      .map(({ element }) => {
        const { rect, margin } = laidAreas(tree, element);
        return [rect[axis] - margin[low], rect[axis] + sizeOf(rect, axis) + margin[high]] as const;
      });
    return [Math.min(...edges.map(([from]) => from)), Math.max(...edges.map(([, to]) => to))] as const;
  });
  const [from, to] = extent[index]!;
  return { start: from - content[axis], size: to - from };
}

/** The tracks before a grid item, and its place in its area. */
export function gridPlace(analysis: Analysis, element: number, axis: Axis): Term[] {
  const { tree, reading } = analysis;
  const area = areaOf(tree, element);
  if (!area) return [];
  const sides = flowSides(reading, area.container);
  const which = area.columns.axis === axis ? 'columns' : 'rows';
  const tracks = area[which];
  const span = which === 'columns' ? area.column : area.row;
  const start = which === 'columns' ? sides.inlineStart : sides.blockStart;
  const [low, high] = sidesOf(axis);
  const areas = laidAreas(tree, element);
  const size = sizeOf(area.rect, axis);
  const free = size - sizeOf(areas.rect, axis) - areas.margin[low] - areas.margin[high];
  const self =
    which === 'columns'
      ? (['justify-self', 'justify-items'] as const)
      : (['align-self', 'align-items'] as const);
  const word = usedText(reading, self[0], element);
  const align = (word === '' || word === 'auto' ? usedText(reading, self[1], area.container) : word).replace(
    /^(safe|unsafe|first|last) /,
    '',
  );
  const part = align === 'center' ? 0.5 : /^(end|flex-end|self-end|right)$/.test(align) ? 1 : 0;
  const autos = sidesOf(axis).map((side) =>
    /^auto$/i.test(declaredOf(analysis, element, `margin-${side}`).value),
  );
  const freeShare = autos[0] || autos[1] ? 0 : free * (isLow(start) ? part : 1 - part);
  const { content } = laidAreas(tree, area.container);
  const count = isLow(start) ? span.first : tracks.sizes.length - 1 - span.last;
  const [from, to] = isLow(start) ? [0, span.first - 1] : [span.last + 1, tracks.sizes.length - 1];
  const before = count > 0 ? trackTerms(analysis, area.container, which, from, to) : [];
  const lead = isLow(start)
    ? tracks.before
    : sizeOf(content, axis) - tracks.before - (tracks.starts.at(-1)! - tracks.before + tracks.sizes.at(-1)!);
  const next = count > 0 ? tracks.gap + tracks.between : 0;
  return [
    ...(Math.abs(lead) > 0.005
      ? [
          term({
            px: lead,
            what: 'free',
            rule: 'aligned',
            box: area.container,
            note: 'free space before the tracks',
          }),
        ]
      : []),
    ...before,
    ...(next
      ? [
          term({
            px: next,
            what: 'gap',
            rule: 'declared',
            box: area.container,
            source: declaredOf(analysis, area.container, which === 'columns' ? 'column-gap' : 'row-gap').source,
            note: 'the gap before its track',
          }),
        ]
      : []),
    ...(Math.abs(freeShare) > 0.005
      ? [
          term({
            px: freeShare,
            what: 'free',
            rule: 'aligned',
            box: element,
            source: declaredOf(analysis, element, self[0]).source,
            note: `${self[0]} ${align}: ${px(freeShare)} of the ${px(free)} that its area leaves`,
          }),
        ]
      : []),
    ...marginTerms(analysis, element, low, 1),
  ];
}
