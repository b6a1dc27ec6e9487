/**
 * Which margins meet in a block container, which of them count, and how far each in-flow box comes to lie from the one
 * before (CSS 2.2 §8.3.1, §9.5.2; Quirks Mode §3.8; HTML §15.3.10).
 */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { independence, layoutOf } from '../../boxes/formatting-contexts.ts';
import { flowOf, type Flow, type FlowItem } from '../../boxes/flow.ts';
import { labelOf, tagOf } from '../../reading/labels.ts';
import { linesOf, relativeOffset, type Line } from '../../boxes/line-boxes.ts';
import { ahead, edgeOf, flowSides, type FlowSides } from '../../geometry/writing-modes.ts';
import { pxOf, usedText } from '../../boxes/tree.ts';
import { px, same } from '../../geometry/rect.ts';
import { declaredOf } from '../sizing/declared.ts';
import { hasDefiniteHeight, isAuto, isIndefinite } from '../sizing/percentage-definiteness.ts';
import { once, sizeProperty } from '../model/term-builders.ts';

/** A margin that takes part in a collapse. `element`: whose; −1 with a generated box's own. */
export interface Meeting {
  element: number;
  side: 'start' | 'end';
  px: number;
}

/** What lies between two things that follow each other in a block container. */
export interface Between {
  /** Index of the item before and after in `Column.items`; −1 and `items.length` are the container's content edges. */
  before: number;
  after: number;
  margins: Meeting[];
  /** CSS px that the collapsed margins come to, less what already lies above an empty box between. */
  px: number;
  /** Of `px`, what already counted above boxes without height, and the margins that it came from. */
  spent: number;
  spentOn: Meeting[];
  /** Set where a float and `clear` decide: the float, and the distance to its end. */
  clearance: { float: number; px: number } | null;
  /** Why the margins do not count here: they go on through an edge of the container. */
  escapes: 'start' | 'end' | null;
}

export interface BlockFlow {
  container: number;
  sides: FlowSides;
  flow: Flow;
  items: FlowItem[];
  /** Lines by item; empty for what is no run of lines. */
  lines: Line[][];
  /** By item: how far floats push lines on. `line`: the one that is pushed; the number of lines: what follows them. */
  pushes: { px: number; float: number; line: number }[][];
  betweens: Between[];
  /** Why the margins at the container's start and end stay in it; null: they pass through. */
  startStop: string | null;
  endStop: string | null;
  /** Margins that leave at the start or the end, and, where all of it collapses through, both. */
  startChain: Meeting[];
  endChain: Meeting[];
  /** Margins on both sides meet through the box: it has no height and nothing in it. */
  through: boolean;
}

export const collapse = (margins: Meeting[]): number =>
  Math.max(0, ...margins.map((margin) => margin.px)) + Math.min(0, ...margins.map((margin) => margin.px));

/** A position along the block axis that grows from the container's start. */
export const blockStart = (
  sides: FlowSides,
  rect: { x: number; y: number; width: number; height: number },
): number => ahead(sides.blockStart, 0, edgeOf(rect, sides.blockStart));
export const blockEnd = (
  sides: FlowSides,
  rect: { x: number; y: number; width: number; height: number },
): number => ahead(sides.blockStart, 0, edgeOf(rect, sides.blockEnd));

/** Border edges of an in-flow box along the block axis, as if it were not moved by `position: relative`. */
export function flowEdges(
  analysis: Analysis,
  element: number,
  sides: FlowSides,
): { start: number; end: number } {
  const { tree } = analysis;
  const { rect } = laidAreas(tree, element);
  const moved = relativeOffset(tree, element, sides);
  return { start: blockStart(sides, rect) - moved, end: blockEnd(sides, rect) - moved };
}

const isQuirky = (analysis: Analysis, element: number, side: string): boolean => {
  const { source, value } = declaredOf(analysis, element, `margin-${side}`);
  return source.origin === 'browser' && /^[\d.]+em$/.test(value);
};

/** In quirks mode the browser's own margins at the start of a cell or of body count for nothing, and at the end of a cell. */
function isIgnored(
  analysis: Analysis,
  container: number,
  element: number,
  edge: 'start' | 'end',
  side: string,
): boolean {
  if (analysis.reading.document.mode !== 'quirks') return false;
  const cell = analysis.tree.kinds[container] === 'table-cell';
  const body = tagOf(analysis.reading, container) === 'body' && edge === 'start';
  return (cell || body) && isQuirky(analysis, element, side);
}

function ownMargin(analysis: Analysis, element: number, sides: FlowSides, side: 'start' | 'end'): Meeting {
  const { margin } = laidAreas(analysis.tree, element);
  return { element, side, px: margin[side === 'start' ? sides.blockStart : sides.blockEnd] };
}

/** Why an edge of a box keeps its margins from those of what is in it; null: nothing does. */
function edgeStop(analysis: Analysis, element: number, sides: FlowSides, edge: 'start' | 'end'): string | null {
  const { tree } = analysis;
  const text = independence(tree, element);
  if (text) return `${text}, which makes a formatting context of its own`;
  const { border, padding } = laidAreas(tree, element);
  const side = edge === 'start' ? sides.blockStart : sides.blockEnd;
  if (border[side] !== 0) return `border-${side} ${px(border[side])} lies between`;
  if (padding[side] !== 0) return `padding-${side} ${px(padding[side])} lies between`;
  if (edge === 'start') return null;
  const size = sizeProperty(sides.block);
  const declared = declaredOf(analysis, element, size).value;
  const previous =
    sides.block === 'x'
      ? !isIndefinite(analysis, element, 'x', declared)
      : hasDefiniteHeight(analysis, element);
  const definite = !isAuto(declared) && previous;
  if (definite) return `${size}: ${declared} is not auto`;
  return null;
}

function isThroughBox(analysis: Analysis, element: number, sides: FlowSides): boolean {
  const { tree } = analysis;
  if (independence(tree, element)) return false;
  const { rect, border, padding } = laidAreas(tree, element);
  const size = rect[sizeProperty(sides.block)];
  return (
    same(size, 0) &&
    border[sides.blockStart] === 0 &&
    border[sides.blockEnd] === 0 &&
    padding[sides.blockStart] === 0 &&
    padding[sides.blockEnd] === 0
  );
}

interface Floating {
  element: number;
  side: 'left' | 'right';
  /** Margin edge at the block end. */
  end: number;
}

/** The box whose formatting context lays out what is directly in a box: itself or the nearest around it that has one. */
function contextOf({ tree, reading }: Analysis, box: number): number {
  let at = box;
  while (at > 0 && independence(tree, at) === null) at = reading.parent[at]!;
  return Math.max(0, at);
}

/** Floats that stand before `element` in its formatting context. */
export const floatsBefore = (analysis: Analysis, element: number, sides: FlowSides): Floating[] =>
  floatsUntil(analysis, analysis.reading.parent[element]!, element, sides);

/** Floats in the formatting context of what is in `container` that stand before an element. */
function floatsUntil(analysis: Analysis, container: number, until: number, sides: FlowSides): Floating[] {
  const { tree, reading } = analysis;
  const out: Floating[] = [];
  for (const float of floatsIn(analysis, contextOf(analysis, container))) {
    if (float >= until) break;
    const { rect, margin } = laidAreas(tree, float);
    out.push({
      element: float,
      side: usedText(reading, 'float', float) as 'left' | 'right',
      end: blockEnd(sides, rect) - relativeOffset(tree, float, sides) + margin[sides.blockEnd],
    });
  }
  return out;
}

/** Floats whose formatting context is that of `root`, in document order. */
export function floatsIn(analysis: Analysis, root: number): number[] {
  return once(analysis, `floats ${root}`, () => {
    const { tree, reading } = analysis;
    const out: number[] = [];
    const inside = new Set([root]);
    for (let i = root + 1; i < reading.count; i++) {
      const parent = reading.parent[i]!;
      if (parent < root) break;
      if (!inside.has(parent)) continue;
      if (tree.kinds[i] === 'float') out.push(i);
      else if (tree.kinds[i] === 'contents' || tree.kinds[i] === 'inline' || independence(tree, i) === null)
        inside.add(i);
    }
    return out;
  });
}

/** The float that `clear` puts something below; null where it is below all of them anyway. */
function clearanceOf(
  clear: string,
  floatsOf: () => Floating[],
  sides: FlowSides,
  hypothetical: number,
): { float: number; end: number } | null {
  if (clear === 'none' || clear === '') return null;
  const rtl = sides.inlineStart === 'right';
  const cleared = (side: 'left' | 'right') =>
    clear === 'both' ||
    clear === side ||
    clear === (side === 'left' ? (rtl ? 'inline-end' : 'inline-start') : rtl ? 'inline-start' : 'inline-end');
  const last = floatsOf()
    .filter(({ side }) => cleared(side))
    .reduce<Floating | null>((best, float) => (!best || float.end > best.end ? float : best), null);
  return last && last.end > hypothetical + 0.01 ? { float: last.element, end: last.end } : null;
}

/** Number of the last element in the document that lies in a box. */
function lastInside({ reading }: Analysis, element: number): number {
  let last = element;
  while (last + 1 < reading.count && reading.parent[last + 1]! >= element) last++;
  return last;
}

/** The float that keeps a line from its place; null where the line is where it would be without. */
function pushedBy(
  analysis: Analysis,
  container: number,
  sides: FlowSides,
  expected: number,
  found: number,
): { px: number; float: number } | null {
  if (found < expected + 0.5) return null;
  const floats = floatsUntil(analysis, container, lastInside(analysis, container) + 1, sides);
  const by = floats.find(({ end }) => same(end, found));
  return by ? { px: by.end - expected, float: by.element } : null;
}

/** Places in a run of lines where floats push what follows further down: lines that do not fit beside them, and `br` with `clear`. */
function pushesOf(
  analysis: Analysis,
  { container, sides, lines }: BlockFlow,
  item: FlowItem & { what: 'lines' },
  i: number,
): BlockFlow['pushes'][number] {
  const { reading } = analysis;
  const line = lines[i]!;
  const out: BlockFlow['pushes'][number] = [];
  for (let n = 1; n < line.length; n++) {
    const pushed = pushedBy(analysis, container, sides, line[n - 1]!.end, line[n]!.start);
    if (pushed) out.push({ ...pushed, line: n });
  }
  // White space and empty boxes behind a break make no line of their own.
  const last = item.nodes.findLast(
    (node) =>
      node.what === 'atom' ||
      (node.what === 'text' && !node.blank) ||
      (node.what === 'box' && tagOf(reading, node.element) === 'br'),
  );
  if (last?.what !== 'box') return out;
  const floats = () => floatsUntil(analysis, container, last.element, sides);
  const end = line.at(-1)!.end;
  const cleared = clearanceOf(usedText(reading, 'clear', last.element), floats, sides, end);
  if (cleared) out.push({ px: cleared.end - end, float: cleared.float, line: line.length });
  return out;
}

/** Whether margins of a box meet those of what is in it: only blocks that hold blocks or lines in their parent's context. */
const isOpen = (analysis: Analysis, element: number): boolean => {
  const { tree } = analysis;
  return layoutOf(tree, element) === 'flow' && independence(tree, element) === null;
};

/** A block container's in-flow content down its block axis, with the margins that meet at every place in it. */
export function blockFlowOf(analysis: Analysis, container: number): BlockFlow {
  if (!analysis.memo.has(`column ${container}`)) makeInner(analysis, container);
  return once(analysis, `column ${container}`, () => makeColumn(analysis, container));
}

/** Makes the columns that a container's own asks for, the deepest first: pages nest deeper than a call stack does. */
function makeInner(analysis: Analysis, container: number): void {
  const inner: number[] = [];
  const stack = [container];
  for (let at = stack.pop(); at !== undefined; at = stack.pop())
    for (const item of flowOf(analysis.tree, at).items) {
      if (item.what !== 'block' || !isOpen(analysis, item.element)) continue;
      if (analysis.memo.has(`column ${item.element}`)) continue;
      inner.push(item.element);
      stack.push(item.element);
    }
  for (const element of inner.reverse())
    once(analysis, `column ${element}`, () => makeColumn(analysis, element));
}

function makeColumn(analysis: Analysis, container: number): BlockFlow {
  const { tree, reading } = analysis;
  const sides = flowSides(reading, container);
  const flow = flowOf(tree, container);
  const { items } = flow;
  const blockFlow: BlockFlow = {
    container,
    sides,
    flow,
    items,
    lines: items.map((item) => (item.what === 'lines' ? linesOf(tree, container, item.nodes) : [])),
    pushes: items.map(() => []),
    betweens: [],
    startStop: edgeStop(analysis, container, sides, 'start'),
    endStop: edgeStop(analysis, container, sides, 'end'),
    startChain: [],
    endChain: [],
    through: false,
  };
  const { content } = laidAreas(tree, container);
  let pending: Meeting[] = [];
  /** Margins so far belong to the container's start as well. */
  let atStart = blockFlow.startStop === null;
  let edge = -1;
  let position = blockStart(sides, content);
  let spent = 0;
  /** The margins of an empty box with clearance do not leave its container (CSS 2.2 §8.3.1). */
  let kept = false;
  let spentOn: Meeting[] = [];
  const put = (after: number, result: Partial<Between> = {}) => {
    const between: Between = {
      before: edge,
      after,
      margins: [...pending],
      px: collapse(pending) - spent,
      spent,
      spentOn: spent === 0 ? [] : spentOn,
      clearance: null,
      escapes: null,
      ...result,
    };
    blockFlow.betweens.push(between);
    return between;
  };
  const leaveStart = () => {
    blockFlow.startChain = [...pending];
    atStart = false;
  };
  items.forEach((item, i) => {
    if (item.what === 'lines') {
      if (blockFlow.lines[i]!.length === 0) return;
      if (atStart) {
        leaveStart();
        put(i, { px: 0, escapes: 'start' });
      } else put(i);
      const at = blockFlow.betweens.at(-1)!;
      const first = blockFlow.lines[i]![0]!;
      const pushed = pushedBy(analysis, container, sides, position + at.px, first.start);
      if (pushed) at.clearance = { float: pushed.float, px: pushed.px + at.px };
      blockFlow.pushes[i] = pushesOf(analysis, blockFlow, item, i);
      pending = [];
      spent = 0;
      edge = i;
      position =
        blockFlow.lines[i]!.at(-1)!.end + blockFlow.pushes[i].reduce((sum, entry) => sum + entry.px, 0);
      return;
    }
    if (item.what === 'generated') {
      const [top, bottom, height] = generatedSizes(item, sides);
      pending.push({ element: item.pseudo.element, side: 'start', px: top });
      const until = item.pseudo.name === 'after' ? lastInside(analysis, container) + 1 : container;
      const clearance = clearanceOf(
        item.pseudo.values['clear'] ?? 'none',
        () => floatsUntil(analysis, container, until, sides),
        sides,
        position + (atStart ? 0 : collapse(pending)),
      );
      if (clearance) {
        if (atStart) leaveStart();
        const by = { float: clearance.float, px: clearance.end - position - spent };
        put(i, { px: by.px, clearance: by });
        pending = [{ element: item.pseudo.element, side: 'end', px: bottom }];
        spent = 0;
        edge = i;
        position = clearance.end + height;
        return;
      }
      if (height === 0) {
        pending.push({ element: item.pseudo.element, side: 'end', px: bottom });
        return;
      }
      put(i, atStart ? { px: 0, escapes: 'start' } : {});
      if (atStart) leaveStart();
      pending = [{ element: item.pseudo.element, side: 'end', px: bottom }];
      spent = 0;
      edge = i;
      position += height;
      return;
    }
    const { element } = item;
    const ownMeeting = ownMargin(analysis, element, sides, 'start');
    const ownEnd = ownMargin(analysis, element, sides, 'end');
    const inner = isOpen(analysis, element) ? blockFlowOf(analysis, element) : null;
    const first = items.slice(0, i).every((item) => item.what === 'lines' && item.nodes.length === 0);
    if (first && isIgnored(analysis, container, element, 'start', sides.blockStart)) ownMeeting.px = 0;
    const chain = [ownMeeting, ...(inner && inner.startStop === null ? inner.startChain : [])];
    const through =
      isThroughBox(analysis, element, sides) && (inner ? inner.through || inner.items.length === 0 : false);
    const meeting = [...pending, ...chain];
    const hypothetical = position + (atStart ? 0 : collapse(meeting));
    const clearance = clearanceOf(
      usedText(reading, 'clear', element),
      () => floatsBefore(analysis, element, sides),
      sides,
      hypothetical,
    );
    const edges = flowEdges(analysis, element, sides);
    const expected = position + (atStart ? 0 : collapse(meeting) - spent);
    // A box with a formatting context of its own that does not fit beside floats lies below them (CSS 2.2 §9.5).
    const beside =
      clearance || !independence(tree, element)
        ? null
        : pushedBy(analysis, container, sides, expected, edges.start);
    const below = clearance ?? (beside && { float: beside.float, end: expected + beside.px });
    if (below) {
      // Its margins do not meet those before it (CSS 2.2 §9.5.2), so they do not leave its container either.
      if (atStart) leaveStart();
      pending = meeting;
      const by = { float: below.float, px: below.end - position - spent };
      put(i, { px: by.px, clearance: by });
      pending = chain;
    } else {
      pending = meeting;
      if (atStart) {
        put(i, { px: 0, escapes: 'start' });
        if (!through) leaveStart();
      } else put(i);
    }
    kept = through && (kept || below !== null);
    if (through) {
      if (below) position = below.end;
      if (!atStart) {
        spent = collapse(pending);
        spentOn = [...pending];
      }
      pending = [...pending, ...(inner ? inner.endChain : []), ownEnd];
      edge = i;
      return;
    }
    pending = [...(inner && inner.endStop === null ? inner.endChain : []), ownEnd];
    spent = 0;
    edge = i;
    position = edges.end;
  });
  const lastElement = items.findLast((item) => item.what === 'block');
  if (
    lastElement?.what === 'block' &&
    isIgnored(analysis, container, lastElement.element, 'end', sides.blockEnd)
  )
    pending = pending.filter(({ element, side }) => element !== lastElement.element || side !== 'end');
  if (atStart && isThroughBox(analysis, container, sides)) {
    blockFlow.through = true;
    blockFlow.startChain = [...pending];
    blockFlow.endChain = [...pending];
    put(items.length, { px: 0, escapes: 'start' });
    return blockFlow;
  }
  if (atStart) {
    leaveStart();
    put(items.length, { px: 0, escapes: 'start' });
    return blockFlow;
  }
  // A minimum or maximum in force holds the end away from what is in the box.
  const held = ahead('top', position, blockEnd(sides, content));
  if (blockFlow.endStop === null && Math.abs(held) > 0.05)
    blockFlow.endStop = `${held > 0 ? 'min' : 'max'}-${sizeProperty(sides.block)} decides where it ends`;
  if (kept) blockFlow.endStop ??= 'an empty box with clearance lies last';
  if (blockFlow.endStop === null) {
    blockFlow.endChain = [...pending];
    put(items.length, { px: 0, escapes: 'end' });
  } else put(items.length);
  return blockFlow;
}

/** Margins and border-box height of a generated block. */
export function generatedSizes(
  item: FlowItem & { what: 'generated' },
  sides: FlowSides,
): [number, number, number] {
  const { values } = item.pseudo;
  const four = (property: string): Record<string, number> => {
    const list = (values[property] ?? '').split(' ').map((part) => pxOf(part) || 0);
    const of = (...at: number[]) => list[at.find((element) => list[element] !== undefined) ?? 0] ?? 0;
    return { top: of(0), right: of(1, 0), bottom: of(2, 0), left: of(3, 1, 0) };
  };
  const margin = four('margin');
  const [padding, border] = [four('padding'), four('border-width')];
  const size = pxOf(values[sizeProperty(sides.block)] ?? '') || 0;
  const { blockStart: top, blockEnd: bottom } = sides;
  const edges = padding[top]! + padding[bottom]! + border[top]! + border[bottom]!;
  return [margin[top]!, margin[bottom]!, values['box-sizing'] === 'border-box' ? size : size + edges];
}

/** What a margin is, in words: `margin-bottom 32 of p.lead`. */
export const meetingWords = (
  analysis: Analysis,
  { element, side, px: size }: Meeting,
  sides: FlowSides,
): string =>
  `margin-${side === 'start' ? sides.blockStart : sides.blockEnd} ${px(size)} of ${labelOf(analysis.reading, element)}`;
