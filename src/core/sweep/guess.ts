/** Where between two looks something changes, as far as it can be told from them: a good guess saves the halving. */
import type { FoundAt, Look } from './look.ts';
import { keyOfPart, partOfKey } from './shape.ts';
import { shortOfALine } from './short.ts';

/** Px of a finding below which it is none. */
const LEAST = 1;

/**
 * The first width, going up, at which some of what differs is likely to be as at the higher one; null: nothing tells. `below`:
 * the look before the lower one, `above`: that behind the higher one. `parent`: of the elements of all looks.
 */
export function guessBetween(
  parent: ArrayLike<number>,
  low: Look,
  high: Look,
  below?: Look,
  above?: Look,
): number | null {
  const guesses: number[] = [];
  const put = (width: number | null): void => {
    if (width !== null && width > low.width - 1 && width < high.width + 1)
      guesses.push(Math.min(high.width, Math.max(low.width + 1, width)));
  };
  const putWider = (element: number, short: number): void => {
    const grows = growth(parent, low, high, element, short);
    if (short > 0 && grows > 0) put(Math.ceil(low.width + short / grows));
  };
  for (const [key, short] of low.short) {
    if (low.shape.get(key) === high.shape.get(key)) continue;
    const { part, of } = partOfKey(key);
    if (part !== 'page') putWider(of, short);
    else {
      const before = below?.short.get(key);
      const falls = before === undefined ? 1 : (before - short) / (low.width - below!.width);
      put(Math.ceil(low.width + short / (falls > 0 ? falls : 1)));
    }
  }
  for (const [element, lined] of low.lined) {
    const key = keyOfPart('lines', element);
    const lines = Number(high.shape.get(key));
    if (lines < Number(low.shape.get(key)))
      putWider(element, shortOfALine(lined, lines > 1 ? (high.lined.get(element) ?? null) : null));
  }
  /** By how much the box around it does, where no other look tells. */
  const growthOf = ({ axis, subject }: FoundAt): number =>
    (axis === 'x' && growth(parent, low, high, parent[subject] ?? 0, 1)) || 1;
  for (const [key, one] of low.found)
    if (!high.found.has(key)) {
      const falls = slope(one, low.width, below?.found.get(key), below?.width) ?? growthOf(one);
      put(Math.floor(low.width + (one.px - LEAST) / falls) + 1);
    }
  for (const [key, one] of high.found)
    if (!low.found.has(key)) {
      const rises = slope(one, high.width, above?.found.get(key), above?.width) ?? growthOf(one);
      put(Math.ceil(high.width - (one.px - LEAST) / rises));
    }
  // Where several change, the one in the middle parts the others.
  guesses.sort((a, b) => a - b);
  return guesses[guesses.length >> 1] ?? null;
}

/** Px by which a box grows with each of the page, or the first around it that goes on growing. */
function growth(parent: ArrayLike<number>, low: Look, high: Look, element: number, short: number): number {
  const by = high.width - low.width;
  for (let at = element; at >= 0; at = parent[at]!) {
    const grown = high.rects[at * 4 + 2]! - low.rects[at * 4 + 2]!;
    // A box as wide as it needs to be grows no further, whatever room there is.
    if (grown >= short || at === 0) return grown / by;
  }
  return 0;
}

/** Px by which a finding is larger with each px nearer to a look at which it is larger; null where no other look tells. */
function slope(one: FoundAt, width: number, farther?: FoundAt, at?: number): number | null {
  if (!farther || at === undefined) return null;
  const steep = (farther.px - one.px) / Math.abs(at - width);
  return steep > 0.001 ? steep : null;
}
