/** The lines of a flex container: its items with their base sizes and bounds, and how they share free or missing space (Flexbox 1 §9.2, §9.7). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { gapOf } from '../../boxes/grid-tracks.ts';
import { contentsOf, type InlineNode } from '../../boxes/flow.ts';
import { inlineExtent, linesOf } from '../../boxes/line-boxes.ts';
import type { Pseudo } from '../../reading/reading.ts';
import { labelOf } from '../../reading/labels.ts';
import { isReplaced } from '../../boxes/kinds.ts';
import { flowSides } from '../../geometry/writing-modes.ts';
import { pxOf, usedText } from '../../boxes/tree.ts';
import { same, sidesOf, type Axis, type Side } from '../../geometry/rect.ts';
import { declaredOf, declaredPx } from '../sizing/declared.ts';
import { hasDefiniteHeight, isAuto, isIndefinite } from '../sizing/percentage-definiteness.ts';
import {
  around,
  bothEdges,
  edgesSize,
  marginTerms,
  once,
  otherAxis,
  sizeProperty,
} from '../model/term-builders.ts';
import { lineTerms } from '../inline/line-heights.ts';
import { declaredTerms } from '../sizing/size.ts';
import { contentWidth, naturalTerms, ratioTerms } from '../sizing/intrinsic-sizing.ts';
import { sumOf, term, type Term } from '../model/term.ts';
import { indefiniteContentHeight } from '../sizing/indefinite-height.ts';

export interface Item {
  /** −1: an anonymous item of text, or a generated box. */
  element: number;
  label: string;
  /** Where its margin box lies along the main axis, growing from the main start. */
  from: number;
  to: number;
  /** What it is as tall as across the line, for items without an element. */
  across: Term[];
  /** Border box before anything is given or taken, and why. */
  base: Term[];
  margins: Term[];
  grow: number;
  shrink: number;
  /** What counts against the shrinking: the base size of the content box times `flex-shrink`. */
  weight: number;
  /** Bounds of the border box, with the terms that give them. */
  least: { px: number; terms: Term[]; words: string };
  most: { px: number; terms: Term[]; words: string };
  /** Set by the sharing out. */
  target: number;
  frozen: 'least' | 'most' | 'rigid' | null;
}

export interface FlexLine {
  items: Item[];
  /** Space to give out (or missing, negative) once bases, margins and gaps are taken. */
  free: number;
  /** Sum of `flex-grow`, or of the weights, over the items that took part to the end. */
  parts: number;
  growing: boolean;
}

export interface FlexBox {
  container: number;
  main: Axis;
  cross: Axis;
  gap: number;
  crossGap: number;
  /** Inner main size. */
  size: number;
  lines: FlexLine[];
  wraps: boolean;
}

export function mainSides(analysis: Analysis, container: number): { main: Axis; start: Side; end: Side } {
  const { reading } = analysis;
  const sides = flowSides(reading, container);
  const direction = usedText(reading, 'flex-direction', container);
  const row = !direction.startsWith('column');
  const [start, end] = row ? [sides.inlineStart, sides.inlineEnd] : [sides.blockStart, sides.blockEnd];
  const main = row ? sides.inline : sides.block;
  return direction.endsWith('reverse') ? { main, start: end, end: start } : { main, start, end };
}

/** An item's element, or the run of text or generated box that makes an item of its own (Flexbox 1 §4). */
type Child =
  | { what: 'element'; element: number }
  | { what: 'text'; nodes: InlineNode[] }
  | { what: 'generated'; pseudo: Pseudo };

function flexChildren({ tree, reading }: Analysis, container: number): Child[] {
  const list: Child[] = [];
  const visit = (parent: number) => {
    for (const node of contentsOf(tree, parent)) {
      const last = list.at(-1);
      if (node.what === 'text') {
        if (node.blank) continue;
        const run: InlineNode = { ...node, owner: parent };
        if (last?.what === 'text') last.nodes.push(run);
        else list.push({ what: 'text', nodes: [run] });
      } else if (node.what === 'generated') {
        if (!/^(absolute|fixed)$/.test(node.pseudo.values['position'] ?? '')) list.push(node);
      } else if (tree.kinds[node.element] === 'contents') visit(node.element);
      else if (tree.kinds[node.element] === 'flex-item') list.push(node);
    }
  };
  visit(container);
  const order = (child: Child) =>
    child.what === 'element' ? Number(usedText(reading, 'order', child.element)) || 0 : 0;
  return list
    .map((child, i) => ({ child, i }))
    .sort((a, b) => order(a.child) - order(b.child) || a.i - b.i)
    .map(({ child }) => child);
}

export function flexOf(analysis: Analysis, container: number): FlexBox {
  return once(analysis, `flex ${container}`, () => makeFlex(analysis, container));
}

function makeFlex(analysis: Analysis, container: number): FlexBox {
  const { tree, reading } = analysis;
  const { main, start } = mainSides(analysis, container);
  const cross = otherAxis(main);
  const { content } = laidAreas(tree, container);
  const size = content[sizeProperty(main)];
  const row = !usedText(reading, 'flex-direction', container).startsWith('column');
  const wraps = usedText(reading, 'flex-wrap', container) !== 'nowrap';
  const gap = gapOf(tree, container, row ? 'column-gap' : 'row-gap', size);
  const crossGap = gapOf(tree, container, row ? 'row-gap' : 'column-gap', content[sizeProperty(cross)]);
  const box: FlexBox = { container, main, cross, gap, crossGap, size, lines: [], wraps };
  const sign = start === 'left' || start === 'top' ? 1 : -1;
  let current: Item[] = [];
  let reach = -Infinity;
  const groups: Item[][] = [];
  for (const child of flexChildren(analysis, container)) {
    const item = makeItem(analysis, container, child, main, sign);
    if (wraps && current.length > 0 && item.from < reach - 0.5) {
      groups.push(current);
      current = [];
      reach = -Infinity;
    }
    current.push(item);
    reach = Math.max(reach, item.to);
  }
  if (current.length > 0) groups.push(current);
  const definite = main === flowSides(reading, container).inline || hasDefiniteSize(analysis, container, main);
  box.lines = groups.map((items) => share(box, items, definite));
  return box;
}

/** Whether the main size of a column is given from outside; else it is the sum of its items, and nothing is to share. */
function hasDefiniteSize(analysis: Analysis, container: number, axis: Axis): boolean {
  const { tree } = analysis;
  const property = sizeProperty(axis);
  if (axis === 'y' && hasDefiniteHeight(analysis, container)) return true;
  if (axis === 'x' && !isAuto(declaredOf(analysis, container, property).value)) return true;
  // A minimum or maximum in force gives the size as well.
  const size = laidAreas(tree, container).rect[property];
  return (
    ['min', 'max'].some((bound) => {
      const bounded = declaredPx(
        analysis,
        container,
        `${bound}-${property}`,
        declaredOf(analysis, container, `${bound}-${property}`).value,
      );
      const edges =
        usedText(analysis.reading, 'box-sizing', container) === 'border-box'
          ? 0
          : edgesSize(analysis, container, axis);
      return bounded > 0 && same(bounded + edges, size);
    }) ||
    tree.kinds[container] === 'grid-item' ||
    tree.kinds[container] === 'flex-item' ||
    tree.kinds[container] === 'absolute' ||
    tree.kinds[container] === 'fixed'
  );
}

function baseTerms(analysis: Analysis, element: number, main: Axis): Term[] {
  const property = sizeProperty(main);
  const basis = declaredOf(analysis, element, 'flex-basis').value;
  const usable = (name: string, value: string) => {
    if (isAuto(value) || /^content$/i.test(value) || Number.isNaN(declaredPx(analysis, element, name, value)))
      return false;
    return !isIndefinite(analysis, element, main, value);
  };
  if (usable('flex-basis', basis)) return declaredTerms(analysis, element, main, 'flex-basis');
  if (!/^content$/i.test(basis)) {
    const { value } = declaredOf(analysis, element, property);
    if (usable(property, value)) return declaredTerms(analysis, element, main, property);
  }
  return contentBase(analysis, element, main);
}

/** The size that an item's content asks for. */
function contentBase(analysis: Analysis, element: number, main: Axis): Term[] {
  if (isReplaced(analysis.reading, element)) return naturalTerms(analysis, element, main);
  const ratio = ratioTerms(analysis, element, main);
  if (ratio) return ratio;
  if (flowSides(analysis.reading, element).block === main)
    return around(analysis, element, main, indefiniteContentHeight(analysis, element));
  return contentWidth(analysis, element, main, 'max');
}

const RIGID = { px: 0, terms: [], words: '' };

const ENDLESS = { px: Infinity, terms: [], words: '' };

function makeItem(analysis: Analysis, container: number, child: Child, main: Axis, sign: 1 | -1): Item {
  const { tree, reading } = analysis;
  const along = (low: number, high: number) => (sign > 0 ? { from: low, to: high } : { from: -high, to: -low });
  if (child.what === 'element') {
    const { rect, margin } = laidAreas(tree, child.element);
    const [lower, upper] = sidesOf(main);
    const placed = along(rect[main] - margin[lower], rect[main] + rect[sizeProperty(main)] + margin[upper]);
    return { ...itemOf(analysis, child.element, main), ...placed };
  }
  const anonymous = {
    element: -1,
    margins: [],
    grow: 0,
    least: RIGID,
    most: ENDLESS,
    target: 0,
    frozen: null,
  };
  if (child.what === 'generated') {
    const { values, name } = child.pseudo;
    const label = `::${name}`;
    const size = (axis: Axis) =>
      term({
        px: pxOf(values[sizeProperty(axis)] ?? '') || 0,
        what: 'generated',
        rule: 'generated',
        box: container,
        note: label,
      });
    return {
      ...anonymous,
      label,
      from: NaN,
      to: NaN,
      base: [size(main)],
      shrink: 0,
      weight: 0,
      across: [size(otherAxis(main))],
    };
  }
  const lines = linesOf(tree, container, child.nodes);
  const sides = flowSides(reading, container);
  const width = lines.reduce((most, line) => Math.max(most, inlineExtent(line)), 0);
  const extent = term({
    px: lines.length > 1 ? lines.reduce((sum, line) => sum + inlineExtent(line), 0) : width,
    what: 'text',
    rule: 'text',
    box: container,
    note: `its own text${lines.length > 1 ? ', on one line' : ''}`,
  });
  const heights = lineTerms(analysis, container, lines);
  const inline = sides.inline === main;
  const [low, high] = inline
    ? [Math.min(...lines.map(({ from }) => from)), Math.max(...lines.map(({ to }) => to))]
    : [lines[0]?.start ?? 0, lines.at(-1)?.end ?? 0];
  const base = inline ? [extent] : heights;
  return {
    ...anonymous,
    label: 'its text',
    from: low,
    to: high,
    base,
    // A text that is on one line where it lies does not shrink further than its longest word, which is not known.
    least: lines.length > 1 ? { px: width, terms: [], words: 'its longest word' } : RIGID,
    shrink: lines.length > 1 ? 1 : 0,
    weight: lines.length > 1 ? sumOf(base) : 0,
    across: inline ? heights : [extent],
  };
}

function itemOf(analysis: Analysis, element: number, main: Axis): Omit<Item, 'from' | 'to'> {
  const { reading } = analysis;
  const property = sizeProperty(main);
  const base = baseTerms(analysis, element, main);
  const number = (name: string) => Number(usedText(reading, name, element)) || 0;
  const edges = edgesSize(analysis, element, main);
  const bound = (which: 'min' | 'max') => {
    const name = `${which}-${property}`;
    const { value, source } = declaredOf(analysis, element, name);
    const size = declaredPx(analysis, element, name, value);
    // Where nobody sets it, a minimum is automatic, whatever engines say of other boxes.
    const previous =
      source.origin !== 'browser' && !isAuto(value) && !/^none$/i.test(value) && !Number.isNaN(size);
    if (previous && isIndefinite(analysis, element, main, value)) return null;
    if (!previous) return null;
    const terms = declaredTerms(analysis, element, main, name);
    return { px: sumOf(terms), terms, words: `${name}: ${value}` };
  };
  const sum = sumOf(base);
  const most = bound('max') ?? { px: Infinity, terms: [], words: '' };
  const minimum = bound('min');
  const least = minimum ?? automatic(analysis, element, main, most.px);
  const shrink = number('flex-shrink');
  return {
    element,
    label: labelOf(reading, element),
    across: [],
    base,
    margins: sidesOf(main)
      .flatMap((side) => marginTerms(analysis, element, side, 1))
      .filter(({ rule }) => rule !== 'auto-margin'),
    grow: number('flex-grow'),
    shrink,
    weight: shrink * Math.max(0, sum - edges),
    least:
      least.px < edges ? { px: edges, terms: bothEdges(analysis, element, main), words: 'its edges' } : least,
    most,
    target: sum,
    frozen: null,
  };
}

/** The automatic minimum: an item that does not scroll stays as large as its content's least size (Flexbox 1 §4.5). */
function automatic(analysis: Analysis, element: number, main: Axis, most: number): Item['least'] {
  const { reading } = analysis;
  const overflow = usedText(reading, 'overflow', element).split(' ');
  if (overflow.some((text) => text !== 'visible' && text !== 'clip')) return { px: 0, terms: [], words: '' };
  const property = sizeProperty(main);
  const { value } = declaredOf(analysis, element, property);
  const least = isReplaced(reading, element)
    ? naturalTerms(analysis, element, main)
    : flowSides(reading, element).block === main
      ? around(analysis, element, main, indefiniteContentHeight(analysis, element))
      : contentWidth(analysis, element, main, 'min');
  const content = sumOf(least);
  const declared =
    isAuto(value) || isIndefinite(analysis, element, main, value)
      ? NaN
      : declaredPx(analysis, element, property, value);
  if (!Number.isNaN(declared)) {
    const terms = declaredTerms(analysis, element, main, property);
    if (sumOf(terms) < content)
      return {
        px: Math.min(most, sumOf(terms)),
        terms,
        words: `the automatic minimum, which its own ${property} limits (Flexbox 1 §4.5)`,
      };
  }
  return {
    px: Math.min(most, content),
    terms: least,
    words: 'the automatic minimum: what is in it takes no less (Flexbox 1 §4.5)',
  };
}

/** Resolves flexible lengths (Flexbox 1 §9.7). */
export function share(box: FlexBox, items: Item[], definite: boolean): FlexLine {
  const clampOf = (item: Item, size: number) => Math.max(item.least.px, Math.min(item.most.px, size));
  const outer = (item: Item, size: number) => size + sumOf(item.margins);
  const gaps = box.gap * Math.max(0, items.length - 1);
  const base = (item: Item) => sumOf(item.base);
  const hypothetical = items.reduce((sum, item) => sum + outer(item, clampOf(item, base(item))), gaps);
  const growing = hypothetical < box.size;
  const line: FlexLine = {
    items,
    free: box.size - items.reduce((sum, item) => sum + outer(item, base(item)), gaps),
    parts: 0,
    growing,
  };
  for (const item of items) {
    const clamped = clampOf(item, base(item));
    item.target = clamped;
    const factor = growing ? item.grow : item.shrink;
    if (!definite || factor === 0 || (growing ? base(item) > clamped : base(item) < clamped))
      item.frozen = !same(clamped, base(item)) ? (clamped < base(item) ? 'most' : 'least') : 'rigid';
  }
  for (let round = 0; round <= items.length; round++) {
    const open = items.filter(({ frozen }) => frozen === null);
    if (open.length === 0) break;
    const taken = items.reduce(
      (sum, item) => sum + outer(item, item.frozen === null ? base(item) : item.target),
      gaps,
    );
    let free = box.size - taken;
    const sum = open.reduce((total, { grow, shrink }) => total + (growing ? grow : shrink), 0);
    if (sum < 1 && Math.abs(line.free * sum) < Math.abs(free)) free = line.free * sum;
    const parts = open.reduce((total, { grow, weight }) => total + (growing ? grow : weight), 0);
    line.parts = parts;
    line.free = free;
    const wanted = open.map(
      (item) => base(item) + (parts > 0 ? (free * (growing ? item.grow : item.weight)) / parts : 0),
    );
    const violation = open.reduce((total, item, i) => total + clampOf(item, wanted[i]!) - wanted[i]!, 0);
    let froze = false;
    open.forEach((item, i) => {
      const clamped = clampOf(item, wanted[i]!);
      item.target = clamped;
      const low = clamped > wanted[i]! + 0.001;
      const high = clamped < wanted[i]! - 0.001;
      if (
        (violation > 0.001 && low) ||
        (violation < -0.001 && high) ||
        (Math.abs(violation) <= 0.001 && (low || high))
      ) {
        item.frozen = low ? 'least' : 'most';
        froze = true;
      }
    });
    if (!froze) break;
  }
  return line;
}
