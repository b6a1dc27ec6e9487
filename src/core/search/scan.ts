/**
 * Where along a range something changes, each change to one step: looked at where it is likely to change and at even
 * distances, then halved wherever two neighbours differ.
 */

export interface Scanning<T> {
  from: number;
  to: number;
  /** Distance of the looks that are taken first, from each value to the next. */
  step: number | ((value: number) => number);
  /** Values at which something is likely to change: the first ones, going up, of a new state. */
  edges: readonly number[];
  look: (value: number) => Promise<T>;
  /** Whether two looks show the same. */
  isSame: (a: T, b: T) => boolean;
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
  parallel = 1,
  signal,
  progress,
}: Scanning<T>): Promise<Map<number, T>> {
  if (!(to >= from)) throw new Error('The range must not end below where it begins.');
  const known = new Map<number, T>();
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
  waiting.sort((a, b) => a - b);
  const order = new Sorted(asked);
  const settle = (low: number, high: number): void => {
    const [a, b] = [known.get(low), known.get(high)];
    if (a === undefined || b === undefined || high - low <= 1 || isSame(a, b)) return;
    const middle = (low + high) >> 1;
    ask(middle);
    order.add(middle);
  };
  const worker = async (): Promise<void> => {
    for (;;) {
      if (signal?.aborted) throw new Error('Stopped.');
      const value = waiting.shift();
      if (value === undefined) return;
      const seen = await look(value);
      known.set(value, seen);
      progress?.(value, seen, known.size, asked.size);
      const [before, after] = order.around(value);
      if (before !== null) settle(before, value);
      if (after !== null) settle(value, after);
    }
  };
  while (waiting.length > 0)
    await Promise.all(Array.from({ length: Math.min(parallel, waiting.length) }, worker));
  return new Map([...known].sort(([a], [b]) => a - b));
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
  around(value: number): [number | null, number | null] {
    const at = this.place(value);
    return [this.list[at - 1] ?? null, this.list[at + 1] ?? null];
  }
}
