/** Substitution of `var()` (CSS Custom Properties 1 §3). */
import { isClosing, isOpening, T, tokens } from '../syntax/tokens.ts';

export const usesVariables = (value: string): boolean => /\bvar\(/i.test(value);

/**
 * The value with every `var()` replaced by what `lookup` gives for the name, or by its fallback.
 * Null where a reference has neither: the declaration is then invalid at computed-value time (§3.1).
 */
export function substitute(value: string, lookup: (name: string) => string | null): string | null {
  if (!usesVariables(value)) return value;
  const list = tokens(value);
  let out = '';
  for (let i = 0; i < list.count; i++) {
    const word = value.slice(list.start[i], list.end[i]);
    if (list.type[i] !== T.Function || word.toLowerCase() !== 'var(') {
      if (list.type[i] !== T.Comment) out += word;
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
    const nameEnd = comma < 0 ? j : comma;
    const name = value.slice(list.end[i], list.start[nameEnd] ?? value.length).trim();
    let replaced = lookup(name);
    if (replaced === null && comma >= 0)
      replaced = substitute(value.slice(list.end[comma], list.start[j] ?? value.length).trim(), lookup);
    if (replaced === null) return null;
    out += replaced;
    i = j;
  }
  return out.trim();
}
