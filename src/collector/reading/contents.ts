/** What lies inside of boxes and has no element of its own: text in lines, fonts, generated boxes, natural sizes. */
import { holdAnimations } from '../document/animations.ts';
import { restoreStyle } from '../document/forced-relayout.ts';
import type { Pseudo } from '../../core/reading/reading.ts';
import type { Prepared } from './match.ts';
import type { Moves } from './unchanged-subtrees.ts';

/** Positions that leave a box in the one that it is laid out in (CSS Position 3 §2). */
export const FLOWING = /^(static|relative)$/;
const BLANK = /^[\t\n\f\r ]*$/;
const isInline = (display: string | undefined): boolean => display?.startsWith('inline') ?? false;

/** Whether an element is drawn as one, though its display says `inline`, and no text stands in it (SVG 2 §11.1). */
export const isShape = (element: Element): boolean =>
  element instanceof SVGElement &&
  !(element instanceof SVGTextContentElement) &&
  !(element instanceof SVGAElement) &&
  !(element instanceof SVGForeignObjectElement);

/** A text that can have a place in lines. */
export interface Run {
  node: Text;
  element: number;
  /** Children of the element before it. */
  before: number;
  blank: boolean;
}

/** Every text of elements that are displayed. White space counts only beside what is inline. */
export function runsOf(
  elements: Element[],
  displays: string[],
  hidden: Uint8Array,
  indexOf: Map<Element, number>,
): Run[] {
  const out: Run[] = [];
  const displayOf = (element: Element | null) => (element ? displays[indexOf.get(element) ?? -1] : undefined);
  const listChildren = (i: number, parent: Element | ShadowRoot) => {
    let before = 0;
    for (let node = parent.firstChild; node; node = node.nextSibling) {
      if (node instanceof Element) before++;
      if (!(node instanceof Text)) continue;
      const blank = BLANK.test(node.data);
      if (
        blank &&
        !isInline(displayOf(node.previousElementSibling)) &&
        !isInline(displayOf(node.nextElementSibling))
      )
        continue;
      out.push({ node, element: i, before, blank });
    }
  };
  elements.forEach((element, i) => {
    const display = displays[i]!;
    if (hidden[i] || isShape(element) || (display.endsWith('flex') && !element.firstChild)) return;
    if (element.shadowRoot) listChildren(i, element.shadowRoot);
    if (element.firstChild) listChildren(i, element);
  });
  return out;
}

/** Pieces of texts as they lie in lines, and where in the list those of each text begin; −1: it has none. */
export interface Texts {
  list: number[];
  starts: Int32Array;
}

/** `last`: the pieces of the same texts in the last reading; null: they were others. `moves`: what has moved since then. */
export function textsOf(
  runs: Run[],
  scrollX: number,
  scrollY: number,
  last: Texts | null,
  moves: Moves | null,
): Texts {
  const list: number[] = [];
  const starts = new Int32Array(runs.length).fill(-1);
  const range = document.createRange();
  for (const [nth, { node, element, before, blank }] of runs.entries()) {
    const by = last && moves?.inside(element);
    if (by) {
      const at = last.starts[nth]!;
      if (at < 0) continue;
      starts[nth] = list.length;
      const number = last.list[at + 3]!;
      list.push(element, before, blank ? 1 : 0, number);
      for (let piece = at + 4; piece < at + 4 + number * 4; piece += 4)
        list.push(
          Math.fround(last.list[piece]! + by.x),
          Math.fround(last.list[piece + 1]! + by.y),
          last.list[piece + 2]!,
          last.list[piece + 3]!,
        );
      continue;
    }
    range.selectNodeContents(node);
    const pieces = range.getClientRects();
    const { length } = pieces;
    if (length === 0) continue;
    starts[nth] = list.length;
    list.push(element, before, blank ? 1 : 0, length);
    for (let i = 0; i < length; i++) {
      const { left, top, width, height } = pieces[i]!;
      list.push(left + scrollX, top + scrollY, width, height);
    }
  }
  return { list, starts };
}

/** Used values of the generated boxes that rules ask for (CSS Pseudo-Elements 4 §4.1). */
export function pseudosOf(
  plan: Prepared,
  matches: (Int32Array | null)[],
  elements: Element[],
  properties: string[],
): Pseudo[] {
  const out: Pseudo[] = [];
  for (const name of ['before', 'after'] as const) {
    const asked = new Set<number>();
    for (const query of plan.generated[name]) for (const i of matches[query] ?? []) asked.add(i);
    for (const element of [...asked].sort((a, b) => a - b)) {
      const style = getComputedStyle(elements[element]!, `::${name}`);
      if (style.content === 'none' || style.content === 'normal' || style.display === 'none') continue;
      out.push({ element, name, values: valuesOf(style, properties) });
    }
  }
  return out;
}

const valuesOf = (style: CSSStyleDeclaration, properties: string[]): Record<string, string> =>
  Object.fromEntries(properties.map((property) => [property, style.getPropertyValue(property)]));

/** Whether layout does not decide a value: inline boxes have no width of their own (CSSOM §9). */
const isOwn = (property: string, { display, [property]: value }: Record<string, string>): boolean =>
  value === 'auto' && display === 'inline' && (property === 'width' || property === 'height');

/**
 * The same boxes, of which these properties alone can have other values; those of `fresh` for any reason, the others not where
 * boxes have but moved.
 */
export const pseudosAgain = (
  previous: Pseudo[],
  elements: Element[],
  properties: string[],
  fresh: ReadonlySet<string>,
  moves: Moves | null,
): Pseudo[] =>
  previous.map((pseudo) => {
    const { element, name, values } = pseudo;
    if (moves?.inside(element) && FLOWING.test(values['position'] ?? '')) return pseudo;
    const asked = properties.filter((each) => fresh.has('display') || fresh.has(each) || !isOwn(each, values));
    if (asked.length === 0) return pseudo;
    const now = valuesOf(getComputedStyle(elements[element]!, `::${name}`), asked);
    return asked.every((each) => now[each] === values[each])
      ? pseudo
      : { element, name, values: { ...values, ...now } };
  });

export const FONT = ['font-family', 'font-size', 'font-weight', 'font-style'];

/** What was measured of fonts, kept as long as nothing can have changed it: readings at other widths ask for the same. */
const cache = new Map<string, number[]>();
let stamp = '';

/** The fonts in use, each by the values of its properties. */
export function fontKeysOf(
  used: Record<string, Int32Array>,
  displays: string[],
  strings: string[],
): Set<string> {
  const keys = new Set<string>();
  const columns = FONT.map((property) => used[property]!);
  let like = -1;
  displays.forEach((display, i) => {
    if (display === 'none') return;
    // Most have the font of the one before them.
    if (like >= 0 && columns.every((column) => column[i] === column[like])) return;
    like = i;
    keys.add(columns.map((column) => strings[column[i]!] ?? '').join('|'));
  });
  return keys;
}

/**
 * Measures of every font in use, taken of a line that stands in the document for a moment, in a shadow tree where no
 * rule of the page reaches it: key, ascent, descent, normal line height, x-height, width of 0, width of a space.
 */
export function fontsOf(
  ofElements: ReadonlySet<string>,
  pseudos: Pseudo[],
  of: (text: string) => number,
): number[] {
  const keys = new Set(ofElements);
  for (const { values } of pseudos) keys.add(FONT.map((property) => values[property] ?? '').join('|'));
  const now = `${devicePixelRatio} ${document.fonts.size} ${document.fonts.status}`;
  if (now !== stamp) cache.clear();
  stamp = now;
  const tell = () => [...keys].flatMap((key) => [of(key), ...(cache.get(key) ?? [])]);
  const missing = [...keys].filter((key) => !cache.has(key));
  if (missing.length === 0) return tell();
  const host = document.createElement('div');
  host.style.cssText =
    'all:initial!important;position:fixed!important;left:0!important;top:0!important;visibility:hidden!important';
  const root = host.attachShadow({ mode: 'closed' });
  const lines = missing.map((key) => {
    const line = document.createElement('div');
    line.style.cssText = 'line-height:normal;white-space:pre;width:max-content';
    key.split('|').forEach((value, i) => line.style.setProperty(FONT[i]!, value));
    const piece = (css: string, text: string) => {
      const element = line.appendChild(document.createElement('span'));
      element.style.cssText = css;
      element.textContent = text;
      return element;
    };
    const parts = [
      piece('', 'x'),
      piece('display:inline-block', ''),
      piece('display:inline-block;width:100ch;height:100ex;vertical-align:top', ''),
      piece('', ' '.repeat(100)),
    ];
    root.append(line);
    // The line by itself, since what is measured above makes its own taller.
    const alone = document.createElement('div');
    alone.style.cssText = line.style.cssText;
    alone.textContent = 'x';
    root.append(alone);
    return { key, line: alone, parts };
  });
  document.documentElement.append(host);
  try {
    for (const { key, line, parts } of lines) {
      const [letter, mark, measure, space] = parts.map((part) => part.getBoundingClientRect());
      const base = mark!.bottom;
      cache.set(key, [
        base - letter!.top,
        letter!.bottom - base,
        line.getBoundingClientRect().height,
        measure!.height / 100,
        measure!.width / 100,
        space!.width / 100,
      ]);
    }
    return tell();
  } finally {
    host.remove();
  }
}

/** The elements that can have a size by themselves (CSS Images 3 §4.1). */
export const replacedOf = (elements: Element[]): number[] =>
  elements.flatMap((element, i) => (ownSize(element) ? [i] : []));

/** Width and height that replaced elements have by themselves: element, width, height. */
export const naturalOf = (elements: Element[], replaced: number[]): number[] =>
  replaced.flatMap((i) => [i, ...ownSize(elements[i]!)!]);

function ownSize(element: Element): [width: number, height: number] | null {
  if (element instanceof HTMLImageElement) return [element.naturalWidth, element.naturalHeight];
  if (element instanceof HTMLVideoElement) return [element.videoWidth, element.videoHeight];
  if (element instanceof HTMLCanvasElement) return [element.width, element.height];
  if (!(element instanceof SVGSVGElement)) return null;
  const { width, height } = element.viewBox.baseVal ?? { width: 0, height: 0 };
  return [width, height];
}

/**
 * Content widths of elements under no and under endless pressure (CSS Sizing 3 §5.1): element, min-content, max-content.
 * Their sizes are set for the time of two layouts. Cells leave their table for it, so tables are asked one after the other.
 */
export function intrinsicSizes(elements: Element[], asked: number[]): number[] {
  const out: number[] = [];
  const tables = new Map<Element | null, number[]>();
  for (const i of asked) {
    const element = elements[i];
    if (!(element instanceof HTMLElement)) continue;
    const isCell = getComputedStyle(element).display === 'table-cell';
    const table = isCell ? element.closest('table') : null;
    const list = tables.get(table);
    if (list) list.push(i);
    else tables.set(table, [i]);
  }
  for (const [table, list] of tables) {
    const written = list.map((i) => elements[i]!.getAttribute('style'));
    const measure = (size: 'min-content' | 'max-content'): number[] => {
      for (const i of list) {
        const { style } = elements[i] as HTMLElement;
        const set = (property: string, value: string) => style.setProperty(property, value, 'important');
        set('transition', 'none');
        set('width', size);
        set('min-width', '0');
        set('max-width', 'none');
        set('flex', 'none');
        set('box-sizing', 'content-box');
        set('justify-self', 'start');
        if (table) {
          set('display', 'block');
          set('float', 'left');
        }
      }
      return list.map((i) => Number.parseFloat(getComputedStyle(elements[i]!).width) || 0);
    };
    try {
      const least = measure('min-content');
      const most = measure('max-content');
      list.forEach((i, n) => out.push(i, least[n]!, most[n]!));
    } finally {
      list.forEach((i, n) => restoreStyle(elements[i]!, written[n] ?? null));
    }
  }
  // On the way back to what they were, sizes may take their time.
  holdAnimations();
  return out;
}
