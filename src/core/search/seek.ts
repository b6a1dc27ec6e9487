/**
 * The value at which something happens: sampled first, to see whether the answer goes one way, then found by bisection.
 * Every point that is told was measured.
 */

/** What a value gives: a number, or `null` where it cannot be measured. */
export type Measure = (value: number) => Promise<number | null>;

export interface Point {
  value: number;
  number: number | null;
}

/** A change between two neighbouring values of the grid: `to` is the first one, going up, at which the new state holds. */
export interface Flip {
  from: number;
  to: number;
  before: boolean;
}

export interface Sought {
  points: Point[];
  /** Values, in order, at which the target comes to be met or no longer is. */
  flips: Flip[];
  /** Whether the number only grows, only shrinks, stays, or does neither over the samples. */
  course: 'grows' | 'shrinks' | 'stays' | 'turns';
  /** The first value that meets the target, going up; null: none does. */
  first: number | null;
  /** Where no value meets the target: the one that comes nearest, and how far off it is. */
  nearest: Point | null;
  /** Neighbouring values between which the number passes the target without meeting it: smaller steps may. */
  passed: { from: number; to: number }[];
  measured: number;
}

export interface Seeking {
  from: number;
  to: number;
  /** Distance of two values of the grid; all values that are asked are `from` and a whole number of steps. */
  step: number;
  /** Whether a number meets the target. */
  meets: (number: number) => boolean;
  /** How far a number is from the target; 0 where it meets it. */
  off?: (number: number) => number;
  /** How many values are looked at first. */
  samples?: number;
  signal?: { readonly aborted: boolean };
  progress?: (point: Point, measured: number) => void;
}

const SAMPLES = 17;

/** Throws `Stopped.` where the signal is aborted. */
export async function seek(
  measure: Measure,
  { from, to, step, meets, off, samples = SAMPLES, signal, progress }: Seeking,
): Promise<Sought> {
  if (!(step > 0)) throw new Error('The step must be larger than 0.');
  if (!(to > from)) throw new Error('The range must end above where it begins.');
  const last = Math.round((to - from) / step);
  const byKey = new Map<number, number | null>();
  const valueOf = (index: number): number => Number((from + index * step).toFixed(6));
  const at = async (index: number): Promise<number | null> => {
    const before = byKey.get(index);
    if (before !== undefined) return before;
    if (signal?.aborted) throw new Error('Stopped.');
    const number = await measure(valueOf(index));
    byKey.set(index, number);
    progress?.({ value: valueOf(index), number }, byKey.size);
    return number;
  };
  const isMet = (number: number | null): boolean => number !== null && meets(number);
  const count = Math.min(samples, last + 1);
  const grid = Array.from({ length: count }, (_, i) => Math.round((i * last) / Math.max(1, count - 1)));
  for (const index of grid) await at(index);
  const crosses = (a: number | null, b: number | null): boolean => isMet(a) !== isMet(b);
  // Between two samples that agree the target may still be passed, where the number crosses it between them.
  const passes = (a: number, b: number): boolean => {
    const [value, other] = [byKey.get(a)!, byKey.get(b)!];
    if (value === null || other === null || isMet(value) || isMet(other) || !off) return false;
    const [left, right] = [off(value), off(other)];
    return left !== 0 && right !== 0 && Math.sign(left) !== Math.sign(right);
  };
  const flips: Flip[] = [];
  const passed: Sought['passed'] = [];
  const search = async (low: number, high: number): Promise<void> => {
    if (high - low <= 1) {
      if (crosses(byKey.get(low)!, byKey.get(high)!))
        flips.push({ from: valueOf(low), to: valueOf(high), before: isMet(byKey.get(low)!) });
      else if (passes(low, high)) passed.push({ from: valueOf(low), to: valueOf(high) });
      return;
    }
    if (!crosses(byKey.get(low)!, byKey.get(high)!) && !passes(low, high)) return;
    const middle = (low + high) >> 1;
    await at(middle);
    await search(low, middle);
    await search(middle, high);
  };
  for (let i = 1; i < grid.length; i++) await search(grid[i - 1]!, grid[i]!);
  const points = [...byKey]
    .sort(([a], [b]) => a - b)
    .map(([index, number]) => ({ value: valueOf(index), number }));
  const found = points.find(({ number }) => isMet(number));
  const numbers = points.flatMap(({ number }) => (number === null ? [] : [number]));
  const distance = ({ number }: Point): number =>
    number === null ? Infinity : Math.abs((off ?? (() => 1))(number));
  return {
    points,
    flips: flips.sort((a, b) => a.to - b.to),
    course: courseOf(numbers),
    first: found?.value ?? null,
    nearest: found
      ? null
      : points.reduce<Point | null>(
          (best, point) => (best && distance(best) <= distance(point) ? best : point),
          null,
        ),
    passed: passed.sort((a, b) => a.to - b.to),
    measured: byKey.size,
  };
}

function courseOf(numbers: readonly number[]): Sought['course'] {
  const steps = numbers.slice(1).map((value, i) => value - numbers[i]!);
  const up = steps.some((step) => step > 0.01);
  const down = steps.some((step) => step < -0.01);
  return up && down ? 'turns' : up ? 'grows' : down ? 'shrinks' : 'stays';
}

/** Runs of values, in order, at which the target is met. */
export function metRuns(
  { points, flips }: Sought,
  isMet: (number: number) => boolean,
): { from: number; to: number }[] {
  const [first, last] = [points[0], points.at(-1)];
  if (!first || !last) return [];
  const out: { from: number; to: number }[] = [];
  let from = first.number !== null && isMet(first.number) ? first.value : null;
  for (const flip of flips) {
    if (flip.before && from !== null) {
      out.push({ from, to: flip.from });
      from = null;
    } else if (!flip.before) from = flip.to;
  }
  if (from !== null) out.push({ from, to: last.value });
  return out;
}
