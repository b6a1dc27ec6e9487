/** Sizes that come from the room around a box or from what is in it: filling, shrinking to fit, replaced boxes and ratios (CSS 2.2 §10.3; Sizing 3 §5, 4 §5). */
import type { Analysis, Intrinsic } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { boxAbove, independence, layoutOf } from '../../boxes/formatting-contexts.ts';
import { labelOf, tagOf } from '../../reading/labels.ts';
import { flowSides, sizeOf } from '../../geometry/writing-modes.ts';
import { isTable } from '../../boxes/table-grid.ts';
import { inside, usedPx, usedText } from '../../boxes/tree.ts';
import { px, same, sidesOf, type Axis, type Side } from '../../geometry/rect.ts';
import { autoBlockSize } from './auto-block-size.ts';
import { containingSize, declaredOf, declaredPx } from './declared.ts';
import { contentExtent } from './content-contribution.ts';
import { isAuto, isIndefinite } from './percentage-definiteness.ts';
import { blockEnd, blockStart, floatsBefore } from '../block/margins.ts';
import {
  around,
  bothEdges,
  edgeTerms,
  lengthTerm,
  lostTo,
  marginTerms,
  otherAxis,
  roomTerm,
  sizeProperty,
} from '../model/term-builders.ts';
import { groundsOf, sumOf, term, type Lost, type Term } from '../model/term.ts';

export interface Sum {
  terms: Term[];
  lost: Lost[];
}

/** An image that has not come and shows what is there instead, so that its sizes are not taken. */
export function isMissing(analysis: Analysis, element: number): boolean {
  if (tagOf(analysis.reading, element) !== 'img') return false;
  const natural = inside(analysis.tree).natural.get(element);
  if (!natural || natural.width > 0) return false;
  const { rect } = laidAreas(analysis.tree, element);
  const asked = declaredOf(analysis, element, 'width');
  return !isAuto(asked.value) && !same(declaredPx(analysis, element, 'width', asked.value), rect.width);
}

/** A preferred aspect ratio gives the one size from the other (Sizing 4 §5.1). */
export function ratioTerms(analysis: Analysis, element: number, axis: Axis): Term[] | null {
  const { reading, tree } = analysis;
  const ratio = /([\d.]+)(?:\s*\/\s*([\d.]+))?$/.exec(usedText(reading, 'aspect-ratio', element));
  if (!ratio) return null;
  const number = Number(ratio[1]) / Number(ratio[2] ?? 1);
  const other = otherAxis(axis);
  const isBlockAxis = flowSides(reading, element).block === axis;
  const { value } = declaredOf(analysis, element, sizeProperty(other));
  if (!isBlockAxis && (isAuto(value) || isIndefinite(analysis, element, other, value))) return null;
  const border = usedText(reading, 'box-sizing', element) === 'border-box';
  const { rect, content } = laidAreas(tree, element);
  const from = sizeOf(border ? rect : content, other);
  const size = axis === 'x' ? from * number : from / number;
  const result = term({
    px: size,
    what: border ? 'border-box' : 'content',
    rule: 'aspect-ratio',
    box: element,
    source: declaredOf(analysis, element, 'aspect-ratio').source,
    note: `aspect-ratio ${usedText(reading, 'aspect-ratio', element)} of ${px(from)} ${other === 'x' ? 'wide' : 'tall'}`,
    links: [
      {
        box: element,
        axis: other,
        area: border ? 'border' : 'content',
        rate: axis === 'x' ? number : 1 / number,
      },
    ],
  });
  return border ? [result] : around(analysis, element, axis, [result]);
}

/** Fills its containing block: what is there, without the box's own margins (CSS 2.2 §10.3.3). */
export function fillTerms(analysis: Analysis, element: number, axis: Axis): Sum {
  const room = roomTerm(analysis, element, axis);
  const sides = sidesOf(axis);
  const margins = sides
    .flatMap((side) => marginTerms(analysis, element, side, -1))
    .filter(({ rule }) => rule !== 'auto-margin');
  const narrowed = independence(analysis.tree, element) === null ? null : besideFloats(analysis, element, axis);
  const edges = bothEdges(analysis, element, axis);
  const whole = room.px + sumOf(margins) + sumOf((narrowed ?? []).map(({ term }) => term));
  // Where the margins leave less than its own edges take, it is as wide as these.
  if (whole < sumOf(edges) - 0.005) return { terms: edges, lost: [] };
  if (!narrowed) return { terms: [{ ...room, rule: 'fill' }, ...margins], lost: [] };
  const kept = margins.filter(({ what }) => !narrowed.some(({ side }) => what === `margin-${side}`));
  return {
    terms: [{ ...room, rule: 'fill' }, ...kept, ...narrowed.map(({ term }) => term)],
    lost: narrowed.flatMap(({ side }) => {
      const { margin } = laidAreas(analysis.tree, element);
      return margin[side] === 0
        ? []
        : [
            lostTo(
              analysis,
              element,
              `margin-${side}`,
              margin[side],
              'the float beside it takes that room already',
            ),
          ];
    }),
  };
}

/** Room that floats take beside a box with a formatting context of its own (CSS 2.2 §9.5). */
function besideFloats(analysis: Analysis, element: number, axis: Axis): { side: Side; term: Term }[] | null {
  const { tree, reading } = analysis;
  const block = tree.containingBlock[element]!;
  if (block < 0 || tree.kinds[element] === 'root') return null;
  const sides = flowSides(reading, block);
  if (sides.inline !== axis) return null;
  const { rect } = laidAreas(tree, element);
  const [top, bottom] = [blockStart(sides, rect), blockEnd(sides, rect)];
  const { content } = laidAreas(tree, block);
  const [low, high] = sidesOf(axis);
  const best = new Map<Side, { px: number; float: number }>();
  for (const { element: float, side } of floatsBefore(analysis, element, sides)) {
    const areas = laidAreas(tree, float);
    const [from, to] = [
      blockStart(sides, areas.rect) - areas.margin[sides.blockStart],
      blockEnd(sides, areas.rect) + areas.margin[sides.blockEnd],
    ];
    if (from >= Math.max(bottom, top + 0.5) - 0.01 || to <= top + 0.01) continue;
    const at = side === 'left' ? low : high;
    const taken =
      at === low
        ? areas.rect[axis] + sizeOf(areas.rect, axis) + areas.margin[high] - content[axis]
        : content[axis] + sizeOf(content, axis) - (areas.rect[axis] - areas.margin[low]);
    const margin = laidAreas(tree, element).margin[at];
    if (taken > Math.max(0, margin) + 0.01 && taken > (best.get(at)?.px ?? 0))
      best.set(at, { px: taken, float });
  }
  if (best.size === 0) return null;
  return [...best].map(([side, { px: size, float }]) => ({
    side,
    term: term({
      px: -size,
      what: 'float',
      rule: 'float-beside',
      box: float,
      note: `${labelOf(reading, float)} floats beside it, and it has a formatting context of its own (CSS 2.2 §9.5)`,
      links: [{ box: float, axis, area: 'border', rate: -1 }],
    }),
  }));
}

/** Width that a containing block offers to what shrinks to fit. */
export function roomFor(analysis: Analysis, element: number, axis: Axis): number {
  return containingSize(analysis, element)[sizeProperty(axis)];
}

export function intrinsicOf(analysis: Analysis, element: number): Intrinsic | null {
  const cached = analysis.intrinsic.get(element);
  if (!cached) analysis.missingIntrinsicSizes.add(element);
  else if (analysis.reusedIntrinsicSizes.has(element)) analysis.reusedIntrinsicSizes.set(element, true);
  return cached ?? null;
}

/** The border box around content that is under no or under endless pressure. */
export function contentWidth(analysis: Analysis, element: number, axis: Axis, pressure: 'min' | 'max'): Term[] {
  const { tree, reading } = analysis;
  const intrinsic =
    axis === 'x' && layoutOf(tree, element) !== 'replaced' ? intrinsicOf(analysis, element) : null;
  const extent = contentExtent(analysis, element);
  const size = intrinsic?.[pressure] ?? extent.px;
  const words =
    pressure === 'min'
      ? 'min-content: the longest of what cannot break'
      : 'max-content: what is in it, without breaking lines';
  return around(analysis, element, axis, [
    term({
      px: size,
      what: 'content',
      rule: pressure === 'min' ? 'min-content' : 'max-content',
      box: extent.box,
      note: extent.box === element ? words : `${words}; ${labelOf(reading, extent.box)} reaches furthest`,
      // Text under other pressure is longer or shorter than it lies; what comes from its font is in proportion.
      causes: extent.causes.map((cause) =>
        cause.property === 'font-size' && extent.px > 0
          ? { ...cause, rate: (cause.rate * size) / extent.px }
          : cause,
      ),
      links: extent.links,
      rivals: extent.rivals,
    }),
  ]);
}

/** Shrinks to fit: what is in it, but no more than there is room (CSS 2.2 §10.3.5). `room`: before margins are taken off. */
export function fitTerms(
  analysis: Analysis,
  element: number,
  axis: Axis,
  room: number,
  taken: Term[] = [],
  most = contentWidth(analysis, element, axis, 'max'),
): Sum {
  const margins = sidesOf(axis)
    .flatMap((side) => marginTerms(analysis, element, side, -1))
    .filter(({ rule }) => rule !== 'auto-margin');
  const available = room + sumOf(margins) + sumOf(taken);
  if (Number.isNaN(available) || sumOf(most) <= available + 0.05) return { terms: most, lost: [] };
  const least = contentWidth(analysis, element, axis, 'min');
  if (sumOf(least) >= available) return { terms: least, lost: [] };
  const around = roomTerm(analysis, element, axis);
  return {
    terms: [
      {
        ...around,
        rule: 'fit-content',
        note: `${around.note}: it would like ${px(sumOf(most))} and gets what there is`,
      },
      ...margins,
      ...taken,
    ],
    lost: [],
  };
}

const hasInset = (analysis: Analysis, element: number, side: Side): boolean =>
  !/^(auto|initial)$/i.test(declaredOf(analysis, element, side).value);

/** Absolutely positioned, size auto (CSS 2.2 §10.3.7, §10.6.4). */
export function absoluteAuto(analysis: Analysis, element: number, axis: Axis): Sum {
  const { tree, reading } = analysis;
  const sides = sidesOf(axis);
  const insets = sides
    .filter((side) => hasInset(analysis, element, side))
    .map((side) => lengthTerm(analysis, element, side, usedPx(reading, side, element), side, -1));
  const self = usedText(
    reading,
    flowSides(reading, element).inline === axis ? 'justify-self' : 'align-self',
    element,
  );
  const stretches = /^(normal|auto|stretch|)$/.test(self);
  if (insets.length === 2 && stretches && !isTable(tree, element)) {
    const room = roomTerm(analysis, element, axis);
    return {
      terms: [
        { ...room, rule: 'insets' },
        ...insets,
        ...sides
          .flatMap((side) => marginTerms(analysis, element, side, -1))
          .filter(({ rule }) => rule !== 'auto-margin'),
      ],
      lost: [],
    };
  }
  if (flowSides(reading, element).block === axis) {
    const content = autoBlockSize(analysis, element);
    return { terms: around(analysis, element, axis, content.terms), lost: content.lost };
  }
  if (insets.length > 0) return fitTerms(analysis, element, axis, roomFor(analysis, element, axis), insets);
  const room = roomFor(analysis, element, axis);
  const parent = boxAbove(tree, element);
  const start = parent < 0 ? sides[0] : flowSides(reading, parent).inlineStart;
  const before = term({
    px: staticRoom(analysis, element, axis) - room,
    what: 'static',
    rule: 'static',
    box: element,
    note: 'up to where it would stand in flow (CSS 2.2 §10.3.7)',
    ...groundsOf(parent < 0 ? [] : edgeTerms(analysis, parent, start), -1),
  });
  return fitTerms(analysis, element, axis, room, same(before.px, 0) ? [] : [before]);
}

/** Room from where the box would stand in flow to the far edge of its containing block. */
function staticRoom(analysis: Analysis, element: number, axis: Axis): number {
  const { tree, reading } = analysis;
  const block = tree.containingBlock[element]!;
  const { rect, margin } = laidAreas(tree, element);
  const [low, high] = sidesOf(axis);
  const around =
    block < 0
      ? { x: 0, y: 0, width: reading.document.clientWidth, height: reading.document.clientHeight }
      : laidAreas(tree, block).rect;
  const border = block < 0 ? { left: 0, right: 0, top: 0, bottom: 0 } : laidAreas(tree, block).border;
  const parent = boxAbove(tree, element);
  const start = parent >= 0 ? flowSides(reading, parent).inlineStart : 'left';
  return start === 'right' || start === 'bottom'
    ? rect[axis] + sizeOf(rect, axis) + margin[high] - (around[axis] + border[low])
    : around[axis] + sizeOf(around, axis) - border[high] - (rect[axis] - margin[low]);
}

const DEFAULT_SIZE: Record<string, [number, number]> = {
  iframe: [300, 150],
  video: [300, 150],
  object: [300, 150],
  embed: [300, 150],
  svg: [300, 150],
  canvas: [300, 150],
};

const CONTROLS = /^(input|select|textarea)$/;

/** A replaced box's own size, or what its ratio gives from the other side (CSS 2.2 §10.3.2, §10.6.2). */
export function naturalTerms(analysis: Analysis, element: number, axis: Axis): Term[] {
  const { tree, reading } = analysis;
  const tag = tagOf(reading, element);
  const naturalTerm = (size: number, rule: string, note: string, links: Term['links'] = []): Term[] =>
    around(analysis, element, axis, [term({ px: size, what: 'content', rule, box: element, note, links })]);
  const { content } = laidAreas(tree, element);
  if (CONTROLS.test(tag))
    return naturalTerm(
      sizeOf(content, axis),
      'control',
      `the engine’s own size of ${tag === 'input' ? 'an' : 'a'} ${tag}`,
    );
  const natural = inside(tree).natural.get(element) ?? { width: 0, height: 0 };
  const other = otherAxis(axis);
  const declaredRatio = /([\d.]+)\s*\/\s*([\d.]+)/.exec(
    usedText(reading, 'aspect-ratio', element) || declaredOf(analysis, element, 'aspect-ratio').value,
  );
  const hasNatural = natural.width > 0 && natural.height > 0;
  const ratio = hasNatural
    ? natural.width / natural.height
    : declaredRatio
      ? Number(declaredRatio[1]) / Number(declaredRatio[2])
      : NaN;
  const otherValue = declaredOf(analysis, element, sizeProperty(other)).value;
  const otherAuto = isAuto(otherValue) || isIndefinite(analysis, element, other, otherValue);
  const otherSize = sizeOf(content, other);
  const from = axis === 'x' ? otherSize * ratio : otherSize / ratio;
  const unlike = hasNatural && tag !== 'svg' && !same(sizeOf({ x: 0, y: 0, ...natural }, other), otherSize);
  if (!Number.isNaN(ratio) && (!otherAuto || unlike) && otherSize > 0)
    return naturalTerm(
      from,
      'ratio',
      `${px(otherSize)} ${other === 'x' ? 'wide' : 'tall'} at its ratio of ${px(ratio)} to 1`,
      [{ box: element, axis: other, area: 'content', rate: axis === 'x' ? ratio : 1 / ratio }],
    );
  if (hasNatural && tag !== 'svg')
    return naturalTerm(natural[sizeProperty(axis)], 'natural', 'its natural size');
  if (tag === 'svg' && hasNatural) {
    if (axis === 'x')
      return fillTerms(analysis, element, axis).terms.map((term) => ({
        ...term,
        note: term.note || 'an image with a ratio and no size fills its containing block (CSS 2.2 §10.3.2)',
      }));
    return naturalTerm(from, 'ratio', `${px(otherSize)} wide at its ratio of ${px(ratio)} to 1`, [
      { box: element, axis: other, area: 'content', rate: 1 / ratio },
    ]);
  }
  const size = DEFAULT_SIZE[tag]?.[axis === 'x' ? 0 : 1];
  if (size !== undefined)
    return naturalTerm(size, 'default-object-size', `${size} where nothing says otherwise (CSS 2.2 §10.3.2)`);
  // An image that has not come shows its text, if any, as an inline box would.
  if (tag === 'img')
    return naturalTerm(
      sizeOf(content, axis),
      'alternative',
      'the image has not come: this is its text or nothing',
    );
  return naturalTerm(sizeOf(content, axis), 'control', `the engine’s own size of ${tag}`);
}
