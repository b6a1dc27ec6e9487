/** Numbers in values stepped with the arrow keys. */
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { stepped } from '../../../../src/lib/ui/trial/edits/steps.ts';

const CASES: [value: string, caret: number, by: number, wanted: string | null][] = [
  ['10px', 0, 1, '11px'],
  ['10px', 2, -10, '0px'],
  ['1.5rem', 0, 0.1, '1.6rem'],
  ['0.3em', 0, -0.1, '0.2em'],
  ['4px 8px', 5, 1, '4px 9px'],
  ['4px 8px', 1, 1, '5px 8px'],
  ['calc(100% - 20px)', 14, 1, 'calc(100% - 21px)'],
  ['-3px', 0, 1, '-2px'],
  ['auto', 0, 1, null],
  ['var(--gap-2)', 0, 1, null],
];
for (const [value, caret, by, wanted] of CASES)
  test(`${value} by ${by} at ${caret}`, () => assert.equal(stepped(value, caret, by)?.value ?? null, wanted));
