/** Text, pictures and controls that lie over each other though neither holds the other (CSS 2.2 Appendix E). */
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { childrenOf, hasBox, rectOf, usedPx, usedText } from '../boxes/tree.ts';
import { outset, px, type Edges, type Rect } from '../geometry/rect.ts';
import Flatbush from 'flatbush';
import { suspect, type Suspect } from './finding.ts';
import {
  clips,
  cut,
  hasGround,
  holds,
  inkOf,
  isThing,
  isTransformed,
  name,
  seenOf,
  sightOf,
  tagOf,
  upward,
} from './sight.ts';

export const kind = 'overlap';

interface Ink {
  element: number;
  rect: Rect;
}

/** The part of a line in which its letters stand: lines set close overlap in what is above and below. */
function letters({ x, y, width, height }: Rect): Rect {
  return { x: x + 0.5, y: y + height * 0.22, width: width - 1, height: height * 0.56 };
}

export function detect(analysis: Analysis): Suspect[] {
  const out = [...overhangs(analysis), ...siblings(analysis)];
  // What two boxes do to each other is told once.
  const told = new Set(out.flatMap(({ subject, other }) => [`${subject} ${other}`, `${other} ${subject}`]));
  return [...out, ...inked(analysis).filter(({ subject, other }) => !told.has(`${subject} ${other}`))];
}

function inked(analysis: Analysis): Suspect[] {
  const { tree, reading, order } = analysis;
  const { visible } = sightOf(analysis);
  const inks: Ink[] = [];
  for (let i = 0; i < tree.count; i++) {
    if (!visible[i] || !hasBox(tree, i)) continue;
    for (const rect of inkOf(analysis, i)) {
      const seen = seenOf(analysis, i, isThing(tree, i) ? rect : letters(rect));
      if (seen && seen.width > 1 && seen.height > 1) inks.push({ element: i, rect: seen });
    }
  }
  if (inks.length < 2) return [];
  const index = new Flatbush(inks.length);
  for (const { rect } of inks) index.add(rect.x, rect.y, rect.x + rect.width, rect.y + rect.height);
  index.finish();
  const pairs = new Map<string, { a: number; b: number; from: number; to: number; area: number }>();
  inks.forEach(({ element, rect }, n) => {
    for (const m of index.search(rect.x, rect.y, rect.x + rect.width, rect.y + rect.height)) {
      if (m <= n) continue;
      const other = inks[m]!;
      if (other.element === element) continue;
      const common = cut(rect, other.rect);
      if (!common || common.width < 2 || common.height < 2) continue;
      const lifted = lift(analysis, element, other.element);
      if (!lifted) continue;
      const key = `${lifted[0]} ${lifted[1]}`;
      const last = pairs.get(key);
      if (!last || common.width * common.height > last.area)
        pairs.set(key, {
          a: lifted[0],
          b: lifted[1],
          from: element,
          to: other.element,
          area: common.width * common.height,
        });
    }
  });
  const out: Suspect[] = [];
  for (const { a, b, from, to } of pairs.values()) {
    const parent = reading.parent[a]!;
    const [first, second] = order[from]! > order[to]! ? [from, to] : [to, from];
    const [ra, rb] = [rectOf(reading, a), rectOf(reading, b)];
    const vertical = Math.abs(ra.x - rb.x) < Math.max(ra.width, rb.width) / 2 && Math.abs(ra.y - rb.y) > 1;
    const [outA, outB] = [sticksOut(analysis, a, from), sticksOut(analysis, b, to)];
    const subject = Math.max(outA, outB) <= 0.5 ? pulled(analysis, a, b) : outA >= outB ? a : b;
    const other = subject === a ? b : a;
    const deep = subject === a ? from : to;
    const by = covered(analysis, deep, other, vertical);
    out.push(
      suspect({
        kind,
        px: by,
        axis: vertical ? 'y' : 'x',
        subject,
        other,
        what: `${name(analysis, first)} lies over ${name(analysis, second)}`,
        meant: meantBy(analysis, a, b, from, to),
        boxes: [
          ...new Set([
            ...upward(analysis, deep, parent),
            ...upward(analysis, subject === a ? to : from, parent),
          ]),
        ],
        weight: 120 + by,
      }),
    );
  }
  return out;
}

/** The two children of what holds both that hold one each; null: one holds the other. */
function lift({ reading }: Analysis, a: number, b: number): [number, number] | null {
  /** What lies around `a`, with the child through which it does. */
  const through = new Map<number, number>();
  for (let at = a; at >= 0; at = reading.parent[at]!) through.set(reading.parent[at]!, at);
  for (let own = b; own >= 0; own = reading.parent[own]!) {
    const child = through.get(reading.parent[own]!);
    if (child === undefined) continue;
    if (child === own) return null;
    return child < own ? [child, own] : [own, child];
  }
  return null;
}

/** Px by which ink reaches out of a box that it lies in. */
function sticksOut(analysis: Analysis, box: number, deep: number): number {
  const around = rectOf(analysis.reading, box);
  return Math.max(
    0,
    ...inkOf(analysis, deep).map(({ x, y, width, height }) =>
      Math.max(
        x + width - around.x - around.width,
        y + height - around.y - around.height,
        around.x - x,
        around.y - y,
      ),
    ),
  );
}

/** Of two boxes the one that something pulls from its place; else the later one. */
function pulled(analysis: Analysis, a: number, b: number): number {
  const { reading } = analysis;
  const isPulled = (one: number) =>
    /-\d/.test(usedText(reading, 'margin', one)) ||
    /absolute|fixed|relative|sticky/.test(usedText(reading, 'position', one)) ||
    isTransformed(analysis, one);
  return isPulled(b) || !isPulled(a) ? b : a;
}

/** Px by which ink reaches into another box. */
function covered(analysis: Analysis, deep: number, other: number, vertical: boolean): number {
  const box = rectOf(analysis.reading, other);
  let most = 0;
  for (const ink of inkOf(analysis, deep)) {
    const common = cut(ink, box);
    if (common) most = Math.max(most, vertical ? common.height : common.width);
  }
  return most;
}

/** Lines that hang out below a box of fixed height, into what comes next. */
function overhangs(analysis: Analysis): Suspect[] {
  const { tree, reading } = analysis;
  const { visible } = sightOf(analysis);
  const lowest = new Map<number, { bottom: number; element: number }>();
  for (let i = tree.count - 1; i > 0; i--) {
    if (!visible[i] || !hasBox(tree, i) || /absolute|fixed/.test(tree.kinds[i]!)) continue;
    const leading = usedPx(reading, 'line-height', i);
    for (const { y, height } of inkOf(analysis, i)) {
      const bottom =
        y + height + (isThing(tree, i) || Number.isNaN(leading) ? 0 : Math.max(0, (leading - height) / 2));
      if (bottom > (lowest.get(i)?.bottom ?? -Infinity)) lowest.set(i, { bottom, element: i });
    }
    const own = lowest.get(i);
    const parent = reading.parent[i]!;
    if (own && own.bottom > (lowest.get(parent)?.bottom ?? -Infinity) && !clips(tree, i, 'y'))
      lowest.set(parent, own);
  }
  const out: Suspect[] = [];
  for (const [box, { bottom, element }] of lowest) {
    if (clips(tree, box, 'y') || /^inline$|^table-row|none/.test(tree.kinds[box]!) || reading.parent[box]! < 1)
      continue;
    if (out.some(({ subject }) => holds(analysis, subject, box))) continue;
    const { rect, border } = laidAreas(tree, box);
    const by = bottom - (rect.y + rect.height - border.bottom);
    if (by < 3 || rect.height < 1) continue;
    const next = nextTo(analysis, box, {
      ...rect,
      y: rect.y + rect.height,
      height: bottom - rect.y - rect.height,
    });
    if (next === null) continue;
    out.push(
      suspect({
        kind,
        px: by,
        axis: 'y',
        subject: box,
        other: next,
        what: `What is in ${name(analysis, box)} hangs ${px(by)} px out of it, over ${name(analysis, next)}`,
        meant: meantBy(analysis, box, next, element, next),
        boxes: upward(analysis, element, reading.parent[box]!).reverse(),
        weight: 120 + by,
      }),
    );
  }
  return out;
}

/** The visible box behind another, in the same container or one around it, that an area reaches into. */
function nextTo(analysis: Analysis, box: number, area: Rect): number | null {
  const { tree, reading } = analysis;
  const { visible } = sightOf(analysis);
  for (let at = box; at > 0; at = reading.parent[at]!) {
    const siblings = childrenOf(tree, reading.parent[at]!).filter(
      (one) => one > at && visible[one] && hasBox(tree, one),
    );
    const found = siblings.find((one) => {
      const rect = rectOf(reading, one);
      // What hangs out of a ground of its own is seen in the margin of the next already.
      const reach = hasGround(analysis, box) ? outset(rect, positive(laidAreas(tree, one).margin)) : rect;
      const common = cut(area, reach);
      return (
        common !== null && common.height > 1 && rect.height > 0 && !/absolute|fixed/.test(tree.kinds[one]!)
      );
    });
    if (found !== undefined) return found;
    if (/absolute|fixed/.test(tree.kinds[at]!)) return null;
  }
  return null;
}

const positive = ({ top, right, bottom, left }: Edges): Edges => ({
  top: Math.max(0, top),
  right: Math.max(0, right),
  bottom: Math.max(0, bottom),
  left: Math.max(0, left),
});

/** Whether a box has a ground, a border or ink to be seen by. */
function isSolid(analysis: Analysis, element: number): boolean {
  const { tree } = analysis;
  const { border } = laidAreas(tree, element);
  return (
    hasGround(analysis, element) ||
    border.top + border.bottom + border.left + border.right > 0 ||
    inkOf(analysis, element).length > 0
  );
}

/** Boxes in the flow of one container that lie over each other: a negative margin pulls one back. */
function siblings(analysis: Analysis): Suspect[] {
  const { tree, reading } = analysis;
  const { visible } = sightOf(analysis);
  const out: Suspect[] = [];
  for (let parent = 1; parent < tree.count; parent++) {
    const list = childrenOf(tree, parent).filter(
      (one) =>
        visible[one] &&
        hasBox(tree, one) &&
        !/^inline$|absolute|fixed|float|^table-|root/.test(tree.kinds[one]!),
    );
    for (let n = 1; n < list.length; n++) {
      const [a, b] = [list[n - 1]!, list[n]!];
      const common = cut(rectOf(reading, a), rectOf(reading, b));
      // Borders that lie on each other make one line of two.
      if (!common || Math.min(common.width, common.height) <= 2.5) continue;
      if (!isSolid(analysis, a) || !isSolid(analysis, b)) continue;
      if (/relative|sticky/.test(usedText(reading, 'position', a) + usedText(reading, 'position', b))) continue;
      if (isTransformed(analysis, a) || isTransformed(analysis, b)) continue;
      const vertical = common.height < common.width;
      const by = vertical ? common.height : common.width;
      out.push(
        suspect({
          kind,
          px: by,
          axis: vertical ? 'y' : 'x',
          subject: b,
          other: a,
          what: `${name(analysis, b)} lies ${px(by)} px over ${name(analysis, a)}`,
          meant: isPile(analysis, list)
            ? 'They are piled up, each over the one before'
            : meantBy(analysis, a, b, a, b),
          boxes: [b, a],
          weight: 110 + by,
        }),
      );
    }
  }
  return out;
}

/** Three boxes or more, each pulled over the last by the same: faces in a row. */
function isPile({ reading }: Analysis, list: readonly number[]): boolean {
  if (list.length < 3) return false;
  const margins = list.slice(1).map((one) => usedText(reading, 'margin', one));
  return margins.every((one) => one === margins[0] && /-\d/.test(one));
}

function meantBy(analysis: Analysis, a: number, b: number, from: number, to: number): string {
  const { reading, tree } = analysis;
  for (const [top, deep] of [
    [a, from],
    [b, to],
  ] as const)
    for (const at of upward(analysis, deep, reading.parent[top]!)) {
      const position = usedText(reading, 'position', at);
      if (position === 'absolute') return `${name(analysis, at)} is placed over the page by hand`;
      if (position === 'fixed') return `${name(analysis, at)} stays in its place while the page scrolls`;
      if (position === 'sticky') return `${name(analysis, at)} sticks while the page scrolls`;
      if (isTransformed(analysis, at)) return `${name(analysis, at)} is moved by a transform`;
    }
  if (/grid$/.test(usedText(reading, 'display', reading.parent[a]!))) {
    const [ra, rb] = [rectOf(reading, a), rectOf(reading, b)];
    const common = cut(ra, rb);
    if (common && common.width * common.height > 0.5 * Math.min(ra.width * ra.height, rb.width * rb.height))
      return 'They are set into one grid area';
  }
  if (tagOf(tree, from) === 'option' || tagOf(tree, to) === 'option') return 'They belong to one control';
  return '';
}
