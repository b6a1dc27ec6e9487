/** A style sheet's text cut into its top-level rules (CSS Syntax 3 §5.4.1), and where two texts differ, rule by rule. */
import { isClosing, isOpening, T, tokens } from './tokens.ts';

export interface Stretch {
  start: number;
  end: number;
}

const cut = new Map<string, Stretch[]>();
const KEPT = 16;

/** Offsets of the rules that stand in no other, as an engine counts them: `@charset` is none. */
export function topLevelRules(text: string): Stretch[] {
  const cached = cut.get(text);
  if (cached) return cached;
  const out: Stretch[] = [];
  const list = tokens(text);
  let depth = 0;
  let start = -1;
  let isAt = false;
  const close = (end: number) => {
    if (!/^@charset\b/i.test(text.slice(start, start + 9))) out.push({ start, end });
    start = -1;
  };
  for (let i = 0; i < list.count; i++) {
    const type = list.type[i]!;
    if (start < 0) {
      if (type === T.WhiteSpace || type === T.Comment || type === T.CDO || type === T.CDC) continue;
      start = list.start[i]!;
      isAt = type === T.AtKeyword;
    }
    if (isOpening(type)) depth++;
    else if (isClosing(type)) {
      depth = Math.max(0, depth - 1);
      if (depth === 0 && type === T.RightCurly) close(list.end[i]!);
    } else if (type === T.Semicolon && depth === 0 && isAt) close(list.end[i]!);
  }
  if (start >= 0) close(text.length);
  cut.set(text, out);
  for (const old of cut.keys()) {
    if (cut.size <= KEPT) break;
    cut.delete(old);
  }
  return out;
}

/** How many rules there are, and those that read otherwise, by their index. */
export interface RuleChanges {
  count: number;
  list: { index: number; text: string }[];
}

/** What of `was` reads otherwise in `is`; null: not the same number of rules, or what stands between them differs. */
export function ruleChanges(was: string, is: string): RuleChanges | null {
  const rules = topLevelRules(was);
  if (was === is) return { count: rules.length, list: [] };
  let head = 0;
  const most = Math.min(was.length, is.length);
  while (head < most && was[head] === is[head]) head++;
  let tail = 0;
  while (tail < most - head && was[was.length - 1 - tail] === is[is.length - 1 - tail]) tail++;
  const [from, to] = [head, was.length - tail];
  const first = rules.findIndex(({ end }) => end > from);
  const last = rules.findLastIndex(({ start }) => start < Math.max(to, from + 1));
  if (first < 0 || last < first || rules[first]!.start > from || rules[last]!.end < to) return null;
  const { start } = rules[first]!;
  const part = is.slice(start, is.length - (was.length - rules[last]!.end));
  const result = topLevelRules(part);
  if (result.length !== last - first + 1 || result[0]!.start !== 0) return null;
  const list = result.flatMap((stretch, i) => {
    const text = part.slice(stretch.start, stretch.end);
    const old = rules[first + i]!;
    return text === was.slice(old.start, old.end) ? [] : [{ index: first + i, text }];
  });
  return { count: rules.length, list };
}
