/** Grid tracks: how each came by its size (Grid 2 §7.2, §12), and the areas of items. */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { boxAbove } from '../../boxes/formatting-contexts.ts';
import { areaOf, tracksOf, type Area, type Tracks } from '../../boxes/grid-tracks.ts';
import { isReplaced } from '../../boxes/kinds.ts';
import { labelOf } from '../../reading/labels.ts';
import { flowSides } from '../../geometry/writing-modes.ts';
import { boxesIn, usedText } from '../../boxes/tree.ts';
import { px, same, sidesOf, type Axis } from '../../geometry/rect.ts';
import { autoBlockSize } from '../sizing/auto-block-size.ts';
import { declaredOf, lengthContext } from '../sizing/declared.ts';
import { hasDefiniteHeight, hasPercent, isAuto } from '../sizing/percentage-definiteness.ts';
import { lengthPx } from '../../css/values/lengths.ts';
import { around, isAutoMargin, marginTerms, once, roomTerm, sizeProperty } from '../model/term-builders.ts';
import { declaredTerms } from '../sizing/size.ts';
import { contentWidth, fitTerms, naturalTerms, ratioTerms, type Sum } from '../sizing/intrinsic-sizing.ts';
import { groundsOf, sumOf, term, type Grounds, type Link, type Rival, type Term } from '../model/term.ts';
import { indefiniteContentHeight } from '../sizing/indefinite-height.ts';

type Which = 'columns' | 'rows';

/** Splits at spaces outside of parentheses. */
function words(value: string): string[] {
  const out: string[] = [];
  let depth = 0;
  let word = '';
  for (const letter of value) {
    if (letter === '(') depth++;
    if (letter === ')') depth--;
    if (depth === 0 && /\s/.test(letter)) {
      if (word) out.push(word);
      word = '';
    } else word += letter;
  }
  return word ? [...out, word] : out;
}

/** Sizing functions of the tracks that a template declares; `count`: how many there are in all, for repetitions that fill. */
function declaredFunctions(analysis: Analysis, container: number, which: Which, count: number): string[] {
  const template = declaredOf(analysis, container, `grid-template-${which}`).value.replace(/\[[^\]]*\]/g, ' ');
  const list: string[] = [];
  for (const word of words(template)) {
    const repeat = /^repeat\(\s*([\w-]+)\s*,(.*)\)$/is.exec(word);
    if (!repeat) {
      if (!/^(none|subgrid|initial)$/i.test(word)) list.push(word);
      continue;
    }
    const inner = words(repeat[2]!.trim());
    const times = /^\d+$/.test(repeat[1]!)
      ? Number(repeat[1])
      : Math.max(1, Math.round((count - (words(template).length - 1)) / inner.length));
    for (let i = 0; i < times; i++) list.push(...inner);
  }
  return list;
}

/** How many tracks an author declares along an axis (Grid 2 §7.1); null: as many as fit, or those of the grid around. */
export function explicitTracks(analysis: Analysis, container: number, which: Which): number | null {
  const { value } = declaredOf(analysis, container, `grid-template-${which}`);
  return /auto-fi(ll|t)|subgrid|var\(/i.test(value)
    ? null
    : declaredFunctions(analysis, container, which, 0).length;
}

/** One sizing function for each track: the template with its repetitions written out, then the implicit ones. */
function functionsOf(analysis: Analysis, container: number, which: Which, count: number): string[] {
  const list = declaredFunctions(analysis, container, which, count);
  const implicit = words(
    declaredOf(analysis, container, `grid-auto-${which}`).value.replace(/^initial$/, 'auto'),
  );
  for (let i = list.length; i < count; i++) list.push(implicit[(i - list.length) % implicit.length] ?? 'auto');
  return list.slice(0, count);
}

interface Contribution {
  px: number;
  item: number;
  /** Why the item takes as much. */
  terms: Term[];
  /** The other items of the track. */
  rivals: Rival[];
}

/** What a track goes along with where an item makes it as large as it is: the other items stand by. */
function byItem({ terms, rivals }: Contribution): Grounds {
  const required = groundsOf(terms);
  return {
    ...required,
    rivals: [...required.rivals, ...rivals.map((rival) => ({ ...rival, against: required }))],
  };
}

interface Made extends Grounds {
  px: number;
  rule: string;
  note: string;
}

function items(analysis: Analysis, container: number): { element: number; area: Area }[] {
  return once(analysis, `grid items ${container}`, () =>
    boxesIn(analysis.tree, container).flatMap((element) => {
      const area = analysis.tree.kinds[element] === 'grid-item' ? areaOf(analysis.tree, element) : null;
      return area ? [{ element, area }] : [];
    }),
  );
}

/** Largest margin box among the items that lie in this track alone. */
function largest(
  analysis: Analysis,
  container: number,
  which: Which,
  track: number,
  axis: Axis,
  pressure: 'min' | 'max' | 'automatic',
): Contribution {
  let best: Contribution = { px: 0, item: -1, terms: [], rivals: [] };
  const all: { size: number; item: number; terms: Term[] }[] = [];
  for (const { element, area } of items(analysis, container)) {
    const { first, last } = which === 'columns' ? area.column : area.row;
    if (first !== track || last !== track) continue;
    const margins = sidesOf(axis).flatMap((side) => marginTerms(analysis, element, side, 1));
    const naturalTerms = natural(analysis, element, axis, pressure);
    const size = sumOf(naturalTerms) + sumOf(margins.filter(({ rule }) => rule !== 'auto-margin'));
    all.push({ size, item: element, terms: [...naturalTerms, ...margins] });
    if (size > best.px + 0.01 || best.item < 0)
      best = { px: Math.max(size, best.px), item: element, terms: [...naturalTerms, ...margins], rivals: [] };
  }
  best.rivals = all
    .filter(({ item }) => item !== best.item)
    .map(({ terms, size }) => ({ terms, tie: same(size, best.px) }));
  return best;
}

function natural(
  analysis: Analysis,
  element: number,
  axis: Axis,
  pressure: 'min' | 'max' | 'automatic',
): Term[] {
  const property = sizeProperty(axis);
  const { value } = declaredOf(analysis, element, property);
  if (!isAuto(value) && !hasPercent(value)) return declaredTerms(analysis, element, axis, property);
  if (isReplaced(analysis.reading, element)) return naturalTerms(analysis, element, axis);
  const ratio = ratioTerms(analysis, element, axis);
  if (ratio) return ratio;
  // What scrolls has no automatic minimum but its edges (Grid 2 §6.6).
  const scrolls = /\b(hidden|auto|scroll)\b/.test(usedText(analysis.reading, 'overflow', element));
  const naturalSum =
    pressure === 'automatic' && scrolls
      ? around(analysis, element, axis, [])
      : flowSides(analysis.reading, element).block === axis
        ? around(analysis, element, axis, indefiniteContentHeight(analysis, element))
        : contentWidth(analysis, element, axis, pressure === 'max' ? 'max' : 'min');
  const minimum = declaredOf(analysis, element, `min-${property}`);
  const least =
    isAuto(minimum.value) || hasPercent(minimum.value)
      ? []
      : declaredTerms(analysis, element, axis, `min-${property}`);
  return sumOf(least) > sumOf(naturalSum) ? least : naturalSum;
}

/** The sizes of a grid's tracks as their functions say; kept for each grid and axis. */
function made(analysis: Analysis, container: number, which: Which): Made[] {
  return once(analysis, `tracks ${container} ${which}`, () => make(analysis, container, which));
}

function make(analysis: Analysis, container: number, which: Which): Made[] {
  const { tree } = analysis;
  const tracks = tracksOf(tree, container, which);
  const { sizes, axis, gap } = tracks;
  const functions = functionsOf(analysis, container, which, sizes.length);
  const room = laidAreas(tree, container).content[sizeProperty(axis)];
  const definite = which === 'columns' || hasDefiniteHeight(analysis, container);
  const context = {
    ...lengthContext(analysis, container, 'column-gap'),
    percentBase: definite ? room : NaN,
    percentOf: 'the grid',
  };
  const space = room - gap * Math.max(0, sizes.length - 1);
  const out: (Made | null)[] = functions.map((value) => {
    const length = lengthPx(value, context);
    if (Number.isNaN(length)) return null;
    const part = definite ? lengthPx(value, { ...context, percentBase: room + 1 }) - length : 0;
    const links: Link[] = part ? [{ box: container, axis, area: 'content', rate: part }] : [];
    return { px: length, rule: 'track', note: value, causes: [], links, rivals: [] };
  });
  const factors = functions.map((value) => /^(?:minmax\(.*,\s*)?([\d.]+)fr\)?$/i.exec(value)?.[1]);
  const flexes = factors.map((factor) => Number(factor ?? 0));
  const least = (value: string) => /^minmax\((.*?),/i.exec(value)?.[1]?.trim() ?? value;
  const most = (value: string) => /^minmax\(.*,(.*)\)$/i.exec(value)?.[1]?.trim() ?? value;
  const contentTracks = functions.flatMap((_, i) => (out[i] || factors[i] !== undefined ? [] : [i]));
  const flexTracks = factors.flatMap((factor, i) => (factor === undefined ? [] : [i]));
  const gapProperty = which === 'columns' ? 'column-gap' : 'row-gap';
  const roomGrounds = groundsOf([
    {
      causes: [{ box: container, property: gapProperty, rate: -Math.max(0, sizes.length - 1) }],
      links: [{ box: container, axis, area: 'content', rate: 1 }],
    },
    ...out.flatMap((entry) => (entry ? [groundsOf([entry], -1)] : [])),
  ]);
  sizeByContent(analysis, container, which, axis, contentTracks, functions, out, {
    room: roomGrounds,
    least,
    most,
    context,
    free:
      flexTracks.length > 0 || !definite
        ? Infinity
        : space - out.reduce((sum, entry) => sum + (entry?.px ?? 0), 0),
    stretches:
      /^(normal|stretch|)$/.test(
        usedText(analysis.reading, which === 'columns' ? 'justify-content' : 'align-content', container),
      ) &&
      flexTracks.length === 0 &&
      definite,
  });
  if (flexTracks.length > 0)
    sizeByShare(analysis, container, which, axis, {
      room: roomGrounds,
      contentTracks,
      functions,
      flexes,
      flexTracks,
      out,
      space,
      definite,
      sizes,
      least,
      context,
    });
  return out.map((entry) => entry ?? { px: NaN, rule: 'track', note: '', causes: [], links: [], rivals: [] });
}

interface Sizing {
  /** What the room to share goes along with: the container, its gaps, its fixed tracks. */
  room: Grounds;
  least: (value: string) => string;
  most: (value: string) => string;
  context: Parameters<typeof lengthPx>[1];
  free: number;
  stretches: boolean;
}

/** Intrinsic tracks: at least what their items must have, at most what they would like, and what is left over in equal parts (Grid 2 §12.5-12.8). */
function sizeByContent(
  analysis: Analysis,
  container: number,
  which: Which,
  axis: Axis,
  list: number[],
  functions: string[],
  out: (Made | null)[],
  { room, least, most, context, free, stretches }: Sizing,
): void {
  const parts = list.map((i) => {
    const of = (value: string, pressure: 'max' | 'automatic'): Contribution => {
      const length = lengthPx(value, context);
      if (!Number.isNaN(length)) return { px: length, item: -1, terms: [], rivals: [] };
      return largest(
        analysis,
        container,
        which,
        i,
        axis,
        value === 'max-content' ? 'max' : value === 'min-content' ? 'min' : pressure,
      );
    };
    const lower = of(least(functions[i]!), 'automatic');
    const upper = of(most(functions[i]!), 'max');
    const limit = Math.max(lower.px, upper.px);
    const fit = /^fit-content\((.*)\)$/i.exec(functions[i]!);
    const bound = fit ? Math.max(lower.px, lengthPx(fit[1]!, context)) : Infinity;
    return { i, size: lower.px, limit: Math.min(limit, bound), lower, upper, given: 0, stretch: 0 };
  });
  let left = free - parts.reduce((sum, { size }) => sum + size, 0);
  if (free === Infinity) for (const part of parts) part.given = part.limit - part.size;
  else {
    for (let round = 0; round <= parts.length && left > 0.001; round++) {
      const open = parts.filter(({ size, given, limit }) => size + given < limit - 0.001);
      if (open.length === 0) break;
      const each = left / open.length;
      for (const part of open) {
        const more = Math.min(each, part.limit - part.size - part.given);
        part.given += more;
        left -= more;
      }
    }
    const autos = parts.filter(({ i }) => /^auto$/i.test(most(functions[i]!)));
    if (stretches && left > 0.001) for (const part of autos) part.stretch = left / autos.length;
  }
  const grounds = new Map<number, Grounds>();
  for (const { i, size, given, stretch, upper, lower, limit } of parts) {
    const item = same(size + given, limit) ? upper.item : lower.item >= 0 ? lower.item : upper.item;
    const whose = item < 0 ? 'nothing in it' : labelOf(analysis.reading, item);
    const reason =
      same(given, 0) && !same(size, limit)
        ? `the least that ${whose} takes`
        : same(size + given, limit)
          ? `what ${whose} takes`
          : `${px(size)} at least and ${px(given)} of what is free`;
    grounds.set(i, byItem(same(size + given, limit) && upper.px >= lower.px ? upper : lower));
    out[i] = {
      px: size + given + stretch,
      rule: 'track',
      note: `${functions[i]}: ${reason}${stretch ? `, and ${px(stretch)} of the room left over` : ''}`,
      causes: [],
      links: [],
      rivals: [],
    };
  }
  const open = parts.filter(({ size, given, limit }) => given > 0.001 && !same(size + given, limit));
  const sharing = groundsOf([room, ...parts.map(({ i }) => groundsOf([grounds.get(i)!], -1))]);
  const stretched = parts.filter(({ stretch }) => stretch > 0).length;
  for (const part of parts) {
    const required = grounds.get(part.i)!;
    const shares = (open.includes(part) ? 1 / open.length : 0) + (part.stretch > 0 ? 1 / stretched : 0);
    Object.assign(out[part.i]!, shares > 0 ? groundsOf([required, groundsOf([sharing], shares)]) : required);
  }
}

/** Flexible tracks share what the others leave; one whose content takes more than its part gets that (Grid 2 §12.7). */
function sizeByShare(
  analysis: Analysis,
  container: number,
  which: Which,
  axis: Axis,
  freeSpace: {
    functions: string[];
    flexes: number[];
    flexTracks: number[];
    out: (Made | null)[];
    space: number;
    definite: boolean;
    sizes: number[];
    least: (value: string) => string;
    context: Parameters<typeof lengthPx>[1];
    room: Grounds;
    contentTracks: number[];
  },
): void {
  const { functions, flexes, flexTracks, out, space, definite, sizes, least, context, room, contentTracks } =
    freeSpace;
  const floors = new Map(
    flexTracks.map((i) => {
      const word = least(functions[i]!);
      const length = lengthPx(word, context);
      const contribution: Contribution = !Number.isNaN(length)
        ? { px: length, item: -1, terms: [], rivals: [] }
        : largest(analysis, container, which, i, axis, 'automatic');
      return [i, contribution] as const;
    }),
  );
  const largestOf = new Map(
    definite ? [] : flexTracks.map((i) => [i, largest(analysis, container, which, i, axis, 'max')] as const),
  );
  let unit: number;
  let open = flexTracks;
  if (definite) {
    for (;;) {
      const left =
        space -
        out.reduce((sum, entry, i) => sum + (open.includes(i) ? 0 : (entry?.px ?? floors.get(i)?.px ?? 0)), 0);
      const total = Math.max(
        1,
        open.reduce((sum, i) => sum + flexes[i]!, 0),
      );
      unit = left / total;
      const rigid = open.filter((i) => floors.get(i)!.px > unit * flexes[i]! + 0.01);
      if (rigid.length === 0 || open.length === 0) break;
      open = open.filter((i) => !rigid.includes(i));
    }
  } else unit = Math.max(0, ...flexTracks.map((i) => largestOf.get(i)!.px / Math.max(1, flexes[i]!)));
  const total = open.reduce((sum, i) => sum + flexes[i]!, 0);
  const column = sizes.length;
  const needing = flexTracks.reduce(
    (best, i) => ((largestOf.get(i)?.px ?? 0) > (largestOf.get(best)?.px ?? 0) ? i : best),
    flexTracks[0]!,
  );
  const rigid = flexTracks.filter((i) => !open.includes(i));
  const sharing = groundsOf([
    room,
    ...rigid.map((i) => groundsOf([byItem(floors.get(i)!)], -1)),
    ...functions.flatMap((_, i) => (out[i] && contentTracks.includes(i) ? [groundsOf([out[i]], -1)] : [])),
  ]);
  for (const i of flexTracks) {
    const floor = floors.get(i)!;
    const part = flexes[i]! / Math.max(1, total);
    const shares = open.includes(i);
    out[i] =
      shares && unit * flexes[i]! >= floor.px - 0.01
        ? {
            px: unit * flexes[i]!,
            rule: 'fr',
            note: definite
              ? `${functions[i]}: ${px(flexes[i]!)} of ${px(total)} parts of the ${px(unit * Math.max(1, total))} that ${column - total > 0 ? 'the other tracks and the gaps leave' : 'the gaps leave'}`
              : `${functions[i]}: as large as the largest of such tracks needs to be`,
            ...(definite
              ? groundsOf([sharing], part)
              : groundsOf([byItem(largestOf.get(needing)!)], flexes[i]! / Math.max(1, flexes[needing]!))),
          }
        : {
            px: floor.px,
            rule: 'fr',
            note: `${functions[i]}: more than its part, since ${floor.item < 0 ? 'its minimum' : labelOf(analysis.reading, floor.item)} takes no less`,
            ...byItem(floor),
          };
  }
}

/** Tracks from `first` to `last` with the gaps between them. */
export function trackTerms(
  analysis: Analysis,
  container: number,
  which: Which,
  first: number,
  last: number,
): Term[] {
  const tracks: Tracks = tracksOf(analysis.tree, container, which);
  const sizes = made(analysis, container, which);
  const { source } = declaredOf(analysis, container, `grid-template-${which}`);
  const out: Term[] = [];
  last = Math.min(last, sizes.length - 1);
  for (let i = first; i <= last; i++) {
    const track = sizes[i];
    if (!track) continue;
    out.push(
      term({
        px: track.px,
        what: 'track',
        rule: track.rule,
        box: container,
        source: source.origin === 'browser' ? null : source,
        note: `${which === 'columns' ? 'column' : 'row'} ${i + 1} of ${sizes.length}, ${track.note}`,
        causes: track.causes,
        links: track.links,
        rivals: track.rivals,
      }),
    );
  }
  const gaps = last - first;
  if (gaps > 0 && tracks.gap + tracks.between !== 0) {
    const property = which === 'columns' ? 'column-gap' : 'row-gap';
    const declared = declaredOf(analysis, container, property);
    if (tracks.gap)
      out.push(
        term({
          px: tracks.gap * gaps,
          what: 'gap',
          rule: 'declared',
          box: container,
          source: declared.source,
          note: gaps > 1 ? `${gaps} gaps of ${px(tracks.gap)}` : (declared.note ?? ''),
          causes: [{ box: container, property, rate: gaps }],
        }),
      );
    if (tracks.between)
      out.push(
        term({
          px: tracks.between * gaps,
          what: 'free',
          rule: 'distributed',
          box: container,
          source: declaredOf(analysis, container, which === 'columns' ? 'justify-content' : 'align-content')
            .source,
          note: 'free space given out between the tracks',
        }),
      );
  }
  return out;
}

/** Size of an item's area along an axis. */
export function areaTerms(analysis: Analysis, item: number, axis: Axis): Term[] {
  const area = areaOf(analysis.tree, item);
  if (!area) return [];
  const which: Which = area.columns.axis === axis ? 'columns' : 'rows';
  const { first, last } = which === 'columns' ? area.column : area.row;
  return trackTerms(analysis, area.container, which, first, last);
}

/** An auto size of a grid item: stretched to its area, or as large as its content (Grid 2 §6.2, §11.). */
export function gridAuto(analysis: Analysis, element: number, axis: Axis): Sum {
  const { tree, reading } = analysis;
  const container = boxAbove(tree, element);
  const sides = flowSides(reading, container);
  const inline = sides.inline === axis;
  const [self, all] = inline
    ? (['justify-self', 'justify-items'] as const)
    : (['align-self', 'align-items'] as const);
  const text = usedText(reading, self, element);
  const word = text === '' || text === 'auto' ? usedText(reading, all, container) : text;
  const stretches =
    /^(normal|stretch|legacy|)$/.test(word) &&
    !sidesOf(axis).some((side) => isAutoMargin(analysis, element, side));
  const replaced = isReplaced(reading, element) && word !== 'stretch';
  if (!stretches || replaced) {
    const block = flowSides(reading, element).block === axis;
    if (block || replaced)
      return replaced
        ? { terms: naturalTerms(analysis, element, axis), lost: [] }
        : {
            terms: around(analysis, element, axis, autoBlockSize(analysis, element).terms),
            lost: autoBlockSize(analysis, element).lost,
          };
    return fitTerms(analysis, element, axis, areaOf(tree, element)?.rect[sizeProperty(axis)] ?? NaN);
  }
  const room = roomTerm(analysis, element, axis);
  return {
    terms: [
      { ...room, rule: 'stretch', note: `stretched to ${room.note} (Grid 2 §6.2)` },
      ...sidesOf(axis).flatMap((side) => marginTerms(analysis, element, side, -1)),
    ],
    lost: [],
  };
}
