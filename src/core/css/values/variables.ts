/** Substitution of `var()` (CSS Custom Properties 1 §3). */
import { isClosing, isOpening, T, tokens } from '../syntax/tokens.ts';

export const usesVariables = (value: string): boolean => /\bvar\(/i.test(value);

/** A stretch of a value as it stands, or a reference to a variable with its fallback; null: it has none. */
type Piece = string | { name: string; fallback: string | null };

/** Values that were taken apart: pages say the same of many boxes. */
const apart = new Map<string, readonly Piece[]>();
const MOST_APART = 5000;

function piecesOf(value: string): readonly Piece[] {
  const cached = apart.get(value);
  if (cached) return cached;
  const list = tokens(value);
  const out: Piece[] = [];
  let text = '';
  for (let i = 0; i < list.count; i++) {
    const word = value.slice(list.start[i], list.end[i]);
    if (list.type[i] !== T.Function || word.toLowerCase() !== 'var(') {
      if (list.type[i] !== T.Comment) text += word;
      continue;
    }
    let depth = 1;
    let comma = -1;
    let j = i + 1;
    for (; j < list.count; j++) {
      const type = list.type[j]!;
      if (isOpening(type)) depth++;
      else if (isClosing(type) && --depth === 0) break;
      else if (type === T.Comma && depth === 1 && comma < 0) comma = j;
    }
    const end = list.start[j] ?? value.length;
    const nameEnd = comma < 0 ? end : list.start[comma]!;
    if (text !== '') out.push(text);
    text = '';
    out.push({
      name: value.slice(list.end[i], nameEnd).trim(),
      fallback: comma < 0 ? null : value.slice(list.end[comma], end).trim(),
    });
    i = j;
  }
  if (text !== '') out.push(text);
  if (apart.size >= MOST_APART) apart.clear();
  apart.set(value, out);
  return out;
}

/**
 * The value with every `var()` replaced by what `lookup` gives for the name, or by its fallback.
 * Null where a reference has neither: the declaration is then invalid at computed-value time (§3.1).
 */
export function substitute(value: string, lookup: (name: string) => string | null): string | null {
  if (!usesVariables(value)) return value;
  let out = '';
  for (const piece of piecesOf(value)) {
    if (typeof piece === 'string') {
      out += piece;
      continue;
    }
    const { name, fallback } = piece;
    const replaced = lookup(name) ?? (fallback === null ? null : substitute(fallback, lookup));
    if (replaced === null) return null;
    out += replaced;
  }
  return out.trim();
}
