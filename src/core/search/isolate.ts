/**
 * The smallest set of things that a symptom needs: delta debugging (Zeller and Hildebrandt 2002, `ddmin`), with each thing
 * taken out to see whether the symptom goes. What is left is 1-minimal: without any one of them the symptom is gone.
 */

export interface Step {
  /** How many things were left in, and whether the symptom was there. */
  kept: number;
  there: boolean;
  /** The first few of what was left in. */
  some: string[];
}

export interface Isolated<T> {
  /** What the symptom needs, in the order given. */
  needs: T[];
  steps: Step[];
  measured: number;
  /** False: the symptom is not there even with everything left in. */
  found: boolean;
}

export interface Isolating<T> {
  /** Whether the symptom is there with just these left in. */
  isThere: (kept: readonly T[]) => Promise<boolean>;
  name: (entry: T) => string;
  signal?: { readonly aborted: boolean };
  progress?: (step: Step, measured: number) => void;
}

export async function isolate<T>(
  all: readonly T[],
  { isThere, name, signal, progress }: Isolating<T>,
): Promise<Isolated<T>> {
  const steps: Step[] = [];
  const byKey = new Map<string, boolean>();
  const order = new Map(all.map((entry, i) => [entry, i]));
  const test = async (kept: readonly T[]): Promise<boolean> => {
    const key = kept.map((entry) => order.get(entry)).join();
    const before = byKey.get(key);
    if (before !== undefined) return before;
    if (signal?.aborted) throw new Error('Stopped.');
    const there = await isThere(kept);
    byKey.set(key, there);
    const step = { kept: kept.length, there, some: kept.slice(0, 3).map(name) };
    steps.push(step);
    progress?.(step, byKey.size);
    return there;
  };
  if (!(await test(all))) return { needs: [], steps, measured: byKey.size, found: false };
  // It may need none of them.
  if (await test([])) return { needs: [], steps, measured: byKey.size, found: true };
  let left = [...all];
  let parts = 2;
  while (left.length >= 2) {
    const size = Math.ceil(left.length / parts);
    const chunks = Array.from({ length: Math.ceil(left.length / size) }, (_, i) =>
      left.slice(i * size, (i + 1) * size),
    );
    let reduced = false;
    for (const chunk of chunks)
      if (chunk.length < left.length && (await test(chunk))) {
        left = chunk;
        parts = 2;
        reduced = true;
        break;
      }
    if (!reduced && chunks.length > 2)
      for (const chunk of chunks) {
        const rest = left.filter((entry) => !chunk.includes(entry));
        if (await test(rest)) {
          left = rest;
          parts = Math.max(parts - 1, 2);
          reduced = true;
          break;
        }
      }
    if (reduced) continue;
    if (parts >= left.length) break;
    parts = Math.min(left.length, parts * 2);
  }
  return { needs: left, steps, measured: byKey.size, found: true };
}
