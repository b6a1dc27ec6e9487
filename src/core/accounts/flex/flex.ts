/** Flex containers: base sizes, the free or missing space and each item's share of it, lines and cross sizes (Flexbox 1 §9). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { boxAbove } from '../../boxes/formatting-contexts.ts';
import { firstBaseline } from '../../boxes/line-boxes.ts';
import { labelOf } from '../../reading/labels.ts';
import { isReplaced } from '../../boxes/kinds.ts';
import { flowSides } from '../../geometry/writing-modes.ts';
import { usedText } from '../../boxes/tree.ts';
import { px, same, sidesOf, type Axis } from '../../geometry/rect.ts';
import { declaredOf, declaredPx } from '../sizing/declared.ts';
import {
  hasDefiniteHeight,
  hasPercent,
  alignSelf,
  isAuto,
  isStretch,
} from '../sizing/percentage-definiteness.ts';
import {
  around,
  boxTerm,
  bothEdges,
  isAutoMargin,
  lengthTerm,
  lostTo,
  marginTerms,
  once,
  sizeProperty,
} from '../model/term-builders.ts';
import { blockStart } from '../block/margins.ts';
import { autoBlockSize, type Content } from '../sizing/auto-block-size.ts';
import { declaredTerms, withSilent } from '../sizing/size.ts';
import { contentWidth, fitTerms, naturalTerms, ratioTerms, type Sum } from '../sizing/intrinsic-sizing.ts';
import {
  groundsOf,
  negated,
  withRivals,
  sumOf,
  term,
  type Grounds,
  type Link,
  type Lost,
  type Rival,
  type Term,
} from '../model/term.ts';
import { atLeast, indefiniteContentHeight } from '../sizing/indefinite-height.ts';
import { type Item, type FlexLine, type FlexBox, flexOf } from './flex-lines.ts';

/** The main size of a flex item. */
export function flexMain(analysis: Analysis, element: number): Sum {
  const { tree, reading } = analysis;
  const container = boxAbove(tree, element);
  const box = flexOf(analysis, container);
  const line = box.lines.find(({ items }) => items.some((item) => item.element === element));
  const item = line?.items.find((item) => item.element === element);
  if (!line || !item) return { terms: [], lost: [] };
  const property = sizeProperty(box.main);
  const lost: Lost[] = [];
  const basis = declaredOf(analysis, element, 'flex-basis');
  const ownDeclared = declaredOf(analysis, element, property);
  if (!isAuto(ownDeclared.value) && basis.source.origin !== 'browser' && !/^auto$/i.test(basis.value))
    lost.push(
      lostTo(
        analysis,
        element,
        property,
        declaredPx(analysis, element, property, ownDeclared.value),
        `flex-basis: ${basis.value} goes before it (Flexbox 1 §7.2.1)`,
      ),
    );
  const base = sumOf(item.base);
  if (item.frozen === 'least' || item.frozen === 'most') {
    // Where both bounds are in force the least has the last word.
    const bound = same(item.target, item.least.px) ? item.least : item.most;
    return {
      terms: bound.terms.map((term, i) => ({
        ...term,
        ...(i === 0 ? withSilent(term, item.base) : {}),
        note: [term.note, bound.words].filter(Boolean).join('; '),
      })),
      lost,
    };
  }
  if (same(item.target, base)) return { terms: item.base, lost };
  const others = line.items.filter((entry) => entry !== item);
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
      ...negated(other.margins),
    ]);
    const gaps = line.items.length - 1;
    return {
      terms: [
        room,
        ...negated(item.margins),
        ...taken,
        ...(box.gap && gaps ? [gapTerm(analysis, box, box.gap, gaps, -1, true)] : []),
      ],
      lost,
    };
  }
  const part = line.parts > 0 ? (line.growing ? item.grow : item.weight) / line.parts : 0;
  const freeShare = line.free * part;
  const count = line.items.length - 1;
  const gaps = box.gap && count > 0 ? [gapTerm(analysis, box, box.gap, count, 1, true)] : [];
  const grounds = sharing(line, item, part, gaps);
  const declared = declaredOf(analysis, element, line.growing ? 'flex-grow' : 'flex-shrink');
  const words = line.growing
    ? `${px(item.grow)} of ${px(line.parts)} parts of the ${px(line.free)} that are free in ${labelOf(reading, container)}`
    : `${px(part * 100)} % of the ${px(-line.free)} that are missing in ${labelOf(reading, container)}, by flex-shrink ${px(item.shrink)} times its base size`;
  const shareTerm = term({
    px: freeShare,
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
export function sharing(line: FlexLine, item: Item, part: number, gaps: Term[]): Grounds {
  const out: Grounds = groundsOf(gaps, -part);
  const take = (required: Grounds) => {
    out.causes.push(...required.causes);
    out.links.push(...required.links);
  };
  for (const other of line.items) {
    take(groundsOf(other.margins, -part));
    if (other.frozen === 'least' || other.frozen === 'most') take(groundsOf(other[other.frozen].terms, -part));
    else if (line.growing || other.frozen === 'rigid') take(groundsOf(other.base, -part));
    else {
      // The weights of those that shrink change with their bases.
      const isEdge = ({ what }: Term) => /^(border|padding)-(?!box)/.test(what);
      const total = line.parts;
      const slope = (line.free * other.shrink * ((item === other ? 1 : 0) - part)) / total;
      take(groundsOf(other.base.filter(isEdge), -part));
      take(
        groundsOf(
          other.base.filter((term) => !isEdge(term)),
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
  const term = lengthTerm(analysis, container, property, gap * count, 'gap', sign);
  term.causes = (term.causes ?? []).map((cause) => ({ ...cause, rate: cause.rate * count }));
  term.note = [count > 1 ? `${count} gaps of ${px(gap)}` : '', term.note].filter(Boolean).join('; ');
  return term;
}

/** What an item is as tall (or wide) as across its line, before it is stretched. */
function naturalCross(analysis: Analysis, element: number, cross: Axis): Term[] {
  const property = sizeProperty(cross);
  const { value } = declaredOf(analysis, element, property);
  if (!isAuto(value) && !hasPercent(value)) return declaredTerms(analysis, element, cross, property);
  if (isReplaced(analysis.reading, element)) return naturalTerms(analysis, element, cross);
  const ratio = ratioTerms(analysis, element, cross);
  if (ratio) return ratio;
  if (flowSides(analysis.reading, element).block === cross)
    return around(analysis, element, cross, indefiniteContentHeight(analysis, element));
  return contentWidth(analysis, element, cross, 'max');
}

/** An item's border box across its line before it is stretched, by what makes it as large. */
function crossTerms(analysis: Analysis, element: number, cross: Axis): Term[] {
  if (!isStretched(analysis, element, cross))
    return [
      boxTerm(element, cross, laidAreas(analysis.tree, element).rect[sizeProperty(cross)], 'item', 'own'),
    ];
  return atLeast(analysis, element, cross, naturalCross(analysis, element, cross));
}

/** Whether an item takes the size of its line (Flexbox 1 §9.4, step 11): its own is `auto`, and not merely a percentage of nothing. */
const isStretched = (analysis: Analysis, element: number, cross: Axis): boolean =>
  isStretch(alignSelf(analysis, element)) &&
  isAuto(declaredOf(analysis, element, sizeProperty(cross)).value) &&
  !sidesOf(cross).some((side) => isAutoMargin(analysis, element, side));

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
            ...crossTerms(analysis, element, box.cross),
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
  const ownStanding = all.find((entry) => entry.element === element);
  return ownStanding ? Math.max(...all.map(({ over }) => over)) - ownStanding.over : 0;
}

/** Items that stand on one baseline take the room over it and under it together (Flexbox 1 §9.4). */
function onBaseline(analysis: Analysis, box: FlexBox, items: Item[], line: CrossLine): CrossLine {
  const aligned = standing(analysis, box, items);
  if (aligned.length < 2) return line;
  const highest = aligned.reduce((best, entry) => (entry.over > best.over ? entry : best));
  const lowest = aligned.reduce((best, entry) => (entry.under > best.under ? entry : best));
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
  const { margin } = laidAreas(analysis.tree, element);
  return sumOf(crossTerms(analysis, element, cross)) + margin[start] + margin[end];
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
  const isAutoCross = isAuto(declaredOf(analysis, element, sizeProperty(box.cross)).value);
  if (
    !isStretch(align) ||
    auto ||
    !isAutoCross ||
    (isReplaced(reading, element) && align !== 'stretch' && align !== 'normal' && align !== 'auto')
  )
    return inline
      ? fitTerms(analysis, element, box.cross, laidAreas(tree, container).content[sizeProperty(box.cross)])
      : {
          terms: around(analysis, element, box.cross, autoBlockSize(analysis, element).terms),
          lost: autoBlockSize(analysis, element).lost,
        };
  const content = inline ? [] : around(analysis, element, box.cross, autoBlockSize(analysis, element).terms);
  const used = laidAreas(tree, element).rect[sizeProperty(box.cross)];
  const line = box.lines.findIndex(({ items }) => items.some((item) => item.element === element));
  const lines = crossLines(analysis, box);
  const taken = margins.flatMap((side) => marginTerms(analysis, element, side, -1));
  // The one that makes the line as large as it is has its size from what is in it.
  const makes = lines[line]?.tallest === element && !givenFromOutside(analysis, container, box.cross);
  if (makes && !inline && same(sumOf(content), used))
    return {
      terms: withRivals(content, lines[line]!.rivals, groundsOf([...content, ...negated(taken)])),
      lost: autoBlockSize(analysis, element).lost,
    };
  // Nothing is smaller than its edges.
  const edges = bothEdges(analysis, element, box.cross);
  if (same(sumOf(edges), used)) return { terms: edges, lost: [] };
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
  const crossLine = lines[line];
  if (!crossLine) return { terms: [], lost: [] };
  const stretch = lineStretch(analysis, box, lines);
  return {
    terms: [
      term({
        px: crossLine.size + stretch,
        what: 'line',
        rule: 'flex-line',
        box: crossLine.tallest,
        note: `stretched to its flex line, which ${crossLine.tallest < 0 ? 'text' : labelOf(reading, crossLine.tallest)} makes ${px(crossLine.size)}${stretch ? `, and align-content ${px(stretch)} more` : ''}`,
        ...lineGrounds(analysis, box, lines, line, stretch),
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
    size - lines.reduce((sum, line) => sum + line.size, 0) - box.crossGap * Math.max(0, lines.length - 1);
  return free > 0.01 && lines.length > 0 ? free / lines.length : 0;
}

/** What the size of a line goes along with: its tallest item, and its part of what the others leave of the container. */
function lineGrounds(
  analysis: Analysis,
  box: FlexBox,
  lines: CrossLine[],
  at: number,
  stretch: number,
): Grounds {
  const termsOfLine = ({ tallest, anonymous, rivals }: CrossLine): Term[] =>
    withRivals(
      tallest < 0
        ? (anonymous ?? [])
        : [
            ...crossTerms(analysis, tallest, box.cross),
            ...sidesOf(box.cross).flatMap((side) => marginTerms(analysis, tallest, side, 1)),
          ],
      rivals,
    );
  const main = groundsOf(termsOfLine(lines[at]!));
  if (!stretch) return main;
  const part = 1 / lines.length;
  const gaps =
    lines.length > 1 && box.crossGap ? [gapTerm(analysis, box, box.crossGap, lines.length - 1, 1, false)] : [];
  const links: Link[] = [{ box: box.container, axis: box.cross, area: 'content', rate: part }];
  return groundsOf([main, { links }, groundsOf([...lines.flatMap(termsOfLine), ...gaps], -part)]);
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
    const result = boxTerm(
      tallest,
      block,
      size - sumOf(margins),
      'child',
      'tallest-item',
      `${labelOf(reading, tallest)} is the tallest in its line`,
    );
    const natural = groundsOf(crossTerms(analysis, tallest, block));
    return [
      ...withRivals([{ ...result, ...natural }], rivals, groundsOf([natural, ...margins])),
      ...margins,
      ...(over
        ? [
            term({
              px: over.px,
              what: 'baseline',
              rule: 'baseline',
              box: over.element,
              note: `${labelOf(reading, over.element)} reaches ${px(over.px)} further over the baseline that the items share`,
              links: [
                { box: over.element, axis: block, area: 'baseline', rate: 1 },
                { box: tallest, axis: block, area: 'baseline', rate: -1 },
              ],
              causes: groundsOf([
                ...marginTerms(analysis, over.element, flowSides(reading, container).blockStart, 1),
                ...marginTerms(analysis, tallest, flowSides(reading, container).blockStart, -1),
              ]).causes,
            }),
          ]
        : []),
    ];
  });
  if (lines.length > 1 && box.crossGap)
    terms.push(gapTerm(analysis, box, box.crossGap, lines.length - 1, 1, false));
  return { terms, lost };
}
