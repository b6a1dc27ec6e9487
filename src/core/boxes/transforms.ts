/** Boxes as they were laid out, with the transforms undone that they are painted with (CSS Transforms 1 §6). */
import type { Rect } from '../geometry/rect.ts';
import { columnTest, oncePerReading, spread, type Test } from '../reading/column-predicates.ts';
import type { RawReading } from '../reading/reading.ts';
import { edgesOf, inside, pxOf, rectOf, usedText, type BoxTree } from './tree.ts';

/** `x' = a x + c y + e`, `y' = b x + d y + f`. */
export interface Matrix {
  a: number;
  b: number;
  c: number;
  d: number;
  e: number;
  f: number;
}

export const IDENTITY: Matrix = { a: 1, b: 0, c: 0, d: 1, e: 0, f: 0 };

const times = (m: Matrix, n: Matrix): Matrix => ({
  a: m.a * n.a + m.c * n.b,
  b: m.b * n.a + m.d * n.b,
  c: m.a * n.c + m.c * n.d,
  d: m.b * n.c + m.d * n.d,
  e: m.a * n.e + m.c * n.f + m.e,
  f: m.b * n.e + m.d * n.f + m.f,
});

function inverse({ a, b, c, d, e, f }: Matrix): Matrix | null {
  const det = a * d - b * c;
  if (Math.abs(det) < 1e-9) return null;
  return {
    a: d / det,
    b: -b / det,
    c: -c / det,
    d: a / det,
    e: (c * f - d * e) / det,
    f: (b * e - a * f) / det,
  };
}

/** The matrix of a computed `transform`; the flat part of one in space. */
export function matrixOf(value: string): Matrix | null {
  const numbers = /^matrix(3d)?\(([^)]+)\)$/.exec(value);
  if (!numbers) return null;
  const list = numbers[2]!.split(',').map(Number);
  const [a = 1, b = 0, c = 0, d = 1, e = 0, f = 0] = numbers[1]
    ? [list[0], list[1], list[4], list[5], list[12], list[13]]
    : list;
  return { a, b, c, d, e, f };
}

const lengths = (value: string): number[] => value.split(/\s+/).map((part) => pxOf(part));

/** An element's own transform with `translate`, `rotate` and `scale`, about its origin; null: it has none. */
export function ownTransform(
  tree: BoxTree,
  element: number,
  size: { width: number; height: number },
): Matrix | null {
  const { reading, kinds } = tree;
  if (kinds[element] === 'inline' || kinds[element] === 'none') return null;
  const text = (property: string) => usedText(reading, property, element);
  const matrix = matrixOf(text('transform'));
  const parts: Matrix[] = [];
  const translate = text('translate');
  if (translate && translate !== 'none') {
    const [x = 0, y = 0] = translate
      .split(/\s+/)
      .map((part, i) =>
        part.endsWith('%')
          ? (Number.parseFloat(part) / 100) * (i === 0 ? size.width : size.height)
          : pxOf(part),
      );
    parts.push({ ...IDENTITY, e: x || 0, f: y || 0 });
  }
  const angle = /^(-?[\d.]+)deg$/.exec(text('rotate'));
  if (angle) {
    const turn = (Number(angle[1]) * Math.PI) / 180;
    parts.push({ ...IDENTITY, a: Math.cos(turn), b: Math.sin(turn), c: -Math.sin(turn), d: Math.cos(turn) });
  }
  const scale = text('scale');
  if (scale && scale !== 'none') {
    const [x = 1, y = x] = scale.split(/\s+/).map(Number);
    parts.push({ ...IDENTITY, a: x, d: y });
  }
  if (matrix) parts.push(matrix);
  if (parts.length === 0) return null;
  const [ox = size.width / 2, oy = size.height / 2] = text('transform-origin')
    ? lengths(text('transform-origin'))
    : [];
  return [{ ...IDENTITY, e: ox, f: oy }, ...parts, { ...IDENTITY, e: -ox, f: -oy }].reduce(times);
}

/** Size of the border box that layout gave, where the engine names one; else the rectangle's. */
function layoutSize(tree: BoxTree, element: number, rect: Rect): { width: number; height: number } {
  const { reading } = tree;
  const width = pxOf(usedText(reading, 'width', element));
  const height = pxOf(usedText(reading, 'height', element));
  if (tree.kinds[element] === 'inline' || Number.isNaN(width) || Number.isNaN(height)) return rect;
  if (usedText(reading, 'box-sizing', element) === 'border-box') return { width, height };
  const [border, padding] = [edgesOf(reading, 'border-width', element), edgesOf(reading, 'padding', element)];
  return {
    width: width + border.left + border.right + padding.left + padding.right,
    height: height + border.top + border.bottom + padding.top + padding.bottom,
  };
}

/** For every element the matrix from its layout to the page; only where one of its ancestors or itself is transformed. */
export type Frames = Map<number, Matrix>;

/** The properties that move a box after layout (CSS Transforms 2 §3). */
export const TRANSFORMS = ['transform', 'translate', 'rotate', 'scale'];

const moves: Test = (text) => text !== 'none' && text !== '';

/** 1 for each element that a transform paints elsewhere than it was laid out. */
export const transformed = oncePerReading((reading) => {
  const out = new Uint8Array(reading.count);
  for (const property of TRANSFORMS)
    columnTest(reading, property, moves).forEach((moved, i) => {
      if (moved === 1) out[i] = 1;
    });
  return out;
});

/** 1 for each element that is transformed or lies in one that is. */
export const inTransformed = oncePerReading((reading) => spread(reading, transformed(reading)));

/**
 * Whether an element's own transforms turn it out of the plane of the page, or see it in perspective (CSS Transforms 2 §4):
 * of the boxes in it, rectangles do not tell any more how they were laid out.
 */
export function isTurned(reading: RawReading, element: number): boolean {
  const text = (property: string) => usedText(reading, property, element);
  if (/^(x|y|[-\d.]+ [-\d.]+ [-\d.]+) /.test(text('rotate')) && !/^0 0 /.test(text('rotate'))) return true;
  const list = /^matrix3d\(([^)]+)\)$/.exec(text('transform'))?.[1]?.split(',').map(Number);
  return list !== undefined && [2, 3, 6, 7, 11].some((i) => Math.abs(list[i] ?? 0) > 1e-6);
}

export function framesOf(tree: BoxTree): Frames {
  const { reading, count } = tree;
  const out: Frames = new Map();
  const isTransformed = transformed(reading);
  for (let i = 0; i < count; i++) {
    const above = out.get(reading.parent[i]!);
    if (!above && isTransformed[i] === 0) continue;
    const outer = above ?? IDENTITY;
    const rect = rectOf(reading, i);
    const size = layoutSize(tree, i, rect);
    const matrix = ownTransform(tree, i, size);
    if (!matrix) {
      out.set(i, outer);
      continue;
    }
    // The centre of what is painted is the image of the box's centre, so its place in layout can be told from it.
    const back = inverse(outer);
    if (!back) continue;
    const centre = apply(back, rect.x + rect.width / 2, rect.y + rect.height / 2);
    const moved = apply(matrix, size.width / 2, size.height / 2);
    const at = { ...IDENTITY, e: centre.x - moved.x, f: centre.y - moved.y };
    out.set(i, [outer, at, matrix, inverse(at)!].reduce(times));
  }
  return out;
}

export const apply = ({ a, b, c, d, e, f }: Matrix, x: number, y: number): { x: number; y: number } => ({
  x: a * x + c * y + e,
  y: b * x + d * y + f,
});

/** A rectangle of the page as it was in the layout of `element`. */
export function undo(
  frames: Frames,
  element: number,
  rect: Rect,
  size: { width: number; height: number },
): Rect {
  const frame = frames.get(element);
  const back = frame && inverse(frame);
  if (!back) return rect;
  const centre = apply(back, rect.x + rect.width / 2, rect.y + rect.height / 2);
  return { x: centre.x - size.width / 2, y: centre.y - size.height / 2, ...size };
}

/** The border box as laid out: `rectOf` where nothing is transformed. */
export function layoutRect(tree: BoxTree, frames: Frames, element: number): Rect {
  const whole = rectOf(tree.reading, element);
  const first = tree.kinds[element] === 'inline' ? undefined : inside(tree).fragments.get(element)?.[0];
  // A block that goes on in the next column is as wide as one of its pieces.
  const rect = first ? { ...whole, x: first.x, width: first.width } : whole;
  return frames.has(element) ? undo(frames, element, rect, layoutSize(tree, element, rect)) : rect;
}

/** A piece of an inline box or text as laid out; under a turn its size cannot be told from its rectangle. */
export function layoutPiece(frames: Frames, element: number, rect: Rect): Rect {
  const frame = frames.get(element);
  if (!frame) return rect;
  const { a, b, c, d } = frame;
  const upright = Math.abs(b) < 1e-6 && Math.abs(c) < 1e-6;
  return undo(
    frames,
    element,
    rect,
    upright ? { width: rect.width / Math.abs(a), height: rect.height / Math.abs(d) } : rect,
  );
}

/** Width and height of the rectangle around a box after a transform. */
export function painted(
  { a, b, c, d }: Matrix,
  { width, height }: { width: number; height: number },
): {
  width: number;
  height: number;
} {
  return {
    width: Math.abs(a) * width + Math.abs(c) * height,
    height: Math.abs(b) * width + Math.abs(d) * height,
  };
}
