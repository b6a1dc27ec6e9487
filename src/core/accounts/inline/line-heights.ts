/** Heights of lines: what reaches highest over a line's baseline and what hangs lowest under it (CSS Inline 3 §5; CSS 2.2 §10.8). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { labelOf, tagOf } from '../../reading/labels.ts';
import {
  atomHome,
  isLineAligned,
  lineHeightOf,
  metricsOf,
  type Line,
  type Maker,
} from '../../boxes/line-boxes.ts';
import { flowSides } from '../../geometry/writing-modes.ts';
import { edgesOf, usedPx, usedText } from '../../boxes/tree.ts';
import { px, same } from '../../geometry/rect.ts';
import { declaredOf } from '../sizing/declared.ts';
import {
  boxTerm,
  edgeTerms,
  grounds,
  inheritedCauses,
  lengthTerm,
  marginTerms,
  sizeProperty,
} from '../model/term-builders.ts';
import { groundsOf, term, type Grounds, type Link, type Rival, type Term } from '../model/term.ts';

const MAKER_WORDS: Record<Maker['what'], string> = {
  strut: 'the font and line height of the block itself',
  text: 'text of another font or line height',
  box: 'an inline box',
  atom: 'an inline-level box',
};

/** Lines as terms; lines alike are one term. */
export function lineTerms(analysis: Analysis, container: number, lines: readonly Line[]): Term[] {
  const out: Term[] = [];
  let from = 0;
  lines.forEach((line, i) => {
    const next = lines[i + 1];
    if (next && alike(line, next)) return;
    out.push(...termsOfLines(analysis, container, lines.slice(from, i + 1)));
    from = i + 1;
  });
  return out;
}

function alike(a: Line, b: Line): boolean {
  const [maker, other] = [wholeOf(a), wholeOf(b)];
  return (
    maker !== null &&
    other !== null &&
    maker.what !== 'atom' &&
    maker.what === other.what &&
    maker.element === other.element &&
    same(lineHeightOf(a), lineHeightOf(b))
  );
}

/** What makes all of a line's height by itself; null: its upper and lower part come from two. */
const wholeOf = ({ above, below, makers, start, end }: Line): Maker | null =>
  above === below ? above : (makers.find((maker) => same(maker.start, start) && same(maker.end, end)) ?? null);

/** Terms of lines that are alike; of a single one where it has an upper and a lower part. */
function termsOfLines(analysis: Analysis, container: number, lines: readonly Line[]): Term[] {
  const line = lines.at(-1)!;
  const { above, below, baseline } = line;
  const rivals = rivalsOf(analysis, container, lines);
  const whole = wholeOf(line);
  if (whole) {
    const result =
      whole.what === 'atom'
        ? atomTerms(analysis, whole, 'line')
        : [
            {
              ...fontTerm(analysis, whole, (whole.end - whole.start) * lines.length, lines.length, 'line'),
              causes: groundsOf([fontGrounds(analysis, whole.element, 'whole')], lines.length).causes,
            },
          ];
    return result.map((term, i) => (i === 0 ? { ...term, rivals } : term));
  }
  // An atom that stands on the baseline with its end gives all of its height to the upper part.
  const stands = above.what === 'atom' && same(above.end, baseline) && !atomHome(analysis.tree, above.element);
  const upper = stands
    ? atomTerms(analysis, above, 'line')
    : [partTerm(analysis, container, above, 'over', baseline - above.start)];
  const hangs = below.end - baseline;
  const lower = partTerm(analysis, container, below, 'under', hangs);
  if (below.what === 'strut' && above.what === 'atom')
    lower.note = `inline baseline: room for descenders of the line’s ${fontWordsOf(analysis, below.element)} under ${labelOf(analysis.reading, above.element)}`;
  return [...upper, ...(same(hangs, 0) && !lower.causes?.length && !lower.links?.length ? [] : [lower])].map(
    (term, i) => (i === 0 ? { ...term, rivals } : term),
  );
}

/** Px within which something else in a line is told as what could come to make it as tall. */
const CLOSE = 4;

type Part = 'over' | 'under';
type Span = Part | 'whole';

/** A share in a line: parts of one or two makers. */
type Share = { maker: Maker; span: Span }[];

/**
 * What else lies in lines: as high or as low as what makes them so, it counts as much; a little less, and it may come to.
 * What is aligned to the top or bottom of its line stands against all else together.
 */
function rivalsOf(analysis: Analysis, container: number, lines: readonly Line[]): Rival[] {
  const counts = new Map<string, { share: Share; against: Share; tie: boolean; count: number }>();
  const keyOf = (share: Share) =>
    share.map(({ maker, span }) => `${span} ${maker.what} ${maker.element}`).join();
  const put = (share: Share, against: Share, short: number) => {
    const key = `${keyOf(share)} ${keyOf(against)} ${same(short, 0)}`;
    const cached = counts.get(key);
    if (short > CLOSE) return;
    if (cached) cached.count++;
    else counts.set(key, { share, against, tie: same(short, 0), count: 1 });
  };
  const isFree = ({ element }: Maker) => isLineAligned(analysis.tree, element, container);
  for (const line of lines) {
    const free = line.makers.filter(isFree);
    const bound = line.makers.filter((maker) => !free.includes(maker));
    const whole = wholeOf(line);
    const winner = whole && free.includes(whole) ? whole : null;
    const highest = bound.reduce<Maker | null>(
      (best, maker) => (best && best.start <= maker.start ? best : maker),
      null,
    );
    const lowest = bound.reduce<Maker | null>(
      (best, maker) => (best && best.end >= maker.end ? best : maker),
      null,
    );
    const height = lineHeightOf(line);
    const over = winner ? highest : (whole ?? line.above);
    const under = winner ? lowest : (whole ?? line.below);
    const group: Share =
      over && under
        ? [
            { maker: over, span: 'over' },
            { maker: under, span: 'under' },
          ]
        : [];
    const main: Share = winner ? [{ maker: winner, span: 'whole' }] : group;
    for (const maker of free)
      if (maker !== winner) put([{ maker, span: 'whole' }], main, height - (maker.end - maker.start));
    if (winner && over && under) put(group, main, height - (under.end - over.start));
    if (winner) continue;
    for (const maker of bound) {
      if (over && maker !== over) put([{ maker, span: 'over' }], group.slice(0, 1), maker.start - over.start);
      if (under && maker !== under) put([{ maker, span: 'under' }], group.slice(1), under.end - maker.end);
    }
  }
  const result = new Map<string, Grounds>();
  const groundsFor = (share: Share, count: number): Grounds => {
    const key = `${keyOf(share)} ${count}`;
    const cached = result.get(key);
    if (cached) return cached;
    const all = groundsOf(
      share.map(({ maker, span }) => spanGrounds(analysis, container, maker, span)),
      count,
    );
    result.set(key, all);
    return all;
  };
  return [...counts.values()].map(({ share, against, tie, count }) => ({
    terms: [groundsFor(share, count)],
    tie,
    against: groundsFor(against, count),
  }));
}

const spanGrounds = (analysis: Analysis, container: number, maker: Maker, span: Span): Grounds =>
  span !== 'whole'
    ? partGrounds(analysis, container, maker, span)
    : maker.what === 'atom'
      ? atomGrounds(analysis, container, maker.element, 'whole')
      : fontGrounds(analysis, maker.element, 'whole');

/** What the part of something in a line over or under the line's baseline goes along with. */
export function partGrounds(analysis: Analysis, container: number, maker: Maker, part: Part): Grounds {
  const sign = part === 'over' ? 1 : -1;
  if (maker.what !== 'atom') {
    const aligned = raiseGrounds(analysis, maker.element, container);
    return groundsOf([fontGrounds(analysis, maker.element, part), groundsOf([aligned], sign)]);
  }
  return atomGrounds(analysis, container, maker.element, part);
}

/** What a font and its line height take over or under the baseline: ascent or descent, and half of the leading. */
function fontGrounds(analysis: Analysis, element: number, part: Span): Grounds {
  const { tree, reading } = analysis;
  const { ascent, descent, lineHeight } = metricsOf(tree, element);
  const size = usedPx(reading, 'font-size', element) || 1;
  const declared = declaredOf(analysis, element, 'line-height').value;
  const normal = usedText(reading, 'line-height', element) === 'normal';
  const perFont = normal ? lineHeight / size : /^[\d.]+$/.test(declared) ? Number(declared) : 0;
  const lean = part === 'whole' ? 0 : ((ascent - descent) / size / 2) * (part === 'over' ? 1 : -1);
  const share = part === 'whole' ? 1 : 0.5;
  const causes = inheritedCauses(analysis, element, 'line-height', share);
  const byFont = perFont * share + lean;
  if (byFont) causes.push(...inheritedCauses(analysis, element, 'font-size', byFont));
  return groundsOf([{ causes }]);
}

/** What the height of an inline box's baseline over that of the block container goes along with (CSS 2.2 §10.8.1). */
function raiseGrounds(analysis: Analysis, element: number, container: number): Grounds {
  const out: Grounds[] = [];
  for (let at = element; at >= 0 && at !== container; at = analysis.reading.parent[at]!)
    if (analysis.tree.kinds[at] !== 'contents') out.push(alignGrounds(analysis, at));
  return groundsOf(out);
}

const NONE: Grounds = groundsOf([]);

function alignGrounds(analysis: Analysis, element: number): Grounds {
  const { tree, reading } = analysis;
  const parent = reading.parent[element]!;
  const { value } = declaredOf(analysis, element, 'vertical-align');
  const size = usedPx(reading, 'font-size', parent) || 1;
  const around = metricsOf(tree, parent);
  const fromFont = (rate: number): Grounds =>
    groundsOf([{ causes: inheritedCauses(analysis, parent, 'font-size', rate) }]);
  const [over, under] = (['over', 'under'] as const).map((part) => fontGrounds(analysis, element, part)) as [
    Grounds,
    Grounds,
  ];
  const percent = /^(-?[\d.]+)%$/.exec(value);
  if (percent) {
    const part = Number(percent[1]) / 100;
    return groundsOf([fontGrounds(analysis, element, 'whole')], part);
  }
  switch (value.toLowerCase()) {
    case 'baseline':
    case 'top':
    case 'bottom':
      return NONE;
    case 'super':
      return fromFont(1 / 3);
    case 'sub':
      return fromFont(-1 / 5);
    case 'text-top':
      return groundsOf([fromFont(around.ascent / size), groundsOf([over], -1)]);
    case 'text-bottom':
      return groundsOf([under, fromFont(-around.descent / size)]);
    case 'middle':
      return groundsOf([under, groundsOf([over], -1), fromFont(around.xHeight / size)], 0.5);
    default:
      return groundsOf([grounds(analysis, element, 'vertical-align', value, 1)]);
  }
}

/** What an atomic inline takes over or under the baseline of its line. */
function atomGrounds(analysis: Analysis, container: number, element: number, part: Span): Grounds {
  const { tree, reading } = analysis;
  const sides = flowSides(reading, element);
  const axis = sides.block;
  const link = (area: Link['area'], rate: number): Link => ({ box: element, axis, area, rate });
  const [first, last] = [sides.blockStart, sides.blockEnd].map((side) =>
    marginTerms(analysis, element, side, 1),
  ) as [Term[], Term[]];
  const whole = groundsOf([...first, ...last, { links: [link('border', 1)] }]);
  const value = declaredOf(analysis, element, 'vertical-align').value.toLowerCase();
  if (part === 'whole' || value === 'top' || value === 'bottom') return whole;
  const parent = reading.parent[element]!;
  const size = usedPx(reading, 'font-size', parent) || 1;
  const around = metricsOf(tree, parent);
  const up = raiseGrounds(analysis, parent, container);
  const fromFont = (rate: number): Grounds =>
    groundsOf([{ causes: inheritedCauses(analysis, parent, 'font-size', rate) }]);
  const over = (): Grounds => {
    if (value === 'middle')
      return groundsOf([groundsOf([whole], 0.5), fromFont(around.xHeight / size / 2), up]);
    if (value === 'text-top') return groundsOf([fromFont(around.ascent / size), up]);
    if (value === 'text-bottom') return groundsOf([whole, fromFont(-around.descent / size), up]);
    const stands =
      /^(baseline|sub|super)$/.test(value) || value.endsWith('%') ? [] : [alignGrounds(analysis, element)];
    const shifted = value === 'sub' ? [fromFont(-1 / 5)] : value === 'super' ? [fromFont(1 / 3)] : stands;
    const home = atomHome(tree, element);
    if (home || isField(analysis, element))
      return groundsOf([...first, { links: [link('baseline', 1)] }, ...shifted, up]);
    return groundsOf([whole, ...shifted, up]);
  };
  return part === 'over' ? over() : groundsOf([whole, groundsOf([over()], -1)]);
}

/** Whether a replaced element has a baseline of its own: the text of a field. */
const isField = ({ reading }: Analysis, element: number): boolean =>
  /^(input|select)$/.test(tagOf(reading, element));

const fontWordsOf = ({ reading }: Analysis, element: number): string =>
  `${px(usedPx(reading, 'font-size', element))}px font`;

/** The part of a line over or under its baseline, by what makes it. */
function partTerm(analysis: Analysis, container: number, maker: Maker, part: Part, size: number): Term {
  const what = part === 'over' ? 'line-above' : 'line-below';
  const shared = partGrounds(analysis, container, maker, part);
  if (maker.what !== 'atom')
    return { ...fontTerm(analysis, maker, size, 1, what), rule: 'baseline', ...shared };
  const note = `${labelOf(analysis.reading, maker.element)} as it is aligned in its line`;
  return term({ px: size, what, rule: 'aligned', box: maker.element, note, ...shared });
}

/** Height that a font and its line height give to `count` lines, or to a part of one. */
function fontTerm(analysis: Analysis, maker: Maker, size: number, count: number, what: string): Term {
  const { tree, reading } = analysis;
  const declared = declaredOf(analysis, maker.element, 'line-height');
  const { lineHeight } = metricsOf(tree, maker.element);
  const normal = usedText(reading, 'line-height', maker.element) === 'normal';
  const term = lengthTerm(analysis, maker.element, 'line-height', size, what);
  term.rule = normal ? 'line-height-normal' : 'line-height';
  const lines = `${count} ${count === 1 ? 'line' : 'lines'} of ${px(lineHeight)}`;
  const reason = normal
    ? `what its ${fontWordsOf(analysis, maker.element)} asks for`
    : (declared.note ?? `line-height ${declared.value}`);
  term.note = `${lines}: ${reason}${maker.what === 'strut' ? '' : ` (${MAKER_WORDS[maker.what]}, ${labelOf(reading, maker.element)})`}`;
  return term;
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

/** The edges and the half of its content that a field has over the middle of its text. */
export function fieldGrounds(analysis: Analysis, element: number): Grounds {
  const { ascent, descent } = metricsOf(analysis.tree, element);
  const sides = flowSides(analysis.reading, element);
  const size = usedPx(analysis.reading, 'font-size', element) || 1;
  return groundsOf([
    groundsOf([{ links: [{ box: element, axis: sides.block, area: 'border', rate: 1 }] }], 0.5),
    groundsOf(edgeTerms(analysis, element, sides.blockStart), 0.5),
    groundsOf(edgeTerms(analysis, element, sides.blockEnd), -0.5),
    { causes: inheritedCauses(analysis, element, 'font-size', (ascent - descent) / size / 2) },
  ]);
}
