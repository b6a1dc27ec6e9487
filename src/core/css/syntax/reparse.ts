/** A sheet whose text differs from one that is parsed in some rules alone: only these are parsed. */
import type { Declaration, Rule, Sheet, SheetText } from './style-sheets.ts';
import { lineStarts } from './source-positions.ts';
import { ruleChanges, topLevelRules } from './top-level-rules.ts';

/** What says more of the whole sheet than its own declarations: layers, registrations and the like. */
const FAR_REACHING = /@(?!media\b|supports\b)/i;

const headOf = (text: string): string => text.slice(0, text.indexOf('{'));

const shifted = (rule: Rule, by: number): Rule => ({
  ...rule,
  start: rule.start + by,
  end: rule.end + by,
  declarations: rule.declarations.map((declaration): Declaration => ({
    ...declaration,
    start: declaration.start + by,
    valueStart: declaration.valueStart + by,
    end: declaration.end + by,
  })),
});

/** null: the texts differ in more than that. `parse` parses a text by itself. */
export function reparsed(base: Sheet, source: SheetText, parse: (source: SheetText) => Sheet): Sheet | null {
  const changes = ruleChanges(base.text, source.text);
  if (!changes) return null;
  const stretches = topLevelRules(base.text);
  const rules: Rule[] = [];
  let next = 0;
  let by = 0;
  for (const { index, text } of changes.list) {
    const { start, end } = stretches[index]!;
    const old = base.text.slice(start, end);
    if (FAR_REACHING.test(text) || FAR_REACHING.test(old)) return null;
    if (text.startsWith('@') && headOf(text) !== headOf(old)) return null;
    for (; next < base.rules.length && base.rules[next]!.start < start; next++)
      rules.push(by === 0 ? base.rules[next]! : shifted(base.rules[next]!, by));
    while (next < base.rules.length && base.rules[next]!.start < end) next++;
    const sheet = parse({ ...source, text });
    if (text.startsWith('@') && sheet.conditions.length !== parse({ ...source, text: old }).conditions.length)
      return null;
    for (const rule of sheet.rules) rules.push(shifted(rule, start + by));
    by += text.length - old.length;
  }
  for (; next < base.rules.length; next++)
    rules.push(by === 0 ? base.rules[next]! : shifted(base.rules[next]!, by));
  return { ...base, ...source, rules, lineStarts: lineStarts(source.text) };
}
