/**
 * Where along a range something changes, each change to one step: looked at where it is likely to change and at even
 * distances, then wherever two neighbours differ at a guess between them, or halfway.
 */

export interface Scanning<T> {
  from: number;
  to: number;
  /** Distance of the looks that are taken first, from each value to the next. */
  step: number | ((value: number) => number);
  /** Values at which something is likely to change: the first ones, going up, of a new state. */
  edges: readonly number[];
  /** `worker`: which of those at work looks, from 0. Each keeps to values near to its last, and between the same edges. */
  look: (value: number, worker: number) => Promise<T>;
  /** Whether two looks show the same. */
  isSame: (a: T, b: T) => boolean;
  /**
   * The first value, going up, at which two looks that differ are likely to change from one to the other, by themselves and
   * by those before and behind them; null: halfway.
   */
  guess?: (low: T, high: T, below?: T, above?: T) => number | null;
  /**
   * Looks to be taken at any rate: where fewer were enough for all that differs, the widest of what is between is halved, so
   * that what comes and goes between two looks is more likely to be met.
   */
  least?: number;
  /** How many looks may be under way at once. */
  parallel?: number;
  signal?: { readonly aborted: boolean };
  /** `done` looks of about `expected` have been taken. */
  progress?: (value: number, look: T, done: number, expected: number) => void;
}

/** All looks taken, in ascending order of whole values. Throws `Stopped.` where the signal is aborted. */
export async function scan<T>({
  from,
  to,
  step,
  edges,
  look,
  isSame,
  guess,
  least = 0,
  parallel = 1,
  signal,
  progress,
}: Scanning<T>): Promise<Map<number, T>> {
  if (!(to >= from)) throw new Error('The range must not end below where it begins.');
  const byKey = new Map<number, T>();
  const asked = new Set<number>();
  const waiting: number[] = [];
  const ask = (value: number): void => {
    if (value < from || value > to || asked.has(value)) return;
    asked.add(value);
    waiting.push(value);
  };
  ask(from);
  ask(to);
  for (const edge of edges) {
    ask(edge - 1);
    ask(edge);
  }
  const after = (value: number): number => value + Math.max(1, typeof step === 'number' ? step : step(value));
  for (let value = after(from); value < to; value = after(value)) ask(value);
  const order = new Sorted(asked);
  /** Values that a guess led to, by how far apart the two looks were that it was made from. */
  const guessed = new Map<number, number>();
  /** Values before which a guess said that the state changes. */
  const lasts = new Set<number>();
  const between = (low: number, high: number, a: T, b: T): number => {
    // Before the first of the new state the old one was seen, and now that it is the first.
    if (lasts.delete(low)) return low + 1;
    const apart = Math.max(guessed.get(low) ?? 0, guessed.get(high) ?? 0);
    const [below] = order.around(low);
    const [, above] = order.around(high);
    const lookAt = (value: number | null) => (value === null ? undefined : byKey.get(value));
    // A guess that left most of its range is followed by halving, so that none can cost much more than that.
    const isPoor = (high - low) * 2 > apart && apart > 0;
    const first = isPoor ? null : (guess?.(a, b, lookAt(below), lookAt(above)) ?? null);
    if (first === null) return (low + high) >> 1;
    const within = Math.min(high - 1, Math.max(low + 1, first - 1));
    guessed.set(within, high - low);
    if (within === first - 1) {
      lasts.add(within);
      guessed.set(first, high - low);
    }
    return within;
  };
  const settle = (low: number, high: number): void => {
    const [a, b] = [byKey.get(low), byKey.get(high)];
    if (a === undefined || b === undefined) return;
    if (isSame(a, b)) return;
    if (high - low <= 1) {
      guessed.delete(low);
      guessed.delete(high);
      return;
    }
    const value = between(low, high, a, b);
    ask(value);
    order.add(value);
  };
  // Where each worker looked last: at first they are spread over the range.
  const last = Array.from({ length: parallel }, (_, i) => from + ((to - from) * i) / Math.max(1, parallel - 1));
  /** How many edges a value has come past. */
  const past = (value: number): number => edges.filter((edge) => edge <= value).length;
  const next = (worker: number): number | undefined => {
    const lastPoint = last[worker]!;
    const side = past(lastPoint);
    // What lies beyond an edge is farther off than all that does not.
    const off = (value: number): number =>
      Math.abs(past(value) - side) * (to - from + 1) + Math.abs(value - lastPoint);
    const nearest = waiting.reduce((best, value, i) => (off(value) < off(waiting[best]!) ? i : best), 0);
    return waiting.splice(nearest, 1)[0];
  };
  /** Looks under way, and those who wait for what comes of them. */
  let looking = 0;
  const idle: (() => void)[] = [];
  let isOver = false;
  const lookNow = async (value: number, worker: number): Promise<void> => {
    const seen = await look(value, worker);
    byKey.set(value, seen);
    progress?.(value, seen, byKey.size, Math.max(asked.size, least));
    const [before, after] = order.around(value);
    // A state of its own is worth the look, wherever it lies.
    const isLike = (other: number | null): boolean =>
      other !== null && byKey.has(other) && isSame(byKey.get(other)!, seen);
    if (!isLike(before) && !isLike(after)) guessed.delete(value);
    if (before !== null) settle(before, value);
    if (after !== null) settle(value, after);
  };
  let isFilled = false;
  /** Asks for what is missing of the least looks; false: nothing is. */
  const fill = (): boolean => {
    if (isFilled) return false;
    isFilled = true;
    const gaps = [...order.pairs()].filter(([low, high]) => high - low > 1);
    const width = ([low, high]: [number, number]): number => (high - low) / Math.max(1, low);
    for (let missing = least - byKey.size; missing > 0 && gaps.length > 0; missing--) {
      const at = gaps.reduce((best, gap, i) => (width(gap) > width(gaps[best]!) ? i : best), 0);
      const [low, high] = gaps[at]!;
      const middle = (low + high) >> 1;
      ask(middle);
      order.add(middle);
      const halves: [number, number][] = [
        [low, middle],
        [middle, high],
      ];
      gaps.splice(at, 1, ...halves.filter(([from, to]) => to - from > 1));
    }
    for (const wake of idle.splice(0)) wake();
    return waiting.length > 0;
  };
  const work = async (worker: number): Promise<void> => {
    while (!isOver) {
      if (signal?.aborted) throw new Error('Stopped.');
      const value = next(worker);
      if (value === undefined && looking === 0) {
        if (fill()) continue;
        return;
      }
      if (value === undefined) {
        await new Promise<void>((resolve) => idle.push(resolve));
        continue;
      }
      last[worker] = value;
      looking++;
      try {
        await lookNow(value, worker);
      } catch (error) {
        isOver = true;
        throw error;
      } finally {
        looking--;
        for (const wake of idle.splice(0)) wake();
      }
    }
  };
  await Promise.all(last.map((_, worker) => work(worker)));
  return new Map([...byKey].sort(([a], [b]) => a - b));
}

/** Values in ascending order, to which more come. */
class Sorted {
  private readonly list: number[];
  constructor(values: Iterable<number>) {
    this.list = [...values].sort((a, b) => a - b);
  }
  private place(value: number): number {
    let [low, high] = [0, this.list.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.list[middle]! < value) low = middle + 1;
      else high = middle;
    }
    return low;
  }
  add(value: number): void {
    const at = this.place(value);
    if (this.list[at] !== value) this.list.splice(at, 0, value);
  }
  *pairs(): Generator<[number, number]> {
    for (let i = 1; i < this.list.length; i++) yield [this.list[i - 1]!, this.list[i]!];
  }
  around(value: number): [number | null, number | null] {
    const at = this.place(value);
    return [this.list[at - 1] ?? null, this.list[at + 1] ?? null];
  }
}
