/** What an engine takes, asked once. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import type { PlanRequest } from '../../../../src/core/css/cascade/plan.ts';
import { makeSupportCache } from '../../../../src/core/css/cascade/support-cache.ts';

const request = (...declarations: [string, string][]): PlanRequest => ({
  queries: [],
  media: [],
  supports: [],
  containers: [],
  declarations,
  generated: { before: [], after: [], letters: [] },
  rare: {},
});

describe('what an engine takes', () => {
  test('only what it was not asked about is unknown', () => {
    const taken = makeSupportCache();
    taken.learn([['width', '1px']], [true]);
    assert.deepEqual(taken.unknown(request(['width', '1px'], ['width', '2px'], ['height', '1px'])), [
      ['width', '2px'],
      ['height', '1px'],
    ]);
  });

  test('answers stand in the order of the plan that asks for them', () => {
    const taken = makeSupportCache();
    taken.learn(
      [
        ['width', '1px'],
        ['widht', '1px'],
      ],
      [true, false],
    );
    taken.learn([['height', '1px']], [true]);
    const { supports, declarations } = taken.validity(
      request(['height', '1px'], ['widht', '1px'], ['width', '1px']),
      [false],
    );
    assert.deepEqual([supports, declarations], [[false], [true, false, true]]);
  });

  test('what was not answered is not taken', () => {
    const taken = makeSupportCache();
    taken.learn(
      [
        ['width', '1px'],
        ['height', '1px'],
      ],
      [true],
    );
    assert.deepEqual(taken.unknown(request(['height', '1px'])), []);
    assert.deepEqual(taken.validity(request(['height', '1px']), []).declarations, [false]);
  });
});
