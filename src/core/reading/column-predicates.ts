/** Questions that are asked of every box, answered for a whole column of a reading at once. */
import type { RawReading } from './reading.ts';

export type Test = (text: string) => boolean;

/** By column, then by test: readings of one page share the columns that are the same in them. */
const cache = new WeakMap<Int32Array, Map<Test, Uint8Array>>();

/**
 * 1 for each element of which a column holds a text that passes a test; what was not asked for counts as ''. `test`: one that is
 * made once, since answers are kept by it.
 */
export function testColumn(
  column: Int32Array | undefined,
  { strings, count }: { strings: readonly string[]; count: number },
  test: Test,
): Uint8Array {
  if (!column) return new Uint8Array(count).fill(test('') ? 1 : 0);
  let ofColumn = cache.get(column);
  if (!ofColumn) cache.set(column, (ofColumn = new Map()));
  let cached = ofColumn.get(test);
  if (cached) return cached;
  cached = new Uint8Array(count);
  const answers = new Map<number, number>();
  for (let i = 0; i < count; i++) {
    const at = column[i]!;
    let answer = answers.get(at);
    if (answer === undefined) answers.set(at, (answer = test(strings[at] ?? '') ? 1 : 0));
    cached[i] = answer;
  }
  ofColumn.set(test, cached);
  return cached;
}

/** The same of the used value of a property. */
export const columnTest = (reading: RawReading, property: string, test: Test): Uint8Array =>
  testColumn(reading.used[property], reading, test);

/** What is worked out of a reading when it is first asked for, and kept as long as the reading is. */
export function oncePerReading<T>(make: (reading: RawReading) => T): (reading: RawReading) => T {
  const all = new WeakMap<RawReading, T>();
  return (reading) => {
    let cached = all.get(reading);
    if (cached === undefined) all.set(reading, (cached = make(reading)));
    return cached;
  };
}

const isFixed: Test = (text) => text === 'fixed';

/** 1 for each element that is fixed or lies in one that is. */
export const inFixed = oncePerReading((reading) => spread(reading, columnTest(reading, 'position', isFixed)));

/** Flags of elements handed on to all that lies in them. */
export function spread({ parent, count }: RawReading, bytes: Uint8Array): Uint8Array {
  const out = bytes.slice();
  for (let i = 0; i < count; i++) if (parent[i]! >= 0 && out[parent[i]!] === 1) out[i] = 1;
  return out;
}
