/** Questions that are asked of every element, answered for a whole column of a reading at once. */
import type { Ints } from './copies.ts';

/** By column and test: many columns are the same ones in the next reading. */
const answered = new WeakMap<Ints, Map<RegExp, Uint8Array>>();

/**
 * 1 for each element of which a column has a text that passes a test; what was not asked for counts as ''. `test`: one that is
 * made once, since answers are kept by it.
 */
export function answers(
  strings: string[],
  count: number,
  test: RegExp,
): (column: Ints | undefined) => Uint8Array {
  return (column) => {
    if (!column) return new Uint8Array(count).fill(test.test('') ? 1 : 0);
    const known = answered.get(column) ?? new Map<RegExp, Uint8Array>();
    answered.set(column, known);
    const made = known.get(test);
    if (made) return made;
    const byText = new Map<number, number>();
    const out = Uint8Array.from(column, (text) => {
      let answer = byText.get(text);
      if (answer === undefined) byText.set(text, (answer = test.test(strings[text] ?? '') ? 1 : 0));
      return answer;
    });
    known.set(test, out);
    return out;
  };
}
