/** Names for boxes: short labels, and paths that select exactly one element. */
import { VIA, type RawReading } from './reading.ts';

const text = (reading: RawReading, column: Int32Array, element: number): string =>
  reading.strings[column[element]!] ?? '';

/** Its name as the document has it: in lower case, but for what is of SVG. */
export const tagOf = (reading: RawReading, element: number): string => text(reading, reading.tag, element);

export const classesOf = (reading: RawReading, element: number): string[] =>
  text(reading, reading.classes, element).split(/\s+/).filter(Boolean);

/** `li.fare.best`, `input#name`: the tag, the id, the classes. */
export function labelOf(reading: RawReading, element: number): string {
  const id = text(reading, reading.idName, element);
  const tag = tagOf(reading, element);
  return (
    tag +
    (id ? `#${id}` : '') +
    classesOf(reading, element)
      .map((name) => `.${name}`)
      .join('')
  );
}

const IDENT = /^-?[A-Za-z_\u0080-\uffff][\w\u0080-\uffff-]*$/;
const escapeTag = (tag: string): string => (IDENT.test(tag) ? tag : tag.replace(/[^\w-]/g, (c) => `\\${c}`));

/**
 * A selector that matches this element and no other: tags from the root down, with `:nth-child()` where a tag
 * is not the only one of its kind. Steps into a shadow tree or a frame are written `>>>`.
 */
export function pathOf(reading: RawReading, element: number): string {
  const steps: string[] = [];
  let at = element;
  while (at >= 0) {
    const parent = reading.parent[at]!;
    const tag = escapeTag(tagOf(reading, at));
    if (parent < 0) {
      steps.unshift(tag);
      break;
    }
    let place = 0;
    let alike = 0;
    for (let i = parent + 1; i < reading.count; i++) {
      if (reading.parent[i] !== parent || reading.via[i] !== reading.via[at]) continue;
      if (i <= at) place++;
      if (reading.tag[i] === reading.tag[at]) alike++;
      if (i > at && alike > 1) break;
    }
    const step = alike > 1 ? `${tag}:nth-child(${place})` : tag;
    steps.unshift(reading.via[at] === VIA.child ? step : `>>> ${step}`);
    at = parent;
  }
  const shortened =
    steps[0] === 'html' && (steps[1] === 'body' || steps[1] === 'head') ? steps.slice(1) : steps;
  return shortened.join(' > ').replace(/ > >>> /g, ' >>> ');
}

/** The element that a path of `pathOf` names; −1 for none. */
export function elementAt(reading: RawReading, path: string): number {
  const steps = path.split(/\s+(?=>)/).map((step) => {
    const [, mark = '', tag = '', place] =
      /^(>*)\s*([^\s:]+?)(?::nth-child\((\d+)\))?$/.exec(step.trim()) ?? [];
    return { inside: mark.length === 3, tag, place: place === undefined ? null : Number(place) };
  });
  const first = steps[0]?.tag;
  let at = -1;
  if (first === 'body' || first === 'head') steps.unshift({ inside: false, tag: 'html', place: null });
  for (const { inside, tag, place } of steps) {
    let found = -1;
    let seen = 0;
    for (let i = at + 1; i < reading.count && found < 0; i++) {
      if (reading.parent[i] !== at || (at >= 0 && (reading.via[i] !== VIA.child) !== inside)) continue;
      seen++;
      const alike = escapeTag(text(reading, reading.tag, i)) === tag;
      if (alike && (place === null || place === seen)) found = i;
    }
    if (found < 0) return -1;
    at = found;
  }
  return at;
}
