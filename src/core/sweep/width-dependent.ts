/** What is not laid out but is otherwise at another width all the same, as long as the same conditions hold. */
import type { Analysis } from '../analysis.ts';
import type { Changed } from '../reading/reading.ts';
import type { Plan } from '../css/cascade/plan.ts';
import { isReaching, mediaWithoutEffect } from '../css/media/media-without-effect.ts';
import { namesOf } from '../trials/affected-properties.ts';

/** Lengths that depend on the width of the viewport or of a container (CSS Values 4 §6.1.2, Conditional 5 §3.6). */
const MOVING = /\d\s*(?:[sld]?v(?:w|i|b|min|max)|cq(?:w|h|i|b|min|max))\b/i;

/** What a change of changes the box that has it, and those around it, but nothing in it. */
const OF_BOX =
  /^(((min|max)-)?(width|height)|(margin|padding|border)(-|$)|inset|top|right|bottom|left|(row-|column-)?gap|flex-basis)/;

type Told = { property: string; value: string };

/** Declarations of rules that are of a kind, and the elements that they match. */
function* told(
  { sources, reading }: Analysis,
  is: (declaration: Told) => boolean,
): Generator<{ properties: string[]; elements: number[] }> {
  for (const { rule, selectors } of sources.plan.rules) {
    const properties = rule.declarations.filter(is).map(({ property }) => property);
    if (properties.length === 0) continue;
    const elements = selectors.flatMap(({ query }) => [...(reading.matches[query] ?? [])]);
    if (elements.length > 0) yield { properties, elements };
  }
}

const isMoving = ({ value }: Told): boolean => MOVING.test(value);

/** Whether a box has its size or edges from the one around it. */
const isInherited = ({ property, value }: Told): boolean =>
  /\binherit\b/i.test(value) && (property === 'all' || OF_BOX.test(property));

/**
 * Boxes in which something is as wide as a length of the viewport says, so that their content widths go along with it; null:
 * any may be.
 */
export function movingBoxes(analysis: Analysis): Set<number> | null {
  if (varying(analysis) === null) return null;
  const { parent } = analysis.reading;
  const out = new Set<number>();
  for (const { properties, elements } of told(analysis, isMoving)) {
    if (!properties.every((property) => OF_BOX.test(property))) return null;
    for (const element of elements)
      for (let at = element; at >= 0 && !out.has(at); at = parent[at]!) out.add(at);
  }
  return out;
}

/**
 * What another width changes by lengths of the viewport, as readings hold it; no properties: nothing but layout depends on
 * it. null: anything may.
 */
export function varying(analysis: Analysis): Changed | null {
  const { attributes, strings } = analysis.reading;
  if (analysis.sources.plan.request.containers.length > 0) return null;
  const out = new Set<string>();
  const boxes = new Set<number>();
  let isOfBoxes = true;
  for (let i = 0; i + 2 < attributes.length; i += 3) {
    if (strings[attributes[i + 1]!] !== 'style') continue;
    const text = strings[attributes[i + 2]!] ?? '';
    if (MOVING.test(text)) return null;
    if (/\binherit\b/i.test(text)) boxes.add(attributes[i]!);
  }
  for (const { properties, elements } of told(analysis, isMoving)) {
    for (const property of properties) {
      const names = namesOf(property);
      if (!names) return null;
      isOfBoxes &&= OF_BOX.test(property);
      for (const name of names) out.add(name);
    }
    for (const element of elements) boxes.add(element);
  }
  for (const { elements } of told(analysis, isInherited)) for (const element of elements) boxes.add(element);
  return {
    properties: [...out],
    elements: isOfBoxes && out.size > 0 ? [...boxes].sort((a, b) => a - b) : null,
    media: flips(analysis),
  };
}

/** By media condition, what changes with it (`Changed`). */
function flips({ sources: { plan }, reading }: Analysis): (string[] | null)[] {
  const silent = mediaWithoutEffect(plan, reading);
  const out: (Set<string> | null)[] = silent.map(() => new Set());
  const put = (conditions: Plan['others'][number], names: readonly string[] | null): void => {
    for (const { kind, index } of conditions) {
      if (kind !== 'media') continue;
      if (names) for (const name of names) out[index]?.add(name);
      else out[index] = null;
    }
  };
  for (const { conditions } of plan.layers) put(conditions, null);
  for (const conditions of plan.others) put(conditions, null);
  for (const planned of plan.rules) {
    const { conditions, rule, selectors } = planned;
    if (conditions.length === 0 || !isReaching(planned, reading)) continue;
    // Of generated boxes only those that there are already are asked again.
    if (selectors.some(({ selector }) => selector.pseudo !== null)) put(conditions, null);
    for (const { property } of rule.declarations) {
      const names = namesOf(property);
      put(conditions, names && names.length > 0 ? names : null);
    }
  }
  return out.map((names) => names && [...names]);
}
