/** What hangs out of a box at its lower end: lines, pictures, and floats that it does not hold (CSS 2.2 §10.6.3). */
import { facts } from '../../evidence/model.ts';
import { usedText } from '../../boxes/tree.ts';
import { declaring } from '../../css/cascade/candidates.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px } from '../../geometry/rect.ts';
import { observed, oncePerAnalysis, type Observed } from '../model.ts';
import { isTransformed, boxName } from '../../visibility/visibility.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { inTransformed } from '../../boxes/transforms.ts';
import { childrenOf, edgesOf, hasBox, rectOf, usedPx } from '../../boxes/tree.ts';
import { outset, type Edges, type Rect } from '../../geometry/rect.ts';
import {
  clips,
  intersection,
  hasBackground,
  isSelfOrAncestor,
  inkOf,
  isReplacedOrControl,
  labelInk,
  visibilityOf,
  selfAndAncestors,
} from '../../visibility/visibility.ts';
import { stopsByGeometry, stopsByVisibility } from '../stops.ts';

export interface Hanging {
  box: number;
  /** The box whose lower end is the lowest. */
  deep: number;
  /** CSS px below the inner edge of the box's own border. */
  by: number;
  /** The float that it lies in, −1: none. */
  float: number;
  /** The box of its own container, or of one around it, that it reaches into; null: it reaches into none. */
  next: number | null;
  /** The innermost box of those whose lower end can be seen and that it hangs out of, with the px; null: there is none. */
  shown: { box: number; by: number } | null;
}

const LEAST = 3;

/** The outermost boxes out of which something hangs so that it can be seen. */
export const hangings = oncePerAnalysis((analysis): Hanging[] => {
  const { tree, reading } = analysis;
  const { visible } = visibilityOf(analysis);
  /** The lowest of what lies in each box: where it ends, whose it is, and whether it is that one's ground. */
  const lowest = new Float64Array(tree.count).fill(-Infinity);
  const owner = new Int32Array(tree.count);
  const isGround = new Uint8Array(tree.count);
  const put = (box: number, bottom: number, of: number, ground: number): void => {
    if (!(bottom > lowest[box]!)) return;
    lowest[box] = bottom;
    owner[box] = of;
    isGround[box] = ground;
  };
  for (let i = tree.count - 1; i > 0; i--) {
    const kind = tree.kinds[i]!;
    if (!visible[i] || !hasBox(tree, i) || kind === 'absolute' || kind === 'fixed') continue;
    put(i, lowestLine(analysis, i), i, 0);
    const parent = reading.parent[i]!;
    if (parent < 0) continue;
    // Its own ground hangs out of what is around it, and not of itself.
    const { y, height } = rectOf(reading, i);
    // What clips shows nothing below its end, and its own end all the same; engines clip pictures to theirs.
    if (clips(tree, i, 'y')) {
      if (isReplacedOrControl(tree, i)) put(parent, y + height, i, 0);
      else if (hasBackground(analysis, i)) put(parent, y + height, i, 1);
      else put(parent, Math.min(lowest[i]!, y + height), owner[i]!, isGround[i]!);
    } else if (hasBackground(analysis, i) && y + height > lowest[i]!) put(parent, y + height, i, 1);
    else put(parent, lowest[i]!, owner[i]!, isGround[i]!);
  }
  const out: Hanging[] = [];
  const isMoved = inTransformed(reading);
  for (let box = 1; box < tree.count; box++) {
    const bottom = lowest[box]!;
    const element = owner[box]!;
    if (
      stopsByGeometry(
        analysis,
        box,
        (bottom === -Infinity || reading.parent[box]! < 1) &&
          'nothing that can be seen lies in it, or it is body',
      )
    )
      continue;
    if (stopsByGeometry(analysis, box, clips(tree, box, 'y') && 'it clips or scrolls what is in it')) continue;
    if (
      stopsByGeometry(
        analysis,
        box,
        /^inline$|^table-row|none/.test(tree.kinds[box]!) && 'it is a part of a line or a table',
      )
    )
      continue;
    const isTold = out.some((hanging) => isSelfOrAncestor(analysis, hanging.box, box));
    if (stopsByGeometry(analysis, box, isTold && 'it is told of a box around it')) continue;
    // Cells can share their borders with others.
    if (isMoved[box] === 0 && !tree.kinds[box]!.startsWith('table')) {
      const { y, height } = rectOf(reading, box);
      const isHeld = bottom - (y + height - edgesOf(reading, 'border-width', box).bottom) < LEAST - 1;
      if (stopsByGeometry(analysis, box, isHeld && 'it is as tall as what is in it')) continue;
    }
    const { rect, border } = laidAreas(tree, box);
    if (
      stopsByGeometry(
        analysis,
        box,
        bottom - (rect.y + rect.height - border.bottom) < LEAST && 'it is as tall as what is in it',
      )
    )
      continue;
    // What a transform moves takes what is in it along.
    const end = isMoved[box] === 1 ? rectOf(reading, box) : rect;
    const by = bottom - (end.y + end.height - border.bottom);
    const float = selfAndAncestors(analysis, element, box).findLast((at) => tree.kinds[at] === 'float') ?? -1;
    const below = { ...rect, y: rect.y + rect.height, height: bottom - rect.y - rect.height };
    const next = by < LEAST ? null : nextTo(analysis, box, below);
    // A box of floats alone has no height, and is missed where they lie over the ground of what follows.
    const isNothing =
      rect.height < 1 &&
      border.bottom === 0 &&
      !hasBackground(analysis, box) &&
      !(float >= 0 && next !== null && hasGround(analysis, next));
    if (
      stopsByVisibility(
        analysis,
        box,
        (by < LEAST || isNothing) &&
          'less than 3 px hang out of it, or it has no height, background or border to be seen by',
      )
    )
      continue;
    const shown =
      selfAndAncestors(analysis, element, reading.parent[box]!)
        .map((at) => ({ at, areas: laidAreas(tree, at) }))
        .filter(
          ({ at, areas }) =>
            // A ground does not hang out of itself, though a transform may draw it larger than it was laid out.
            !(isGround[box] === 1 && at === element) &&
            !/^inline$|^table-row/.test(tree.kinds[at]!) &&
            (hasBackground(analysis, at) || areas.border.bottom > 0),
        )
        .map(({ at, areas }) => ({
          box: at,
          by: bottom - (areas.rect.y + areas.rect.height - areas.border.bottom),
        }))
        .find((entry) => entry.by >= LEAST) ?? null;
    if (
      stopsByVisibility(
        analysis,
        box,
        next === null && !shown && 'its end cannot be seen, and what hangs out of it covers nothing',
      )
    )
      continue;
    out.push({ box, deep: element, by, float, next, shown });
  }
  return out;
});

/** The part of a line's height by which few letters reach below what a tight line height leaves of it. */
const TIGHT = 0.1;

/** Lower end of the lowest of a box's own lines, or of its picture; −Infinity: it has none. */
function lowestLine(analysis: Analysis, element: number): number {
  const { tree, reading } = analysis;
  let lowest = -Infinity;
  // What is trimmed of a line's box is taken to hold no letters (CSS Inline 3 §5.4).
  if (trimmed(analysis).has(element)) return lowest;
  for (const inks of [inkOf(analysis, element), labelInk(analysis, element)]) {
    if (inks.length === 0) continue;
    const leading = isReplacedOrControl(tree, element) ? NaN : usedPx(reading, 'line-height', element);
    for (const { y, height } of inks) {
      const half = Number.isNaN(leading) ? 0 : Math.max(-TIGHT * height, (leading - height) / 2);
      lowest = Math.max(lowest, y + height + half);
    }
  }
  return lowest;
}

/** Elements of which a declaration trims the boxes of lines. */
const trimmed = oncePerAnalysis(
  ({ styles, tree }) =>
    new Set(
      ['text-box-trim', 'text-box'].flatMap((name) =>
        declaring(styles, name, tree.count).filter((element) =>
          /trim|cap|alphabetic/.test(resolve(styles, element, name).value),
        ),
      ),
    ),
);

/** The visible box behind another, in the same container or one around it, that an area reaches into. */
function nextTo(analysis: Analysis, box: number, area: Rect): number | null {
  const { tree, reading } = analysis;
  const { visible } = visibilityOf(analysis);
  for (let at = box; at > 0; at = reading.parent[at]!) {
    const siblings = childrenOf(tree, reading.parent[at]!).filter(
      (child) => child > at && visible[child] && hasBox(tree, child),
    );
    const found = siblings.find((sibling) => {
      const rect = rectOf(reading, sibling);
      // What hangs out of a ground of its own is seen in the margin of the next already.
      const reach = hasBackground(analysis, box)
        ? outset(rect, positive(laidAreas(tree, sibling).margin))
        : rect;
      const common = intersection(area, reach);
      return (
        common !== null && common.height > 1 && rect.height > 0 && !/absolute|fixed/.test(tree.kinds[sibling]!)
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

/** Whether a box, or the first thing in it, is seen by a ground or a border. */
function hasGround(analysis: Analysis, element: number): boolean {
  const { border } = laidAreas(analysis.tree, element);
  return hasBackground(analysis, element) || border.top > 0;
}

/** What hangs out of a box whose lower end can be seen, and covers nothing. `areFloats`: floats, or what is no float. */
export function hangingOut(analysis: Analysis, areFloats: boolean): Observed[] {
  const { reading } = analysis;
  return hangings(analysis).flatMap(({ box: outer, by: outerBy, deep, float, next, shown: ends }) => {
    // A float that reaches into the ground of what follows is seen there, though what should hold it has no end to be seen.
    const shown =
      ends ?? (float >= 0 && next !== null && hasGround(analysis, next) ? { box: outer, by: outerBy } : null);
    const of = shown?.box ?? deep;
    const isOver = next !== null && float < 0;
    if (
      stopsByGeometry(
        analysis,
        of,
        isOver && 'what hangs out of it covers what comes next, which another rule tells of',
      )
    )
      return [];
    const isOther = float >= 0 !== areFloats;
    if (
      stopsByGeometry(analysis, of, isOther && `what hangs out of it is ${areFloats ? 'no float' : 'a float'}`)
    )
      return [];
    if (!shown) {
      stopsByVisibility(analysis, of, 'the end of no box that it hangs out of can be seen');
      return [];
    }
    const { box, by } = shown;
    const moved = selfAndAncestors(analysis, deep, reading.parent[box]!).find(
      (at) => isTransformed(analysis, at) || usedText(reading, 'position', at) === 'relative',
    );
    return [
      observed({
        px: by,
        axis: 'y',
        subject: box,
        other: float >= 0 ? float : deep,
        what:
          float >= 0
            ? `${boxName(analysis, float)} floats, and hangs ${px(by)} px out of ${boxName(analysis, box)}, which does not hold it${ends || next === null ? '' : `, into ${boxName(analysis, next)}`}`
            : `What is in ${boxName(analysis, box)} hangs ${px(by)} px out of it`,
        evidence: facts([
          'placed-by-hand',
          moved !== undefined && moved !== box && `${boxName(analysis, moved)} is moved by hand`,
        ]),
        boxes: [
          ...new Set([
            ...(float >= 0 ? [float] : []),
            ...selfAndAncestors(analysis, deep, reading.parent[box]!).reverse(),
          ]),
        ],
        weight: 70 + by,
      }),
    ];
  });
}
