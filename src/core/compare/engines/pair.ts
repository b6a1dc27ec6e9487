/** One page as two engines measured it: its boxes matched, and every number of them that differs. */
import { positionAccount, stepOf } from '../../accounts/position.ts';
import { sizeAccount } from '../../accounts/sizing/size.ts';
import type { Term } from '../../accounts/model/term.ts';
import type { Analysis } from '../../analysis.ts';
import { hasBox } from '../../boxes/tree.ts';
import { tagOf } from '../../reading/labels.ts';
import type { Axis } from '../../geometry/rect.ts';
import { matchBoxes } from '../reading-diff.ts';

/** A size of a box, or the distance of its low border edge from the box that it is placed from. */
export interface BoxNumber {
  of: 'size' | 'place';
  axis: Axis;
  /** The box, as the first engine counts them. */
  box: number;
}

/** What the two engines make of a number. CSS px. */
export interface Held {
  first: { used: number; terms: readonly Term[]; residual: number };
  second: { used: number; terms: readonly Term[]; residual: number };
  by: number;
}

export interface Pair {
  first: Analysis;
  second: Analysis;
  /** The box of the second engine that is the same as one of the first; and the other way round. */
  toSecond: ReadonlyMap<number, number>;
  toFirst: ReadonlyMap<number, number>;
}

/** Engines lay out in 1/64 or 1/60 px, so that equal numbers differ by less than this. CSS px. */
export const NEAR = 0.05;

export const keyOfNumber = ({ of, axis, box }: BoxNumber): string => `${of} ${axis} ${box}`;

export function pairOf(first: Analysis, second: Analysis): Pair {
  const pairs = matchBoxes(first.reading, second.reading);
  return {
    first,
    second,
    toSecond: new Map(pairs),
    toFirst: new Map(pairs.map(([a, b]) => [b, a])),
  };
}

/** What stands in a control is the engine's own, and has no place of its own on the page. */
const IN_CONTROLS = /^(option|optgroup)$/;

export const isComparable = ({ reading, tree }: Pick<Analysis, 'reading' | 'tree'>, box: number): boolean =>
  hasBox(tree, box) &&
  !IN_CONTROLS.test(tagOf(reading, box)) &&
  tree.kinds[box] !== 'table-column' &&
  !isDrawn(reading, box);

/** Whether it is drawn in a picture, whose own size says how large it comes to be. */
function isDrawn(reading: Analysis['reading'], box: number): boolean {
  for (let at = reading.parent[box]!; at >= 0; at = reading.parent[at]!)
    if (tagOf(reading, at) === 'svg') return true;
  return false;
}

/** null: the box is not in both engines. */
export function heldAgainst(pair: Pair, { of, axis, box }: BoxNumber): Held | null {
  const other = pair.toSecond.get(box);
  if (other === undefined || !hasBox(pair.first.tree, box) || !hasBox(pair.second.tree, other)) return null;
  const account = of === 'size' ? sizeAccount : stepOf;
  const [first, second] = [account(pair.first, box, axis), account(pair.second, other, axis)];
  return { first, second, by: second.used - first.used };
}

const AXES: Axis[] = ['x', 'y'];

/** Every number that differs, of every box that both engines have, in document order. */
export function differingNumbers(pair: Pair): { number: BoxNumber; held: Held }[] {
  const out: { number: BoxNumber; held: Held }[] = [];
  for (const [box, other] of [...pair.toSecond].sort(([a], [b]) => a - b)) {
    if (!isComparable(pair.first, box) || !isComparable(pair.second, other)) continue;
    for (const of of ['size', 'place'] as const)
      for (const axis of AXES) {
        const held = heldAgainst(pair, { of, axis, box });
        if (held && Math.abs(held.by) > NEAR) out.push({ number: { of, axis, box }, held });
      }
  }
  return out;
}

/** Boxes that one of the engines has and the other has not; with what holds them, not with what lies in them. */
export function loneBoxes(pair: Pair): { box: number; in: 'first' | 'second' }[] {
  const out: { box: number; in: 'first' | 'second' }[] = [];
  for (const [box, other] of pair.toSecond) {
    const [here, there] = [isComparable(pair.first, box), isComparable(pair.second, other)];
    if (here === there) continue;
    const above = pair.first.reading.parent[box]!;
    const aboveThere = pair.toSecond.get(above);
    // What lies in it is there with it.
    if (above >= 0 && isComparable(pair.first, above) !== isComparable(pair.second, aboveThere ?? -1)) continue;
    out.push({ box, in: here ? 'first' : 'second' });
  }
  return out.sort((a, b) => a.box - b.box);
}

/** Makes all that is asked of a reading here, so that what accounts lack can be asked of its engine before. */
export function prepareAccounts(analysis: Analysis): void {
  for (let box = 0; box < analysis.reading.count; box++)
    if (hasBox(analysis.tree, box))
      for (const axis of AXES) {
        sizeAccount(analysis, box, axis);
        positionAccount(analysis, box, axis);
      }
}

/** A term of a number in both engines; NaN: one of them has no such term. CSS px. */
export interface TermPair {
  what: string;
  note: string;
  first: number;
  second: number;
}

/** The two sums of a number side by side, term by term, in the order of the first. */
export function termPairs({ first, second }: Held, toFirst: Pair['toFirst']): TermPair[] {
  const out = new Map<string, TermPair>();
  const put = (side: 'first' | 'second', box: number, { what, note, px }: Term): void => {
    const key = `${what} ${box}`;
    const entry = out.get(key) ?? { what, note, first: NaN, second: NaN };
    entry[side] = Number.isNaN(entry[side]) ? px : entry[side] + px;
    out.set(key, entry);
  };
  for (const term of first.terms) put('first', term.box, term);
  for (const term of second.terms) put('second', toFirst.get(term.box) ?? -1, term);
  if (Math.abs(first.residual) > NEAR || Math.abs(second.residual) > NEAR)
    out.set('residual', {
      what: 'not explained',
      note: '',
      first: first.residual,
      second: second.residual,
    });
  return [...out.values()];
}
