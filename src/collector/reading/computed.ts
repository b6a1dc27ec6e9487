/** Computed values of all elements, in one of two ways. */
import type { Wanted } from '../../core/reading/reading.ts';
import type { Ints } from './reused-values.ts';
import { restoreStyle } from '../document/forced-relayout.ts';

type Each = (i: number, value: (property: string) => string) => void;

/** `which`: the elements to be asked of, by their numbers. `column`: what is held of a property already. `tell`: one of the two ways. */
export function readComputed(
  elements: Element[],
  which: Iterable<number>,
  { computed, relative }: Wanted,
  used: Record<string, Ints>,
  strings: string[],
  of: (text: string) => number,
  column: (property: string) => Ints,
  tell: (elements: Element[], which: Iterable<number>, each: Each) => void,
): Record<string, Ints> {
  const columns = computed.map((property) => [property, column(property)] as const);
  const more = relative.map((property) => [property, column(property)] as const);
  const positions = used['position']!;
  const isRelative = strings.indexOf('relative');
  tell(elements, which, (i, value) => {
    for (const [property, into] of columns) into[i] = of(value(property));
    if (positions[i] === isRelative) for (const [property, into] of more) into[i] = of(value(property));
  });
  return Object.fromEntries([...columns, ...more]);
}

/**
 * Resolved values of sizes and margins are the computed ones while an element has no box (CSSOM §9), so the
 * root loses its box for the time of one pass.
 */
export function whileUnboxed(elements: Element[], which: Iterable<number>, each: Each): void {
  const root = document.documentElement as HTMLElement;
  const written = root.getAttribute('style');
  root.style.setProperty('display', 'none', 'important');
  try {
    for (const i of which) {
      const style = getComputedStyle(elements[i]!);
      each(i, (property) => style.getPropertyValue(property));
    }
  } finally {
    restoreStyle(root, written);
  }
}

/** Whether the engine tells computed values of elements that have boxes (CSS Typed OM 1 §3.1). */
export const canTell = typeof Element.prototype.computedStyleMap === 'function';

const SIDES = ['top', 'right', 'bottom', 'left'];
const LONGHANDS: Record<string, string[]> = {
  margin: SIDES.map((side) => `margin-${side}`),
  padding: SIDES.map((side) => `padding-${side}`),
  inset: SIDES,
};

/** The same values while all keep their boxes: less for a few properties, since nothing is laid out anew for it. */
export function whileLaidOut(elements: Element[], which: Iterable<number>, each: Each): void {
  for (const i of which) {
    const map = elements[i]!.computedStyleMap();
    each(i, (property) => {
      const [top, right, bottom, left] = (LONGHANDS[property] ?? [property]).map((text) =>
        String(map.get(text) ?? ''),
      );
      if (right === undefined) return top!;
      // The shortest shorthand, as engines serialize it (CSSOM §6.7.2).
      if (left !== right) return `${top} ${right} ${bottom} ${left}`;
      if (bottom !== top) return `${top} ${right} ${bottom}`;
      return right === top ? top : `${top} ${right}`;
    });
  }
}
