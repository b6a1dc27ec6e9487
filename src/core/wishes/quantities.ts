/** What a wish comes to in numbers: what is measured now, and between which two numbers it should lie. */
import { distanceAccount, type EdgeOf } from '../accounts/distance.ts';
import { effectsOf, sizeEffects, type Effects } from '../accounts/model/effects.ts';
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { linesWithin, textWithin, withinOf } from '../boxes/text-lines.ts';
import { childrenOf, hasBox, inside, rectOf } from '../boxes/tree.ts';
import { scrollableBy } from '../boxes/viewport-overflow.ts';
import { resolve } from '../css/cascade/cascade.ts';
import { endOf, inset, sidesOf, sizeOn, startOf, type Axis, type Rect, type Side } from '../geometry/rect.ts';
import { elementAt, labelOf } from '../reading/labels.ts';
import {
  clips,
  hasBackground,
  isReplacedOrControl,
  isSelfOrAncestor,
  paddingBox,
  scrollsOn,
  visibilityOf,
} from '../visibility/visibility.ts';
import { isNeighbour, otherOf, type Relation, type Wish } from './model.ts';

/** One number of a wish, in CSS px unless it counts lines. */
export interface Quantity {
  axis: Axis;
  now: number;
  /** It should be no less and no more than these. */
  least: number;
  most: number;
  /** How it goes along with the properties of boxes; not there: no account tells. */
  effects?: () => Effects;
}

/** How one box of a wish stands: its numbers, and by how much the worst of them is off; 0: it is as wished. */
export interface Standing {
  element: number;
  path: string;
  quantities: Quantity[];
  missing: number;
}

/** Engines round to parts of a px: what is off by less than this is as wished. */
const NEAR = 0.5;

/** By how much a number should grow; below 0: shrink. 0: it lies where it should. */
export function shortfall({ now, least, most }: Quantity): number {
  const by = now < least ? least - now : now > most ? most - now : 0;
  return Math.abs(by) <= NEAR ? 0 : by;
}

/** The box that another is held against; −1: there is none on the page, or it is about one box alone. */
export function otherBox(analysis: Analysis, element: number, relation: Relation): number {
  const { reading, tree } = analysis;
  const other = otherOf(relation);
  if (other === null) return -1;
  if (!isNeighbour(other)) return boxAt(analysis, other);
  const isOne = (box: number): boolean => box >= 0 && hasBox(tree, box);
  if (other === 'what is around it') {
    let at = reading.parent[element]!;
    while (at >= 0 && !isOne(at)) at = reading.parent[at]!;
    return at;
  }
  const siblings = childrenOf(tree, reading.parent[element]!).filter(isOne);
  return siblings[siblings.indexOf(element) + (other === 'the next one' ? 1 : -1)] ?? -1;
}

function boxAt({ reading, tree }: Analysis, path: string): number {
  const element = elementAt(reading, path);
  return element >= 0 && hasBox(tree, element) ? element : -1;
}

/**
 * How every box of a wish stands in a reading; null: one of them, or the box that it is held against, is not there any more
 * or has no box. Throws a RangeError where two boxes cannot stand in the relation.
 */
export function standingsOf(analysis: Analysis, { paths, relation }: Wish): Standing[] | null {
  const out: Standing[] = [];
  for (const path of paths) {
    const element = boxAt(analysis, path);
    if (element < 0) return null;
    const other = otherBox(analysis, element, relation);
    // Of a row the first has none before it, and the last none behind.
    if (otherOf(relation) !== null && other < 0) {
      if (isNeighbour(otherOf(relation)!) && paths.length > 1) continue;
      return null;
    }
    const quantities = quantitiesOf(analysis, element, other, relation);
    const missing = Math.max(...quantities.map((one) => Math.abs(shortfall(one))));
    out.push({ element, path, quantities, missing });
  }
  return out.length > 0 ? out : null;
}

/** The box that is farthest from what is wished. */
export const worstOf = (standings: readonly Standing[]): Standing =>
  standings.reduce((worst, standing) => (standing.missing > worst.missing ? standing : worst));

const bounds = (bound: 'equal' | 'at-least' | 'at-most', value: number) => ({
  least: bound === 'at-most' ? -Infinity : value,
  most: bound === 'at-least' ? Infinity : value,
});

const exactly = (value: number) => ({ least: value, most: value });

function quantitiesOf(analysis: Analysis, element: number, other: number, relation: Relation): Quantity[] {
  const { reading, tree } = analysis;
  const size = (box: number, axis: Axis): number => sizeOn(rectOf(reading, box), axis);
  const { width, height } = rectOf(reading, element);
  switch (relation.is) {
    case 'size': {
      const { axis, bound, px } = relation;
      const effects = () => sizeEffects(analysis, element, axis);
      return [{ axis, now: size(element, axis), ...bounds(bound, px), effects }];
    }
    case 'size-of': {
      const { axis } = relation;
      const effects = () =>
        combined([sizeEffects(analysis, element, axis), 1], [sizeEffects(analysis, other, axis), -1]);
      return [{ axis, now: size(element, axis), ...exactly(size(other, axis)), effects }];
    }
    case 'ratio': {
      const effects = () =>
        combined(
          [sizeEffects(analysis, element, 'x'), 1],
          [sizeEffects(analysis, element, 'y'), -relation.ratio],
        );
      return [{ axis: 'x', now: width, ...exactly(height * relation.ratio), effects }];
    }
    case 'lines':
      return [{ axis: 'y', now: linesWithin(tree, element), ...bounds(relation.bound, relation.count) }];
    case 'whole-text':
      return (['x', 'y'] as const).map((axis) => ({
        axis,
        now: cutOff(analysis, element, axis),
        ...exactly(0),
      }));
    case 'distance':
      return [between(analysis, element, other, relation)];
    case 'flush': {
      const { side } = relation;
      const axis: Axis = side === 'left' || side === 'right' ? 'x' : 'y';
      const at = (box: number) => edgeAt(rectOf(reading, box), side);
      const from: EdgeOf = { element: other, area: 'border', side };
      const effects = () => distanceEffects(analysis, from, { element, area: 'border', side });
      return [{ axis, now: at(element), ...exactly(at(other)), effects }];
    }
    case 'centred': {
      const axes = relation.axis === 'both' ? (['x', 'y'] as const) : [relation.axis];
      return axes.map((axis) => offCentre(analysis, element, other, axis));
    }
    case 'not-over':
      return [overlap(analysis, element, other)];
    case 'no-scroll': {
      const axes = relation.axis === 'both' ? (['x', 'y'] as const) : [relation.axis];
      return axes.map((axis) => ({
        axis,
        now:
          element === 0 || labelOf(reading, element) === 'body'
            ? scrollableBy(reading, axis)
            : scrollsOn(tree, element, axis)
              ? beyond(analysis, element, axis)
              : 0,
        ...exactly(0),
      }));
    }
  }
}

const edgeAt = (rect: Rect, side: Side): number =>
  side === 'left' || side === 'top'
    ? startOf(rect, side === 'left' ? 'x' : 'y')
    : endOf(rect, side === 'right' ? 'x' : 'y');

function combined(...list: readonly (readonly [Effects, number])[]): Effects {
  const out: Effects = new Map();
  for (const [effects, rate] of list)
    for (const [key, slope] of effects) out.set(key, (out.get(key) ?? 0) + slope * rate);
  return out;
}

const distanceEffects = (analysis: Analysis, from: EdgeOf, to: EdgeOf): Effects =>
  effectsOf(analysis, distanceAccount(analysis, from, to).terms);

function between(
  analysis: Analysis,
  element: number,
  other: number,
  { side, bound, px }: Extract<Relation, { is: 'distance' }>,
): Quantity {
  const { reading } = analysis;
  const axis: Axis = side === 'left' || side === 'right' ? 'x' : 'y';
  const [low, high] = sidesOf(axis);
  const isBehind = side === 'below' || side === 'right';
  const [first, second] = isBehind ? [other, element] : [element, other];
  return {
    axis,
    now: startOf(rectOf(reading, second), axis) - endOf(rectOf(reading, first), axis),
    ...bounds(bound, px),
    effects: () =>
      distanceEffects(
        analysis,
        { element: first, area: 'border', side: high },
        { element: second, area: 'border', side: low },
      ),
  };
}

/** From the middle of one to the middle of the other. */
function offCentre(analysis: Analysis, element: number, other: number, axis: Axis): Quantity {
  const isAround = isSelfOrAncestor(analysis, other, element);
  const [inner, outer] = [
    seenExtent(analysis, element),
    isAround ? contentBox(analysis, other) : rectOf(analysis.reading, other),
  ];
  const middle = (rect: Rect) => startOf(rect, axis) + sizeOn(rect, axis) / 2;
  const [low] = sidesOf(axis);
  return {
    axis,
    now: middle(inner) - middle(outer),
    ...exactly(0),
    effects: () =>
      combined(
        [
          distanceEffects(
            analysis,
            { element: other, area: isAround ? 'content' : 'border', side: low },
            { element, area: 'border', side: low },
          ),
          1,
        ],
        [sizeEffects(analysis, element, axis), 0.5],
        [sizeEffects(analysis, other, axis), -0.5],
      ),
  };
}

/** The content box as drawn. */
function contentBox(analysis: Analysis, element: number): Rect {
  const { border, scrollbar, padding } = laidAreas(analysis.tree, element);
  return inset(inset(inset(rectOf(analysis.reading, element), border), scrollbar), padding);
}

/** What is seen of a box: the box where it has a ground, a border or shows something by itself; else the text in it. */
function seenExtent(analysis: Analysis, element: number): Rect {
  const { tree, reading } = analysis;
  const rect = rectOf(reading, element);
  const { border } = laidAreas(tree, element);
  const hasBorder = border.top + border.bottom + border.left + border.right > 0;
  if (hasBackground(analysis, element) || isReplacedOrControl(tree, element) || hasBorder) return rect;
  const pieces = textWithin(tree, element);
  if (pieces.length === 0) return rect;
  const left = Math.min(...pieces.map(({ x }) => x));
  const top = Math.min(...pieces.map(({ y }) => y));
  return {
    x: left,
    y: top,
    width: Math.max(...pieces.map(({ x, width }) => x + width)) - left,
    height: Math.max(...pieces.map(({ y, height }) => y + height)) - top,
  };
}

/** How deep one lies over the other, on the axis on which they would part sooner. */
function overlap(analysis: Analysis, element: number, other: number): Quantity {
  const { reading } = analysis;
  if (isSelfOrAncestor(analysis, element, other) || isSelfOrAncestor(analysis, other, element))
    throw new RangeError(
      `${labelOf(reading, element)} and ${labelOf(reading, other)} lie in each other: wish for boxes of which neither is in the other`,
    );
  const [a, b] = [rectOf(reading, element), rectOf(reading, other)];
  const depth = (axis: Axis) =>
    Math.min(endOf(a, axis), endOf(b, axis)) - Math.max(startOf(a, axis), startOf(b, axis));
  const axis: Axis = depth('x') < depth('y') ? 'x' : 'y';
  const [low, high] = sidesOf(axis);
  const isFirst = startOf(a, axis) <= startOf(b, axis);
  const [first, second] = isFirst ? [element, other] : [other, element];
  return {
    axis,
    now: Math.max(0, depth(axis)),
    ...exactly(0),
    effects: () =>
      combined([
        distanceEffects(
          analysis,
          { element: first, area: 'border', side: high },
          { element: second, area: 'border', side: low },
        ),
        -1,
      ]),
  };
}

/** CSS px that a box has in it beyond what it shows. */
function beyond({ reading: { scrolls } }: Analysis, element: number, axis: Axis): number {
  for (let at = 0; at + 4 < scrolls.length; at += 5)
    if (scrolls[at] === element)
      return Math.max(
        0,
        axis === 'x' ? scrolls[at + 3]! - scrolls[at + 1]! : scrolls[at + 4]! - scrolls[at + 2]!,
      );
  return 0;
}

/** CSS px of the text in a box that are cut off on an axis, where what is cut off cannot be scrolled to (CSS Overflow 3 §3). */
function cutOff(analysis: Analysis, element: number, axis: Axis): number {
  const { tree } = analysis;
  const { texts } = inside(tree);
  const { clipper } = visibilityOf(analysis);
  let most = 0;
  for (const at of withinOf(tree, element)) {
    if (isReplacedOrControl(tree, at)) most = Math.max(most, beyond(analysis, at, axis));
    const pieces = (texts.get(at) ?? []).flatMap(({ pieces, blank }) => (blank ? [] : pieces));
    if (pieces.length === 0) continue;
    const isCut = clips(tree, at, axis);
    // An ellipsis stands for the letters that are cut: these are in the box, and no piece tells of them.
    if (
      isCut &&
      !scrollsOn(tree, at, axis) &&
      !/^(clip|initial|)$/.test(resolve(analysis.styles, at, 'text-overflow').value)
    )
      most = Math.max(most, beyond(analysis, at, axis));
    for (let box = isCut ? at : clipper[at]!; box >= 0; box = clipper[box]!) {
      if (!clips(tree, box, axis)) continue;
      // What is scrolled to within a box is seen as far as the box is.
      if (scrollsOn(tree, box, axis)) break;
      const seen = paddingBox(analysis, box);
      for (const piece of pieces)
        most = Math.max(
          most,
          endOf(piece, axis) - endOf(seen, axis),
          startOf(seen, axis) - startOf(piece, axis),
        );
    }
  }
  return most;
}
