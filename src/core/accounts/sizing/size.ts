/** Why a box is as wide and as tall as it is: the sum of its border box on one axis (CSS 2.2 §10; Sizing 3). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { boxAbove } from '../../boxes/formatting-contexts.ts';
import { renderedLegend } from '../../boxes/flow.ts';
import { isReplaced, refusal } from '../../boxes/kinds.ts';
import { labelOf, tagOf } from '../../reading/labels.ts';
import { flowSides, sizeOf } from '../../geometry/writing-modes.ts';
import { isTable } from '../../boxes/table-grid.ts';
import { painted } from '../../boxes/transforms.ts';
import { frames, inside, laidOut, rectOf, usedText } from '../../boxes/tree.ts';
import { isSvg } from '../../css/cascade/styles.ts';
import { px, sidesOf, type Axis, type Rect } from '../../geometry/rect.ts';
import { betweenTerms, autoBlockSize } from './auto-block-size.ts';
import { containingSize, declaredOf, declaredPx } from './declared.ts';
import { flexCross, flexMain } from '../flex/flex.ts';
import { mainSides } from '../flex/flex-lines.ts';
import { areaTerms, gridAuto } from '../grid/grid.ts';
import { inlineTerms } from '../inline/inline-boxes.ts';
import { isAuto, heightLadder, ladderSentence, isIndefinite } from './percentage-definiteness.ts';
import {
  around,
  bothEdges,
  isAutoMargin,
  lengthTerm,
  lostTo,
  marginTerms,
  once,
  otherAxis,
  scrollbarTerms,
  sizeProperty,
} from '../model/term-builders.ts';
import { isTablePart, tablePartHeight, tablePartWidth } from '../table/table.ts';
import { mostOfTable } from '../table/table-columns.ts';
import { blockFlowOf } from '../block/margins.ts';
import { account, negated, sumOf, term, type Account, type Lost, type Term } from '../model/term.ts';
import {
  type Sum,
  isMissing,
  ratioTerms,
  fillTerms,
  roomFor,
  contentWidth,
  fitTerms,
  absoluteAuto,
  naturalTerms,
} from './intrinsic-sizing.ts';

const STRETCH = /^(stretch|-webkit-fill-available)$/i;

/** The account of a border box's width or height; `area`: of the grid area that an item lies in. */
export function sizeAccount(analysis: Analysis, element: number, axis: Axis): Account {
  return once(analysis, `size ${element} ${axis}`, () => {
    const { tree } = analysis;
    const used = sizeOf(rectOf(tree.reading, element), axis);
    const { terms, lost } = sizeTerms(analysis, element, axis);
    const more = [...columnTerms(analysis, element, axis), ...transformTerms(analysis, element, axis)];
    return account(used, [...terms, ...more], lost);
  });
}

export const areaAccount = (analysis: Analysis, item: number, axis: Axis): Account => {
  const terms = areaTerms(analysis, item, axis);
  return account(containingSize(analysis, item)[sizeProperty(axis)], terms);
};

/** A block that goes on in further columns reaches across them. */
function columnTerms(analysis: Analysis, element: number, axis: Axis): Term[] {
  const { tree } = analysis;
  const pieces = tree.kinds[element] === 'inline' ? undefined : inside(tree).fragments.get(element);
  if (!pieces || axis !== 'x') return [];
  const [from, to] = [Math.min(...pieces.map(({ x }) => x)), Math.max(...pieces.map(({ x }) => x))];
  if (to - from < 0.05) return [];
  return [
    term({
      px: to - from,
      what: 'columns',
      rule: 'columns',
      box: element,
      note: `it goes on in further columns, ${pieces.length} pieces in all`,
    }),
  ];
}

/** What transforms make of the size that layout gave. */
function transformTerms(analysis: Analysis, element: number, axis: Axis): Term[] {
  const { tree } = analysis;
  const frame = frames(tree).get(element);
  if (!frame || isDrawn(analysis, element)) return [];
  const laid = laidOut(tree, element);
  const more = sizeOf({ x: 0, y: 0, ...painted(frame, laid) }, axis) - sizeOf(laid, axis);
  if (Math.abs(more) < 0.005) return [];
  const size = sizeOf(laid, axis);
  return [
    term({
      px: more,
      what: 'transform',
      rule: 'transform',
      box: element,
      source: declaredOf(analysis, element, 'transform').source,
      note: `painted ${px(size + more)} where layout gave ${px(size)}`,
    }),
  ];
}

/** Whether an element is drawn by SVG and has no CSS box. */
const isDrawn = ({ reading }: Analysis, element: number): boolean =>
  isSvg(reading, element) && tagOf(reading, element) !== 'svg';

function sizeTerms(analysis: Analysis, element: number, axis: Axis): Sum {
  const { tree, reading } = analysis;
  const kind = tree.kinds[element]!;
  if (kind === 'none' || kind === 'contents') return { terms: [], lost: [] };
  if (isDrawn(analysis, element))
    return {
      terms: [
        term({
          px: sizeOf(rectOf(reading, element), axis),
          what: 'drawing',
          rule: 'drawn',
          box: element,
          note: 'drawn by SVG: no CSS box, so nothing of CSS layout gives it its size',
        }),
      ],
      lost: [],
    };
  const pieces = kind === 'inline' ? undefined : inside(tree).fragments.get(element);
  if (pieces && pieces.length > 1 && axis === 'y') return brokenHeight(analysis, element, pieces);
  const lost = refused(analysis, element, axis);
  if (kind === 'inline') {
    const sum = inlineTerms(analysis, element, axis);
    return { terms: sum.terms, lost: [...lost, ...sum.lost] };
  }
  if (isTablePart(kind)) {
    const sum = axis === 'x' ? tablePartWidth(analysis, element) : tablePartHeight(analysis, element);
    return { terms: sum.terms, lost: [...lost, ...sum.lost] };
  }
  if (kind === 'flex-item' && mainSides(analysis, boxAbove(tree, element)).main === axis)
    return flexMain(analysis, element);
  const sum = clamped(analysis, element, axis, preferred(analysis, element, axis));
  return isTable(tree, element) ? tableLeast(analysis, element, axis, sum) : sum;
}

/** No width makes a table smaller than its columns can be (CSS 2.2 §17.5.2.2). */
function tableLeast(analysis: Analysis, element: number, axis: Axis, sum: Sum): Sum {
  const { rect } = laidAreas(analysis.tree, element);
  const size = sumOf(sum.terms);
  if (rect[sizeProperty(axis)] <= size + 0.05) return sum;
  const least =
    axis === 'x'
      ? contentWidth(analysis, element, axis, 'min')
      : around(analysis, element, axis, autoBlockSize(analysis, element).terms);
  if (sumOf(least) <= size) return sum;
  const property = sizeProperty(axis);
  return {
    terms: least,
    lost: [
      ...sum.lost,
      lostTo(analysis, element, property, size, 'what is in its columns and rows takes more'),
    ],
  };
}

/** A block that is broken over columns is as tall as its pieces reach (Multi-column 1 §8). */
function brokenHeight(analysis: Analysis, element: number, pieces: Rect[]): Sum {
  const whole = sumOf(around(analysis, element, 'y', autoBlockSize(analysis, element).terms));
  const top = Math.min(...pieces.map(({ y }) => y));
  const bottom = Math.max(...pieces.map(({ y, height }) => y + height));
  const note = `${pieces.length} pieces in as many columns; all of it would be ${px(whole)} tall`;
  return {
    terms: [term({ px: bottom - top, what: 'columns', rule: 'columns', box: element, note })],
    lost: [],
  };
}

/** A declared size that this kind of box does not take. */
function refused(analysis: Analysis, element: number, axis: Axis): Lost[] {
  const property = sizeProperty(axis);
  const why = refusal(analysis.tree.kinds[element]!, property);
  const declared = declaredOf(analysis, element, property);
  if (!why || isAuto(declared.value) || declared.source.origin === 'browser') return [];
  return [lostTo(analysis, element, property, declaredPx(analysis, element, property, declared.value), why)];
}

/** The size before minimum and maximum. */
export function preferred(analysis: Analysis, element: number, axis: Axis): Sum {
  const property = sizeProperty(axis);
  if (isMissing(analysis, element)) return { terms: naturalTerms(analysis, element, axis), lost: [] };
  const { value } = declaredOf(analysis, element, property);
  if (isAuto(value)) {
    if (/^(min|max)-content$/i.test(value) && flowSides(analysis.reading, element).inline === axis)
      return { terms: contentWidth(analysis, element, axis, /^min/i.test(value) ? 'min' : 'max'), lost: [] };
    if (/^(-webkit-)?fit-content$/i.test(value) && flowSides(analysis.reading, element).inline === axis)
      return fitTerms(analysis, element, axis, roomFor(analysis, element, axis));
    return autoSize(analysis, element, axis);
  }
  if (STRETCH.test(value)) return fillTerms(analysis, element, axis);
  if (isIndefinite(analysis, element, axis, value)) {
    const auto = autoSize(analysis, element, axis);
    const why = ladderSentence(heightLadder(analysis, element));
    return { terms: auto.terms, lost: [...auto.lost, lostTo(analysis, element, property, NaN, why)] };
  }
  if (Number.isNaN(declaredPx(analysis, element, property, value))) return autoSize(analysis, element, axis);
  return { terms: declaredTerms(analysis, element, axis, property), lost: [] };
}

/** The border box that a declared size gives: edges come on top, or out of it (Sizing 3 §3.3). */
export function declaredTerms(analysis: Analysis, element: number, axis: Axis, property: string): Term[] {
  const { value } = declaredOf(analysis, element, property);
  const asked = Math.max(0, declaredPx(analysis, element, property, value));
  const edges = bothEdges(analysis, element, axis);
  if (usedText(analysis.reading, 'box-sizing', element) === 'border-box') {
    if (asked < sumOf(edges) - 0.005) return edges;
    return [lengthTerm(analysis, element, property, asked, 'border-box')];
  }
  const [start] = sidesOf(axis);
  const before = edges.filter(({ what }) => what.endsWith(`-${start}`));
  // Scrollbars take their room out of the content (Overflow 3 §3.2).
  const bars = sidesOf(axis).flatMap((side) => scrollbarTerms(analysis, element, side));
  const content = asked - sumOf(bars);
  return [
    ...before,
    lengthTerm(analysis, element, property, content > 0 ? content : asked, 'content'),
    ...(content > 0 ? bars : []),
    ...edges.filter((edge) => !before.includes(edge)),
  ];
}

/** Minimum and maximum have the last word (CSS 2.2 §10.4, §10.7). */
function clamped(analysis: Analysis, element: number, axis: Axis, sum: Sum): Sum {
  const property = sizeProperty(axis);
  const total = sumOf(sum.terms);
  const bound = (which: 'min' | 'max') => {
    const name = `${which}-${property}`;
    const { value, source } = declaredOf(analysis, element, name);
    if (/^(none|auto|initial|0(px)?)$/i.test(value)) return null;
    if (isIndefinite(analysis, element, axis, value)) return { name, source, px: NaN, terms: [], none: true };
    const inline = flowSides(analysis.reading, element).inline === axis;
    const intrinsic = /^(-webkit-)?(min|max|fit)-content$/i.test(value) && inline;
    const terms = intrinsic
      ? contentWidth(analysis, element, axis, /max/i.test(value) ? 'max' : 'min')
      : Number.isNaN(declaredPx(analysis, element, name, value))
        ? []
        : declaredTerms(analysis, element, axis, name);
    return terms.length > 0 ? { name, source, px: sumOf(terms), terms, none: false } : null;
  };
  const [least, most] = [bound('min'), bound('max')];
  const lost = [...sum.lost];
  let result = sum.terms;
  let size = total;
  const instead = (by: NonNullable<typeof least>, words: string) => {
    const declared = declaredOf(analysis, element, property);
    if (!isAuto(declared.value)) lost.push(lostTo(analysis, element, property, size, words));
    const silent = result;
    result = by.terms.map((term, i) => ({
      ...term,
      ...(i === 0 ? withSilent(term, silent) : {}),
      note: [term.note, `${by.name} has the last word over ${px(size)}`].filter(Boolean).join('; '),
    }));
    size = by.px;
  };
  if (most && !most.none) {
    if (size > most.px + 0.005) instead(most, `${most.name} allows no more than ${px(most.px)}`);
    else if (size < most.px - 3.5)
      lost.push(lostTo(analysis, element, most.name, most.px, 'the size stays below it'));
  }
  if (least && !least.none) {
    if (size < least.px - 0.005) {
      if (most && result === most.terms)
        lost.push(lostTo(analysis, element, most.name, most.px, `${least.name} goes before it`));
      instead(least, `${least.name} asks for ${px(least.px)} at least`);
    } else if (size > least.px + 3.5)
      lost.push(lostTo(analysis, element, least.name, least.px, 'the size is above it anyway'));
  }
  for (const entry of [least, most])
    if (entry?.none)
      lost.push(
        lostTo(
          analysis,
          element,
          entry.name,
          NaN,
          'a percentage of a height that is not known counts as none (CSS 2.2 §10.7)',
        ),
      );
  return { terms: result, lost };
}

/** A term with what it has the last word over: causes that count for nothing as long as it has. */
export const withSilent = (
  { causes = [], links = [] }: Term,
  silent: Term[],
): Pick<Term, 'causes' | 'links'> => ({
  causes: [...causes, ...silent.flatMap((term) => (term.causes ?? []).map((cause) => ({ ...cause, rate: 0 })))],
  links: [...links, ...silent.flatMap((term) => (term.links ?? []).map((link) => ({ ...link, rate: 0 })))],
});

const SHRINKING = /^(button|legend|fieldset|input|select|textarea|meter|progress|dialog|table)$/;

function autoSize(analysis: Analysis, element: number, axis: Axis): Sum {
  const { tree, reading } = analysis;
  const kind = tree.kinds[element]!;
  const isBlockAxis = flowSides(reading, element).block === axis;
  if (isReplaced(reading, element)) {
    const stretched = kind === 'flex-item' && flexStretches(analysis, element);
    if (stretched) return flexCross(analysis, element);
    return { terms: naturalTerms(analysis, element, axis), lost: [] };
  }
  const ratio = ratioTerms(analysis, element, axis);
  if (ratio) {
    // Its content is the least that a ratio leaves it (Sizing 4 §5.1.1).
    const preferredSum =
      isBlockAxis && usedText(reading, 'overflow', element) === 'visible'
        ? around(analysis, element, axis, autoBlockSize(analysis, element).terms)
        : [];
    const minimum = declaredOf(analysis, element, `min-${sizeProperty(axis)}`);
    const least = minimum.source.origin === 'browser' && sumOf(preferredSum) > sumOf(ratio) + 0.005;
    return { terms: least ? preferredSum : ratio, lost: [] };
  }
  if (kind === 'flex-item') return flexCross(analysis, element);
  if (kind === 'grid-item') return gridAuto(analysis, element, axis);
  if (kind === 'absolute' || kind === 'fixed') return absoluteAuto(analysis, element, axis);
  if (isBlockAxis) {
    const content = autoBlockSize(analysis, element);
    const filling =
      axis === 'y' ? quirkFill(analysis, element, sumOf(around(analysis, element, axis, content.terms))) : null;
    if (filling) return { terms: filling, lost: content.lost };
    const legend =
      axis === 'y' && tagOf(reading, element) === 'fieldset' ? legendTerms(analysis, element) : null;
    return { terms: legend ?? around(analysis, element, axis, content.terms), lost: content.lost };
  }
  if (isTable(tree, element))
    return fitTerms(
      analysis,
      element,
      axis,
      roomFor(analysis, element, axis),
      [],
      mostOfTable(analysis, element),
    );
  if (kind === 'root') return fillTerms(analysis, element, axis);
  if (
    kind === 'float' ||
    kind === 'inline-block' ||
    (SHRINKING.test(tagOf(reading, element)) && tagOf(reading, element) !== 'fieldset')
  )
    return fitTerms(analysis, element, axis, roomFor(analysis, element, axis));
  const above = boxAbove(tree, element);
  // In an orthogonal flow the inline size is what the content takes (Writing Modes 4 §7.3).
  if (above >= 0 && flowSides(reading, above).inline !== axis)
    return fitTerms(analysis, element, axis, roomFor(analysis, element, axis));
  return fillTerms(analysis, element, axis);
}

/** In quirks mode html and body are at least as tall as the viewport (Quirks Mode §3.6, §3.7); null: their content is taller. */
function quirkFill(analysis: Analysis, element: number, used: number): Term[] | null {
  const { reading } = analysis;
  if (reading.document.mode !== 'quirks' || !/^(html|body)$/.test(tagOf(reading, element))) return null;
  // What meets at its start counts, whosever it is.
  const parent = reading.parent[element]!;
  const first = parent < 0 ? null : blockFlowOf(analysis, parent).betweens[0];
  const above =
    first?.escapes === null
      ? negated(betweenTerms(analysis, blockFlowOf(analysis, parent), first).terms)
      : marginTerms(analysis, element, 'top', -1);
  const margins = [...above, ...marginTerms(analysis, element, 'bottom', -1)];
  const { clientHeight } = reading.document;
  const room = term({
    px: clientHeight,
    what: 'container',
    rule: 'quirk',
    box: -1,
    note: 'in quirks mode it fills the viewport',
  });
  return clientHeight + sumOf(margins) > used + 0.005 ? [room, ...margins] : null;
}

/** A fieldset's legend lies in its upper border, which is as tall as the legend where that is taller (HTML §15.3.13). */
function legendTerms(analysis: Analysis, element: number): Term[] | null {
  const { tree } = analysis;
  const legend = renderedLegend(tree, element);
  if (legend < 0) return null;
  const { rect, margin } = laidAreas(tree, legend);
  const { border } = laidAreas(tree, element);
  const terms = around(analysis, element, 'y', autoBlockSize(analysis, element).terms);
  const height = rect.height + margin.top + margin.bottom;
  if (height <= border.top) return terms;
  const ownTerm = term({
    px: height,
    what: 'legend',
    rule: 'legend',
    box: legend,
    note: `${labelOf(analysis.reading, legend)} lies in the upper border`,
    links: [{ box: legend, axis: 'y', area: 'border', rate: 1 }],
  });
  return [ownTerm, ...terms.filter(({ what }) => what !== 'border-top')];
}

function flexStretches(analysis: Analysis, element: number): boolean {
  const text = usedText(analysis.reading, 'align-self', element);
  const container = boxAbove(analysis.tree, element);
  const word = text === 'auto' || text === '' ? usedText(analysis.reading, 'align-items', container) : text;
  if (!/^(normal|stretch)$/.test(word)) return false;
  return !sidesOf(otherAxis(mainSides(analysis, container).main)).some((side) =>
    isAutoMargin(analysis, element, side),
  );
}
