/** Whether what is not laid out stays as it is at another width, as long as the same conditions hold. */
import type { Analysis } from '../analysis.ts';

/** Lengths that depend on the width of the viewport or of a container (CSS Values 4 §6.1.2, Conditional 5 §3.6). */
const MOVING = /\d\s*(?:[sld]?v(?:w|i|b|min|max)|cq(?:w|h|i|b|min|max))\b/i;

export function isSteady({ sources, reading }: Analysis): boolean {
  if (sources.plan.request.containers.length > 0) return false;
  const { attributes, strings } = reading;
  for (let i = 0; i + 2 < attributes.length; i += 3)
    if (strings[attributes[i + 1]!] === 'style' && MOVING.test(strings[attributes[i + 2]!] ?? '')) return false;
  return !sources.plan.rules.some(
    ({ rule, selectors }) =>
      rule.declarations.some(({ value }) => MOVING.test(value)) &&
      selectors.some(({ query }) => (reading.matches[query]?.length ?? 0) > 0),
  );
}
