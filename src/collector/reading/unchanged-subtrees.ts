/**
 * What a new width of the viewport has moved, but not made otherwise. Many boxes lay out what is in them by their own size
 * alone: those that keep floats in and out (CSS Display 3 §2.1), and blocks that no float comes before. Where such a box is as
 * large as in the last reading, and styles are as they were, what is in it lies in it as it did, and is not asked for again.
 * Left out is what takes its place or size from farther around: boxes that are positioned otherwise than relatively, turned
 * ones, values by the viewport; and drawings, of which engines round the places, unless they have not moved at all.
 */
import { FIXED, NO_BARS, type Ints, type Last } from './reused-values.ts';
import { FLOWING, isShape } from './contents.ts';

/** Displays of boxes of which that can be so. */
const BOX = /^(block|flow-root|list-item|inline-block|(inline-)?(flex|grid))$/;
const PLAIN_BLOCK = /^(block|list-item)$/;
/** Declarations by which boxes have their places in other ways than those that are looked at here. */
const OTHERWISE = /^(zoom|rotate|scale|translate|offset|container|content-visibility|animation-timeline)/;
const NO_MATTER = /^(1|none|normal|visible|auto|initial|100%)$/;
/** Tracks of a grid around (CSS Grid 2 §9). */
const SUBGRID = /\bsubgrid\b/i;

let isStirred = false;
const stir = (): void => {
  isStirred = true;
};
for (const event of ['load', 'error']) document.addEventListener(event, stir, true);
for (const event of ['loading', 'loadingdone', 'loadingerror']) document.fonts.addEventListener(event, stir);

/** Whether pictures or fonts have come since the last time that this was asked. */
export function hasChanged(): boolean {
  const had = isStirred;
  isStirred = false;
  return had;
}

/** Whether nothing of what is declared makes it unsure. */
export const isPlain = (declarations: readonly (readonly [string, string])[]): boolean =>
  declarations.every(
    ([property, value]) => (!OTHERWISE.test(property) || NO_MATTER.test(value.trim())) && !SUBGRID.test(value),
  );

export interface Subtrees {
  /** 1: a box that lays out by its own size alone what is in it. */
  isBox: Uint8Array;
  /** By element: the nearest such box around it that says where it lies; −1: none. */
  box: Int32Array;
  /** 1: drawn in a picture, or the picture. */
  isDrawn: Uint8Array;
}

/**
 * By the values of the last reading; null: nothing can be said of this page. `floating`: elements in which something floats that
 * is no element itself.
 */
export function subtreesOf(
  elements: readonly Element[],
  parent: ArrayLike<number>,
  floating: ReadonlySet<number>,
  { strings, used, displays, computed, mayDiffer }: Last,
  isAnyFresh: boolean,
): Subtrees | null {
  const count = displays.length;
  const text = (column: Ints | undefined, i: number): string => strings[column?.[i] ?? -1] ?? '';
  const { position, float, overflow, transform } = used;
  if (isAnyFresh && !mayDiffer) return null;
  const vertical = used['writing-mode'];
  for (let i = 0; i < count; i++) if (!/^(|horizontal-tb)$/.test(text(vertical, i))) return null;

  /** Whether a length of the viewport says something of an element or of one in it. */
  const differs = new Uint8Array(count);
  if (isAnyFresh)
    for (let i = count - 1; i >= 0; i--) {
      if (mayDiffer![i] === 1) differs[i] = 1;
      if (differs[i] === 1 && parent[i]! >= 0) differs[parent[i]!] = 1;
    }
  const isBox = new Uint8Array(count);
  const box = new Int32Array(count).fill(-1);
  const isDrawn = new Uint8Array(count);
  const turned = new Uint8Array(count);
  /** The box that keeps the floats in which an element's children take part, and whether one came before. */
  const floats = new Int32Array(count);
  const hasFloat = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    const above = parent[i]!;
    const display = displays[i]!;
    const around = above < 0 ? 0 : floats[above]!;
    const flow = text(position, i);
    const isFloat = !/^(|none)$/.test(text(float, i));
    const bars = text(overflow, i);
    if ((above >= 0 && turned[above] === 1) || !/^(|none)$/.test(text(transform, i))) turned[i] = 1;
    const keepsFloats =
      !PLAIN_BLOCK.test(display) ||
      isFloat ||
      /absolute|fixed/.test(flow) ||
      /hidden|auto|scroll/.test(bars) ||
      /(flex|grid)$/.test(displays[above] ?? '');
    floats[i] = above < 0 || (keepsFloats && BOX.test(display)) || /table/.test(display) ? i : around;
    const isAlone = keepsFloats || hasFloat[around] === 0;
    if (isFloat) hasFloat[around] = 1;
    if (floating.has(i)) hasFloat[floats[i]!] = 1;
    if (isShape(elements[i]!) || isDrawn[above] === 1) isDrawn[i] = 1;
    if (above >= 0 && turned[i] === 0 && FLOWING.test(flow)) box[i] = isBox[above] === 1 ? above : box[above]!;
    if (!BOX.test(display) || turned[i] === 1 || differs[i] === 1 || !isAlone) continue;
    if (NO_BARS.test(bars) && FIXED.test(text(computed['padding'], i))) isBox[i] = 1;
  }
  return { isBox, box, isDrawn };
}

/** CSS px. */
export interface Offset {
  x: number;
  y: number;
}

/** What has moved since the last reading, found out from box to box in document order. */
export interface Moves {
  /** Puts in where an element is that has moved at most; false: the engine must be asked, and its answer `seen`. */
  place: (i: number) => boolean;
  seen: (i: number) => void;
  /** How far what is in an element has moved; null: it can be otherwise. */
  inside: (i: number) => Offset | null;
}

/** `rects`, `last`: border boxes as readings hold them, those at hand and those of the last reading. */
export function movesOf({ isBox, box, isDrawn }: Subtrees, rects: Float64Array, last: Float64Array): Moves {
  const count = isBox.length;
  const isSame = new Uint8Array(count);
  const by = new Float64Array(count * 2);
  const note = (i: number, x: number, y: number): void => {
    isSame[i] = 1;
    [by[i * 2], by[i * 2 + 1]] = [x, y];
  };
  const isExact = (i: number, x: number, y: number): boolean => isDrawn[i] === 0 || (x === 0 && y === 0);
  const seen = (i: number): void => {
    const at = i * 4;
    const [width, height] = [rects[at + 2]!, rects[at + 3]!];
    // What has no height lets the margins in it and around it touch.
    if (isBox[i] === 0 || width !== last[at + 2] || height !== last[at + 3] || width * height === 0) return;
    note(i, rects[at]! - last[at]!, rects[at + 1]! - last[at + 1]!);
  };
  return {
    seen,
    place: (i) => {
      const around = box[i]!;
      const at = i * 4;
      // What is not laid out at all stays where the viewport begins.
      if (around < 0 || isSame[around] === 0 || last[at + 2]! + last[at + 3]! === 0) return false;
      const [x, y] = [by[around * 2]!, by[around * 2 + 1]!];
      if (!isExact(i, x, y)) return false;
      rects[at] = Math.fround(last[at]! + x);
      rects[at + 1] = Math.fround(last[at + 1]! + y);
      rects[at + 2] = last[at + 2]!;
      rects[at + 3] = last[at + 3]!;
      if (isBox[i] === 1) note(i, x, y);
      return true;
    },
    inside: (i) => {
      const around = isBox[i] === 1 ? i : box[i]!;
      if (around < 0 || isSame[around] === 0) return null;
      const [x, y] = [by[around * 2]!, by[around * 2 + 1]!];
      return isExact(i, x, y) ? { x, y } : null;
    },
  };
}
