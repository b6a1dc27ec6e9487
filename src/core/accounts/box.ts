/** The account of one box: its areas on both axes, what made them so, and what its kind of box takes. */
import type { Analysis } from '../analysis.ts';
import { contrastOf, type Contrast } from '../visibility/contrast.ts';
import { KIND_WORDS, refusal, type Kind, type Taken } from '../boxes/kinds.ts';
import { labelOf, pathOf } from '../reading/labels.ts';
import { childrenOf, usedText } from '../boxes/tree.ts';
import { droppedOf } from '../css/cascade/candidates.ts';
import type { Source } from '../css/cascade/styles.ts';
import { px, same, sidesOf, type Axis, type Rect, type Side } from '../geometry/rect.ts';
import { laidAreas } from '../boxes/areas.ts';
import { containingWords, independence, layoutOf, type Layout } from '../boxes/formatting-contexts.ts';
import { flowParent } from '../boxes/flow.ts';
import { flowSides } from '../geometry/writing-modes.ts';
import { distanceWords } from './distance.ts';
import { gapsOf, type Gap } from './block/gaps.ts';
import { inertOf, type Inert } from './inert.ts';
import { hasPercent, heightLadder, ladderSentence, type Rung } from './sizing/percentage-definiteness.ts';
import { positionAccount, type PositionAccount } from './position.ts';
import { innerSentence, sumSentence } from './model/words.ts';
import { declaredOf, declaredPx, fontWords, placeOf, type Declared } from './sizing/declared.ts';
import { areasOf, type Areas } from '../boxes/areas.ts';
import { sizeAccount } from './sizing/size.ts';
import type { Account } from './model/term.ts';

/** A stretch of a bar: one area on one side, or the content. */
export interface Segment {
  area: 'margin' | 'border' | 'padding' | 'scrollbar' | 'content';
  side: Side | null;
  px: number;
  declared: Declared | null;
}

export interface AxisAccount extends Account {
  axis: Axis;
  segments: Segment[];
  /** The sum in one sentence. */
  sentence: string;
  /** How the border box is divided. */
  inner: string;
  sizing: Sizing;
}

/** A distance beside the box, to what comes before or after it in its parent. */
export interface GapWords {
  gap: Gap;
  /** `above`, `below`, `left`, `right`: where it is from the box. */
  where: string;
  other: string;
  sentence: string;
  /** The margins that met, the one that counts first. */
  margins: { label: string; element: number; property: string; px: number; counts: boolean }[];
}

/** What the declared size means under the box's `box-sizing`, and what it would mean under the other. */
export interface Sizing {
  declared: Declared;
  sentence: string;
  otherwise: string | null;
  /** Whether the declared size has no say, so that what it comes to is of no interest. */
  idle: boolean;
}

export interface Relative {
  element: number;
  label: string;
  kind: string;
  width: number;
  height: number;
}

export interface BoxAccount {
  element: number;
  /** What is added to the numbers of boxes in terms to have those of the whole page: not 0 in a frame's document. */
  base: number;
  label: string;
  path: string;
  kind: Kind;
  kindWords: string;
  display: string;
  position: string;
  areas: Areas;
  fragments: number;
  boxSizing: Declared;
  width: AxisAccount;
  height: AxisAccount;
  takes: { property: Taken; why: string | null }[];
  containingBlock: Relative | null;
  ancestors: Relative[];
  children: Relative[];
  font: string;
  contrast: Contrast;
  gaps: GapWords[];
  /** Set where a height in percent is declared. */
  ladder: { rungs: Rung[]; sentence: string } | null;
  place: { x: PositionAccount; y: PositionAccount };
  /** How the box lays out what is in it, whether in a formatting context of its own, and what its containing block is. */
  context: { layout: string; own: string | null; containing: string };
  inert: Inert[];
  dropped: { property: string; value: string; source: Source; why: string }[];
  closed: string | null;
}

const edgeDeclared = (
  analysis: Analysis,
  element: number,
  area: 'margin' | 'border' | 'padding',
  side: Side,
): Declared => declaredOf(analysis, element, area === 'border' ? `border-${side}-width` : `${area}-${side}`);

const TAKEN: Taken[] = ['width', 'height', 'vertical margins', 'horizontal margins', 'padding'];

export const relativeOf = ({ tree, reading }: Analysis, element: number): Relative => ({
  element,
  label: labelOf(reading, element),
  kind: KIND_WORDS[tree.kinds[element]!],
  width: reading.rects[element * 4 + 2]!,
  height: reading.rects[element * 4 + 3]!,
});

function segmentsOf(analysis: Analysis, element: number, axis: Axis, areas: Areas): Segment[] {
  const [start, end] = sidesOf(axis);
  const edge = (area: 'margin' | 'border' | 'padding', side: Side): Segment => ({
    area,
    side,
    px: areas[area][side],
    declared: edgeDeclared(analysis, element, area, side),
  });
  const bar = (side: Side): Segment[] =>
    areas.scrollbar[side] > 0 ? [{ area: 'scrollbar', side, px: areas.scrollbar[side], declared: null }] : [];
  const property = axis === 'x' ? 'width' : 'height';
  return [
    edge('margin', start),
    edge('border', start),
    ...bar(start),
    edge('padding', start),
    {
      area: 'content',
      side: null,
      px: areas.content[property],
      declared: declaredOf(analysis, element, property),
    },
    edge('padding', end),
    ...bar(end),
    edge('border', end),
    edge('margin', end),
  ];
}

function sizingOf(
  analysis: Analysis,
  element: number,
  axis: Axis,
  areas: Areas,
  boxSizing: Declared,
  lost: boolean,
): Sizing {
  const property = axis === 'x' ? 'width' : 'height';
  const declared = declaredOf(analysis, element, property);
  const refused = refusal(analysis.tree.kinds[element]!, property);
  const isSet = declared.source.origin !== 'browser' && !/^auto$/i.test(declared.value);
  const by =
    boxSizing.source.origin === 'browser'
      ? 'by the browser’s default'
      : `by ${boxSizing.source.selector}, ${placeOf(boxSizing.source)}`;
  const model = usedText(analysis.reading, 'box-sizing', element);
  if (refused)
    return {
      declared,
      idle: true,
      otherwise: null,
      sentence: isSet
        ? `${property}: ${declared.value} does nothing: ${refused}.`
        : `No ${property} applies: ${refused}.`,
    };
  if (!isSet)
    return {
      declared,
      idle: true,
      otherwise: null,
      sentence: `${property} is auto: ${declared.source.origin === 'browser' ? 'nobody declared one' : `so says ${declared.source.selector}, ${placeOf(declared.source)}`}.`,
    };
  const asked = declaredPx(analysis, element, property, declared.value);
  const [start, end] = sidesOf(axis);
  const edges = areas.padding[start] + areas.padding[end] + areas.border[start] + areas.border[end];
  const bars = areas.scrollbar[start] + areas.scrollbar[end];
  const inBorder = model === 'border-box';
  const got = inBorder ? areas.rect[property] : areas.content[property] + bars;
  const meaning = `${property}: ${declared.value} sets the ${inBorder ? 'border' : 'content'} box, because box-sizing is ${model} ${by}`;
  if (lost)
    return {
      declared,
      idle: true,
      otherwise: null,
      sentence: `${property}: ${declared.value} has no effect here.`,
    };
  if (Number.isNaN(asked)) return { declared, idle: false, otherwise: null, sentence: `${meaning}.` };
  if (!same(asked, got))
    return {
      declared,
      idle: false,
      otherwise: null,
      sentence: `${property}: ${declared.value} asks for ${px(asked)}, and the ${inBorder ? 'border' : 'content'} box is ${px(got)}${clampWords(analysis, element, property, got)}.`,
    };
  const word = axis === 'x' ? 'wide' : 'tall';
  const otherwise = inBorder
    ? `Under content-box the box would be ${px(asked + edges)} ${word}, with ${px(asked)} of content.`
    : `Under border-box the box would be ${px(Math.max(asked, edges))} ${word}, with ${px(Math.max(0, asked - edges))} left for content.`;
  return { declared, idle: false, sentence: `${meaning}.`, otherwise: edges === 0 ? null : otherwise };
}

function clampWords(analysis: Analysis, element: number, property: string, got: number): string {
  for (const bound of ['min', 'max']) {
    const declared = declaredOf(analysis, element, `${bound}-${property}`);
    if (
      same(declaredPx(analysis, element, `${bound}-${property}`, declared.value), got) &&
      declared.source.origin !== 'browser'
    )
      return `: ${bound}-${property} ${declared.value} has the last word (${placeOf(declared.source)})`;
  }
  const kind = analysis.tree.kinds[element]!;
  return kind === 'flex-item'
    ? ': the flex container gave or took the difference'
    : kind.startsWith('table')
      ? ': the table’s layout decided'
      : '';
}

/** Whether the declared size is among what counts for nothing, and not because of a minimum or maximum. */
const isIdle = ({ lost }: Account, element: number, axis: Axis): boolean =>
  lost.some(
    ({ box, property, why }) =>
      box === element && property === (axis === 'x' ? 'width' : 'height') && !/^(min|max)-/.test(why),
  );

function closedReason({ reading }: Analysis, element: number): string | null {
  for (let i = 0; i + 1 < reading.closed.length; i += 2)
    if (reading.closed[i] === element) return reading.strings[reading.closed[i + 1]!] ?? null;
  return null;
}

function fragmentsOf({ reading: { fragments } }: Analysis, element: number): Rect[] {
  for (let i = 0; i + 1 < fragments.length; i += 2 + fragments[i + 1]! * 4) {
    if (fragments[i] !== element) continue;
    return Array.from({ length: fragments[i + 1]! }, (_, p) => {
      const at = i + 2 + p * 4;
      return {
        x: fragments[at]!,
        y: fragments[at + 1]!,
        width: fragments[at + 2]!,
        height: fragments[at + 3]!,
      };
    });
  }
  return [];
}

const LAYOUT_WORDS: Record<Layout, string> = {
  flow: 'block and inline layout',
  lines: 'lines of its block',
  flex: 'flex layout',
  grid: 'grid layout',
  table: 'table layout',
  replaced: 'no layout: it is replaced',
  none: 'nothing',
};

function ladderOf(analysis: Analysis, element: number): BoxAccount['ladder'] {
  const { value, source } = declaredOf(analysis, element, 'height');
  if (!hasPercent(value) || source.origin === 'browser') return null;
  const rungs = heightLadder(analysis, element);
  return { rungs, sentence: ladderSentence(rungs) };
}

const WHERE: Record<Side, string> = { top: 'above', bottom: 'below', left: 'left of', right: 'right of' };

/** The gaps before and after a box in flow, and those at the edges of what it holds itself. */
function gapsBeside(analysis: Analysis, element: number): GapWords[] {
  const { tree, reading } = analysis;
  const parent = flowParent(tree, element);
  const out: GapWords[] = [];
  const put = (gap: Gap, side: Side, other: string) => {
    const sides = flowSides(reading, gap.container);
    const met = gap.terms.filter(({ rule, box }) => rule === 'margin-collapsed' && box >= 0);
    out.push({
      gap,
      where: WHERE[side],
      other,
      sentence: gapSentence(analysis, gap, WHERE[side]),
      margins: met
        .filter(({ what }) => what.startsWith('margin-'))
        .map((term) => ({
          label: labelOf(reading, term.box),
          element: term.box,
          property: term.what,
          px: laidAreas(tree, term.box).margin[
            term.what.endsWith(sides.blockStart) ? sides.blockStart : sides.blockEnd
          ],
          counts: term.px !== 0,
        })),
    });
  };
  if (parent >= 0)
    for (const gap of gapsOf(analysis, parent)) {
      const sides = flowSides(reading, parent);
      const edge = `the content edge of ${labelOf(reading, parent)}`;
      if (gap.after === element)
        put(gap, sides.blockStart, gap.before === null ? edge : labelOf(reading, gap.before));
      if (gap.before === element)
        put(gap, sides.blockEnd, gap.after === null ? edge : labelOf(reading, gap.after));
    }
  return out;
}

/** What lies beside the box, in a sentence. */
function gapSentence(analysis: Analysis, gap: Gap, where: string): string {
  const name = (element: number | null) =>
    element === null
      ? `the content edge of ${labelOf(analysis.reading, gap.container)}`
      : labelOf(analysis.reading, element);
  const across = where === 'above' || where === 'below' ? where : 'beside';
  return `${px(gap.used)} between ${name(gap.before)} and ${name(gap.after)} (${across}): ${distanceWords(analysis, gap, [gap.before, gap.after])}`;
}

export function boxAccount(analysis: Analysis, element: number): BoxAccount {
  const { tree, reading, styles } = analysis;
  const areas = areasOf(tree, element);
  const kind = tree.kinds[element]!;
  const boxSizing = declaredOf(analysis, element, 'box-sizing');
  const pieces = fragmentsOf(analysis, element).length;
  const axisAccount = (axis: Axis): AxisAccount => {
    const sum = sizeAccount(analysis, element, axis);
    const sentence =
      pieces > 1
        ? `${pieces} pieces on ${pieces} lines; ${px(sum.used)} ${axis === 'x' ? 'wide' : 'tall'} from first to last.`
        : sumSentence(analysis, sum, axis === 'x' ? 'wide' : 'tall');
    return {
      ...sum,
      axis,
      segments: segmentsOf(analysis, element, axis, areas),
      sentence,
      inner: innerSentence(areas, axis),
      sizing: sizingOf(analysis, element, axis, areas, boxSizing, isIdle(sum, element, axis)),
    };
  };
  const ancestors: Relative[] = [];
  for (let at = reading.parent[element]!; at >= 0; at = reading.parent[at]!)
    ancestors.push(relativeOf(analysis, at));
  const block = tree.containingBlock[element]!;
  return {
    element,
    base: 0,
    label: labelOf(reading, element),
    path: pathOf(reading, element),
    kind,
    kindWords: KIND_WORDS[kind],
    display: usedText(reading, 'display', element),
    position: usedText(reading, 'position', element),
    areas,
    fragments: Math.max(1, pieces),
    boxSizing,
    width: axisAccount('x'),
    height: axisAccount('y'),
    takes: TAKEN.map((property) => ({ property, why: refusal(kind, property) })),
    containingBlock: block < 0 ? null : relativeOf(analysis, block),
    ancestors,
    children: childrenOf(tree, element).map((child) => relativeOf(analysis, child)),
    font: fontWords(analysis, element),
    contrast: contrastOf(reading, element),
    dropped: droppedOf(styles, element).map(({ declaration, source, why }) => ({
      property: declaration.property,
      value: declaration.value,
      source,
      why,
    })),
    closed: closedReason(analysis, element),
    gaps: gapsBeside(analysis, element),
    ladder: ladderOf(analysis, element),
    place: { x: positionAccount(analysis, element, 'x'), y: positionAccount(analysis, element, 'y') },
    context: {
      layout: LAYOUT_WORDS[layoutOf(tree, element)],
      own: independence(tree, element),
      containing: containingWords(tree, element),
    },
    inert: inertOf(analysis, element),
  };
}
