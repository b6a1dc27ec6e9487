/** Stepping numbers in values with the arrow keys, in the author's own unit. */

const NUMBER = /[-+]?(?:\d+\.?\d*|\.\d+)/g;

/** Where the number at or nearest before a caret stands in a value; null: there is none. */
export function numberAt(value: string, caret: number): { start: number; end: number } | null {
  let best: { start: number; end: number } | null = null;
  for (const match of value.matchAll(NUMBER)) {
    const [start, end] = [match.index, match.index + match[0].length];
    // Letters before it make it part of a name.
    if (/[\w-]/.test(value[start - 1] ?? '') && !/[\s,(/*]/.test(value[start - 1] ?? ' ')) continue;
    if (start <= caret || !best) best = { start, end };
  }
  return best;
}

/** The value with the number at the caret stepped by `by`, and where the caret stands then; null: there is no number. */
export function stepped(value: string, caret: number, by: number): { value: string; caret: number } | null {
  const found = numberAt(value, caret);
  if (!found) return null;
  const written = value.slice(found.start, found.end);
  const decimals = Math.max(written.split('.')[1]?.length ?? 0, String(by).split('.')[1]?.length ?? 0);
  const next = String(Number((Number(written) + by).toFixed(Math.min(decimals, 6))));
  return {
    value: value.slice(0, found.start) + next + value.slice(found.end),
    caret: found.start + next.length,
  };
}
