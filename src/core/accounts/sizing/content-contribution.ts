/** What makes the content of a box as wide as it is: the widest of what lies in it, and what that goes along with (Sizing 3 §5). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { layoutOf, isMainAxisVertical } from '../../boxes/formatting-contexts.ts';
import { flowOf, type InlineNode } from '../../boxes/flow.ts';
import { gapOf } from '../../boxes/grid-tracks.ts';
import { inlineExtent, linesOf } from '../../boxes/line-boxes.ts';
import { flowSides, sizeOf } from '../../geometry/writing-modes.ts';
import { layoutPiece } from '../../boxes/transforms.ts';
import { frames, usedPx, usedText } from '../../boxes/tree.ts';
import { same, sidesOf, type Axis } from '../../geometry/rect.ts';
import { declaredOf } from './declared.ts';
import { hasPercent, isAuto } from './percentage-definiteness.ts';
import { bothEdges, inheritedCauses, marginTerms, once, sizeProperty } from '../model/term-builders.ts';
import { trackTerms } from '../grid/grid.ts';
import { allColumns } from '../table/table-columns.ts';
import { isTable } from '../../boxes/table-grid.ts';
import { declaredTerms } from './size.ts';
import { atLeast } from './indefinite-height.ts';
import { sumOf, term, type Cause, type Link, type Rival, type Term } from '../model/term.ts';

export interface Extent {
  px: number;
  /** The box that reaches furthest; the box itself where it is its text. */
  box: number;
  causes: Cause[];
  links: Link[];
  rivals: Rival[];
}

const add = (a: Extent, b: Extent): Extent => ({
  px: a.px + b.px,
  box: a.px >= b.px ? a.box : b.box,
  causes: [...a.causes, ...b.causes],
  links: [...a.links, ...b.links],
  rivals: [...a.rivals, ...b.rivals],
});
/** The one that reaches furthest; the others are its rivals. */
function widest(all: Extent[], otherwise: Extent): Extent {
  const best = all.reduce((most, extent) => (extent.px > most.px + 0.01 ? extent : most), otherwise);
  const others = all
    .filter((extent) => extent !== best)
    .map((extent): Rival => ({ terms: [asTerm(extent)], tie: same(extent.px, best.px) }));
  return others.length > 0 ? { ...best, rivals: [...best.rivals, ...others] } : best;
}

const asTerm = ({ px, box, causes, links, rivals }: Extent): Term =>
  term({ px, what: 'content', rule: 'content', box, causes, links, rivals });

/** Extent of what is in a box along its inline axis, as it lies; without the box's own edges. */
export function contentExtent(analysis: Analysis, element: number): Extent {
  return once(analysis, `extent ${element}`, () => makeInner(analysis, element));
}

function makeInner(analysis: Analysis, element: number): Extent {
  const { tree, reading } = analysis;
  const axis = flowSides(reading, element).inline;
  const none: Extent = { px: 0, box: element, causes: [], links: [], rivals: [] };
  const layout = layoutOf(tree, element);
  if (layout === 'grid') return fromTerms(element, trackTerms(analysis, element, 'columns', 0, Infinity));
  if (isTable(tree, element)) return fromTerms(element, allColumns(analysis, element));
  if (layout !== 'flow' && layout !== 'lines' && layout !== 'flex') return none;
  const { items, floats } = flowOf(tree, element);
  const list = items.map((item): Extent => {
    if (item.what === 'block') return outerContribution(analysis, item.element, axis);
    if (item.what === 'generated') return none;
    return widest(lineExtents(analysis, element, item.nodes, axis), none);
  });
  if (layout === 'flex' && !isMainAxisVertical(analysis, element)) {
    const gap = gapOf(tree, element, 'column-gap', laidAreas(tree, element).content[sizeProperty(axis)]);
    const gaps = Math.max(0, list.length - 1);
    const sum = list.reduce(add, none);
    const causes = gap ? [{ box: element, property: 'column-gap', rate: gaps }] : [];
    return { ...sum, px: sum.px + gap * gaps, causes: [...sum.causes, ...causes] };
  }
  const floating = floats
    .map(({ element: float }) => outerContribution(analysis, float, axis))
    .reduce(add, none);
  return widest([...list, floating], none);
}

const fromTerms = (box: number, terms: Term[]): Extent => ({
  px: sumOf(terms),
  box,
  causes: terms.flatMap(({ causes = [] }) => causes),
  links: terms.flatMap(({ links = [] }) => links),
  rivals: terms.flatMap(({ rivals = [] }) => rivals),
});

function lineExtents(analysis: Analysis, container: number, nodes: InlineNode[], axis: Axis): Extent[] {
  const { tree } = analysis;
  const lines = linesOf(tree, container, nodes);
  const along = lines.map((line): Extent => ({
    px: inlineExtent(line),
    box: container,
    causes: [],
    links: [],
    rivals: [],
  }));
  const sides = flowSides(analysis.reading, container);
  for (const node of nodes) {
    if (node.what === 'text') {
      const size = usedPx(analysis.reading, 'font-size', node.owner);
      for (const piece of node.pieces) {
        const laid = layoutPiece(frames(tree), node.owner, piece);
        const middle = axis === 'x' ? laid.y + laid.height / 2 : laid.x + laid.width / 2;
        const place = sides.blockStart === 'right' ? -middle : middle;
        const home = along[lines.findIndex(({ start, end }) => place > start - 0.5 && place < end + 0.5)];
        home?.causes.push(...inheritedCauses(analysis, node.owner, 'font-size', sizeOf(laid, axis) / size));
      }
      continue;
    }
    if (node.what !== 'atom' && node.what !== 'box') continue;
    const { rect } = laidAreas(tree, node.element);
    const centre = axis === 'x' ? rect.y + rect.height / 2 : rect.x + rect.width / 2;
    const at = sides.blockStart === 'right' ? -centre : centre;
    const home = along[lines.findIndex(({ start, end }) => at > start - 0.5 && at < end + 0.5)];
    if (!home) continue;
    if (node.what === 'atom') home.links.push({ box: node.element, axis, area: 'border', rate: 1 });
    else home.causes.push(...bothEdges(analysis, node.element, axis).flatMap(({ causes = [] }) => causes));
    for (const side of sidesOf(axis))
      home.causes.push(...marginTerms(analysis, node.element, side, 1).flatMap(({ causes = [] }) => causes));
  }
  return along;
}

/** What a box with its margins asks of the one around it: its declared size, or its edges and what is in it. */
export function outerContribution(analysis: Analysis, element: number, axis: Axis): Extent {
  const { tree, reading } = analysis;
  const { rect } = laidAreas(tree, element);
  const property = sizeProperty(axis);
  const value = declaredOf(analysis, element, property).value;
  const margins = sidesOf(axis).flatMap((side) => marginTerms(analysis, element, side, 1));
  const causes = margins.flatMap((margin) => margin.causes ?? []);
  const links = margins.flatMap((margin) => margin.links ?? []);
  const spread = sumOf(margins.filter(({ rule }) => rule !== 'auto-margin'));
  const fixed = !isAuto(value) && !hasPercent(value);
  const layout = layoutOf(tree, element);
  const across = flowSides(reading, element).inline !== axis;
  if (fixed || across || !['flow', 'flex', 'lines'].includes(layout) || isClamped(analysis, element, axis))
    return fixed && tree.kinds[element] === 'flex-item'
      ? fromTerms(element, [
          ...atLeast(analysis, element, axis, declaredTerms(analysis, element, axis, property)),
          ...margins,
        ])
      : {
          px: rect[property] + spread,
          box: element,
          causes,
          links: [...links, { box: element, axis, area: 'border', rate: 1 }],
          rivals: [],
        };
  const edges = bothEdges(analysis, element, axis);
  const inner = contentExtent(analysis, element);
  return {
    px: inner.px + sumOf(edges) + spread,
    box: element,
    causes: [...causes, ...edges.flatMap((edge) => edge.causes ?? []), ...inner.causes],
    links: [...links, ...edges.flatMap((edge) => edge.links ?? []), ...inner.links],
    rivals: inner.rivals,
  };
}

/** Whether a minimum or maximum in px gives the box its size. */
function isClamped(analysis: Analysis, element: number, axis: Axis): boolean {
  const { reading, tree } = analysis;
  const { rect } = laidAreas(tree, element);
  const property = sizeProperty(axis);
  return ['min', 'max'].some((bound) => {
    const text = reading.strings[reading.computed[`${bound}-${property}`]?.[element] ?? -1] ?? '';
    const size = /^[\d.]+px$/.test(text) ? Number.parseFloat(text) : NaN;
    const edges =
      usedText(reading, 'box-sizing', element) === 'border-box' ? 0 : sumOf(bothEdges(analysis, element, axis));
    return Math.abs(size + edges - rect[property]) < 0.05 && size > 0;
  });
}
