/** Auto heights: what is in a box, one after the other down its block axis (CSS 2.2 §10.6.3, §10.6.7; Flexbox 1 §9.4). */
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { independence, layoutOf } from '../boxes/context.ts';
import { tracksOf } from '../boxes/grid.ts';
import { labelOf } from '../boxes/label.ts';
import { lineHeightOf, metricsOf, type Line, type Maker } from '../boxes/lines.ts';
import { flowSides, type FlowSides } from '../boxes/sides.ts';
import { isTable } from '../boxes/table.ts';
import { childrenOf, edgesOf, hasBox, usedPx, usedText } from '../boxes/tree.ts';
import { px, same } from '../geometry/rect.ts';
import { columnRoom, declaredOf } from './declared.ts';
import { flexContent } from './flex.ts';
import { trackTerms } from './grid.ts';
import { lengthTerm, boxTerm, edgeTerms, inheritedCauses, marginTerms, once, sizeProperty } from './parts.ts';
import {
  blockEnd,
  collapse,
  columnOf,
  floatsIn,
  generatedSizes,
  meetingWords,
  type Between,
  type Column,
  type Meeting,
} from './margins.ts';
import { tableContent } from './table.ts';
import { sumOf, term, type Lost, type Rival, type Term } from './term.ts';

export interface Content {
  terms: Term[];
  lost: Lost[];
}

/** Height of what is in a box, without its own edges. */
export function contentOf(analysis: Analysis, element: number): Content {
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
  const column = columnOf(analysis, element);
  const out: Content = { terms: [], lost: [] };
  for (const between of column.betweens) {
    const { terms, lost } = betweenTerms(analysis, column, between);
    out.terms.push(...terms);
    out.lost.push(...lost);
    out.terms.push(...itemTerms(analysis, column, between.after));
  }
  if (column.items.length === 0) out.terms.push(...markerLine(analysis, element, column.sides));
  out.terms.push(...floatsContained(analysis, column, sumOf(out.terms)));
  return out;
}

/** The size of one item of a column: a box, its lines, or a generated box. */
export function itemTerms(analysis: Analysis, column: Column, index: number): Term[] {
  const { container, sides } = column;
  const item = column.items[index];
  if (!item) return [];
  if (item.what === 'lines')
    return [
      ...lineTerms(analysis, shownLines(analysis, container, column.lines[index]!)),
      ...column.pushes[index]!.map(({ px: size, float }) => floatTerm(analysis, sides, float, size)),
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
  column: Column,
  height = flowLength(analysis, column.container),
): Term[] {
  const { container, sides } = column;
  const { tree } = analysis;
  if (independence(tree, container) === null) return [];
  const { content } = laidAreas(tree, container);
  const start = sides.blockStart === 'right' ? -(content.x + content.width) : content[sides.block];
  let reach = height;
  let lowest = -1;
  for (const float of floatsIn(analysis, container)) {
    const { rect, margin } = laidAreas(tree, float);
    const moved =
      usedText(analysis.reading, 'position', float) === 'relative'
        ? usedPx(analysis.reading, sides.blockStart, float) || 0
        : 0;
    const end = blockEnd(sides, rect) - moved + margin[sides.blockEnd] - start;
    if (end > reach + 0.01) {
      reach = end;
      lowest = float;
    }
  }
  if (lowest < 0) return [];
  const words = `${labelOf(analysis.reading, lowest)} floats and reaches further down than what is in flow (CSS 2.2 §10.6.7)`;
  return [
    term({
      px: reach - height,
      what: 'float',
      rule: 'contains-floats',
      box: lowest,
      note: words,
      links: [{ box: lowest, axis: sides.block, area: 'border', rate: 1 }],
    }),
  ];
}

/** The terms of a place where margins meet: those that count with their px, those that lost with 0. */
export function betweenTerms(analysis: Analysis, column: Column, between: Between): Content {
  const { sides } = column;
  const { margins, clearance, escapes, spent } = between;
  const out: Content = { terms: [], lost: [] };
  const property = (one: { side: 'start' | 'end' }) =>
    `margin-${one.side === 'start' ? sides.blockStart : sides.blockEnd}`;
  const lose = (one: (typeof margins)[number], why: string) =>
    out.lost.push({
      box: one.element,
      property: property(one),
      px: one.px,
      source: declaredOf(analysis, one.element, property(one)).source,
      why,
    });
  if (clearance) {
    out.terms.push(floatTerm(analysis, sides, clearance.float, clearance.px));
    for (const one of margins) if (one.px !== 0) lose(one, 'clearance decides where the box lies');
    return out;
  }
  if (escapes) {
    const edge = escapes === 'start' ? sides.blockStart : sides.blockEnd;
    for (const one of margins)
      if (one.px !== 0)
        lose(
          one,
          `it passes through the ${edge} edge of ${labelOf(analysis.reading, column.container)} and counts outside of it`,
        );
    if (spent !== 0 && escapes === 'end') out.terms.push(spentTerm(analysis, column, between));
    return out;
  }
  const real = margins.filter((one) => one.px !== 0);
  const counting = winners(real);
  const most = counting.find((one) => one.px > 0);
  const least = counting.find((one) => one.px < 0);
  const met = real.length > 1;
  for (const one of real) {
    const counts = one === most || one === least;
    const name = property(one);
    const made = lengthTerm(analysis, one.element, name, one.px, name);
    if (met) {
      made.rule = 'margin-collapsed';
      const words = meetingWords(analysis, one, sides);
      made.note = counts
        ? `${words}: ${one.px < 0 ? 'the most negative one is taken off' : 'the largest wins'}`
        : `${words}: ${px(one.px)} of its own, lost to ${px((one.px < 0 ? least : most)?.px ?? 0)}`;
    }
    if (!counts) {
      made.px = 0;
      made.causes = [];
      made.links = [];
      lose(one, `it collapses with ${px((one.px < 0 ? least : most)?.px ?? 0)}, which is larger`);
    }
    out.terms.push(made);
  }
  if (spent !== 0) out.terms.push(spentTerm(analysis, column, between));
  return out;
}

/** The margin that counts among those that meet: the largest, and the most negative. */
function winners(margins: readonly Meeting[]): Meeting[] {
  const most = margins.reduce<Meeting | null>(
    (best, one) => (one.px > Math.max(0, best?.px ?? 0) ? one : best),
    null,
  );
  const least = margins.reduce<Meeting | null>(
    (best, one) => (one.px < Math.min(0, best?.px ?? 0) ? one : best),
    null,
  );
  return [most, least].flatMap((one) => one ?? []);
}

/** What counted already above a box without height, and so does not count again below it. */
function spentTerm(analysis: Analysis, { container, sides }: Column, { spent, spentOn }: Between): Term {
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

function floatTerm(analysis: Analysis, sides: FlowSides, float: number, size: number): Term {
  const margins = [sides.blockStart, sides.blockEnd].flatMap((side) => marginTerms(analysis, float, side, 1));
  return term({
    px: size,
    what: 'float',
    rule: 'clearance',
    box: float,
    note: `put below ${labelOf(analysis.reading, float)}, which floats (CSS 2.2 §9.5)`,
    causes: margins.flatMap(({ causes = [] }) => causes),
    links: [{ box: float, axis: sides.block, area: 'border', rate: 1 }],
  });
}

export const betweenPx = ({ clearance, escapes, margins, spent }: Between): number =>
  clearance ? clearance.px : escapes === 'end' ? -spent : escapes ? 0 : collapse(margins) - spent;

const MAKER_WORDS: Record<Maker['what'], string> = {
  strut: 'the font and line height of the block itself',
  text: 'text of another font or line height',
  box: 'an inline box',
  atom: 'an inline-level box',
  generated: 'a generated box',
};

/** Lines as terms; lines alike are one term. */
export function lineTerms(analysis: Analysis, lines: readonly Line[]): Term[] {
  const out: Term[] = [];
  let count = 0;
  lines.forEach((line, i) => {
    const next = lines[i + 1];
    count++;
    if (next && alike(line, next)) return;
    out.push(...termsOfLine(analysis, line, count));
    count = 0;
  });
  return out;
}

const isWhole = (line: Line): boolean => line.above === line.below;
const alike = (a: Line, b: Line): boolean =>
  isWhole(a) &&
  isWhole(b) &&
  a.above.what !== 'atom' &&
  a.above.what === b.above.what &&
  a.above.element === b.above.element &&
  same(lineHeightOf(a), lineHeightOf(b));

/** A line's height from what is highest over its baseline and what hangs lowest under it. */
function termsOfLine(analysis: Analysis, line: Line, count: number): Term[] {
  const { above, below, baseline } = line;
  if (isWhole(line)) {
    if (above.what === 'atom') {
      const [first, ...rest] = atomTerms(analysis, above, 'line');
      return [withOthers(analysis, line, first!, count), ...rest];
    }
    return [
      withOthers(
        analysis,
        line,
        fontTerm(analysis, above, (above.end - above.start) * count, count, 1, 'line'),
        count,
      ),
    ];
  }
  // An atom that stands on the baseline with its end gives all of its height to the upper part.
  const stands = above.what === 'atom' && same(above.end, baseline);
  const upper = stands
    ? atomTerms(analysis, above, 'line')
    : [partTerm(analysis, above, baseline - above.start, 'line-above')];
  const hangs = below.end - baseline;
  const words =
    below.what === 'strut' && above.what === 'atom'
      ? `inline baseline: room for descenders of the line’s ${fontWordsOf(analysis, below.element)} under ${labelOf(analysis.reading, above.element)}`
      : '';
  const lower = same(hangs, 0) ? [] : [partTerm(analysis, below, hangs, 'line-below', words)];
  const [first, ...rest] = [...upper, ...lower];
  return [withOthers(analysis, line, first!, 1), ...rest];
}

/** What else lies in a line: as tall as what makes it, it counts as much; else it counts once it is taller. */
function withOthers(analysis: Analysis, line: Line, made: Term, count: number): Term {
  const rivals = line.makers
    .filter((maker) => maker !== line.above)
    .map((maker): Rival => {
      const tie = same(maker.start, line.start) && same(maker.end, line.end);
      const terms =
        maker.what === 'atom'
          ? atomTerms(analysis, maker, 'line')
          : [fontTerm(analysis, maker, maker.end - maker.start, count, 1, 'line')];
      return { terms, tie };
    });
  return { ...made, rivals };
}

const fontWordsOf = ({ reading }: Analysis, element: number): string =>
  `${px(usedPx(reading, 'font-size', element))}px font`;

function partTerm(analysis: Analysis, maker: Maker, size: number, what: string, words = ''): Term {
  if (maker.what === 'atom') return alignedTerm(analysis, maker.element, size, what);
  const made = fontTerm(analysis, maker, size, 1, 0.5, what);
  made.rule = 'baseline';
  if (words) made.note = words;
  return made;
}

/** The part of an atomic inline that lies over or under the baseline of its line. */
function alignedTerm(analysis: Analysis, element: number, size: number, what: string): Term {
  const { reading } = analysis;
  const sides = flowSides(reading, element);
  const middle = usedText(reading, 'vertical-align', element) === 'middle';
  const side = what === 'line-above' ? sides.blockStart : sides.blockEnd;
  const parts = middle
    ? [sides.blockStart, sides.blockEnd].flatMap((one) => marginTerms(analysis, element, one, 1))
    : [...marginTerms(analysis, element, side, 1), ...edgeTerms(analysis, element, side)];
  return term({
    px: size,
    what,
    rule: 'aligned',
    box: element,
    note: `${labelOf(reading, element)} as it is aligned in its line`,
    causes: parts.flatMap(({ causes = [] }) =>
      causes.map((one) => ({ ...one, rate: one.rate * (middle ? 0.5 : 1) })),
    ),
    links: [{ box: element, axis: sides.block, area: 'border', rate: middle ? 0.5 : 0 }],
  });
}

/** Height that a font and its line height give; `rate` of a px of the line height goes to each of `count` lines. */
function fontTerm(
  analysis: Analysis,
  maker: Maker,
  size: number,
  count: number,
  rate: number,
  what: string,
): Term {
  const { tree, reading } = analysis;
  const declared = declaredOf(analysis, maker.element, 'line-height');
  const { lineHeight } = metricsOf(tree, maker.element);
  const normal = usedText(reading, 'line-height', maker.element) === 'normal';
  const made = lengthTerm(analysis, maker.element, 'line-height', size, what);
  const fontSize = usedPx(reading, 'font-size', maker.element);
  made.causes = inheritedCauses(analysis, maker.element, 'line-height', rate * count);
  const perFont = normal ? lineHeight / fontSize : /^[\d.]+$/.test(declared.value) ? Number(declared.value) : 0;
  if (perFont)
    made.causes.push(...inheritedCauses(analysis, maker.element, 'font-size', perFont * count * rate));
  made.rule = normal ? 'line-height-normal' : 'line-height';
  const lines = `${count} ${count === 1 ? 'line' : 'lines'} of ${px(lineHeight)}`;
  const reason = normal
    ? `what its ${fontWordsOf(analysis, maker.element)} asks for`
    : (declared.note ?? `line-height ${declared.value}`);
  made.note = `${lines}: ${reason}${maker.what === 'strut' ? '' : ` (${MAKER_WORDS[maker.what]}, ${labelOf(reading, maker.element)})`}`;
  return made;
}

function atomTerms(analysis: Analysis, { element, start, end }: Maker, what: string): Term[] {
  const { tree, reading } = analysis;
  const sides = flowSides(reading, element);
  const axis = sides.block;
  const size = laidAreas(tree, element).rect[sizeProperty(axis)];
  const margin = edgesOf(reading, 'margin', element);
  const edges = [sides.blockStart, sides.blockEnd];
  if (!same(size + margin[edges[0]!] + margin[edges[1]!], end - start))
    return [
      term({ px: end - start, what, rule: 'inline-level', box: element, note: labelOf(reading, element) }),
    ];
  return [
    boxTerm(element, axis, size, what, 'inline-level', labelOf(reading, element)),
    ...edges.flatMap((side) => marginTerms(analysis, element, side, 1)),
  ];
}

/** Where the last thing in flow ends, from the content edge at the start, as items and margins say. */
function flowLength(analysis: Analysis, element: number): number {
  return sumOf(contentOf(analysis, element).terms.filter(({ rule }) => rule !== 'contains-floats'));
}
