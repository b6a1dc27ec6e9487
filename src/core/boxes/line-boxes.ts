/** Line boxes of a run of inline content: which lie in each, and which of them make it as tall as it is (CSS Inline 3 §2, §5). */
import { fontKey, type FontMeasures } from '../reading/contents.ts';
import { flowOf, type InlineNode } from './flow.ts';
import { cutOff, layoutUnit } from './areas.ts';
import { layoutOf } from './formatting-contexts.ts';
import { isReplaced } from './kinds.ts';
import { edgeOf, flowSides, type FlowSides } from '../geometry/writing-modes.ts';
import { layoutPiece } from './transforms.ts';
import { sidesOf, type Axis, type Rect, type Side } from '../geometry/rect.ts';
import {
  attribute,
  computedText,
  edgesOf,
  frames,
  inside,
  laidOut,
  pxOf,
  usedPx,
  usedText,
  type BoxTree,
} from './tree.ts';
import { tagOf } from '../reading/labels.ts';

/** What gives a line its upper or lower edge. `strut`: the block container's own font and line height. */
export interface Maker {
  what: 'strut' | 'text' | 'box' | 'atom';
  element: number;
  /** Extent across the lines, in CSS px from the container's block start side. */
  start: number;
  end: number;
}

export interface Line {
  /** Positions along the block axis, growing from its start; both come from the makers. */
  start: number;
  end: number;
  baseline: number;
  above: Maker;
  below: Maker;
  makers: Maker[];
  /** Extent along the inline axis of what lies in the line. */
  from: number;
  to: number;
}

/** A rectangle in flow-relative coordinates: along the inline axis from `i0` to `i1`, along the block axis from `b0` to `b1`. */
interface Placed {
  i0: number;
  i1: number;
  b0: number;
  b1: number;
}

function place(rect: Rect, sides: FlowSides): Placed {
  const along = (start: 'inlineStart' | 'blockStart', end: 'inlineEnd' | 'blockEnd'): [number, number] => {
    const [from, to] = [edgeOf(rect, sides[start]), edgeOf(rect, sides[end])];
    return from <= to ? [from, to] : [-from, -to];
  };
  const reversed = (side: string) => side === 'right' || side === 'bottom';
  const [i0, i1] = reversed(sides.inlineStart)
    ? [-edgeOf(rect, sides.inlineStart), -edgeOf(rect, sides.inlineEnd)]
    : along('inlineStart', 'inlineEnd');
  const [b0, b1] = reversed(sides.blockStart)
    ? [-edgeOf(rect, sides.blockStart), -edgeOf(rect, sides.blockEnd)]
    : along('blockStart', 'blockEnd');
  return { i0, i1, b0, b1 };
}

const NO_FONT: FontMeasures = { ascent: 0, descent: 0, line: 0, xHeight: 0, zero: 0, space: 0 };

export interface Metrics {
  ascent: number;
  descent: number;
  lineHeight: number;
  xHeight: number;
  /** Parts of a px that half of what a line height adds is rounded down to. */
  leadingUnit: number;
}

/** Parts of a px that line heights are cut off to: layout units, and in WebKit whole px. */
const lineUnit = (reading: BoxTree['reading']): number =>
  reading.engine.name === 'webkit' ? 1 : layoutUnit(reading);

/** Ascent and descent are taken about the middle in vertical lines (Writing Modes 4 §4.2). */
function metrics(
  font: FontMeasures,
  lineHeight: string,
  sides: FlowSides,
  reading: BoxTree['reading'],
): Metrics {
  const height = font.ascent + font.descent;
  const vertical = sides.block === 'x';
  const ascent = vertical ? Math.ceil(height / 2) : font.ascent;
  const used = pxOf(lineHeight);
  return {
    ascent,
    descent: height - ascent,
    lineHeight: Number.isNaN(used) ? font.line : cutOff(used, lineUnit(reading)),
    xHeight: font.xHeight,
    leadingUnit: reading.engine.name === 'firefox' ? layoutUnit(reading) : 1,
  };
}

export function metricsOf(tree: BoxTree, element: number, sides = flowSides(tree.reading, element)): Metrics {
  const font = inside(tree).fonts.get(fontKey(tree.reading, element)) ?? NO_FONT;
  return metrics(font, usedText(tree.reading, 'line-height', element), sides, tree.reading);
}

/** Room over the baseline that a line gives to text: the ascent and half of what its line height adds; engines round it down. */
export const above = ({ ascent, descent, lineHeight, leadingUnit }: Metrics): number =>
  ascent + Math.floor(((lineHeight - ascent - descent) / 2) * leadingUnit + 0.001) / leadingUnit;

/** Whether a line break's own box is as tall as its line, and not as its font. */
export const isBreakAsTallAsLine = (reading: BoxTree['reading'], element: number): boolean =>
  reading.engine.name === 'firefox' && tagOf(reading, element) === 'br';

/** How far an inline box's baseline lies over its parent's; NaN where it is aligned to its line (CSS 2.2 §10.8.1). */
function raise(tree: BoxTree, element: number): number {
  const align = usedText(tree.reading, 'vertical-align', element);
  if (align === 'baseline' || align === '') return 0;
  const size = usedPx(tree.reading, 'font-size', tree.reading.parent[element]!);
  // The standard leaves how far to engines (CSS 2.2 §10.8.1); this is what they take.
  if (align === 'sub') return -(cutOff(size, 64) / 5 + 1);
  if (align === 'super') return cutOff(size, 64) / 3 + 1;
  if (!/^(middle|text-top|text-bottom)$/.test(align)) return pxOf(align);
  const metrics = metricsOf(tree, element);
  const around = metricsOf(tree, tree.reading.parent[element]!);
  if (align === 'text-top') return around.ascent - above(metrics);
  const low = metrics.lineHeight - above(metrics);
  return align === 'text-bottom' ? low - around.descent : (low - above(metrics) + around.xHeight) / 2;
}

/** Whether an inline-level box, or one around it in its line, is aligned to the top or bottom of the line. */
export function isLineAligned(tree: BoxTree, element: number, container: number): boolean {
  for (let at = element; at >= 0 && at !== container; at = tree.reading.parent[at]!)
    if (/^(top|bottom)$/.test(usedText(tree.reading, 'vertical-align', at))) return true;
  return false;
}

/** Sum of the raises from an element up to the container; NaN where one of them cannot be told. */
function raised(tree: BoxTree, element: number, container: number): number {
  let sum = 0;
  for (let at = element; at >= 0 && at !== container; at = tree.reading.parent[at]!)
    if (tree.kinds[at] !== 'contents') sum += raise(tree, at);
  return sum;
}

interface Fragment extends Placed {
  maker: Maker;
  /** The line's own baseline as this fragment tells it; NaN where it does not. */
  baseline: number;
}

function textFragment(tree: BoxTree, container: number, owner: number, rect: Rect, sides: FlowSides): Fragment {
  const at = place(layoutPiece(frames(tree), owner, rect), sides);
  const metrics = metricsOf(tree, owner, sides);
  const start = at.b0 + metrics.ascent - above(metrics);
  return {
    ...at,
    maker: {
      what: owner === container ? 'strut' : 'text',
      element: owner,
      start,
      end: start + metrics.lineHeight,
    },
    baseline: at.b0 + metrics.ascent + raised(tree, owner, container),
  };
}

function boxFragments(tree: BoxTree, container: number, element: number, sides: FlowSides): Fragment[] {
  const pieces = inside(tree).fragments.get(element) ?? [laidOut(tree, element)];
  const { reading } = tree;
  const edges = (property: 'padding' | 'border-width') => edgesOf(reading, property, element)[sides.blockStart];
  const over = edges('padding') + edges('border-width');
  // A line break has the font of what it stands in, whatever it says itself.
  const font = tagOf(reading, element) === 'br' ? reading.parent[element]! : element;
  return pieces.map((rect) => {
    const at = place(layoutPiece(frames(tree), element, rect), sides);
    const metrics = metricsOf(tree, font, sides);
    const ascent = isBreakAsTallAsLine(reading, element) ? above(metrics) : metrics.ascent;
    const start = at.b0 + over + ascent - above(metrics);
    return {
      ...at,
      maker: {
        what: font === container ? 'strut' : 'box',
        element: font,
        start,
        end: start + metrics.lineHeight,
      },
      baseline: at.b0 + over + ascent + raised(tree, element, container),
    };
  });
}

/** The baseline of an atomic inline: its last line's, or its margin's end where it has none or hides what overflows. */
function atomBaseline(
  tree: BoxTree,
  element: number,
  box: Placed,
  margin: [number, number],
  sides: FlowSides,
): number {
  const end = box.b1 + margin[1];
  if (tree.kinds[element] === 'inline-replaced') return controlBaseline(tree, element, box, sides) ?? end;
  if (layoutOf(tree, element) === 'flex' || layoutOf(tree, element) === 'grid')
    return firstBaseline(tree, element, sides);
  return showsLines(tree, element) ? (lastHome(tree, element)?.baseline ?? end) : end;
}

const showsLines = (tree: BoxTree, element: number): boolean =>
  /^(visible|clip)$/.test(usedText(tree.reading, 'overflow', element));

/** The line whose baseline a box takes for its own. `item` −1: no line but an edge of the box itself. */
export interface Home {
  box: number;
  item: number;
  line: number;
  baseline: number;
}

/** The line on whose baseline an inline-level box stands; null: it stands on its margin edge. */
export function atomHome(tree: BoxTree, element: number): Home | null {
  if (tree.kinds[element] === 'inline-replaced') return null;
  const layout = layoutOf(tree, element);
  if (layout === 'flex' || layout === 'grid') return firstHome(tree, element, flowSides(tree.reading, element));
  return showsLines(tree, element) ? lastHome(tree, element) : null;
}

/** The last line in a block container; null where it has none (CSS 2.2 §10.8.1). */
function lastHome(tree: BoxTree, element: number): Home | null {
  const layout = layoutOf(tree, element);
  if (layout === 'flex' || layout === 'grid' || layout === 'table')
    return { box: element, item: -1, line: -1, baseline: NaN };
  const { items } = flowOf(tree, element);
  for (let index = items.length - 1; index >= 0; index--) {
    const item = items[index]!;
    if (item.what === 'lines') {
      const lines = linesOf(tree, element, item.nodes);
      return { box: element, item: index, line: lines.length - 1, baseline: lines.at(-1)?.baseline ?? NaN };
    }
    if (item.what !== 'block') continue;
    const inner = lastHome(tree, item.element);
    if (inner && !Number.isNaN(inner.baseline)) return inner;
  }
  return null;
}

/** A field's text stands in the middle of its content box; other controls have no text of their own; null: no such control. */
function controlBaseline(tree: BoxTree, element: number, box: Placed, sides: FlowSides): number | null {
  const { reading } = tree;
  const tag = tagOf(reading, element);
  if (tag !== 'input' && tag !== 'select') return null;
  const metrics = metricsOf(tree, element, sides);
  const edges = (side: 'blockStart' | 'blockEnd') =>
    edgesOf(reading, 'padding', element)[sides[side]] + edgesOf(reading, 'border-width', element)[sides[side]];
  if (/^(checkbox|radio|range|color|image)$/i.test(attribute(tree, element, 'type') ?? '')) return null;
  const [top, bottom] = [box.b0 + edges('blockStart'), box.b1 - edges('blockEnd')];
  return Math.round((top + bottom - metrics.ascent - metrics.descent) / 2 - top) + top + metrics.ascent;
}

/**
 * The first baseline of a box along its block axis; NaN where it has none. That of a flex container is its first item's,
 * or the end of that item's border box (Flexbox 1 §8.5; Box Alignment 3 §9.1).
 */
export const firstBaseline = (tree: BoxTree, element: number, sides: FlowSides): number =>
  firstHome(tree, element, sides)?.baseline ?? NaN;

/** The first line of a box, or the edge that stands for it; null: it has no baseline. */
export function firstHome(tree: BoxTree, element: number, sides: FlowSides): Home | null {
  const edge = (box: number, baseline: number | null): Home | null =>
    baseline === null ? null : { box, item: -1, line: -1, baseline };
  const at = place(laidOut(tree, element), sides);
  if (isReplaced(tree.reading, element)) return edge(element, controlBaseline(tree, element, at, sides));
  const layout = layoutOf(tree, element);
  const aligned = layout === 'flex' || layout === 'grid';
  const items = [...flowOf(tree, element).items.entries()];
  // Where items run backwards, engines begin with the one that they come to last.
  if (layout === 'flex' && usedText(tree.reading, 'flex-direction', element).endsWith('-reverse'))
    items.reverse();
  for (const [index, item] of items) {
    if (item.what === 'lines') {
      const line = linesOf(tree, element, item.nodes)[0];
      if (line && !Number.isNaN(line.baseline))
        return { box: element, item: index, line: 0, baseline: line.baseline };
    }
    if (item.what !== 'block') continue;
    const inner = firstHome(tree, item.element, sides);
    if (inner) return inner;
    if (aligned) return edge(item.element, place(laidOut(tree, item.element), sides).b1);
  }
  return null;
}

function atomFragment(tree: BoxTree, container: number, element: number, sides: FlowSides): Fragment {
  const { reading } = tree;
  const at = place(laidOut(tree, element), sides);
  const offset = relativeOffset(tree, element, sides);
  at.b0 -= offset;
  at.b1 -= offset;
  const edges = edgesOf(reading, 'margin', element);
  const margin: [number, number] = [edges[sides.blockStart], edges[sides.blockEnd]];
  const [start, end] = [at.b0 - margin[0], at.b1 + margin[1]];
  const align = usedText(reading, 'vertical-align', element);
  const parent = reading.parent[element]!;
  const up = parent === container ? 0 : raised(tree, parent, container);
  const around = metricsOf(tree, parent, sides);
  const length = align === 'baseline' || align === '' ? 0 : pxOf(align);
  const ownShift = Number.isNaN(length)
    ? {
        middle: (start + end) / 2 + around.xHeight / 2,
        'text-top': start + around.ascent,
        'text-bottom': end - around.descent,
      }[align]
    : atomBaseline(tree, element, at, margin, sides) + length;
  const [m0, m1] = [edges[sides.inlineStart], edges[sides.inlineEnd]];
  return {
    i0: at.i0 - m0,
    i1: at.i1 + m1,
    b0: start,
    b1: end,
    maker: { what: 'atom', element, start, end },
    baseline: (ownShift ?? NaN) + up,
  };
}

/** How far `position: relative` moves a box along the block axis, from its start. */
export function relativeOffset(tree: BoxTree, element: number, sides: FlowSides): number {
  const { px } = relativeShift(tree, element, sides.block);
  return sides.blockStart === sidesOf(sides.block)[0] ? px : -px;
}

/** How far `position: relative` moves a box along an axis, to the right or down, and the inset that says so (CSS 2.2 §9.4.3). */
export function relativeShift(tree: BoxTree, element: number, axis: Axis): { px: number; side: Side | null } {
  const { reading } = tree;
  if (usedText(reading, 'position', element) !== 'relative') return { px: 0, side: null };
  const parts = computedText(reading, 'inset', element).split(' ');
  const [low, high] = sidesOf(axis);
  const of = (side: Side) => {
    const at = SIDE_ORDER.indexOf(side);
    return parts[at] ?? parts[at - 2] ?? parts[0] ?? '';
  };
  const isSet = (side: Side) =>
    of(side) !== 'auto' && of(side) !== '' && !(of(side).includes('%') && isOfNothing(tree, element, axis));
  const block = tree.containingBlock[element]!;
  const backwards = axis === 'x' && block >= 0 && usedText(reading, 'direction', block) === 'rtl';
  const order = backwards ? [high, low] : [low, high];
  const side = order.find(isSet) ?? null;
  if (side === null) return { px: 0, side };
  const length = /^-?[\d.]+px$/.test(of(side)) ? pxOf(of(side)) : usedPx(reading, side, element) || 0;
  return { px: side === low ? length : -length, side };
}

const SIDE_ORDER: Side[] = ['top', 'right', 'bottom', 'left'];

/** Whether an offset in percent is taken of a height that is auto, and so counts as auto (CSS 2.2 §9.3.2). */
function isOfNothing(tree: BoxTree, element: number, axis: Axis): boolean {
  if (axis === 'x') return false;
  const block = tree.containingBlock[element]!;
  const open = block >= 0 && /^(block|list-item|root|float|inline-block)$/.test(tree.kinds[block]!);
  return open && /^(auto|)$/.test(computedText(tree.reading, 'height', block));
}

interface Open {
  fragments: Fragment[];
  baseline: number;
}

const NEAR = 1.5;

/** Puts fragments, in document order, into lines. */
function sort(fragments: Fragment[]): Open[] {
  const lines: Open[] = [];
  let line: Open | undefined;
  let reach = -Infinity;
  let top = 0;
  for (const fragment of fragments) {
    const previous = !Number.isNaN(fragment.baseline);
    const apart =
      line &&
      (previous && !Number.isNaN(line.baseline)
        ? Math.abs(fragment.baseline - line.baseline) > NEAR
        : fragment.i0 < reach - 0.5 && fragment.b1 > top + 0.5 && fragment.b0 > top + 0.5);
    if (!line || apart) {
      lines.push((line = { fragments: [], baseline: NaN }));
      reach = -Infinity;
      top = fragment.b0;
    }
    line.fragments.push(fragment);
    if (previous && Number.isNaN(line.baseline)) line.baseline = fragment.baseline;
    reach = Math.max(reach, fragment.i1);
    top = Math.min(top, fragment.b0);
  }
  return lines;
}

/** Adds inline boxes to the lines in which they lie; one that lies in none makes a line where it has edges of its own. */
function addBoxes(lines: Open[], boxes: Fragment[]): void {
  for (const box of boxes) {
    const home =
      lines.find(({ baseline }) => Math.abs(baseline - box.baseline) <= NEAR) ??
      lines.find(({ fragments }) =>
        fragments.some(({ b0, b1 }) => b0 < (box.b0 + box.b1) / 2 && b1 > (box.b0 + box.b1) / 2),
      );
    if (home) {
      home.fragments.push(box);
      if (Number.isNaN(home.baseline)) home.baseline = box.baseline;
    } else lines.push({ fragments: [box], baseline: box.baseline });
  }
  lines.sort((a, b) => start(a) - start(b));
}
const start = ({ fragments }: Open): number => Math.min(...fragments.map(({ maker }) => maker.start));

/** The lines of a run in its block container, in order. */
export function linesOf(tree: BoxTree, container: number, nodes: InlineNode[]): Line[] {
  const { reading } = tree;
  const sides = flowSides(reading, container);
  const strut = metricsOf(tree, container, sides);
  const quirks = reading.document.mode === 'quirks';
  const content: Fragment[] = [];
  const boxes: Fragment[] = [];
  for (const node of nodes) {
    if (node.what === 'text')
      for (const piece of node.pieces) {
        // What hangs at the end of a line or has collapsed makes no line.
        if (piece.width > 0 || piece.height > 0)
          content.push(textFragment(tree, container, node.owner, piece, sides));
      }
    else if (node.what === 'atom') content.push(atomFragment(tree, container, node.element, sides));
    else if (node.what === 'box') {
      const result = boxFragments(tree, container, node.element, sides);
      if (tagOf(reading, node.element) === 'br') content.push(...result);
      else boxes.push(...result.filter(({ b0, b1 }) => b1 > b0));
    }
  }
  const lines = sort(content);
  addBoxes(lines, boxes);
  return lines.map(({ fragments, baseline }): Line => {
    const makers: Maker[] = [];
    const hasText = fragments.some(({ maker }) => maker.what === 'strut');
    for (const { maker } of fragments) {
      if (quirks && maker.what === 'box' && !isFilled(tree, maker.element, fragments)) continue;
      if (maker.what !== 'strut') makers.push(maker);
    }
    const previous = Number.isNaN(baseline) ? aligned(fragments, strut) : baseline;
    if (!quirks || hasText)
      makers.unshift({
        what: 'strut',
        element: container,
        start: previous - above(strut),
        end: previous - above(strut) + strut.lineHeight,
      });
    const valid = makers.filter((maker) => !Number.isNaN(maker.start));
    const first = valid[0] ?? { what: 'strut' as const, element: container, start: 0, end: strut.lineHeight };
    const over = valid.reduce((best, maker) => (maker.start < best.start - 0.01 ? maker : best), first);
    const under = valid.reduce((best, maker) => (maker.end > best.end + 0.01 ? maker : best), over);
    return {
      start: over.start,
      end: under.end,
      baseline: previous,
      above: over,
      below: under,
      makers: valid,
      from: Math.min(...fragments.map(({ i0 }) => i0)),
      to: Math.max(...fragments.map(({ i1 }) => i1)),
    };
  });
}

/** In a line where nothing tells the baseline all is aligned to its top or bottom: the strut lies at the edge of what is there. */
function aligned(fragments: Fragment[], strut: Metrics): number {
  return Math.min(...fragments.map(({ b0 }) => b0)) + above(strut);
}

/** In quirks mode an inline box without text or edges of its own gives its line no height (Quirks Mode §3.3). */
function isFilled(tree: BoxTree, element: number, fragments: Fragment[]): boolean {
  const edges = (['padding', 'border-width', 'margin'] as const).some((property) => {
    const { left, right } = edgesOf(tree.reading, property, element);
    return left !== 0 || right !== 0;
  });
  return edges || fragments.some(({ maker }) => maker.what === 'text' && maker.element === element);
}

/** Height of a line as its makers say, in CSS px. */
export const lineHeightOf = (line: Line): number => line.end - line.start;
export const inlineExtent = (line: Line): number => line.to - line.from;
