/** Text, pictures and controls that lie over each other though neither holds the other (CSS 2.2 Appendix E). */
import type { Analysis } from '../analysis.ts';
import { columnRoom } from '../accounts/declared.ts';
import { laidAreas } from '../boxes/areas.ts';
import { childrenOf, hasBox, inside, rectOf, usedPx, usedText, type BoxTree } from '../boxes/tree.ts';
import type { RawReading } from '../boxes/reading.ts';
import { resolve } from '../css/cascade.ts';
import { px, type Rect } from '../geometry/rect.ts';
import Flatbush from 'flatbush';
import { suspect, type Suspect } from './finding.ts';
import { hangings } from './hanging.ts';
import {
  cut,
  hasGround,
  holds,
  inkOf,
  isAgain,
  isThing,
  isTransformed,
  letters,
  name,
  seenInk,
  seenOf,
  shownIn,
  sightOf,
  tagOf,
  upward,
} from './sight.ts';
import { sticks } from './sticks.ts';

export const kind = 'overlap';

interface Ink {
  element: number;
  rect: Rect;
}

export function detect(analysis: Analysis): Suspect[] {
  const out = [
    ...overhangs(analysis),
    ...siblings(analysis),
    ...closeLines(analysis),
    ...stays(analysis),
    ...sticks(analysis, kind),
    ...undersides(analysis),
  ];
  // What two boxes do to each other is told once.
  const told = new Set(out.flatMap(({ subject, other }) => [`${subject} ${other}`, `${other} ${subject}`]));
  return [...out, ...inked(analysis).filter(({ subject, other }) => !told.has(`${subject} ${other}`))];
}

function inked(analysis: Analysis): Suspect[] {
  const { tree, reading, order } = analysis;
  const { visible } = sightOf(analysis);
  const inks: Ink[] = [];
  /** Whether a block that is drawn out of its place holds it: nobody set its lines between those of others. */
  const strays = new Array<boolean>(tree.count).fill(false);
  for (let i = 0; i < tree.count; i++) {
    if (!visible[i] || !hasBox(tree, i)) continue;
    strays[i] = strays[reading.parent[i]!] === true || (isBlock(tree, i) && isDrawnAway(analysis, i));
    for (const rect of inkOf(analysis, i)) {
      const seen = seenInk(analysis, i, isThing(tree, i) ? rect : strays[i] ? tall(rect) : letters(rect));
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
      const lifted = lift(analysis, element, other.element) ?? placedIn(analysis, element, other.element);
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
    const vertical =
      isStacked(analysis, a, b) ||
      (Math.abs(ra.x - rb.x) < Math.max(ra.width, rb.width) / 2 && Math.abs(ra.y - rb.y) > 1);
    const [outA, outB] = [sticksOut(analysis, a, from), sticksOut(analysis, b, to)];
    const subject = holds(analysis, b, a)
      ? a
      : Math.max(outA, outB) <= 0.5
        ? pulled(analysis, a, b)
        : outA >= outB
          ? a
          : b;
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

/** The part of a line that its letters take with what goes above and below the small ones. */
const tall = ({ x, y, width, height }: Rect): Rect => ({
  x: x + 0.5,
  y: y + height * 0.12,
  width: width - 1,
  height: height * 0.76,
});

const isBlock = ({ kinds }: BoxTree, element: number): boolean =>
  /^(block|list-item|flex-item|grid-item|float|table)$/.test(kinds[element]!);

/** Whether a transform or an offset draws a box elsewhere than where it was laid out (CSS 2.2 §9.4.3, CSS Transforms 1 §3). */
const isDrawnAway = (analysis: Analysis, element: number): boolean =>
  isTransformed(analysis, element) ||
  (usedText(analysis.reading, 'position', element) === 'relative' && isOffset(analysis, element));

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

/** Whether two boxes follow each other down the page, wherever they have come to lie (CSS 2.2 §9.4.1). */
const isStacked = ({ tree }: Analysis, a: number, b: number): boolean =>
  [a, b].every((one) => /^(block|list-item)$/.test(tree.kinds[one]!));

/** What is placed by hand over the text of the box around it, and that box; null: nothing is. */
function placedIn(analysis: Analysis, a: number, b: number): [number, number] | null {
  const [outer, inner] = holds(analysis, a, b) ? [a, b] : [b, a];
  const placed = upward(analysis, inner, outer).find((at) => analysis.tree.kinds[at] === 'absolute');
  return placed !== undefined && isUnreadable(analysis, placed, inner, outer) ? [placed, outer] : null;
}

const seenInksOf = (analysis: Analysis, element: number): Rect[] =>
  inkOf(analysis, element).flatMap((ink) => seenInk(analysis, element, ink) ?? []);

/** Px by which ink reaches out of a box that it lies in. */
function sticksOut(analysis: Analysis, box: number, deep: number): number {
  const around = rectOf(analysis.reading, box);
  return Math.max(
    0,
    ...seenInksOf(analysis, deep).map(({ x, y, width, height }) =>
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
  for (const ink of seenInksOf(analysis, deep)) {
    const common = cut(ink, box);
    if (common) most = Math.max(most, vertical ? common.height : common.width);
  }
  return most;
}

/** Lines that hang out below a box of fixed height, into what comes next; the text beside a float goes around it. */
function overhangs(analysis: Analysis): Suspect[] {
  return hangings(analysis).flatMap(({ box, deep, by, float, next }) =>
    next === null || float >= 0
      ? []
      : [
          suspect({
            kind,
            px: by,
            axis: 'y',
            subject: box,
            other: next,
            form: 'hangs',
            what: `What is in ${name(analysis, box)} hangs ${px(by)} px out of it, over ${name(analysis, next)}`,
            meant: meantBy(analysis, box, next, deep, next),
            boxes: [
              ...upward(analysis, deep, analysis.reading.parent[box]!).reverse(),
              ...rowsOf(analysis, box),
            ],
            weight: 120 + by,
          }),
        ],
  );
}

/** The grid whose rows a box is an item of. */
const rowsOf = ({ tree, reading }: Analysis, box: number): number[] =>
  tree.kinds[box] === 'grid-item' ? [reading.parent[box]!] : [];

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

/** Whether some of what a box holds shows in an area. */
function hasInkIn(analysis: Analysis, element: number, area: Rect): boolean {
  const { tree } = analysis;
  const { visible } = sightOf(analysis);
  for (let i = element; i < tree.count && holds(analysis, element, i); i++) {
    if (!visible[i] || !hasBox(tree, i)) continue;
    const isSeen = inkOf(analysis, i).some((ink) => {
      const common = cut(isThing(tree, i) ? ink : letters(ink), area);
      return common !== null && common.width >= 2 && common.height >= 2;
    });
    if (isSeen) return true;
  }
  return false;
}

/** Whether a box is drawn away from its place in the flow, or sticks to an edge. */
const isOffset = ({ reading }: Analysis, element: number): boolean => {
  const position = usedText(reading, 'position', element);
  const sides = ['left', 'top', 'right', 'bottom'];
  return (
    position === 'sticky' ||
    (position === 'relative' && sides.some((side) => Math.abs(usedPx(reading, side, element)) > 0.5))
  );
};

/** Whether one of two boxes ends before the other begins, on either axis: of most this is all that must be known. */
function areApart({ rects }: RawReading, a: number, b: number): boolean {
  const [p, q] = [a * 4, b * 4];
  return (
    rects[p]! + rects[p + 2]! <= rects[q]! ||
    rects[q]! + rects[q + 2]! <= rects[p]! ||
    rects[p + 1]! + rects[p + 3]! <= rects[q + 1]! ||
    rects[q + 1]! + rects[q + 3]! <= rects[p + 1]!
  );
}

/** Boxes in the flow of one container that lie over each other: a negative margin pulls one back. */
function siblings(analysis: Analysis): Suspect[] {
  const { tree, reading } = analysis;
  const out: Suspect[] = [];
  const inColumns = new Uint8Array(tree.count);
  for (let parent = 0; parent < tree.count; parent++) {
    // What goes on in a further column lies around what is between.
    if (inColumns[reading.parent[parent]!] === 1 || columnRoom(tree, parent) !== null) inColumns[parent] = 1;
    if (parent === 0 || inColumns[parent] === 1) continue;
    const shown = shownIn(analysis, parent);
    if (shown.length < 2) continue;
    const list = shown.filter((one) => !/^inline$|absolute|fixed|float|^table-|root/.test(tree.kinds[one]!));
    for (let n = 1; n < list.length; n++) {
      const [a, b] = [list[n - 1]!, list[n]!];
      if (areApart(reading, a, b)) continue;
      const common = cut(rectOf(reading, a), rectOf(reading, b));
      // Borders that lie on each other make one line of two.
      if (!common || Math.min(common.width, common.height) <= 2.5) continue;
      if (!isSolid(analysis, a) || !isSolid(analysis, b)) continue;
      if (isOffset(analysis, a) || isOffset(analysis, b)) continue;
      // What is positioned to lie above may cover a ground, but no text.
      const isRaised = [a, b].some((one) => usedText(reading, 'position', one) === 'relative');
      if (isRaised && !hasInkIn(analysis, a, common)) continue;
      if (isTransformed(analysis, a) || isTransformed(analysis, b)) continue;
      // They follow each other on the axis on which they begin further apart.
      const [ra, rb] = [rectOf(reading, a), rectOf(reading, b)];
      const vertical = isStacked(analysis, a, b) || Math.abs(ra.y - rb.y) >= Math.abs(ra.x - rb.x);
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

/** Lines set closer than letters are tall: this part of the font size from one to the next, and they touch. */
const CLOSE = 0.82;

/** Lines of one box that lie over each other (CSS Inline 3 §5.1). */
function closeLines(analysis: Analysis): Suspect[] {
  const { tree, reading } = analysis;
  const { visible } = sightOf(analysis);
  const out: Suspect[] = [];
  for (const [element, runs] of inside(tree).texts) {
    if (!visible[element] || isThing(tree, element)) continue;
    if (runs.length === 1 && runs[0]!.pieces.length < 2) continue;
    const size = usedPx(reading, 'font-size', element);
    const pieces = runs
      .filter(({ blank }) => !blank)
      .flatMap((run) => run.pieces.filter(({ width }) => width > 1));
    // A first letter that is larger than its line begins beside it, and is no line of its own.
    const tall = Math.min(...pieces.map(({ height }) => height)) * 1.2;
    const tops = [
      ...new Set(pieces.filter(({ height }) => height <= tall).map(({ y }) => Math.round(y * 4) / 4)),
    ].sort((a, b) => a - b);
    const steps = tops.slice(1).map((top, n) => top - tops[n]!);
    const closest = Math.min(...steps.filter((step) => step > size * 0.3));
    if (steps.length === 0 || !(closest < size * CLOSE)) continue;
    out.push(
      suspect({
        kind,
        px: size - closest,
        axis: 'y',
        subject: element,
        what: `Lines of ${name(analysis, element)} lie over each other: they are ${px(closest)} px apart, and the letters ${px(size)} px large`,
        form: 'lines',
        weight: 90 + size - closest,
      }),
    );
  }
  return out;
}

/** What stays in its place over the beginning or the end of the page, where no scrolling brings out what it hides. */
function stays(analysis: Analysis): Suspect[] {
  const { tree, reading } = analysis;
  const { document } = reading;
  const { visible } = sightOf(analysis);
  const fixed: { element: number; end: 'top' | 'bottom'; rect: Rect }[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (!visible[i] || tree.kinds[i] !== 'fixed' || tree.containingBlock[i]! >= 0) continue;
    const rect = rectOf(reading, i);
    if (!isBar(analysis, i) || rect.height < 8 || !isSolid(analysis, i)) continue;
    // Coordinates are the document's: what is fixed moves with the view.
    const top = rect.y - document.scrollY;
    const foot = document.scrollHeight - document.clientHeight + top;
    if (top <= 1) fixed.push({ element: i, end: 'top', rect: { ...rect, y: top } });
    else if (top + rect.height >= document.clientHeight - 1)
      fixed.push({ element: i, end: 'bottom', rect: { ...rect, y: foot } });
  }
  return fixed.flatMap(({ element, end, rect }) => {
    let worst: { by: number; at: number } | null = null;
    for (let i = 1; i < tree.count; i++) {
      if (!visible[i] || !hasBox(tree, i)) continue;
      if (upward(analysis, i).some((at) => /^(fixed|absolute)$/.test(tree.kinds[at]!))) continue;
      for (const ink of inkOf(analysis, i)) {
        const seen = seenInk(analysis, i, letters(ink));
        const common = seen && cut(seen, rect);
        if (!common || common.height < 2 || common.width < 2) continue;
        const by = end === 'top' ? rect.y + rect.height - ink.y : ink.y + ink.height - rect.y;
        if (!worst || by > worst.by) worst = { by, at: i };
      }
    }
    if (!worst) return [];
    return [
      suspect({
        kind,
        px: worst.by,
        axis: 'y',
        subject: element,
        other: worst.at,
        what: `${name(analysis, element)} stays over ${name(analysis, worst.at)} at the ${end} of the page, where no scrolling brings it out`,
        form: `stays-${end}`,
        boxes: [element],
        weight: 140 + worst.by,
      }),
    ];
  });
}

/** Whether a box stays at an edge of the view and goes along most of it. */
function isBar({ tree, reading }: Analysis, element: number): boolean {
  const { clientWidth, clientHeight } = reading.document;
  const { width, height } = rectOf(reading, element);
  return tree.kinds[element] === 'fixed' && width >= clientWidth * 0.5 && height <= clientHeight * 0.5;
}

/** The text that a box with a ground covers, since a transform or an offset draws it out of its place (CSS 2.2 §9.4.3, CSS Transforms 1 §3). */
function undersides(analysis: Analysis): Suspect[] {
  const { tree, reading, order } = analysis;
  const { visible, clipper } = sightOf(analysis);
  const isMoved = (element: number): boolean =>
    isDrawnAway(analysis, element) && (isBlock(tree, element) || tree.kinds[element] === 'inline-block');
  const out: Suspect[] = [];
  for (let box = 1; box < tree.count; box++) {
    if (!visible[box] || !hasGround(analysis, box) || !hasBox(tree, box) || !isMoved(box)) continue;
    const up = upward(analysis, reading.parent[box]!);
    if (up.some((at) => /absolute|fixed/.test(tree.kinds[at]!) || isMoved(at))) continue;
    const shown = seenOf(analysis, box, rectOf(reading, box));
    if (!shown) continue;
    let worst = { area: 0, at: -1, cut: shown };
    for (const beside of childrenOf(tree, reading.parent[box]!)) {
      if (beside === box || order[beside]! > order[box]! || isMoved(beside)) continue;
      if (/absolute|fixed/.test(tree.kinds[beside]!) || clipper[beside] !== clipper[box]) continue;
      for (let i = beside; i < tree.count && holds(analysis, beside, i); i++) {
        if (!visible[i] || !hasBox(tree, i) || order[i]! > order[box]!) continue;
        for (const ink of inkOf(analysis, i)) {
          const seen = seenInk(analysis, i, isThing(tree, i) ? ink : letters(ink));
          const common = seen && cut(seen, shown);
          if (!common || common.width < 3 || common.height < 3) continue;
          if (common.width * common.height > worst.area)
            worst = { area: common.width * common.height, at: i, cut: common };
        }
      }
    }
    if (worst.at < 0) continue;
    const axis = worst.cut.width <= worst.cut.height ? 'x' : 'y';
    const by = axis === 'x' ? worst.cut.width : worst.cut.height;
    out.push(
      suspect({
        kind,
        px: by,
        axis,
        subject: box,
        other: worst.at,
        what: `${name(analysis, box)} is drawn over ${px(by)} px of ${name(analysis, worst.at)}`,
        form: 'underside',
        boxes: [box],
        weight: 110 + by,
      }),
    );
  }
  return out;
}

/** Whether what is placed by hand spoils what it lies over: letters on letters, or a band over the text of the page. */
function isUnreadable(analysis: Analysis, placed: number, from: number, to: number): boolean {
  const { tree, reading } = analysis;
  const isText = [from, to].every((one) => !isThing(tree, one) && inkOf(analysis, one).length > 0);
  const deep = holds(analysis, placed, from) ? from : to;
  const grounded = upward(analysis, deep, reading.parent[placed]!).some((at) => hasGround(analysis, at));
  if (!grounded) return isText;
  return (
    tree.containingBlock[placed]! < 0 &&
    rectOf(reading, placed).width >= reading.document.clientWidth * 0.9 &&
    isText
  );
}

/** Whether one of two is the back of something that turns, and is not seen while the other is (CSS Transforms 2 §5). */
const isTwoFaced = (analysis: Analysis, ...two: number[]): boolean =>
  two.some((one) =>
    upward(analysis, one).some((at) => resolve(analysis.styles, at, 'backface-visibility').value === 'hidden'),
  );

/** Three boxes or more, or two pictures, each pulled over the last by the same: faces in a row. */
function isPile(analysis: Analysis, list: readonly number[]): boolean {
  const { reading } = analysis;
  const margins = list.slice(1).map((one) => usedText(reading, 'margin', one));
  const isEven = margins.every((one) => one === margins[0] && /-\d/.test(one));
  return isEven && (list.length > 2 || list.every((one) => isPicture(analysis, one)));
}

/** Whether nothing is seen of a box but a picture. */
function isPicture({ tree }: Analysis, element: number): boolean {
  const things = /^(img|picture|svg|canvas|video)$/;
  const within = childrenOf(tree, element).filter((one) => hasBox(tree, one));
  return things.test(tagOf(tree, element)) || (within.length === 1 && things.test(tagOf(tree, within[0]!)));
}

function meantBy(analysis: Analysis, a: number, b: number, from: number, to: number): string {
  const { reading, tree } = analysis;
  for (const [top, deep] of [
    [a, from],
    [b, to],
  ] as const)
    for (const at of upward(analysis, deep, reading.parent[top]!)) {
      const position = usedText(reading, 'position', at);
      if (position === 'absolute') {
        if (isAgain(analysis, from, to)) return `${name(analysis, at)} says the same in the same place`;
        if (isUnreadable(analysis, at, from, to)) continue;
        return `${name(analysis, at)} is placed over the page by hand`;
      }
      if (position === 'fixed' && isBar(analysis, a) && isBar(analysis, b)) continue;
      if (position === 'fixed') return `${name(analysis, at)} stays in its place while the page scrolls`;
      if (position === 'sticky') return `${name(analysis, at)} sticks while the page scrolls`;
      if (isTransformed(analysis, at)) {
        if (isUnreadable(analysis, at, from, to) && !isTwoFaced(analysis, from, to)) continue;
        return `${name(analysis, at)} is moved by a transform`;
      }
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
