/** What boxes are does not depend on where they lie: most readings of one page have it in common. */
import { columnTest, type Test } from './column-predicates.ts';
import { TRANSFORMS } from '../boxes/fixed-containing-block.ts';
import type { RawReading } from './reading.ts';

type List = ArrayLike<unknown> | null | undefined;

/** Whether two lists hold the same, or neither is there. */
export function isSameList(a: List, b: List): boolean {
  if (a === b || !a || !b) return a === b;
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

/** The lists that were compared last, and found so: of one reading it is asked more than once. */
let longer: readonly (readonly string[])[] = [];

/** Whether a list of texts begins with all of another, so that numbers of texts mean the same. */
export function isLongerList(was: readonly string[], is: readonly string[]): boolean {
  if (was === is || (longer[0] === was && longer[1] === is)) return true;
  if (is.length < was.length) return false;
  for (let i = 0; i < was.length; i++) if (was[i] !== is[i]) return false;
  longer = [was, is];
  return true;
}

/** What makes a box the kind that it is, the containing block of others, and painted above or below others. */
const TRANSFORMING = [...TRANSFORMS, 'filter', 'backdrop-filter'];
const DECIDING = [
  'display',
  'position',
  'float',
  'z-index',
  'opacity',
  'contain',
  'content-visibility',
  'will-change',
];

/** Of transforms and the like it counts that there are any. */
const isNone: Test = (text) => text === '' || text === 'none';
const isAuto: Test = (text) => text === 'auto';

/** Whether every box is of the same kind in two readings, holds the same boxes, and is painted in the same order. */
export function isBuiltAlike(was: RawReading, is: RawReading): boolean {
  if (was.count !== is.count || !isLongerList(was.strings, is.strings)) return false;
  const isSameIn = (group: 'parent' | 'tag' | 'attributes'): boolean => isSameList(was[group], is[group]);
  if (!isSameIn('parent') || !isSameIn('tag') || !isSameIn('attributes')) return false;
  if (!DECIDING.every((property) => isSameList(was.used[property], is.used[property]))) return false;
  const transforms = (reading: RawReading) =>
    TRANSFORMING.map((property) => columnTest(reading, property, isNone));
  const nowTransforms = transforms(is);
  if (!transforms(was).every((list, i) => isSameList(list, nowTransforms[i]))) return false;
  // What is not rendered says so by a size of its own (`isUnrendered`).
  const [autoThen, autoNow] = [columnTest(was, 'width', isAuto), columnTest(is, 'width', isAuto)];
  const isEmpty = ({ rects }: RawReading, i: number): boolean =>
    rects[i * 4 + 2] === 0 && rects[i * 4 + 3] === 0;
  return autoThen.every((auto, i) => auto === autoNow[i] && (auto === 0 || isEmpty(was, i) === isEmpty(is, i)));
}
