/** What is not laid out but is otherwise at another width all the same, as long as the same conditions hold. */
import type { Analysis } from '../analysis.ts';
import { namesOf } from '../trials/narrow.ts';

/** Lengths that depend on the width of the viewport or of a container (CSS Values 4 §6.1.2, Conditional 5 §3.6). */
const MOVING = /\d\s*(?:[sld]?v(?:w|i|b|min|max)|cq(?:w|h|i|b|min|max))\b/i;

/** What a change of changes the box that has it, and those around it, but nothing in it. */
const OF_BOX =
  /^(((min|max)-)?(width|height)|(margin|padding|border)(-|$)|inset|top|right|bottom|left|(row-|column-)?gap|flex-basis)/;

/**
 * Boxes in which something is as wide as a length of the viewport says, so that their content widths go along with it; null:
 * any may be.
 */
export function movingBoxes(analysis: Analysis): Set<number> | null {
  if (varying(analysis) === null) return null;
  const { sources, reading } = analysis;
  const out = new Set<number>();
  for (const { rule, selectors } of sources.plan.rules) {
    const moving = rule.declarations.filter(({ value }) => MOVING.test(value));
    if (moving.length === 0) continue;
    const elements = selectors.flatMap(({ query }) => [...(reading.matches[query] ?? [])]);
    if (elements.length > 0 && !moving.every(({ property }) => OF_BOX.test(property))) return null;
    for (const element of elements)
      for (let at = element; at >= 0 && !out.has(at); at = reading.parent[at]!) out.add(at);
  }
  return out;
}

/**
 * The names under which a reading holds values that another width changes by lengths of the viewport; none: nothing but
 * layout depends on it. null: anything may.
 */
export function varying({ sources, reading }: Analysis): string[] | null {
  if (sources.plan.request.containers.length > 0) return null;
  const { attributes, strings } = reading;
  for (let i = 0; i + 2 < attributes.length; i += 3)
    if (strings[attributes[i + 1]!] === 'style' && MOVING.test(strings[attributes[i + 2]!] ?? '')) return null;
  const out = new Set<string>();
  for (const { rule, selectors } of sources.plan.rules) {
    const moving = rule.declarations.filter(({ value }) => MOVING.test(value));
    if (moving.length === 0 || !selectors.some(({ query }) => (reading.matches[query]?.length ?? 0) > 0))
      continue;
    for (const { property } of moving) {
      const names = namesOf(property);
      if (!names) return null;
      for (const name of names) out.add(name);
    }
  }
  return [...out];
}
