/** What sticks out of the page or of its container, and makes it scroll sideways (CSS Overflow 3 §2.2). */
import type { Analysis } from '../../analysis.ts';
import { inFixed } from '../../reading/column-predicates.ts';
import { viewportScrolls } from '../../boxes/viewport-overflow.ts';
import { hasBox, inside, rectOf, usedText } from '../../boxes/tree.ts';
import { columnRoom } from '../../accounts/sizing/declared.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { px, same } from '../../geometry/rect.ts';
import { suspect, type Suspect } from '../model.ts';
import { beyondByGenerated } from './generated-content.ts';
import { hangings } from './line-overflow.ts';
import { beyondTheView, neverScrolls } from './out-of-reach.ts';
import {
  goesLeft,
  hasGround,
  holds,
  inkOf,
  isThing,
  isTransformed,
  name,
  paddingBox,
  scrollsOn,
  seenOf,
  seenInk,
  sightOf,
  clips,
  tagOf,
  upward,
  widestIn,
} from '../../visibility/visibility.ts';
import { resolve } from '../../css/cascade/cascade.ts';

export const kind = 'overflow';

const LEAST = 1;
/** Beyond its viewport by so much a page scrolls: engines round what scrolls to whole px. */
const SCROLLS = 0.4;

/** By element, in CSS px: where a box begins and ends, with its own text as far as the box lets it out. */
interface Ends {
  left: Float64Array;
  right: Float64Array;
}

const ends = new WeakMap<Analysis, Ends>();

function allEnds(analysis: Analysis): Ends {
  let made = ends.get(analysis);
  if (made) return made;
  const { tree, reading } = analysis;
  const { clipping } = sightOf(analysis);
  const { rects } = reading;
  made = { left: new Float64Array(tree.count), right: new Float64Array(tree.count) };
  const { left, right } = made;
  for (let i = 0; i < tree.count; i++) {
    left[i] = rects[i * 4]!;
    right[i] = rects[i * 4]! + rects[i * 4 + 2]!;
  }
  for (const [element, runs] of inside(tree).texts) {
    if ((clipping[element]! & 1) > 0) continue;
    for (const { pieces, blank } of runs)
      if (!blank)
        for (const { x, width } of pieces) {
          left[element] = Math.min(left[element]!, x);
          right[element] = Math.max(right[element]!, x + width);
        }
  }
  ends.set(analysis, made);
  return made;
}

const endsOf = (analysis: Analysis, element: number): { left: number; right: number } => {
  const { left, right } = allEnds(analysis);
  return { left: left[element]!, right: right[element]! };
};

/** CSS px by which a box, with its own text, goes beyond the page on the side to which the page scrolls. */
function beyondPage(analysis: Analysis, element: number): number {
  const { left, right } = endsOf(analysis, element);
  return goesLeft(analysis, 0) ? -left : right - analysis.reading.document.clientWidth;
}

/** Whether a box is told of as what makes the page scroll: the last px of it counts where there is no more. */
const makesScroll = (analysis: Analysis, element: number): boolean => {
  const { scrollWidth, clientWidth } = analysis.reading.document;
  return beyondPage(analysis, element) >= (scrollWidth - clientWidth > LEAST ? LEAST : SCROLLS);
};

export function detect(analysis: Analysis): Suspect[] {
  return [
    ...ofThePage(analysis),
    ...beforeThePage(analysis),
    ...ofContainers(analysis),
    ...ofOwnText(analysis),
    ...hangingOut(analysis),
    ...beyondTheView(analysis, kind),
    ...neverScrolls(analysis, kind),
  ];
}

function ofThePage(analysis: Analysis): Suspect[] {
  const { reading, tree } = analysis;
  const { scrollWidth, clientWidth } = reading.document;
  if (scrollWidth - clientWidth < LEAST) return [];
  const hidden = !viewportScrolls(reading, 'x');
  const { visible } = sightOf(analysis);
  const stuck: number[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (!hasBox(tree, i) || !visible[i] || isClippedOn(analysis, i, 'x')) continue;
    // What is fixed to the viewport makes no page scroll, nor does what is in it.
    if (inFixed(reading)[i] === 1) continue;
    if (makesScroll(analysis, i)) stuck.push(i);
  }
  const out = new Map<number, Suspect>();
  for (const element of stuck) {
    if (tagOf(tree, element) === 'body') continue;
    const above = upward(analysis, element).find((at) => out.has(at));
    if (above !== undefined) {
      out.get(above)!.boxes.push(element);
      continue;
    }
    const by = Math.min(beyondPage(analysis, element), scrollWidth - clientWidth);
    out.set(
      element,
      suspect({
        kind,
        px: by,
        axis: 'x',
        subject: element,
        what: hidden
          ? `${name(analysis, element)} reaches ${px(by)} px beyond the viewport, which does not scroll sideways`
          : `The page is ${px(scrollWidth - clientWidth)} px wider than its viewport: ${name(analysis, element)} reaches ${px(by)} px beyond it`,
        meant: hidden ? 'The page hides what is beyond its width' : '',
        weight: by * 4 + 200,
      }),
    );
  }
  // What is around them can be too wide as well.
  for (const one of out.values()) one.boxes.push(...upward(analysis, reading.parent[one.subject]!));
  const reached = Math.max(0, ...stuck.map((one) => beyondPage(analysis, one)));
  const generated = hidden ? [] : beyondByGenerated(analysis, kind, reached);
  return [...out.values(), ...generated];
}

/** Whether something around a box cuts it off or scrolls on an axis before the page does. */
export function isClippedOn(analysis: Analysis, element: number, axis: 'x' | 'y'): boolean {
  const { clipper } = sightOf(analysis);
  for (let at = clipper[element]!; at >= 0; at = clipper[at]!) if (clips(analysis.tree, at, axis)) return true;
  return false;
}

/** What is cut off or hangs out of a container that scrolls or shows where it ends, within the width of the page. */
function ofContainers(analysis: Analysis): Suspect[] {
  const { reading, tree } = analysis;
  const { visible } = sightOf(analysis);
  const { clientWidth } = reading.document;
  const out: Suspect[] = [];
  const { scrolls } = reading;
  for (let at = 0; at + 4 < scrolls.length; at += 5) {
    const [element, width, , scrollWidth] = scrolls.subarray(at, at + 4) as unknown as number[];
    if (element! <= 0 || !visible[element!] || scrollWidth! - width! < LEAST) continue;
    if (!scrollsOn(tree, element!, 'x') || tagOf(tree, element!) === 'body') continue;
    const declared = resolve(analysis.styles, element!, 'overflow-x');
    const isOwn = declared.winner !== null && /auto|scroll/.test(declared.value);
    const inner = within(analysis, element!, paddingBox(analysis, element!).x + width!);
    const by = scrollWidth! - width!;
    out.push(
      suspect({
        kind,
        px: by,
        axis: 'x',
        subject: inner[0] ?? element!,
        other: element!,
        what: `${name(analysis, element!)} scrolls sideways by ${px(by)} px`,
        meant: isOwn ? `overflow-x: ${declared.value} says that it may scroll` : '',
        boxes: inner,
      }),
    );
  }
  const { left: lefts, right: rights } = allEnds(analysis);
  for (let i = 1; i < tree.count; i++) {
    if (!visible[i] || !hasBox(tree, i) || tagOf(tree, i) === 'body') continue;
    const placed = tree.kinds[i] === 'absolute' && fillsAcross(analysis, i);
    const parent = placed ? tree.containingBlock[i]! : aroundOf(analysis, i);
    const kindOf = tree.kinds[i]!;
    if (
      parent <= 0 ||
      (/inline$|absolute|fixed|table-(row|cell|column|caption)/.test(kindOf) && !placed) ||
      kindOf === 'none'
    )
      continue;
    if (tagOf(tree, parent) === 'body' || !hasBox(tree, parent) || clips(tree, parent, 'x')) continue;
    if (/^inline$|^table/.test(tree.kinds[parent]!) || kindOf === 'contents') continue;
    // Text goes on in the next column, a picture stays in its own.
    const column = isThing(tree, i) ? columnRoom(tree, parent) : null;
    const own = rectOf(reading, i);
    const around =
      column === null ? rectOf(reading, parent) : { ...rectOf(reading, parent), x: own.x, width: column };
    const toLeft = goesLeft(analysis, parent);
    // Most lie within what is around them with all that they hold.
    if (toLeft ? around.x - lefts[i]! < LEAST : rights[i]! - around.x - around.width < LEAST) continue;
    // Where a box ends nobody sees, its text is what sticks out of what is around it.
    const bare = endsInSight(analysis, parent) && !endsInSight(analysis, i) && !clips(tree, i, 'x');
    const { left, right } = bare ? endsOf(analysis, i) : { left: own.x, right: own.x + own.width };
    const by = toLeft ? around.x - left : right - (around.x + around.width);
    const isThere = own.width >= 1 || right - left > own.width;
    if (by < LEAST || around.width < 1 || !isThere) continue;
    if (makesScroll(analysis, i) && !isClippedOn(analysis, i, 'x')) continue;
    // What is cut off before it sticks out is not seen to.
    const beyond = { ...own, x: toLeft ? around.x - by : around.x + around.width, width: by };
    if (!seenOf(analysis, i, beyond)) continue;
    const pulled = pullsOut(analysis, i, parent);
    const moved = isTransformed(analysis, i);
    // It leaves its column on both sides, and ends where the page does.
    const isBleed = own.x < around.x - 0.5 && Math.abs(own.x) < 1 && Math.abs(right - clientWidth) < 1;
    const relative =
      usedText(reading, 'position', i) === 'relative' && resolve(analysis.styles, i, 'left').winner !== null;
    out.push(
      suspect({
        kind,
        px: by,
        axis: 'x',
        subject: i,
        other: parent,
        what: `${name(analysis, i)} sticks out of ${column === null ? '' : 'its column of '}${name(analysis, parent)} by ${px(by)} px`,
        meant: pulled
          ? 'A negative margin takes it to the edge of what is around it'
          : isBleed
            ? 'It goes from side to side of the page'
            : moved
              ? 'A transform moves it'
              : relative
                ? 'It is moved by an offset of its own'
                : '',
        boxes: [
          ...new Set([i, ...within(analysis, i, around.x + around.width), ...inTable(analysis, i), parent]),
        ],
        weight: by + (isThing(tree, i) ? 20 : 0),
      }),
    );
  }
  return out;
}

const inTable = (analysis: Analysis, table: number): number[] =>
  usedText(analysis.reading, 'display', table) === 'table' ? widestIn(analysis, table) : [];

/** Whether a positioned box is meant to go from side to side of its containing block: as wide as it, from its start. */
function fillsAcross(analysis: Analysis, element: number): boolean {
  const width = resolve(analysis.styles, element, 'width');
  const left = resolve(analysis.styles, element, 'left');
  return width.winner !== null && width.value === '100%' && /^0(px|%)?$/.test(left.value);
}

/** The nearest box around another that is no part of a line. */
function aroundOf({ tree, reading }: Analysis, element: number): number {
  let at = reading.parent[element]!;
  while (at > 0 && /^(inline|contents)$/.test(tree.kinds[at]!)) at = reading.parent[at]!;
  return at;
}

/** Whether it can be seen where a box ends on the right. */
const endsInSight = (analysis: Analysis, element: number): boolean =>
  hasGround(analysis, element) || laidAreas(analysis.tree, element).border.right > 0;

/** Text that sticks out of its own box, where that is no more than its line's. */
function ofOwnText(analysis: Analysis): Suspect[] {
  const { reading, tree } = analysis;
  const { visible } = sightOf(analysis);
  const out: Suspect[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (!visible[i] || !hasBox(tree, i) || /^inline$|root|^table-(row|column)/.test(tree.kinds[i]!)) continue;
    if (clips(tree, i, 'x') || (isThing(tree, i) && tagOf(tree, i) !== 'button') || tagOf(tree, i) === 'body')
      continue;
    const { x, width } = rectOf(reading, i);
    const toLeft = goesLeft(analysis, i);
    const { left, right } = endsOf(analysis, i);
    const by = toLeft ? x - left : right - x - width;
    if (by < LEAST || !endsInSight(analysis, i)) continue;
    // In the padding of the next cell there is nothing that it could cover.
    const least = tree.kinds[i] === 'table-cell' ? laidAreas(tree, i).padding.left + LEAST : LEAST;
    if (by < least || width < 1) continue;
    if (makesScroll(analysis, i) && !isClippedOn(analysis, i, 'x')) continue;
    const { y, height } = rectOf(reading, i);
    const beyond = { x: toLeft ? x - by : x + width, y, width: by, height: Math.max(1, height) };
    if (!seenOf(analysis, i, beyond)) continue;
    const indent = resolve(analysis.styles, i, 'text-indent').value;
    out.push(
      suspect({
        kind,
        px: by,
        axis: 'x',
        subject: i,
        what: `The text of ${name(analysis, i)} sticks out of it by ${px(by)} px`,
        meant: isTransformed(analysis, i)
          ? 'A transform moves it'
          : indent.startsWith('-')
            ? 'A negative text-indent moves it away'
            : '',
        form: 'text',
        boxes: upward(analysis, i).filter((at) => at > 0 && tagOf(tree, at) !== 'body'),
        weight: by + 30,
      }),
    );
  }
  return out;
}

/** What lies left of the page, or above it, in part: nobody can scroll there (CSS Overflow 3 §2.2). */
function beforeThePage(analysis: Analysis): Suspect[] {
  const { reading, tree } = analysis;
  const { visible } = sightOf(analysis);
  const out = new Map<string, Suspect>();
  for (let i = 1; i < tree.count; i++) {
    if (!visible[i] || !hasBox(tree, i)) continue;
    if (inkOf(analysis, i).every(({ x, y }) => x > -LEAST && y > -LEAST)) continue;
    for (const axis of ['x', 'y'] as const) {
      if (axis === 'x' && usedText(reading, 'direction', 0) === 'rtl') continue;
      const by = Math.max(
        0,
        ...inkOf(analysis, i).map((ink) => {
          const [start, size] = axis === 'x' ? [ink.x, ink.width] : [ink.y, ink.height];
          // A line's own area is taller than its letters; what lies wholly outside waits there, or is hidden.
          const lost = axis === 'x' ? -start : -start - (isThing(tree, i) ? 0 : size * 0.2);
          return start + size > 2 && lost >= LEAST && seenInk(analysis, i, ink) ? lost : 0;
        }),
      );
      if (by === 0 || isClippedOn(analysis, i, axis)) continue;
      const up = upward(analysis, i);
      if (up.some((at) => tree.kinds[at] === 'fixed')) continue;
      const placed = up.find((at) => tree.kinds[at] === 'absolute' || isTransformed(analysis, at));
      const above = up.find((at) => out.has(`${axis} ${at}`));
      if (above !== undefined && above !== i) continue;
      out.set(
        `${axis} ${i}`,
        suspect({
          kind,
          px: by,
          axis,
          subject: i,
          what: `${px(by)} px of ${name(analysis, i)} lie ${axis === 'x' ? 'left of' : 'above'} the page, where nobody can scroll to`,
          form: 'before',
          meant: placed === undefined ? '' : `${name(analysis, placed)} is placed there by hand`,
          boxes: up.filter((at) => at > 0),
          weight: 80 + by,
        }),
      );
    }
  }
  return [...out.values()];
}

/** What hangs out of a box whose lower end can be seen, and covers nothing. */
function hangingOut(analysis: Analysis): Suspect[] {
  const { reading } = analysis;
  return hangings(analysis).flatMap(({ deep, float, next, shown }) => {
    if ((next !== null && float < 0) || !shown) return [];
    const { box, by } = shown;
    const moved = upward(analysis, deep, reading.parent[box]!).find(
      (at) => isTransformed(analysis, at) || usedText(reading, 'position', at) === 'relative',
    );
    return [
      suspect({
        kind,
        px: by,
        axis: 'y',
        subject: box,
        other: float >= 0 ? float : deep,
        what:
          float >= 0
            ? `${name(analysis, float)} floats, and hangs ${px(by)} px out of ${name(analysis, box)}, which does not hold it`
            : `What is in ${name(analysis, box)} hangs ${px(by)} px out of it`,
        meant: moved !== undefined && moved !== box ? `${name(analysis, moved)} is moved by hand` : '',
        form: float >= 0 ? 'float' : 'hangs',
        boxes: [
          ...new Set([
            ...(float >= 0 ? [float] : []),
            ...upward(analysis, deep, reading.parent[box]!).reverse(),
          ]),
        ],
        weight: 70 + by,
      }),
    ];
  });
}

/** Whether negative margins take a box over the padding of what it lies in, or over the gutters of what lies in it, on both sides alike. */
function pullsOut({ tree }: Analysis, element: number, parent: number): boolean {
  const { margin } = laidAreas(tree, element);
  const { padding } = laidAreas(tree, parent);
  if (margin.right >= 0) return false;
  return same(-margin.right, padding.right) || same(margin.left, margin.right);
}

/** Boxes in a container that reach beyond a limit, the outermost first. */
function within(analysis: Analysis, container: number, limit: number): number[] {
  const { tree } = analysis;
  const out: number[] = [];
  for (let i = container + 1; i < tree.count && holds(analysis, container, i); i++)
    if (hasBox(tree, i) && endsOf(analysis, i).right > limit + LEAST) out.push(i);
  return out.length > 0 ? out : [container];
}
