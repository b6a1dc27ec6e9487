/** Values of the last reading that a change of a few declarations cannot have made others: taken over, not asked for again. */

import { sizesOf } from './sizes.ts';

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

type Copy = (i: number) => boolean;

/**
 * Take over values of an element that nothing can have changed; false: the engine must be asked. `value`: what it says of the
 * element at hand. `whole`: of one that has no box and is in none.
 */
export function copiesOf(
  last: Last,
  used: Record<string, Ints>,
  always: readonly (readonly [string, Ints])[],
  positioned: readonly string[],
  rects: Float64Array,
  value: (property: string) => number,
  of: (text: string) => number,
): Record<'whole' | 'sized' | 'placed', Copy> {
  const { strings, displays, computed, canCopy, isFresh, mayDiffer, broken } = last;
  /** What a test of some columns comes to, worked out once for each of their values. */
  const once = (columns: (Ints | undefined)[], test: (texts: string[]) => boolean) => {
    const known = new Map<string, boolean>();
    let [like, said] = [-1, false];
    const isLike = (i: number): boolean => {
      for (const column of columns) if (column && column[i] !== column[like]) return false;
      return true;
    };
    return (i: number): boolean => {
      // Most are like the one before them.
      if (like >= 0 && isLike(i)) return said;
      const numbers = columns.map((column) => column?.[i] ?? -1);
      const key = numbers.join(' ');
      const made = known.get(key) ?? test(numbers.map((one) => strings[one] ?? ''));
      known.set(key, made);
      [like, said] = [i, made];
      return made;
    };
  };
  const { overflow, transform, position } = last.used;
  const isFixed = ([text]: string[]): boolean => FIXED.test(text!);
  const isStill = once([transform], ([moved]) => moved === 'none');
  // Used values follow from an element's size where paddings are lengths and no scrollbar is in the way.
  const isPlain = once(
    [overflow, transform, computed['padding']],
    ([bars, moved, padding]) => NO_BARS.test(bars!) && moved === 'none' && FIXED.test(padding!),
  );
  const sizes = sizesOf(last, rects, last.rects, of);
  const sized =
    (property: 'width' | 'height') =>
    (i: number): number => {
      const told = isPlain(i) && !broken ? sizes(property, i) : -1;
      return told < 0 ? value(property) : told;
    };
  const own =
    (property: string, isKept: (i: number) => boolean) =>
    (i: number): number =>
      isKept(i) ? last.used[property]![i]! : value(property);
  /** What becomes of a property that is asked for again only because layout decides it. */
  const laid: Record<string, (i: number) => number> = {
    width: sized('width'),
    height: sized('height'),
    margin: own('margin', once([computed['margin']], isFixed)),
    padding: own('padding', once([computed['padding']], isFixed)),
    transform: own('transform', isStill),
  };
  // Offsets of relatively positioned boxes that are lengths are what they are, wherever these stand.
  const isShifted = once(
    [position, computed['inset']],
    ([how, inset]) => how === 'relative' && AUTO_OR_FIXED.test(inset!),
  );
  const fresh = always.filter(([property]) => isFresh(property));
  const toldOf = (list: typeof always) =>
    list.map(
      ([property, into]) => [into, laid[property] ?? ((i: number) => last.used[property]![i]!)] as const,
    );
  const [all, rest] = [toldOf(always), toldOf(always.filter(([property]) => !isFresh(property)))];
  const canKeepInsets = canCopy && !isFresh('position') && !positioned.some(isFresh);
  const columns = Object.entries(used).map(([property, into]) => [into, last.used[property]] as const);
  const isTable = displays.map((display) => TABLE.test(display));
  const isOther = (i: number): boolean => mayDiffer === null || mayDiffer[i] === 1;
  const isAnyFresh = Object.keys(used).some(isFresh);
  return {
    whole: (i) => {
      if (!canCopy || (isAnyFresh && isOther(i))) return false;
      for (const [into, known] of columns) if (known) into[i] = known[i]!;
      return true;
    },
    sized: (i) => {
      if (!canCopy || isTable[i]) return false;
      if (isOther(i))
        for (const [property, into] of fresh) {
          into[i] = value(property);
          if (into[i] !== last.used[property]![i]) return false;
        }
      for (const [into, told] of isOther(i) ? rest : all) into[i] = told(i);
      return true;
    },
    placed: (i) => {
      if (!canKeepInsets || !isShifted(i)) return false;
      for (const property of positioned) used[property]![i] = last.used[property]?.[i] ?? -1;
      return true;
    },
  };
}
