/** Values of the last reading that a change of a few declarations cannot have made others: taken over, not asked for again. */

import { testColumn, type Test } from '../../core/reading/column-predicates.ts';
import { derivedSizes } from './derived-sizes.ts';

export type Ints = Int32Array<ArrayBuffer>;

/** The last reading, and what can be others in this one. */
export interface Last {
  strings: string[];
  used: Record<string, Ints>;
  displays: string[];
  computed: Record<string, Ints>;
  rects: Float64Array;
  isFresh: (property: string) => boolean;
  /** 1 for the elements of which fresh properties can have other values; null: all. */
  mayDiffer: Uint8Array | null;
  canCopy: boolean;
  /** Whether boxes can be in several pieces that are not lines. */
  broken: boolean;
}

export const FIXED = /^[-\d.px ]+$/;
const AUTO_OR_FIXED = /^(?:auto|[-\d.px ])+$/;
const TABLE = /table|contents|ruby/;
/** `auto` and `scroll` have bars, which come and go with what is inside. */
export const NO_BARS = /^(?:visible|hidden|clip| )+$/;
const isFixed: Test = (text) => FIXED.test(text);
const isAutoOrFixed: Test = (text) => AUTO_OR_FIXED.test(text);
const isBarless: Test = (text) => NO_BARS.test(text);
const isNone: Test = (text) => text === 'none';
const isRelative: Test = (text) => text === 'relative';

type Copy = (i: number) => boolean;
type Told = (i: number) => number;

/**
 * Take over values of an element that nothing can have changed; false: the engine must be asked. `value`: what it says of the
 * element at hand. `whole`: of one that has no box and is in none.
 */
export function reusableValues(
  last: Last,
  used: Record<string, Ints>,
  always: readonly (readonly [string, Ints])[],
  positioned: readonly string[],
  rects: Float64Array,
  value: (property: string) => number,
  of: (text: string) => number,
): Record<'whole' | 'sized' | 'placed', Copy> {
  const { strings, displays, computed, canCopy, isFresh, mayDiffer, broken } = last;
  const flagsIn = (column: Ints | undefined, test: Test): Uint8Array =>
    testColumn(column, { strings, count: displays.length }, test);
  const { overflow, transform, position } = last.used;
  const still = flagsIn(transform, isNone);
  const fixedPadding = flagsIn(computed['padding'], isFixed);
  // Used values follow from an element's size where paddings are lengths and no scrollbar is in the way.
  const barless = flagsIn(overflow, isBarless);
  const sizes = derivedSizes(last, rects, last.rects, of);
  const sized = (property: 'width' | 'height'): Told => {
    if (broken) return () => value(property);
    return (i) => {
      const isPlain = barless[i] === 1 && still[i] === 1 && fixedPadding[i] === 1;
      const reported = isPlain ? sizes(property, i) : -1;
      return reported < 0 ? value(property) : reported;
    };
  };
  const ownValues = (property: string, isKept?: Uint8Array): Told => {
    const values = last.used[property]!;
    return isKept ? (i) => (isKept[i] === 1 ? values[i]! : value(property)) : (i) => values[i]!;
  };
  /** What becomes of a property that is asked for again only because layout decides it. */
  const laid: Record<string, Told> = {
    width: sized('width'),
    height: sized('height'),
    margin: ownValues('margin', flagsIn(computed['margin'], isFixed)),
    padding: ownValues('padding', fixedPadding),
    transform: ownValues('transform', still),
  };
  // Offsets of relatively positioned boxes that are lengths are what they are, wherever these stand.
  const shifted = flagsIn(position, isRelative);
  const inLengths = flagsIn(computed['inset'], isAutoOrFixed);
  const fresh = always.filter(([property]) => isFresh(property));
  const toldOf = (list: typeof always) =>
    list.map(([property, into]) => [into, laid[property] ?? ownValues(property)] as const);
  const [every, rest] = [toldOf(always), toldOf(always.filter(([property]) => !isFresh(property)))];
  const canKeepInsets = canCopy && !isFresh('position') && !positioned.some(isFresh);
  const columns = Object.entries(used).map(([property, into]) => [into, last.used[property]] as const);
  const isTable = displays.map((display) => TABLE.test(display));
  const isOther = (i: number): boolean => mayDiffer === null || mayDiffer[i] === 1;
  const isAnyFresh = Object.keys(used).some(isFresh);
  return {
    whole: (i) => {
      if (!canCopy || (isAnyFresh && isOther(i))) return false;
      for (const [into, values] of columns) if (values) into[i] = values[i]!;
      return true;
    },
    sized: (i) => {
      if (!canCopy || isTable[i]) return false;
      if (isOther(i))
        for (const [property, into] of fresh) {
          into[i] = value(property);
          if (into[i] !== last.used[property]![i]) return false;
        }
      for (const [into, reported] of isOther(i) ? rest : every) into[i] = reported(i);
      return true;
    },
    placed: (i) => {
      if (!canKeepInsets || shifted[i] === 0 || inLengths[i] === 0) return false;
      for (const property of positioned) used[property]![i] = last.used[property]?.[i] ?? -1;
      return true;
    },
  };
}
