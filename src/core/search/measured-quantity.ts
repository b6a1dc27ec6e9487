/** Symptoms that a user can state: a number of a reading, and what it must be. */
import { linesWithin } from '../boxes/text-lines.ts';
import { scrollableBy } from '../boxes/viewport-overflow.ts';
import { hasBox, rectOf, type BoxTree } from '../boxes/tree.ts';
import { elementAt, labelOf, pathOf } from '../reading/labels.ts';
import type { RawReading } from '../reading/reading.ts';
import { px, type Side } from '../geometry/rect.ts';
import { z } from 'zod';

export const quantitySchema = z.discriminatedUnion('of', [
  /** How far the page scrolls beyond its viewport. */
  z.object({ of: z.literal('overflow'), axis: z.enum(['x', 'y']) }),
  z.object({ of: z.literal('page'), axis: z.enum(['x', 'y']) }),
  z.object({ of: z.literal('size'), path: z.string().min(1), axis: z.enum(['x', 'y']) }),
  /** Lines that the text of a box is broken into. */
  z.object({ of: z.literal('lines'), path: z.string().min(1) }),
  /** Width less height. */
  z.object({ of: z.literal('squareness'), path: z.string().min(1) }),
  /** From one border edge to another, along their axis. */
  z.object({
    of: z.literal('distance'),
    a: z.object({ path: z.string().min(1), side: z.enum(['left', 'right', 'top', 'bottom']) }),
    b: z.object({ path: z.string().min(1), side: z.enum(['left', 'right', 'top', 'bottom']) }),
  }),
]);
export type Quantity = z.infer<typeof quantitySchema>;

export const targetSchema = z.object({
  is: z.enum(['equal', 'at-most', 'at-least', 'changes']),
  /** CSS px or a count; of `changes`: the number that it has now. */
  value: z.number(),
});
export type Target = z.infer<typeof targetSchema>;

/** Two numbers count as equal below this. */
const NEAR = 0.05;

/** The number in CSS px, or the count; null: the box is not there. */
export function measureQuantity(tree: BoxTree, quantity: Quantity): number | null {
  const { reading } = tree;
  const { document } = reading;
  const box = (path: string): number | null => {
    const found = elementAt(reading, path);
    return found >= 0 && hasBox(tree, found) ? found : null;
  };
  const edge = ({ path, side }: { path: string; side: Side }): number | null => {
    const element = box(path);
    if (element === null) return null;
    const { x, y, width, height } = rectOf(reading, element);
    return { left: x, right: x + width, top: y, bottom: y + height }[side];
  };
  switch (quantity.of) {
    case 'overflow':
      return scrollableBy(reading, quantity.axis);
    case 'page':
      return quantity.axis === 'x' ? document.scrollWidth : document.scrollHeight;
    case 'size': {
      const element = box(quantity.path);
      if (element === null) return null;
      return rectOf(reading, element)[quantity.axis === 'x' ? 'width' : 'height'];
    }
    case 'lines': {
      const element = box(quantity.path);
      return element === null ? null : linesWithin(tree, element);
    }
    case 'squareness': {
      const element = box(quantity.path);
      if (element === null) return null;
      const { width, height } = rectOf(reading, element);
      return width - height;
    }
    case 'distance': {
      const [a, b] = [edge(quantity.a), edge(quantity.b)];
      return a === null || b === null ? null : b - a;
    }
  }
}

/**
 * The number on a page out of which elements were taken, by their numbers in the reading of it before: boxes are the same
 * elements in both, whatever their paths are now. null: the box is one of those taken out, or has none any more.
 */
export function quantityWithout(
  before: RawReading,
  taken: readonly number[],
  after: BoxTree,
  quantity: Quantity,
): number | null {
  const gone = new Set(taken);
  for (let i = 0; i < before.count; i++) if (gone.has(before.parent[i]!)) gone.add(i);
  const lost = [...gone].sort((a, b) => a - b);
  const now = (path: string): string => {
    const element = elementAt(before, path);
    if (element < 0 || gone.has(element)) return '';
    return pathOf(after.reading, element - lost.filter((value) => value < element).length);
  };
  if (quantity.of === 'distance') {
    const [a, b] = [now(quantity.a.path), now(quantity.b.path)];
    if (a === '' || b === '') return null;
    return measureQuantity(after, {
      ...quantity,
      a: { ...quantity.a, path: a },
      b: { ...quantity.b, path: b },
    });
  }
  if (!('path' in quantity)) return measureQuantity(after, quantity);
  const path = now(quantity.path);
  return path === '' ? null : measureQuantity(after, { ...quantity, path });
}

/** How far a number is from what is wanted; 0: it is met. */
export function offTarget(number: number, { is, value }: Target): number {
  const off = number - value;
  if (is === 'equal') return Math.abs(off) < NEAR ? 0 : off;
  if (is === 'at-most') return off < NEAR ? 0 : off;
  if (is === 'at-least') return off > -NEAR ? 0 : off;
  return Math.abs(off) < NEAR ? 1 : 0;
}

export const meets = (number: number, target: Target): boolean => offTarget(number, target) === 0;

const SIDE_WORDS: Record<Side, string> = { left: 'left', right: 'right', top: 'upper', bottom: 'lower' };

/** The number in words, as a sentence begins with it: `The height of the page`. */
export function quantityWords(tree: BoxTree, quantity: Quantity): string {
  const label = (path: string): string => {
    const element = elementAt(tree.reading, path);
    return element < 0 ? path : labelOf(tree.reading, element);
  };
  switch (quantity.of) {
    case 'overflow':
      return `The ${quantity.axis === 'x' ? 'sideways' : 'downward'} scroll of the page`;
    case 'page':
      return `The ${quantity.axis === 'x' ? 'width' : 'height'} of the page`;
    case 'size':
      return `The ${quantity.axis === 'x' ? 'width' : 'height'} of ${label(quantity.path)}`;
    case 'lines':
      return `The number of lines of ${label(quantity.path)}`;
    case 'squareness':
      return `The width less the height of ${label(quantity.path)}`;
    case 'distance':
      return `The distance from the ${SIDE_WORDS[quantity.a.side]} edge of ${label(quantity.a.path)} to the ${SIDE_WORDS[quantity.b.side]} edge of ${label(quantity.b.path)}`;
  }
}

export const targetWords = ({ is, value }: Target): string =>
  is === 'equal'
    ? `is ${px(value)}`
    : is === 'at-most'
      ? `is at most ${px(value)}`
      : is === 'at-least'
        ? `is at least ${px(value)}`
        : `is no longer ${px(value)}`;
