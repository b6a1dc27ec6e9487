/**
 * What a page rests on: the defaults that other default styles give otherwise and that no rule of its author pins down, by
 * element and property.
 */
import type { Analysis } from '../../analysis.ts';
import { entryText, type Difference, type Profile } from '../../css/defaults/profile.ts';
import { selectorOfKey } from '../../css/defaults/underlay.ts';
import { offOf, undecided } from './dependence.ts';

/** One property of one kind of element. */
export interface Reliance {
  selector: string;
  property: string;
  /** What the engine gives it, and what the other defaults do. */
  value: string;
  other: string;
  elements: number[];
  /** CSS px between the two, at the font size of the element where that is largest; 0: it is not a matter of px. */
  px: number;
}

/** What makes most difference over all of its boxes first. `now`: the page under a trial, of which what that says is pinned down. */
export function reliances(
  analysis: Analysis,
  engineProfile: Profile,
  other: Profile,
  now = analysis,
): Reliance[] {
  const out = new Map<Difference, Reliance>();
  const isOpen = openIn(now, engineProfile, other);
  for (const { element, key, size, open } of undecided(analysis, engineProfile, other))
    for (const difference of open) {
      if (!isOpen(element, difference.property)) continue;
      let cached = out.get(difference);
      if (!cached) {
        const [value, there] = [entryText(difference.a), entryText(difference.b)];
        cached = {
          selector: selectorOfKey(key),
          property: difference.property,
          value,
          other: there,
          elements: [],
          px: 0,
        };
        out.set(difference, cached);
      }
      cached.elements.push(element);
      cached.px = Math.max(cached.px, offOf(difference, size));
    }
  const weight = ({ px, elements }: Reliance): number => px * elements.length;
  return withoutSides([...out.values()]).sort(
    (a, b) =>
      weight(b) - weight(a) || b.elements.length - a.elements.length || (a.property < b.property ? -1 : 1),
  );
}

const SIDE = /^(margin|padding|border)-(?:top|right|bottom|left)(-\w+)?$/;

/** What all four sides of a box have alike is one line, by the name of their shorthand. */
function withoutSides(list: readonly Reliance[]): Reliance[] {
  const alike = new Map<string, Reliance[]>();
  for (const reliance of list) {
    const whole = reliance.property.replace(SIDE, '$1$2');
    const { selector, value, other, px, elements } = reliance;
    const key = JSON.stringify([whole, selector, value, other, px, elements]);
    alike.set(key, [...(alike.get(key) ?? []), reliance]);
  }
  return [...alike.values()].flatMap((sides) =>
    sides.length === 4 ? [{ ...sides[0]!, property: sides[0]!.property.replace(SIDE, '$1$2') }] : sides,
  );
}

function openIn(
  analysis: Analysis,
  engineProfile: Profile,
  other: Profile,
): (element: number, property: string) => boolean {
  const seen = new Set<string>();
  for (const { element, open } of undecided(analysis, engineProfile, other))
    for (const { property } of open) seen.add(`${element} ${property}`);
  return (element, property) => seen.has(`${element} ${property}`);
}
