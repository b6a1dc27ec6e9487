/** Terms that many sums share: edges, margins, declared lengths, the room that a containing block has. */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { labelOf } from '../../reading/labels.ts';
import { flowSides } from '../../geometry/writing-modes.ts';
import { meetingBorders } from '../../boxes/table-grid.ts';
import { usedPx, usedText } from '../../boxes/tree.ts';
import { lengthPx } from '../../css/values/lengths.ts';
import { sidesOf, type Axis, type Side } from '../../geometry/rect.ts';
import { containingSize, declaredOf, lengthContext, quirkBasis, type Declared } from '../sizing/declared.ts';
import { groundsOf, term, type Cause, type Link, type Lost, type Term } from './term.ts';

export const sizeProperty = (axis: Axis): 'width' | 'height' => (axis === 'x' ? 'width' : 'height');
export const otherAxis = (axis: Axis): Axis => (axis === 'x' ? 'y' : 'x');

const ruleOf = ({ source }: Declared): string => (source.origin === 'browser' ? 'default' : 'declared');

const CONTAINER_AXES = ['w', 'h', 'i', 'b'] as const;
const OF_HEIGHT = /^(min-|max-)?height$|^(top|bottom)$/;

/** Axis of the size that a percentage of the property is taken of. */
export function percentAxis(analysis: Analysis, element: number, property: string): Axis {
  if (OF_HEIGHT.test(property)) return 'y';
  const { box } = containingSize(analysis, element);
  const sideways = box >= 0 && flowSides(analysis.reading, box).inline === 'y';
  return /^(margin|padding)/.test(property) && sideways ? 'y' : 'x';
}

/** A property that is inherited, or relative to the parent's, goes along with that of every box it comes from. */
export function inheritedCauses(
  analysis: Analysis,
  element: number,
  property: 'font-size' | 'line-height',
  rate: number,
): Cause[] {
  const out: Cause[] = [];
  for (let at = element; at >= 0; at = analysis.reading.parent[at]!) {
    const { from, value } = declaredOf(analysis, at, property);
    // A line height that is a number gives each box its own multiple.
    const multiple = property === 'line-height' && /^[\d.]+$/.test(value);
    const size = (element: number) => usedPx(analysis.reading, 'font-size', element);
    out.push({ box: at, property, rate: multiple ? (rate * size(element)) / size(at) : rate });
    if (from === 'inherited') continue;
    const relative = property === 'font-size' ? /^([\d.]+)(em|%)$/.exec(value) : null;
    if (!relative) break;
    rate *= Number(relative[1]) / (relative[2] === '%' ? 100 : 1);
  }
  return out;
}

/**
 * What a used length goes along with: the property itself, the font size it is counted in, the size it is a part of.
 * `rate`: px of the number for each px of the length.
 */
export function grounds(
  analysis: Analysis,
  element: number,
  property: string,
  value: string,
  rate: number,
): { causes: Cause[]; links: Link[] } {
  const causes: Cause[] = [{ box: element, property, rate }];
  const links: Link[] = [];
  const context = lengthContext(analysis, element, property);
  const base = lengthPx(value, context);
  if (Number.isNaN(base)) return { causes, links };
  const slope = (change: Partial<typeof context>) => lengthPx(value, { ...context, ...change }) - base;
  // What is counted in the height of x or the width of 0 grows with the font as well.
  const grown = 1 + 1 / (context.em || 1);
  const em = slope({
    em: context.em * grown,
    xHeight: context.xHeight * grown,
    zero: context.zero * grown,
  });
  if (em) causes.push(...inheritedCauses(analysis, element, 'font-size', rate * em));
  const rem = slope({ rem: context.rem + 1 });
  if (rem) causes.push({ box: 0, property: 'font-size', rate: rate * rem });
  for (const axis of CONTAINER_AXES) {
    const along = context.container?.(axis);
    if (!along || along.box < 0 || !/cq/i.test(value)) continue;
    const by = slope({
      container: (other) => {
        const queried = context.container!(other);
        return other === axis ? { ...queried, size: queried.size + 1 } : queried;
      },
    });
    const { inline, block } = flowSides(analysis.reading, along.box);
    const physical = { w: 'x', h: 'y', i: inline, b: block } as const;
    if (by) links.push({ box: along.box, axis: physical[axis], area: 'content', rate: rate * by });
  }
  const part = Number.isNaN(context.percentBase) ? 0 : slope({ percentBase: context.percentBase + 1 });
  const basis = containingSize(analysis, element);
  const quirk = part && /height$/.test(property) ? quirkBasis(analysis, element) : null;
  if (quirk?.fills) {
    // As tall as the viewport leaves it: what it takes for its own edges is missing.
    const edges = groundsOf(
      quirk.box < 0
        ? []
        : (['top', 'bottom'] as const).flatMap((side) => [
            ...marginTerms(analysis, quirk.box, side, 1),
            ...edgeTerms(analysis, quirk.box, side),
          ]),
      -rate * part,
    );
    causes.push(...edges.causes);
    links.push(...edges.links);
  } else if (quirk) links.push({ box: quirk.box, axis: 'y', area: 'content', rate: rate * part });
  else if (part && basis.box >= 0) {
    const axis = percentAxis(analysis, element, property);
    // A grid area is its item's own matter: the link goes to the item, whose account of the area it is.
    links.push(
      basis.area === 'area'
        ? { box: element, axis, area: 'area', rate: rate * part }
        : { box: basis.box, axis, area: basis.area, rate: rate * part },
    );
  }
  return { causes, links };
}

/** A term for the used length of one property; `sign` −1 where it takes from the number. */
export function lengthTerm(
  analysis: Analysis,
  element: number,
  property: string,
  used: number,
  what: string,
  sign: 1 | -1 = 1,
): Term {
  const declared = declaredOf(analysis, element, property);
  return term({
    px: sign * used,
    what,
    rule: ruleOf(declared),
    box: element,
    source: declared.source,
    note: declared.note ?? '',
    ...grounds(analysis, element, property, declared.value, sign),
  });
}

/** Border and padding on one side, as far as they are not 0. */
export function edgeTerms(analysis: Analysis, element: number, side: Side): Term[] {
  const { border, padding } = laidAreas(analysis.tree, element);
  const out: Term[] = [];
  if (border[side] !== 0) {
    const term = lengthTerm(analysis, element, `border-${side}-width`, border[side], `border-${side}`);
    if (isCollapsedCell(analysis, element)) {
      term.rule = 'collapsed-border';
      const meetings = meetingBorders(analysis.tree, element, side);
      const widest = meetings.filter(({ counts }) => counts);
      const winner = widest.find(({ box }) => box === element) ?? widest[0];
      if (winner && winner.box !== element) {
        term.source = declaredOf(analysis, winner.box, `border-${winner.side}-width`).source;
        term.note = `half of the border of ${labelOf(analysis.reading, winner.box)}, the widest that meets here (CSS 2.2 §17.6.2)`;
      } else term.note = 'half of the widest border that meets here (CSS 2.2 §17.6.2)';
      term.causes = meetings.map(({ box, side: at, counts }) => ({
        box,
        property: `border-${at}-width`,
        rate: counts ? 0.5 : 0,
      }));
    }
    out.push(term);
  }
  if (padding[side] !== 0)
    out.push(lengthTerm(analysis, element, `padding-${side}`, padding[side], `padding-${side}`));
  return out;
}

function isCollapsedCell({ tree, reading }: Analysis, element: number): boolean {
  if (!/^table|^inline-table/.test(usedText(reading, 'display', element))) return false;
  let at = element;
  while (at >= 0 && !/^(inline-)?table$/.test(usedText(reading, 'display', at))) at = tree.reading.parent[at]!;
  return at >= 0 && usedText(reading, 'border-collapse', at) === 'collapse';
}

/** Sum of border and padding on both sides of an axis. */
export function edgesSize(analysis: Analysis, element: number, axis: Axis): number {
  const { border, padding } = laidAreas(analysis.tree, element);
  const [start, end] = sidesOf(axis);
  return border[start] + border[end] + padding[start] + padding[end];
}

export const bothEdges = (analysis: Analysis, element: number, axis: Axis): Term[] =>
  sidesOf(axis).flatMap((side) => edgeTerms(analysis, element, side));

/** Edges around content terms, in the order of the axis. */
export function around(analysis: Analysis, element: number, axis: Axis, content: Term[]): Term[] {
  const [start, end] = sidesOf(axis);
  return [
    ...edgeTerms(analysis, element, start),
    ...scrollbarTerms(analysis, element, start),
    ...content,
    ...edgeTerms(analysis, element, end).reverse(),
    ...scrollbarTerms(analysis, element, end),
  ];
}

export function scrollbarTerms(analysis: Analysis, element: number, side: Side): Term[] {
  const { scrollbar } = laidAreas(analysis.tree, element);
  if (scrollbar[side] === 0) return [];
  const property = side === 'left' || side === 'right' ? 'overflow-y' : 'overflow-x';
  return [
    term({
      px: scrollbar[side],
      what: 'scrollbar',
      rule: 'scrollbar',
      box: element,
      source: declaredOf(analysis, element, property).source,
      note: 'room of the scrollbar',
    }),
  ];
}

export const isAutoMargin = (analysis: Analysis, element: number, side: Side): boolean =>
  /^auto$/i.test(declaredOf(analysis, element, `margin-${side}`).value);

/** A margin's share of a number; nothing where it is 0. */
export function marginTerms(analysis: Analysis, element: number, side: Side, sign: 1 | -1): Term[] {
  const used = laidAreas(analysis.tree, element).margin[side];
  if (used === 0) return [];
  const term = lengthTerm(analysis, element, `margin-${side}`, used, `margin-${side}`, sign);
  if (isAutoMargin(analysis, element, side)) {
    term.rule = 'auto-margin';
    term.causes = [];
    term.note = 'auto: it takes what room is left (CSS 2.2 §10.3.3)';
  }
  return [term];
}

/** The room in the box that holds another: its content box, or its padding box for what is positioned. */
export function roomTerm(analysis: Analysis, element: number, axis: Axis): Term {
  const basis = containingSize(analysis, element);
  const px = basis[sizeProperty(axis)];
  return term({
    px,
    what: 'container',
    rule: 'room',
    box: basis.box,
    note:
      basis.box < 0
        ? `${axis === 'x' ? 'width' : 'height'} of the viewport`
        : basis.area === 'area'
          ? basis.whose
          : `${basis.area} box of ${basis.whose}`,
    links:
      basis.box < 0
        ? []
        : [{ box: basis.area === 'area' ? element : basis.box, axis, area: basis.area, rate: 1 }],
  });
}

/** A size of another box as it stands, with what it goes along with. */
export const boxTerm = (
  box: number,
  axis: Axis,
  px: number,
  what: string,
  rule: string,
  note = '',
  sign: 1 | -1 = 1,
): Term => term({ px: sign * px, what, rule, box, note, links: [{ box, axis, area: 'border', rate: sign }] });

export const lostTo = (
  analysis: Analysis,
  element: number,
  property: string,
  px: number,
  why: string,
): Lost => ({ box: element, property, px, source: declaredOf(analysis, element, property).source, why });

/** What is worked out once for an analysis, and again when that has learned content widths. `key`: what it is of. */
export function once<T>(analysis: Analysis, key: unknown, make: () => T): T {
  if (analysis.memo.has(key)) return analysis.memo.get(key) as T;
  const result = make();
  analysis.memo.set(key, result);
  return result;
}
