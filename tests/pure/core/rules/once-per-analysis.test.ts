/** What rules keep of an analysis goes when it learns content widths: what was worked out without them may be another. */
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { addIntrinsicSizes, type Analysis } from '../../../../src/core/analysis.ts';
import { oncePerAnalysis } from '../../../../src/core/rules/model.ts';

const analysis = (): Analysis =>
  ({
    memo: new Map(),
    intrinsic: new Map(),
    missingIntrinsicSizes: new Set(),
    reusedIntrinsicSizes: new Map(),
  }) as unknown as Analysis;

test('it is worked out once for each analysis, and again when that has learned something', () => {
  let runs = 0;
  const width = oncePerAnalysis(({ intrinsic }) => (runs++, intrinsic.get(3)?.max ?? null));
  const other = oncePerAnalysis(() => 'another');
  const [first, second] = [analysis(), analysis()];
  assert.deepEqual([width(first), width(first), runs], [null, null, 1]);
  assert.deepEqual([width(second), runs], [null, 2]);
  assert.equal(other(first), 'another');
  addIntrinsicSizes(first, [3, 10, 40]);
  assert.deepEqual([width(first), width(second), runs], [40, null, 3]);
});
