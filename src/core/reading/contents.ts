/** What a reading says of text, fonts, generated boxes and natural sizes, by element. */
import type { Rect } from '../geometry/rect.ts';
import type { Pseudo, RawReading } from './reading.ts';

/** One text as it lies in lines. */
export interface TextRun {
  /** How many of the parent's child elements stand before it. */
  before: number;
  /** White space alone. */
  blank: boolean;
  pieces: Rect[];
}

/** Of one font in CSS px: what its lines and letters measure. */
export interface FontMeasures {
  ascent: number;
  descent: number;
  /** Height of a line under `line-height: normal`. */
  line: number;
  xHeight: number;
  zero: number;
  space: number;
}

export interface Inside {
  texts: Map<number, TextRun[]>;
  fonts: Map<string, FontMeasures>;
  pseudos: Map<number, Pseudo[]>;
  natural: Map<number, { width: number; height: number }>;
  fragments: Map<number, Rect[]>;
}

function rectsAt(list: Float64Array, at: number, count: number): Rect[] {
  return Array.from({ length: count }, (_, i) => {
    const from = at + i * 4;
    return { x: list[from]!, y: list[from + 1]!, width: list[from + 2]!, height: list[from + 3]! };
  });
}

export function insideOf(reading: RawReading): Inside {
  const { texts, fonts, natural, fragments, strings } = reading;
  const out: Inside = {
    texts: new Map(),
    fonts: new Map(),
    pseudos: group(reading.pseudos),
    natural: new Map(),
    fragments: new Map(),
  };
  for (let at = 0; at + 3 < texts.length; at += 4 + texts[at + 3]! * 4) {
    const element = texts[at]!;
    const run = {
      before: texts[at + 1]!,
      blank: texts[at + 2] === 1,
      pieces: rectsAt(texts, at + 4, texts[at + 3]!),
    };
    const list = out.texts.get(element);
    if (list) list.push(run);
    else out.texts.set(element, [run]);
  }
  for (let at = 0; at + 6 < fonts.length; at += 7)
    out.fonts.set(strings[fonts[at]!] ?? '', {
      ascent: fonts[at + 1]!,
      descent: fonts[at + 2]!,
      line: fonts[at + 3]!,
      xHeight: fonts[at + 4]!,
      zero: fonts[at + 5]!,
      space: fonts[at + 6]!,
    });
  for (let at = 0; at + 2 < natural.length; at += 3)
    out.natural.set(natural[at]!, { width: natural[at + 1]!, height: natural[at + 2]! });
  for (let at = 0; at + 1 < fragments.length; at += 2 + fragments[at + 1]! * 4)
    out.fragments.set(fragments[at]!, rectsAt(fragments, at + 2, fragments[at + 1]!));
  return out;
}

function group(pseudos: Pseudo[]): Map<number, Pseudo[]> {
  const out = new Map<number, Pseudo[]>();
  for (const pseudo of pseudos) out.set(pseudo.element, [...(out.get(pseudo.element) ?? []), pseudo]);
  return out;
}

const FONT = ['font-family', 'font-size', 'font-weight', 'font-style'];

/** Key of an element's font in `Inside.fonts`. */
export const fontKey = (reading: RawReading, element: number): string =>
  FONT.map((property) => reading.strings[reading.used[property]?.[element] ?? -1] ?? '').join('|');
