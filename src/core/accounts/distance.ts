/** The space between any two edges of boxes, as a sum of everything that lies on the way. */
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { flowParent, levelOf } from '../boxes/flow.ts';
import { labelOf } from '../reading/labels.ts';
import { flowSides, sizeOf } from '../geometry/writing-modes.ts';
import { rectOf } from '../boxes/tree.ts';
import { inset, outset, px, same, sidesOf, type Axis, type Rect, type Side } from '../geometry/rect.ts';
import { offsetTerms } from './block/gaps.ts';
import { boxTerm, edgeTerms, marginTerms, scrollbarTerms } from './model/term-builders.ts';
import { holderOf, stepOf } from './position.ts';
import { precedingTerms } from './positioned/placement.ts';
import { account, negated, sumOf, term, type Account, type Term } from './model/term.ts';

export type AreaName = 'margin' | 'border' | 'padding' | 'content';

export interface EdgeOf {
  element: number;
  /** The outer edge of this area. */
  area: AreaName;
  side: Side;
}

export interface DistanceAccount extends Account {
  axis: Axis;
  sentence: string;
}

const axisOf = (side: Side): Axis => (side === 'left' || side === 'right' ? 'x' : 'y');

function areaRect(analysis: Analysis, { element, area }: EdgeOf, page: boolean): Rect {
  const areas = laidAreas(analysis.tree, element);
  const rect = page ? rectOf(analysis.reading, element) : areas.rect;
  if (area === 'margin') return outset(rect, areas.margin);
  if (area === 'border') return rect;
  const padding = inset(rect, areas.border);
  return area === 'padding' ? padding : inset(inset(padding, areas.scrollbar), areas.padding);
}

function place(analysis: Analysis, edge: EdgeOf, page: boolean): number {
  const rect = areaRect(analysis, edge, page);
  const axis = axisOf(edge.side);
  return rect[axis] + (edge.side === sidesOf(axis)[1] ? sizeOf(rect, axis) : 0);
}

/** Terms from the box's low border edge to the edge, in px along the axis. */
function withinBox(analysis: Analysis, { element, area, side }: EdgeOf): Term[] {
  const axis = axisOf(side);
  const isLow = side === sidesOf(axis)[0];
  const inwards: Term[] =
    area === 'border'
      ? []
      : area === 'margin'
        ? marginTerms(analysis, element, side, -1)
        : [
            ...edgeTerms(analysis, element, side).filter(
              ({ what }) => area === 'content' || what.startsWith('border'),
            ),
            ...(area === 'content' ? scrollbarTerms(analysis, element, side) : []),
          ];
  if (isLow) return inwards;
  const { rect } = laidAreas(analysis.tree, element);
  return [
    boxTerm(element, axis, sizeOf(rect, axis), 'box', 'own', labelOf(analysis.reading, element)),
    ...negated(inwards),
  ];
}

/** The holders of a box, itself first. */
function chain(analysis: Analysis, element: number): number[] {
  const out: number[] = [];
  for (let at = element; at >= 0; at = holderOf(analysis, at)) out.push(at);
  return out;
}

/** The distance from one edge to another of the same axis: positive to the right and down. Throws a RangeError for edges of two axes. */
export function distanceAccount(analysis: Analysis, from: EdgeOf, to: EdgeOf): DistanceAccount {
  const axis = axisOf(from.side);
  if (axisOf(to.side) !== axis)
    throw new RangeError(
      `The ${from.side} and the ${to.side} edge have no distance: choose two edges of one axis.`,
    );
  const used = place(analysis, to, true) - place(analysis, from, true);
  // A sum is read from the near edge to the far one.
  if (place(analysis, to, false) < place(analysis, from, false)) {
    const turned = distanceAccount(analysis, to, from);
    const result = account(-turned.used, negated(turned.terms), turned.lost);
    return { ...result, axis, sentence: turned.sentence };
  }
  const up = chain(analysis, from.element);
  const down = chain(analysis, to.element);
  const shared = up.find((value) => down.includes(value)) ?? -1;
  const a = up[up.indexOf(shared) - 1] ?? (shared < 0 ? up.at(-1) : undefined);
  const b = down[down.indexOf(shared) - 1] ?? (shared < 0 ? down.at(-1) : undefined);
  const terms = facing(analysis, from, to, a, b, axis, up, down, shared);
  const plain = place(analysis, to, false) - place(analysis, from, false);
  if (Math.abs(used - plain) > 0.005)
    terms.push(
      term({
        px: used - plain,
        what: 'transform',
        rule: 'transform',
        box: to.element,
        note: `${px(plain)} in layout; transforms paint it otherwise`,
      }),
    );
  const sum = account(used, merged(terms));
  return { ...sum, axis, sentence: sentence(analysis, sum, from, to) };
}

/** What lies between: for siblings in flow the margins that met, else each box's way from the one that holds both. */
function facing(
  analysis: Analysis,
  from: EdgeOf,
  to: EdgeOf,
  a: number | undefined,
  b: number | undefined,
  axis: Axis,
  up: number[],
  down: number[],
  shared: number,
): Term[] {
  const { tree, reading } = analysis;
  const high = sidesOf(axis)[1];
  const outOf = (element: number, edge: EdgeOf, steps: number[]): Term[] => [
    // From the edge to the far border edge of the box that is a child of the one that holds both.
    boxTerm(
      element,
      axis,
      sizeOf(laidAreas(tree, element).rect, axis),
      'box',
      'own',
      labelOf(reading, element),
    ),
    ...negated(intoOf(edge, steps)),
  ];
  const intoOf = (edge: EdgeOf, steps: number[]): Term[] => [
    ...steps.flatMap((step) => stepOf(analysis, step, axis).terms),
    ...withinBox(analysis, edge),
  ];
  const below = (list: number[], top: number | undefined) =>
    top === undefined ? [] : list.slice(0, list.indexOf(top)).reverse();
  if (a !== undefined && b !== undefined && a !== b && shared >= 0) {
    const inFlow = (element: number) =>
      levelOf(tree, element) === 'block' &&
      flowParent(tree, element) === shared &&
      tree.kinds[element] !== 'flex-item' &&
      tree.kinds[element] !== 'grid-item';
    const sides = flowSides(reading, shared);
    if (inFlow(a) && inFlow(b) && a < b && axis === sides.block && sides.blockStart !== 'right') {
      const first =
        from.element === a && from.side === high && from.area === 'border' ? [] : outOf(a, from, below(up, a));
      const last =
        to.element === b && to.side === sidesOf(axis)[0] && to.area === 'border'
          ? []
          : intoOf(to, below(down, b));
      return [
        ...first,
        ...offsetTerms(analysis, a, sides, -1),
        ...precedingTerms(analysis, b, a),
        ...offsetTerms(analysis, b, sides, 1),
        ...last,
      ];
    }
  }
  const stepsDown = (list: number[], edge: EdgeOf): Term[] => {
    const steps = shared < 0 ? [...list].reverse() : below(list, shared);
    return intoOf(edge, steps);
  };
  return [...stepsDown(down, to), ...negated(stepsDown(up, from))];
}

/** Terms of one cause with opposite signs cancel. */
function merged(terms: Term[]): Term[] {
  const out: Term[] = [];
  for (const term of terms) {
    const key = (of: Term) => {
      const [link] = of.links ?? [];
      // A box that is passed forth and back counts for nothing, whatever each way calls it.
      if (link && of.links?.length === 1 && link.area === 'border' && !of.causes?.length)
        return `box ${link.box} ${link.axis}`;
      return `${of.what} ${of.box} ${of.rule} ${of.source?.property ?? ''} ${of.note}`;
    };
    const previous = out.find(
      (other) => key(other) === key(term) && Math.sign(other.px) === -Math.sign(term.px),
    );
    if (!previous) {
      out.push({ ...term });
      continue;
    }
    previous.px += term.px;
    previous.causes = [...(previous.causes ?? []), ...(term.causes ?? [])];
    previous.links = [...(previous.links ?? []), ...(term.links ?? [])];
  }
  return out.filter((term) => !same(term.px, 0) || term.rule === 'margin-collapsed');
}

const edgeWords = (analysis: Analysis, { element, area, side }: EdgeOf): string =>
  `the ${side} ${area} edge of ${labelOf(analysis.reading, element)}`;

function sentence(analysis: Analysis, account: Account, from: EdgeOf, to: EdgeOf): string {
  const ends = `${edgeWords(analysis, from)} to ${edgeWords(analysis, to)}`;
  return `${px(Math.abs(account.used))} from ${ends}: ${distanceWords(analysis, account)}`;
}

/** What a distance is made of, in words: which margins met, which won, what else lies between. */
export function distanceWords(
  analysis: Analysis,
  { terms, residual, lost }: Account,
  ends: readonly (number | null)[] = [],
): string {
  const margins = terms.filter(({ rule }) => rule === 'margin-collapsed');
  const winners = margins.filter((margin) => margin.px !== 0);
  const losers = margins.filter((margin) => margin.px === 0 && /lost to/.test(margin.note));
  const ownPx = (term: Term) => /(−?[\d.]+) of its own/.exec(term.note)?.[1] ?? px(term.px);
  const parts: string[] = [];
  if (margins.length > 0) {
    const all = [...winners.map((winner) => px(winner.px)), ...losers.map(ownPx)];
    const won = winners.length === 1 ? `${px(winners[0]!.px)} wins` : `${px(sumOf(winners))} is what is left`;
    parts.push(
      `margins ${list(all)} collapse, ${won}${losers.length > 0 ? `; ${list(losers.map(ownPx))} ${losers.length === 1 ? 'is' : 'are'} lost` : ''}`,
    );
  }
  for (const winner of winners) {
    const through = passedThrough(analysis, winner.box, ends);
    if (through)
      parts.push(
        `${px(winner.px)} is the ${winner.what} of ${labelOf(analysis.reading, winner.box)}${declaredWords(winner)}: ${through}`,
      );
  }
  for (const term of terms) {
    if (term.rule === 'margin-collapsed' || same(term.px, 0)) continue;
    parts.push(partWords(analysis, term));
  }
  const gone =
    parts.length === 0 ? lost.map(({ why, px: size }) => `${px(size)} does not count here: ${why}`) : [];
  const rest = same(residual, 0) ? [] : [`${px(residual)} not explained`];
  const whole = [...parts, ...gone, ...rest];
  return whole.length > 0 ? `${whole.join('; ')}.` : 'nothing lies between.';
}

const EDGE = /^(margin|padding|border)-(top|right|bottom|left)$/;

const declaredWords = ({ source }: Pick<Term, 'source'>): string =>
  source && source.origin !== 'browser' ? ` (${source.value})` : source ? ' (the browser’s default)' : '';

/** The boxes that a margin passes through to where it counts; empty where it is that of one of the two ends. */
function passedThrough({ reading }: Analysis, box: number, ends: readonly (number | null)[]): string {
  const boxes: number[] = [];
  let at = box;
  while (at >= 0 && !ends.includes(at)) at = reading.parent[at]!;
  if (at < 0 || at === box) return '';
  for (let up = reading.parent[box]!; up !== at && up >= 0; up = reading.parent[up]!) boxes.push(up);
  boxes.push(at);
  const names = list(boxes.map((box) => labelOf(reading, box)));
  return `it passes through ${names}, since ${boxes.length > 1 ? 'none of them has' : 'it has no'} padding, border or formatting context of its own there`;
}

/** One term in words: whose edge it is, or by which rule it comes. */
function partWords({ reading }: Analysis, { px: size, what, note, box, source }: Term): string {
  const whose = box < 0 ? '' : ` of ${labelOf(reading, box)}`;
  const declared =
    source && source.origin !== 'browser' ? ` (${source.value})` : source ? ' (the browser’s default)' : '';
  if (EDGE.test(what)) return `${px(size)} ${what}${whose}${declared}`;
  if (what === 'gap' || what === 'spacing') return `${px(size)} ${what}${whose}${declared}`;
  return `${px(size)} ${what.replace(/-/g, ' ')}${note ? ` (${note})` : whose}`;
}

const list = (words: string[]): string =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;
