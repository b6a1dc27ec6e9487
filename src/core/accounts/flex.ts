/** Flex containers: base sizes, the free or missing space and each item's share of it, lines and cross sizes (Flexbox 1 §9). */
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { boxAbove } from '../boxes/context.ts';
import { gapOf } from '../boxes/grid.ts';
import { contentsOf, type InlineNode } from '../boxes/flow.ts';
import { firstBaseline, inlineExtent, linesOf } from '../boxes/lines.ts';
import type { Pseudo } from '../boxes/reading.ts';
import { labelOf } from '../boxes/label.ts';
import { isReplaced } from '../boxes/kind.ts';
import { flowSides } from '../boxes/sides.ts';
import { pxOf, usedText } from '../boxes/tree.ts';
import { px, same, sidesOf, type Axis, type Side } from '../geometry/rect.ts';
import { declaredOf, declaredPx } from './declared.ts';
import { hasDefiniteHeight, hasPercent, alignSelf, isAuto, isIndefinite } from './ladder.ts';
import {
  around,
  bothEdges,
  boxTerm,
  edgesSize,
  isAutoMargin,
  lengthTerm,
  lostTo,
  marginTerms,
  once,
  otherAxis,
  sizeProperty,
} from './parts.ts';
import { blockStart } from './margins.ts';
import { contentOf, lineTerms, type Content } from './content.ts';
import { contentWidth, declaredTerms, fitTerms, naturalTerms, ratioTerms, type Sum } from './size.ts';
import { sumOf, term, type Cause, type Link, type Lost, type Rival, type Term } from './term.ts';

interface Item {
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
  if (flowSides(analysis.reading, element).block === main)
    return around(analysis, element, main, contentOf(analysis, element).terms);
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
  const heights = lineTerms(analysis, lines);
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
    const known =
      source.origin !== 'browser' && !isAuto(value) && !/^none$/i.test(value) && !Number.isNaN(size);
    if (known && isIndefinite(analysis, element, main, value)) return null;
    if (!known) return null;
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
  if (overflow.some((one) => one !== 'visible' && one !== 'clip')) return { px: 0, terms: [], words: '' };
  const property = sizeProperty(main);
  const { value } = declaredOf(analysis, element, property);
  const least = isReplaced(reading, element)
    ? naturalTerms(analysis, element, main)
    : flowSides(reading, element).block === main
      ? around(analysis, element, main, contentOf(analysis, element).terms)
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
function share(box: FlexBox, items: Item[], definite: boolean): FlexLine {
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

const scaled = (terms: Term[], rate: number): { causes: Cause[]; links: Link[] } => ({
  causes: terms.flatMap(({ causes = [] }) => causes.map((one) => ({ ...one, rate: one.rate * rate }))),
  links: terms.flatMap(({ links = [] }) => links.map((one) => ({ ...one, rate: one.rate * rate }))),
});

/** The main size of a flex item. */
export function flexMain(analysis: Analysis, element: number): Sum {
  const { tree, reading } = analysis;
  const container = boxAbove(tree, element);
  const box = flexOf(analysis, container);
  const line = box.lines.find(({ items }) => items.some((item) => item.element === element));
  const item = line?.items.find((one) => one.element === element);
  if (!line || !item) return { terms: [], lost: [] };
  const property = sizeProperty(box.main);
  const lost: Lost[] = [];
  const basis = declaredOf(analysis, element, 'flex-basis');
  const own = declaredOf(analysis, element, property);
  if (!isAuto(own.value) && basis.source.origin !== 'browser' && !/^auto$/i.test(basis.value))
    lost.push(
      lostTo(
        analysis,
        element,
        property,
        declaredPx(analysis, element, property, own.value),
        `flex-basis: ${basis.value} goes before it (Flexbox 1 §7.2.1)`,
      ),
    );
  const base = sumOf(item.base);
  if (item.frozen === 'least' || item.frozen === 'most') {
    // Where both bounds are in force the least has the last word.
    const bound = same(item.target, item.least.px) ? item.least : item.most;
    return {
      terms: bound.terms.map((one) => ({ ...one, note: [one.note, bound.words].filter(Boolean).join('; ') })),
      lost,
    };
  }
  if (same(item.target, base)) return { terms: item.base, lost };
  const others = line.items.filter((one) => one !== item);
  const alone = others.every(({ frozen }) => frozen !== null);
  if (alone && line.parts > 0 && (line.growing ? item.grow >= 1 : true)) {
    const room = term({
      px: box.size,
      what: 'container',
      rule: 'room',
      box: container,
      note: `content box of ${labelOf(reading, container)}`,
      links: [{ box: container, axis: box.main, area: 'content', rate: 1 }],
    });
    const taken = others.flatMap((other) => [
      takenTerm(box, other, `taken by ${other.label}${rigidWords(other, line.growing)}`),
      ...other.margins.map((one) => ({ ...one, px: -one.px, ...scaled([one], -1) })),
    ]);
    const gaps = line.items.length - 1;
    return {
      terms: [
        room,
        ...item.margins.map((one) => ({ ...one, px: -one.px, ...scaled([one], -1) })),
        ...taken,
        ...(box.gap && gaps ? [gapTerm(analysis, box, box.gap, gaps, -1, true)] : []),
      ],
      lost,
    };
  }
  const part = line.parts > 0 ? (line.growing ? item.grow : item.weight) / line.parts : 0;
  const given = line.free * part;
  const grounds = sharing(line, item, part);
  const declared = declaredOf(analysis, element, line.growing ? 'flex-grow' : 'flex-shrink');
  const words = line.growing
    ? `${px(item.grow)} of ${px(line.parts)} parts of the ${px(line.free)} that are free in ${labelOf(reading, container)}`
    : `${px(part * 100)} % of the ${px(-line.free)} that are missing in ${labelOf(reading, container)}, by flex-shrink ${px(item.shrink)} times its base size`;
  const shareTerm = term({
    px: given,
    what: 'share',
    rule: line.growing ? 'flex-grow' : 'flex-shrink',
    box: element,
    source: declared.source,
    note: words,
    causes: grounds.causes,
    links: [...grounds.links, { box: container, axis: box.main, area: 'content', rate: part }],
  });
  return { terms: [...item.base, shareTerm], lost };
}

/** Room that another item takes. */
function takenTerm(box: FlexBox, { element, target }: Item, note: string): Term {
  return element < 0
    ? term({ px: -target, what: 'text', rule: 'taken', box: box.container, note })
    : boxTerm(element, box.main, target, 'sibling', 'taken', note, -1);
}

const rigidWords = (item: Item, growing: boolean): string =>
  item.frozen === 'rigid'
    ? ` (it does not ${growing ? 'grow' : 'shrink'})`
    : item.frozen
      ? ` (${item.frozen === 'least' ? item.least.words : item.most.words})`
      : '';

/** How a share of the free or missing space goes along with everything that takes room in its line. */
function sharing(line: FlexLine, own: Item, part: number): { causes: Cause[]; links: Link[] } {
  const out = { causes: [] as Cause[], links: [] as Link[] };
  const take = (made: { causes: Cause[]; links: Link[] }) => {
    out.causes.push(...made.causes);
    out.links.push(...made.links);
  };
  for (const other of line.items) {
    take(scaled(other.margins, -part));
    if (other.frozen === 'least' || other.frozen === 'most') take(scaled(other[other.frozen].terms, -part));
    else if (line.growing || other.frozen === 'rigid') take(scaled(other.base, -part));
    else {
      // The weights of those that shrink change with their bases.
      const isEdge = ({ what }: Term) => /^(border|padding)-(?!box)/.test(what);
      const total = line.parts;
      const slope = (line.free * other.shrink * ((own === other ? 1 : 0) - part)) / total;
      take(scaled(other.base.filter(isEdge), -part));
      take(
        scaled(
          other.base.filter((one) => !isEdge(one)),
          -part + slope,
        ),
      );
    }
  }
  return out;
}

export function gapTerm(
  analysis: Analysis,
  { container, main }: Pick<FlexBox, 'container' | 'main'>,
  gap: number,
  count: number,
  sign: 1 | -1,
  isMain: boolean,
): Term {
  const sides = flowSides(analysis.reading, container);
  const inline = isMain ? main === sides.inline : main !== sides.inline;
  const property = inline ? 'column-gap' : 'row-gap';
  const made = lengthTerm(analysis, container, property, gap * count, 'gap', sign);
  made.causes = (made.causes ?? []).map((one) => ({ ...one, rate: one.rate * count }));
  made.note = [count > 1 ? `${count} gaps of ${px(gap)}` : '', made.note].filter(Boolean).join('; ');
  return made;
}

const isStretch = (align: string) => /^(stretch|normal|auto|)$/.test(align);

/** What an item is as tall (or wide) as across its line, before it is stretched. */
function naturalCross(analysis: Analysis, element: number, cross: Axis): Term[] {
  const property = sizeProperty(cross);
  const { value } = declaredOf(analysis, element, property);
  if (!isAuto(value) && !hasPercent(value)) return declaredTerms(analysis, element, cross, property);
  if (isReplaced(analysis.reading, element)) return naturalTerms(analysis, element, cross);
  const ratio = ratioTerms(analysis, element, cross);
  if (ratio) return ratio;
  if (flowSides(analysis.reading, element).block === cross)
    return around(analysis, element, cross, contentOf(analysis, element).terms);
  return contentWidth(analysis, element, cross, 'max');
}

interface CrossLine {
  size: number;
  /** −1: an item without an element; `anonymous` says why it is as tall. */
  tallest: number;
  anonymous: Term[] | null;
  /** The other items of the line, with the terms of their margin boxes. */
  rivals: Rival[];
  /** Where items stand on one baseline: the one that reaches highest over it, and by how much. */
  over: { element: number; px: number } | null;
}

/** Size of each line across: the largest of its items, and what stretching the lines adds (Flexbox 1 §9.4, §9.6). */
function crossLines(analysis: Analysis, box: FlexBox): CrossLine[] {
  return once(analysis, `cross ${box.container}`, () =>
    box.lines.map(({ items }) => {
      let size = 0;
      let tallest = items[0]?.element ?? -1;
      let anonymous: Term[] | null = null;
      for (const { element, across } of items) {
        const outer = element < 0 ? sumOf(across) : outerCross(analysis, element, box.cross);
        if (outer <= size + 0.01) continue;
        size = Math.max(outer, size);
        tallest = element;
        anonymous = element < 0 ? across : null;
      }
      const rivals = items
        .filter(({ element }) => element !== tallest)
        .map(({ element, across }): Rival => {
          if (element < 0) return { terms: across, tie: same(sumOf(across), size) };
          const terms = [
            ...naturalCross(analysis, element, box.cross),
            ...sidesOf(box.cross).flatMap((side) => marginTerms(analysis, element, side, 1)),
          ];
          return { terms, tie: same(outerCross(analysis, element, box.cross), size) };
        });
      return onBaseline(analysis, box, items, { size, tallest, anonymous, rivals, over: null });
    }),
  );
}

interface Standing {
  element: number;
  /** Of its margin box, over and under the baseline. */
  over: number;
  under: number;
}

/** The items of a line that stand on one baseline. */
function standing(analysis: Analysis, box: FlexBox, items: Item[]): Standing[] {
  const { tree, reading } = analysis;
  const sides = flowSides(reading, box.container);
  if (box.cross !== sides.block) return [];
  return items
    .filter(({ element }) => element >= 0 && /baseline/.test(alignSelf(analysis, element)))
    .map(({ element }) => {
      const { rect, margin } = laidAreas(tree, element);
      const start = blockStart(sides, rect) - margin[sides.blockStart];
      const baseline = firstBaseline(tree, element, sides);
      const size = outerCross(analysis, element, box.cross);
      const over = Number.isNaN(baseline) ? size - margin[sides.blockEnd] : baseline - start;
      return { element, over, under: size - over };
    });
}

/** How far an item is moved down so that it stands on the baseline of its line, in CSS px. */
export function baselineShift(analysis: Analysis, box: FlexBox, { items }: FlexLine, element: number): number {
  const all = standing(analysis, box, items);
  const own = all.find((one) => one.element === element);
  return own ? Math.max(...all.map(({ over }) => over)) - own.over : 0;
}

/** Items that stand on one baseline take the room over it and under it together (Flexbox 1 §9.4). */
function onBaseline(analysis: Analysis, box: FlexBox, items: Item[], line: CrossLine): CrossLine {
  const aligned = standing(analysis, box, items);
  if (aligned.length < 2) return line;
  const highest = aligned.reduce((best, one) => (one.over > best.over ? one : best));
  const lowest = aligned.reduce((best, one) => (one.under > best.under ? one : best));
  if (highest.over + lowest.under <= line.size + 0.01) return line;
  return {
    size: highest.over + lowest.under,
    tallest: lowest.element,
    anonymous: null,
    rivals: line.rivals,
    over: { element: highest.element, px: highest.over - lowest.over },
  };
}

/** An item's margin box across its line, before it is stretched. */
function outerCross(analysis: Analysis, element: number, cross: Axis): number {
  const [start, end] = sidesOf(cross);
  const { margin, rect } = laidAreas(analysis.tree, element);
  const stretched =
    isStretch(alignSelf(analysis, element)) && isAuto(declaredOf(analysis, element, sizeProperty(cross)).value);
  const own = stretched ? sumOf(naturalCross(analysis, element, cross)) : rect[sizeProperty(cross)];
  return Math.max(own, minimumOf(analysis, element, cross)) + margin[start] + margin[end];
}

function minimumOf(analysis: Analysis, element: number, axis: Axis): number {
  const name = `min-${sizeProperty(axis)}`;
  const value = declaredPx(analysis, element, name, declaredOf(analysis, element, name).value);
  if (Number.isNaN(value)) return 0;
  return (
    value +
    (usedText(analysis.reading, 'box-sizing', element) === 'border-box'
      ? 0
      : edgesSize(analysis, element, axis))
  );
}

/** The cross size of a flex item. */
export function flexCross(analysis: Analysis, element: number): Sum {
  const { tree, reading } = analysis;
  const container = boxAbove(tree, element);
  const box = flexOf(analysis, container);
  const align = alignSelf(analysis, element);
  const margins = sidesOf(box.cross);
  const auto = margins.some((side) => isAutoMargin(analysis, element, side));
  const inline = flowSides(reading, element).inline === box.cross;
  if (
    !isStretch(align) ||
    auto ||
    (isReplaced(reading, element) && align !== 'stretch' && align !== 'normal' && align !== 'auto')
  )
    return inline
      ? fitTerms(analysis, element, box.cross, laidAreas(tree, container).content[sizeProperty(box.cross)])
      : {
          terms: around(analysis, element, box.cross, contentOf(analysis, element).terms),
          lost: contentOf(analysis, element).lost,
        };
  const own = inline ? [] : around(analysis, element, box.cross, contentOf(analysis, element).terms);
  const used = laidAreas(tree, element).rect[sizeProperty(box.cross)];
  const line = box.lines.findIndex(({ items }) => items.some((item) => item.element === element));
  const lines = crossLines(analysis, box);
  // The one that makes the line as large as it is has its size from what is in it.
  const makes = lines[line]?.tallest === element && !givenFromOutside(analysis, container, box.cross);
  if (makes && !inline && same(sumOf(own), used))
    return { terms: own, lost: contentOf(analysis, element).lost };
  const taken = margins.flatMap((side) => marginTerms(analysis, element, side, -1));
  if (!box.wraps)
    return {
      terms: [
        term({
          px: laidAreas(tree, container).content[sizeProperty(box.cross)],
          what: 'container',
          rule: 'stretch',
          box: container,
          note: `stretched to the content box of ${labelOf(reading, container)} (Flexbox 1 §9.4)`,
          links: [{ box: container, axis: box.cross, area: 'content', rate: 1 }],
        }),
        ...taken,
      ],
      lost: [],
    };
  const made = lines[line];
  if (!made) return { terms: [], lost: [] };
  const stretch = lineStretch(analysis, box, lines);
  return {
    terms: [
      term({
        px: made.size + stretch,
        what: 'line',
        rule: 'flex-line',
        box: made.tallest,
        note: `stretched to its flex line, which ${made.tallest < 0 ? 'text' : labelOf(reading, made.tallest)} makes ${px(made.size)}${stretch ? `, and align-content ${px(stretch)} more` : ''}`,
        links:
          made.tallest === element ? [] : [{ box: made.tallest, axis: box.cross, area: 'border', rate: 1 }],
      }),
      ...taken,
    ],
    lost: [],
  };
}

const givenFromOutside = (analysis: Analysis, container: number, axis: Axis): boolean =>
  axis === 'y' ? hasDefiniteHeight(analysis, container) : true;

/** What each line gets of the free cross space when lines are stretched (Flexbox 1 §9.4). */
function lineStretch(analysis: Analysis, box: FlexBox, lines: CrossLine[]): number {
  const align = usedText(analysis.reading, 'align-content', box.container);
  if (!isStretch(align)) return 0;
  const size = laidAreas(analysis.tree, box.container).content[sizeProperty(box.cross)];
  const free =
    size - lines.reduce((sum, one) => sum + one.size, 0) - box.crossGap * Math.max(0, lines.length - 1);
  return free > 0.01 && lines.length > 0 ? free / lines.length : 0;
}

/** The block size of a flex container with none of its own. */
export function flexContent(analysis: Analysis, container: number): Content {
  const { tree, reading } = analysis;
  const box = flexOf(analysis, container);
  const block = flowSides(reading, container).block;
  const lost: Lost[] = [];
  if (box.main === block) {
    const longest = box.lines[0];
    if (!longest) return { terms: [], lost };
    const count = longest.items.length - 1;
    const terms = longest.items.flatMap(({ element, base, label }) =>
      element < 0
        ? base
        : [
            boxTerm(
              element,
              block,
              laidAreas(tree, element).rect[sizeProperty(block)],
              'child',
              'flex-item',
              label,
            ),
            ...sidesOf(block).flatMap((side) => marginTerms(analysis, element, side, 1)),
          ],
    );
    if (count > 0 && box.gap) terms.push(gapTerm(analysis, box, box.gap, count, 1, true));
    return { terms, lost };
  }
  const lines = crossLines(analysis, box);
  const terms = lines.flatMap(({ tallest, size: whole, anonymous, over, rivals }) => {
    const size = whole - (over?.px ?? 0);
    if (tallest < 0) return anonymous ?? [];
    const margins = sidesOf(block).flatMap((side) => marginTerms(analysis, tallest, side, 1));
    const made = boxTerm(
      tallest,
      block,
      size - sumOf(margins),
      'child',
      'tallest-item',
      `${labelOf(reading, tallest)} is the tallest in its line`,
    );
    return [
      { ...made, rivals },
      ...margins,
      ...(over
        ? [
            term({
              px: over.px,
              what: 'baseline',
              rule: 'baseline',
              box: over.element,
              note: `${labelOf(reading, over.element)} reaches ${px(over.px)} further over the baseline that the items share`,
              links: [{ box: over.element, axis: block, area: 'border', rate: 0 }],
            }),
          ]
        : []),
    ];
  });
  if (lines.length > 1 && box.crossGap)
    terms.push(gapTerm(analysis, box, box.crossGap, lines.length - 1, 1, false));
  return { terms, lost };
}
