/** Auto heights: what is in a box, one after the other down its block axis (CSS 2.2 §10.6.3, §10.6.7; Flexbox 1 §9.4). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { independence, layoutOf } from '../../boxes/formatting-contexts.ts';
import { tracksOf } from '../../boxes/grid-tracks.ts';
import { labelOf } from '../../reading/labels.ts';
import { metricsOf, relativeOffset, type Line } from '../../boxes/line-boxes.ts';
import type { FlowSides } from '../../geometry/writing-modes.ts';
import { isTable } from '../../boxes/table-grid.ts';
import { childrenOf, hasBox, usedText } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { columnRoom, declaredOf } from './declared.ts';
import { flexContent } from '../flex/flex.ts';
import { trackTerms } from '../grid/grid.ts';
import { lengthTerm, boxTerm, once, sizeProperty } from '../model/term-builders.ts';
import {
  blockEnd,
  collapse,
  blockFlowOf,
  floatsIn,
  generatedSizes,
  meetingWords,
  type Between,
  type BlockFlow,
  type Meeting,
} from '../block/margins.ts';
import { lineTerms } from '../inline/line-heights.ts';
import { tableContent } from '../table/table.ts';
import { negated, sumOf, term, type Link, type Lost, type Term } from '../model/term.ts';

export interface Content {
  terms: Term[];
  lost: Lost[];
}

/** Height of what is in a box, without its own edges. */
export function autoBlockSize(analysis: Analysis, element: number): Content {
  return once(analysis, `content ${element}`, () => {
    const { tree } = analysis;
    const layout = layoutOf(tree, element);
    if (layout === 'flex') return flexContent(analysis, element);
    if (layout === 'grid')
      return {
        terms: trackTerms(analysis, element, 'rows', 0, tracksOf(tree, element, 'rows').sizes.length - 1),
        lost: [],
      };
    if (isTable(tree, element)) return tableContent(analysis, element);
    if (columnRoom(tree, element) !== null) return columnContent(analysis, element);
    return flowContent(analysis, element);
  });
}

/** Lines beyond `line-clamp` are laid out and take no room (Overflow 4 §4.2). */
function shownLines(analysis: Analysis, element: number, lines: Line[]): Line[] {
  const clamp = Number(usedText(analysis.reading, '-webkit-line-clamp', element));
  const old = usedText(analysis.reading, 'display', element) === 'flow-root';
  return clamp > 0 && old ? lines.slice(0, clamp) : lines;
}

/** A box set in columns is as tall as the column that reaches furthest down (Multi-column 1 §7). */
function columnContent(analysis: Analysis, element: number): Content {
  const { tree } = analysis;
  const { content } = laidAreas(tree, element);
  let [height, furthest] = [0, element];
  for (const child of childrenOf(tree, element)) {
    if (!hasBox(tree, child)) continue;
    const { rect, margin } = laidAreas(tree, child);
    const reach = rect.y + rect.height + margin.bottom - content.y;
    if (reach > height) [height, furthest] = [reach, child];
  }
  const note = `set in columns: ${labelOf(analysis.reading, furthest)} reaches furthest down`;
  return { terms: [term({ px: height, what: 'columns', rule: 'columns', box: furthest, note })], lost: [] };
}

function flowContent(analysis: Analysis, element: number): Content {
  const blockFlow = blockFlowOf(analysis, element);
  const out: Content = { terms: [], lost: [] };
  for (const between of blockFlow.betweens) {
    const { terms, lost } = betweenTerms(analysis, blockFlow, between);
    out.terms.push(...terms);
    out.lost.push(...lost);
    out.terms.push(...itemTerms(analysis, blockFlow, between.after));
  }
  if (blockFlow.items.length === 0) out.terms.push(...markerLine(analysis, element, blockFlow.sides));
  out.terms.push(...floatsContained(analysis, blockFlow, out.terms));
  return out;
}

/** The size of one item of a column: a box, its lines, or a generated box. */
export function itemTerms(analysis: Analysis, blockFlow: BlockFlow, index: number): Term[] {
  const { container, sides } = blockFlow;
  const item = blockFlow.items[index];
  if (!item) return [];
  if (item.what === 'lines')
    return [
      ...lineTerms(analysis, container, shownLines(analysis, container, blockFlow.lines[index]!)),
      ...blockFlow.pushes[index]!.map(({ px: size, float, line }) =>
        floatTerm(
          analysis,
          blockFlow,
          float,
          size,
          sinceFloat(
            analysis,
            blockFlow,
            blockFlow.betweens.findIndex(({ after }) => after === index) + 1,
            line,
          ),
        ),
      ),
    ];
  if (item.what === 'generated')
    return [generatedTerm(item.pseudo.element, item.pseudo.name, generatedSizes(item, sides)[2])];
  const size = laidAreas(analysis.tree, item.element).rect[sizeProperty(sides.block)];
  if (size === 0) return [];
  return [
    boxTerm(item.element, sides.block, size, 'child', 'in-flow', labelOf(analysis.reading, item.element)),
  ];
}

const generatedTerm = (box: number, name: string, size: number): Term =>
  term({ px: size, what: 'generated', rule: 'generated', box, note: `the ::${name} of the box` });

/** An empty list item is as tall as the line of its marker. */
function markerLine(analysis: Analysis, element: number, sides: FlowSides): Term[] {
  if (usedText(analysis.reading, 'display', element) !== 'list-item') return [];
  if (/^none$/i.test(declaredOf(analysis, element, 'list-style-type').value)) return [];
  const { lineHeight } = metricsOf(analysis.tree, element, sides);
  return [{ ...lengthTerm(analysis, element, 'line-height', lineHeight, 'line'), rule: 'marker' }];
}

/** A formatting context's root is as tall as its floats reach (CSS 2.2 §10.6.7). */
export function floatsContained(
  analysis: Analysis,
  blockFlow: BlockFlow,
  above = inFlow(analysis, blockFlow.container),
): Term[] {
  const { container, sides } = blockFlow;
  const height = sumOf(above);
  const { tree } = analysis;
  if (independence(tree, container) === null) return [];
  const { content } = laidAreas(tree, container);
  const start = sides.blockStart === 'right' ? -(content.x + content.width) : content[sides.block];
  let reach = height;
  let lowest = -1;
  for (const float of floatsIn(analysis, container)) {
    const { rect, margin } = laidAreas(tree, float);
    const moved = relativeOffset(tree, float, sides);
    const end = blockEnd(sides, rect) - moved + margin[sides.blockEnd] - start;
    if (end > reach + 0.01) {
      reach = end;
      lowest = float;
    }
  }
  if (lowest < 0) return [];
  const flow = negated(sinceFloat(analysis, blockFlow, blockFlow.betweens.length));
  const words = `${labelOf(analysis.reading, lowest)} floats and reaches further down than what is in flow (CSS 2.2 §10.6.7)`;
  return [
    term({
      px: reach - height,
      what: 'float',
      rule: 'contains-floats',
      box: lowest,
      note: words,
      causes: flow.flatMap(({ causes = [] }) => causes),
      links: [
        { box: lowest, axis: sides.block, area: 'reach', rate: 1, from: container },
        ...flow.flatMap(({ links = [] }) => links),
      ],
    }),
  ];
}

/**
 * What a place in a column goes along with: everything in flow before it, from the last float that something was put
 * below. `count`: how many places, with what follows each, lie before; of the last, only the lines up to `line`.
 */
export function sinceFloat(analysis: Analysis, blockFlow: BlockFlow, count: number, line = Infinity): Term[] {
  const { container, sides } = blockFlow;
  const out: Term[] = [];
  const below = (box: number): Term[] => {
    const links: Link[] = [{ box, axis: sides.block, area: 'reach', rate: 1, from: container }];
    return [...out, term({ px: 0, what: 'float', rule: 'clearance', box, links })];
  };
  for (let at = count - 1; at >= 0; at--) {
    const between = blockFlow.betweens[at]!;
    if (blockFlow.items[between.after]?.what === 'lines') {
      const until = at === count - 1 ? line : Infinity;
      const pushed = blockFlow.pushes[between.after]!.findLast((entry) => entry.line < until);
      const shown = shownLines(analysis, container, blockFlow.lines[between.after]!);
      out.push(...lineTerms(analysis, container, shown.slice(pushed?.line ?? 0, until)));
      if (pushed) return below(pushed.float);
    } else out.push(...itemTerms(analysis, blockFlow, between.after));
    if (between.clearance) return below(between.clearance.float);
    out.push(...betweenTerms(analysis, blockFlow, between).terms);
  }
  return out;
}

/** The terms of a place where margins meet: those that count with their px, those that lost with 0. */
export function betweenTerms(analysis: Analysis, blockFlow: BlockFlow, between: Between): Content {
  const { sides } = blockFlow;
  const { margins, clearance, escapes, spent } = between;
  const out: Content = { terms: [], lost: [] };
  const property = (entry: { side: 'start' | 'end' }) =>
    `margin-${entry.side === 'start' ? sides.blockStart : sides.blockEnd}`;
  const lose = (meeting: (typeof margins)[number], why: string) =>
    out.lost.push({
      box: meeting.element,
      property: property(meeting),
      px: meeting.px,
      source: declaredOf(analysis, meeting.element, property(meeting)).source,
      why,
    });
  if (clearance) {
    out.terms.push(
      floatTerm(
        analysis,
        blockFlow,
        clearance.float,
        clearance.px,
        sinceFloat(analysis, blockFlow, blockFlow.betweens.indexOf(between)),
      ),
    );
    for (const margin of margins) if (margin.px !== 0) lose(margin, 'clearance decides where the box lies');
    return out;
  }
  if (escapes) {
    const edge = escapes === 'start' ? sides.blockStart : sides.blockEnd;
    for (const margin of margins)
      if (margin.px !== 0)
        lose(
          margin,
          `it passes through the ${edge} edge of ${labelOf(analysis.reading, blockFlow.container)} and counts outside of it`,
        );
    if (spent !== 0 && escapes === 'end') out.terms.push(spentTerm(analysis, blockFlow, between));
    return out;
  }
  const real = margins.filter((margin) => margin.px !== 0);
  const counting = winners(real);
  const most = counting.find((meeting) => meeting.px > 0);
  const least = counting.find((meeting) => meeting.px < 0);
  const met = real.length > 1;
  for (const meeting of real) {
    const counts = meeting === most || meeting === least;
    const name = property(meeting);
    const term = lengthTerm(analysis, meeting.element, name, meeting.px, name);
    if (met) {
      term.rule = 'margin-collapsed';
      const words = meetingWords(analysis, meeting, sides);
      term.note = counts
        ? `${words}: ${meeting.px < 0 ? 'the most negative one is taken off' : 'the largest wins'}`
        : `${words}: ${px(meeting.px)} of its own, lost to ${px((meeting.px < 0 ? least : most)?.px ?? 0)}`;
    }
    if (!counts) {
      term.px = 0;
      term.causes = [];
      term.links = [];
      lose(meeting, `it collapses with ${px((meeting.px < 0 ? least : most)?.px ?? 0)}, which is larger`);
    }
    out.terms.push(term);
  }
  if (spent !== 0) out.terms.push(spentTerm(analysis, blockFlow, between));
  return out;
}

/** The margin that counts among those that meet: the largest, and the most negative. */
function winners(margins: readonly Meeting[]): Meeting[] {
  const most = margins.reduce<Meeting | null>(
    (best, margin) => (margin.px > Math.max(0, best?.px ?? 0) ? margin : best),
    null,
  );
  const least = margins.reduce<Meeting | null>(
    (best, margin) => (margin.px < Math.min(0, best?.px ?? 0) ? margin : best),
    null,
  );
  return [most, least].flatMap((meeting) => meeting ?? []);
}

/** What counted already above a box without height, and so does not count again below it. */
function spentTerm(analysis: Analysis, { container, sides }: BlockFlow, { spent, spentOn }: Between): Term {
  const grown = winners(spentOn).map(({ element, side, px: size }) =>
    lengthTerm(
      analysis,
      element,
      `margin-${side === 'start' ? sides.blockStart : sides.blockEnd}`,
      size,
      'margin',
      -1,
    ),
  );
  return term({
    px: -spent,
    what: 'margin',
    rule: 'margin-collapsed',
    box: container,
    note: `${px(spent)} of it lies above the empty box before (CSS 2.2 §8.3.1)`,
    causes: grown.flatMap(({ causes = [] }) => causes),
    links: grown.flatMap(({ links = [] }) => links),
  });
}

/** What is put below a float: how far the float reaches, less what already lies above. */
function floatTerm(
  analysis: Analysis,
  { container, sides }: BlockFlow,
  float: number,
  size: number,
  above: Term[],
): Term {
  const before = negated(above);
  return term({
    px: size,
    what: 'float',
    rule: 'clearance',
    box: float,
    note: `put below ${labelOf(analysis.reading, float)}, which floats (CSS 2.2 §9.5)`,
    causes: before.flatMap(({ causes = [] }) => causes),
    links: [
      { box: float, axis: sides.block, area: 'reach', rate: 1, from: container },
      ...before.flatMap(({ links = [] }) => links),
    ],
  });
}

export const betweenPx = ({ clearance, escapes, margins, spent }: Between): number =>
  clearance ? clearance.px : escapes === 'end' ? -spent : escapes ? 0 : collapse(margins) - spent;

/** From the content edge at the start to where the last thing in flow ends, as items and margins say. */
const inFlow = (analysis: Analysis, element: number): Term[] =>
  autoBlockSize(analysis, element).terms.filter(({ rule }) => rule !== 'contains-floats');
