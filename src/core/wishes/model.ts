/** What should be: a relation of boxes in numbers that can be measured without knowing what is wrong. */
import { z } from 'zod';
import { px } from '../geometry/rect.ts';

const path = z.string().min(1).max(4000).meta({ description: 'a selector that is met by one element alone' });
const axis = z.enum(['x', 'y']);
const bound = z.enum(['equal', 'at-least', 'at-most']);
const amount = z.number().min(-100_000).max(100_000);

/** The relation alone; whose it is stands beside it. */
export const relationSchema = z.discriminatedUnion('is', [
  /** CSS px of the border box. */
  z.object({ is: z.literal('size'), axis, bound, px: amount.min(0) }),
  /** As wide or as tall as another box. */
  z.object({ is: z.literal('size-of'), axis, other: path }),
  /** Width by height. */
  z.object({ is: z.literal('ratio'), ratio: z.number().positive().max(1000) }),
  z.object({ is: z.literal('lines'), bound, count: z.int().min(1).max(1000) }),
  /** No letter is cut off where it cannot be scrolled to. */
  z.object({ is: z.literal('whole-text') }),
  /** The box lies so far on one side of another, from border edge to border edge. */
  z.object({
    is: z.literal('distance'),
    side: z.enum(['above', 'below', 'left', 'right']),
    bound,
    px: amount,
    other: path,
  }),
  /** The same edge of both lies in one line. */
  z.object({ is: z.literal('flush'), side: z.enum(['top', 'right', 'bottom', 'left']), other: path }),
  /** The middle of the box is the middle of another; of one that it lies in, that of its content box. */
  z.object({ is: z.literal('centred'), axis: z.enum(['x', 'y', 'both']), other: path }),
  z.object({ is: z.literal('not-over'), other: path }),
  /** Nothing can be scrolled in the box; in the root element: the page cannot be scrolled. */
  z.object({ is: z.literal('no-scroll'), axis: z.enum(['x', 'y', 'both']) }),
]);
export type Relation = z.infer<typeof relationSchema>;

/** A relation that should hold of each of some boxes. */
export const wishSchema = z.object({ paths: z.array(path).min(1).max(50), relation: relationSchema });
export type Wish = z.infer<typeof wishSchema>;

const BOUND = { equal: '', 'at-least': 'at least ', 'at-most': 'at most ' };
const SIDE = { above: 'above', below: 'below', left: 'left of', right: 'right of' };
const ALONG = { x: 'across ', y: 'down ', both: '' };

/** In the words of the language that wishes are written in. `nameOf`: how a path is written, a selector where it is to be read again. */
export function relationWords(relation: Relation, nameOf: (path: string) => string): string {
  switch (relation.is) {
    case 'size':
      return `${BOUND[relation.bound]}${px(relation.px)} ${relation.axis === 'x' ? 'wide' : 'tall'}`;
    case 'size-of':
      return `as ${relation.axis === 'x' ? 'wide' : 'tall'} as ${nameOf(relation.other)}`;
    case 'ratio':
      return relation.ratio === 1 ? 'square' : `in ratio ${px(relation.ratio)}`;
    case 'lines':
      return `${BOUND[relation.bound]}${relation.count} ${relation.count === 1 ? 'line' : 'lines'}`;
    case 'whole-text':
      return 'whole text';
    case 'distance':
      return `${BOUND[relation.bound]}${px(relation.px)} ${SIDE[relation.side]} ${nameOf(relation.other)}`;
    case 'flush':
      return `${relation.side} flush with ${nameOf(relation.other)}`;
    case 'centred':
      return `centred ${ALONG[relation.axis]}in ${nameOf(relation.other)}`;
    case 'not-over':
      return `not over ${nameOf(relation.other)}`;
    case 'no-scroll':
      return `no scroll${relation.axis === 'both' ? '' : ` ${ALONG[relation.axis].trim()}`}`;
  }
}

/** Boxes that are found from the one that the wish is about, by what they are called. */
export const NEIGHBOURS = ['what is around it', 'the next one', 'the one before it'] as const;
export type Neighbour = (typeof NEIGHBOURS)[number];
export const isNeighbour = (other: string): other is Neighbour =>
  (NEIGHBOURS as readonly string[]).includes(other);

/** The path of the other box that a relation speaks of, or what it is called; null: it is about one. */
export const otherOf = (relation: Relation): string | null => ('other' in relation ? relation.other : null);
