/** Where between two looks something changes, as far as it can be told from them: a good guess saves the halving. */
import type { FoundAt, Snapshot } from './snapshot.ts';
import { keyOfPart, partOfKey } from './layout-signature.ts';
import { widthToLoseLine } from './distance-to-change.ts';

/** Px of a finding below which it is none. */
const LEAST = 1;
/** Px per px of the page, below which something is as good as still. */
const STILL = 0.001;

/**
 * The first width, going up, at which some of what differs is likely to be as at the higher one; null: nothing tells. `below`:
 * the look before the lower one, `above`: that behind the higher one. `parent`: of the elements of all looks.
 */
export function guessBetween(
  parent: ArrayLike<number>,
  low: Snapshot,
  high: Snapshot,
  below?: Snapshot,
  above?: Snapshot,
): number | null {
  const guesses: number[] = [];
  const put = (width: number): void => {
    if (width > low.width - 1 && width < high.width + 1)
      guesses.push(Math.min(high.width, Math.max(low.width + 1, width)));
  };
  /** `before`: px that it was short of at the look below. */
  const putShort = (element: number, short: number, before: number | undefined): void => {
    const trend = before === undefined || !below ? 0 : (before - short) / (low.width - below.width);
    const falls = trend > STILL ? trend : growth(parent, low, high, element, short);
    if (short > 0 && falls > 0) put(Math.ceil(low.width + short / falls));
  };
  for (const [key, short] of low.short)
    if (low.shape.get(key) !== high.shape.get(key))
      putShort(partOfKey(key).of, short, below && isSame(key, below, low) ? below.short.get(key) : undefined);
  for (const [element, lined] of low.lined) {
    const key = keyOfPart('lines', element);
    const lines = Number(high.shape.get(key));
    if (!(lines < Number(low.shape.get(key)))) continue;
    const then = lines > 1 ? (high.lined.get(element) ?? null) : null;
    const before = below && isSame(key, below, low) ? below.lined.get(element) : undefined;
    putShort(element, widthToLoseLine(lined, then), before && widthToLoseLine(before, then));
  }

  // Where a finding goes or comes, and where some of its places do, is told by the one of them that is least wrong.
  /** `steep`: px by which it is larger with each px nearer to the look that has more of it. */
  const putEnd = (foundAt: FoundAt, from: Snapshot, steep: number): void => {
    const around = foundAt.axis === 'x' ? growth(parent, low, high, parent[foundAt.subject] ?? 0, 1) : 0;
    const px = (foundAt.least - LEAST) / (steep > STILL ? steep : around || 1);
    put(from === low ? Math.floor(low.width + px) + 1 : Math.ceil(high.width - px));
  };
  const steepness = (key: string, more: Snapshot | undefined, less: Snapshot): number => {
    const px = more ? (more.found.get(key)?.px ?? 0) - less.found.get(key)!.px : 0;
    return more ? px / Math.abs(more.width - less.width) : 0;
  };
  for (const [key, foundAt] of low.found) {
    const other = high.found.get(key);
    if (!other) putEnd(foundAt, low, steepness(key, below, low));
    else if (other.places < foundAt.places) putEnd(foundAt, low, steepness(key, low, high));
    else if (other.places > foundAt.places) putEnd(other, high, steepness(key, high, low));
  }
  for (const [key, foundAt] of high.found)
    if (!low.found.has(key)) putEnd(foundAt, high, steepness(key, above, high));
  // Where several change, the one in the middle parts the others.
  guesses.sort((a, b) => a - b);
  return guesses[guesses.length >> 1] ?? null;
}

const isSame = (key: string, look: Snapshot, other: Snapshot): boolean =>
  look.shape.get(key) === other.shape.get(key);

/** Px by which a box grows with each of the page, or the first around it that goes on growing. */
function growth(
  parent: ArrayLike<number>,
  low: Snapshot,
  high: Snapshot,
  element: number,
  short: number,
): number {
  const by = high.width - low.width;
  for (let at = element; at >= 0; at = parent[at]!) {
    const grown = high.rects[at * 4 + 2]! - low.rects[at * 4 + 2]!;
    if (at === 0 || grown > short + 1) return grown / by;
    // A box that has become as wide as it needs to be grows no further: until then it grew by more than that.
    if (grown >= short) return (grown / by + growth(parent, low, high, parent[at]!, short + 1)) / 2;
  }
  return 0;
}
