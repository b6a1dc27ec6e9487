/**
 * The language that wishes are written in: a selector, a colon with a space behind it, and what should hold
 * (`.card: at most 300 wide`). No selector has a colon before a space outside brackets (Selectors 4 §3.5), so the first such
 * colon ends it.
 */
import type { Relation } from './model.ts';

/** A wish as it is written: with selectors where a `Wish` has paths. */
export interface WrittenWish {
  selector: string;
  relation: Relation;
}

type Bound = 'equal' | 'at-least' | 'at-most';

const NUMBER = String.raw`(-?\d+(?:\.\d+)?)(?:\s*px)?`;
const BOUND = String.raw`(at least |at most )?`;

interface Form {
  /** As it is shown to whoever wrote something else. */
  example: string;
  pattern: RegExp;
  make: (parts: (string | undefined)[]) => Relation;
}

const boundOf = (words: string | undefined): Bound =>
  words === undefined ? 'equal' : words.startsWith('at least') ? 'at-least' : 'at-most';
const axisOf = (word: string | undefined) => (word === undefined ? 'both' : word === 'across' ? 'x' : 'y');

export const FORMS: readonly Form[] = [
  {
    example: '300 wide, at most 300 wide, at least 40 tall',
    pattern: new RegExp(`^${BOUND}${NUMBER} (wide|tall)$`),
    make: ([bound, size, way]) => ({
      is: 'size',
      bound: boundOf(bound),
      px: Number(size),
      axis: way === 'wide' ? 'x' : 'y',
    }),
  },
  {
    example: 'as wide as SELECTOR, as tall as SELECTOR',
    pattern: /^as (wide|tall) as (.+)$/,
    make: ([way, other]) => ({ is: 'size-of', axis: way === 'wide' ? 'x' : 'y', other: other! }),
  },
  { example: 'square', pattern: /^square$/, make: () => ({ is: 'ratio', ratio: 1 }) },
  {
    example: 'in ratio 16/9',
    pattern: /^in ratio (\d+(?:\.\d+)?)(?:\s*\/\s*(\d+(?:\.\d+)?))?$/,
    make: ([width, height = '1']) => ({ is: 'ratio', ratio: Number(width) / Number(height) }),
  },
  {
    example: 'one line, at most 2 lines',
    pattern: new RegExp(`^${BOUND}(one|\\d+) lines?$`),
    make: ([bound, count]) => ({
      is: 'lines',
      bound: boundOf(bound),
      count: count === 'one' ? 1 : Number(count),
    }),
  },
  { example: 'whole text', pattern: /^whole text$/, make: () => ({ is: 'whole-text' }) },
  {
    example: '16 below SELECTOR (above, left of, right of), at least 8 right of SELECTOR',
    pattern: new RegExp(`^${BOUND}${NUMBER} (above|below|left of|right of) (.+)$`),
    make: ([bound, size, side, other]) => ({
      is: 'distance',
      bound: boundOf(bound),
      px: Number(size),
      side: side!.split(' ')[0] as 'above' | 'below' | 'left' | 'right',
      other: other!,
    }),
  },
  {
    example: 'left flush with SELECTOR (top, right, bottom)',
    pattern: /^(top|right|bottom|left) flush with (.+)$/,
    make: ([side, other]) => ({
      is: 'flush',
      side: side as 'top' | 'right' | 'bottom' | 'left',
      other: other!,
    }),
  },
  {
    example: 'centred in SELECTOR, centred across in SELECTOR, centred down in SELECTOR',
    pattern: /^centred (?:(across|down) )?in (.+)$/,
    make: ([way, other]) => ({ is: 'centred', axis: axisOf(way), other: other! }),
  },
  {
    example: 'not over SELECTOR',
    pattern: /^not over (.+)$/,
    make: ([other]) => ({ is: 'not-over', other: other! }),
  },
  {
    example: 'no scroll, no scroll across, no scroll down',
    pattern: /^no scroll(?: (across|down))?$/,
    make: ([way]) => ({ is: 'no-scroll', axis: axisOf(way) }),
  },
];

/** Throws a SyntaxError that says what was not understood and what can be written. */
export function parseWish(text: string): WrittenWish {
  const at = endOfSelector(text);
  if (at < 0)
    throw new SyntaxError(
      `“${text}” names no box: write a selector, a colon and a space, and what should hold, like “.card: 300 wide”`,
    );
  const selector = text.slice(0, at).trim();
  if (selector === '')
    throw new SyntaxError(`“${text}” has no selector before its colon: write one, like “.card: 300 wide”`);
  return { selector, relation: parseRelation(text.slice(at + 1)) };
}

/** What stands behind the colon. Throws a SyntaxError. */
export function parseRelation(text: string): Relation {
  const words = text.trim().replace(/\s+/g, ' ');
  for (const { pattern, make } of FORMS) {
    const found = pattern.exec(words);
    if (found) {
      const relation = make(found.slice(1).map((part) => part?.trim()));
      if (relation.is === 'ratio' && !(relation.ratio > 0 && relation.ratio <= 1000))
        throw new SyntaxError(`“${words}” is no ratio: both numbers are above 0`);
      if (relation.is === 'lines' && relation.count < 1)
        throw new SyntaxError(`“${words}”: text has one line at least`);
      return relation;
    }
  }
  const known = FORMS.map(({ example }) => example).join('; ');
  throw new SyntaxError(`“${words}” is no relation that can be wished for. Write one like these: ${known}`);
}

/** Where the colon stands that ends the selector; −1: nowhere. Strings and brackets are passed over. */
function endOfSelector(text: string): number {
  let depth = 0;
  let quote = '';
  for (let i = 0; i < text.length; i++) {
    const character = text[i]!;
    if (character === '\\') i++;
    else if (quote !== '') quote = character === quote ? '' : quote;
    else if (character === '"' || character === "'") quote = character;
    else if (character === '(' || character === '[') depth++;
    else if (character === ')' || character === ']') depth--;
    else if (character === ':' && depth === 0 && /^\s/.test(text.slice(i + 1))) return i;
  }
  return -1;
}
