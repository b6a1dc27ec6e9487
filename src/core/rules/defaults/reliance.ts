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
export function reliances(analysis: Analysis, own: Profile, other: Profile, now = analysis): Reliance[] {
  const out = new Map<Difference, Reliance>();
  const isOpen = openIn(now, own, other);
  for (const { element, key, size, open } of undecided(analysis, own, other))
    for (const one of open) {
      if (!isOpen(element, one.property)) continue;
      let known = out.get(one);
      if (!known) {
        const [value, there] = [entryText(one.a), entryText(one.b)];
        known = {
          selector: selectorOfKey(key),
          property: one.property,
          value,
          other: there,
          elements: [],
          px: 0,
        };
        out.set(one, known);
      }
      known.elements.push(element);
      known.px = Math.max(known.px, offOf(one, size));
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
  for (const one of list) {
    const whole = one.property.replace(SIDE, '$1$2');
    const { selector, value, other, px, elements } = one;
    const key = JSON.stringify([whole, selector, value, other, px, elements]);
    alike.set(key, [...(alike.get(key) ?? []), one]);
  }
  return [...alike.values()].flatMap((sides) =>
    sides.length === 4 ? [{ ...sides[0]!, property: sides[0]!.property.replace(SIDE, '$1$2') }] : sides,
  );
}

function openIn(
  analysis: Analysis,
  own: Profile,
  other: Profile,
): (element: number, property: string) => boolean {
  const known = new Set<string>();
  for (const { element, open } of undecided(analysis, own, other))
    for (const { property } of open) known.add(`${element} ${property}`);
  return (element, property) => known.has(`${element} ${property}`);
}
