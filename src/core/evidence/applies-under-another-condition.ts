/**
 * What a page is in another state of its conditions: a declaration that has nothing to do in this one may have been written
 * for that. Conditional Rules 3 §2.
 */
import type { Analysis } from '../analysis.ts';
import { candidates } from '../css/cascade/candidates.ts';

/** What keeps a property from having an effect on a box: on the box itself, and on the box around it. */
const KEEPERS: { properties: RegExp; own: RegExp; around: RegExp | null }[] = [
  { properties: /^(top|right|bottom|left)$/, own: /^position$/, around: null },
  { properties: /^(justify-|align-|(row-|column-)?gap$)/, own: /^display$/, around: /^display$/ },
  {
    properties: /^(vertical-align|clear|float|(min-|max-)?(width|height)|margin-)/,
    own: /^(display|position|float)$/,
    around: /^display$/,
  },
];

/** By element: what rules under conditions on the screen say of `position`, `display` and `float`. */
type Said = Map<number, { property: string; conditions: string; order: number }[]>;
const cache = new WeakMap<Analysis, Said>();

function conditionalOf(analysis: Analysis): Said {
  const old = cache.get(analysis);
  if (old) return old;
  const out: Said = new Map();
  for (const { rule, conditions, selectors, order } of analysis.sources.plan.rules) {
    const onScreen = conditions.filter(({ kind }) => kind === 'media' || kind === 'container');
    if (onScreen.length === 0 || conditions.some(({ text }) => /\bprint\b/i.test(text))) continue;
    const asked = rule.declarations.filter(({ property }) => /^(position|display|float)$/.test(property));
    if (asked.length === 0) continue;
    const stated = keyOf(rule.conditions);
    for (const { query } of selectors)
      for (const element of analysis.reading.matches[query] ?? []) {
        const list = out.get(element) ?? [];
        out.set(element, list);
        for (const { property } of asked) list.push({ property, conditions: stated, order });
      }
  }
  cache.set(analysis, out);
  return out;
}

const keyOf = (conditions: readonly { kind: string; text: string }[]): string =>
  conditions.map(({ kind, text }) => `@${kind} ${text}`).join('\n');

/**
 * Whether a declaration that does nothing on an element is for another state. It is where a rule under a condition that does
 * not hold says something of what keeps it from its effect; and where a rule under one that holds does, if the declaration
 * stands in one block with the value that would let it have its effect.
 */
export function appliesUnderAnotherCondition(analysis: Analysis, element: number, property: string): boolean {
  const keepers = KEEPERS.find(({ properties }) => properties.test(property));
  if (!keepers) return false;
  const winner = candidates(analysis.styles, element).get(property)?.[0];
  const text = winner?.conditions.join('\n') ?? '';
  const block = winner?.origin === 'author' ? Math.floor(winner.order) : -1;
  const conditional = conditionalOf(analysis);
  /** The rules that say something of a property now, by their order. */
  const rulesOf = (of: number, name: string): number[] =>
    (candidates(analysis.styles, of).get(name) ?? [])
      .filter(({ origin }) => origin === 'author')
      .map(({ order }) => Math.floor(order));
  const says = (of: number, what: RegExp | null): boolean =>
    what !== null &&
    (conditional.get(of) ?? []).some((entry) => {
      if (!what.test(entry.property) || entry.conditions === text) return false;
      const now = rulesOf(of, entry.property);
      return !now.includes(entry.order) || now.includes(block);
    });
  return says(element, keepers.own) || says(analysis.reading.parent[element]!, keepers.around);
}
