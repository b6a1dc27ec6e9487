/** What is found in several engines put together. */
import assert from 'node:assert/strict';
import { test } from 'node:test';
import type { Observation } from '../../../../src/core/finding.ts';
import type { Grade } from '../../../../src/core/evidence/model.ts';
import { acrossEngines } from '../../../../src/core/proof/across-engines.ts';
import type { FindingAcrossWidths } from '../../../../src/core/proof/across-widths.ts';

const found = (
  key: string,
  px: number,
  grade: Grade = 'wrong',
  more: Partial<Observation> = {},
): FindingAcrossWidths => {
  const observation = {
    kind: 'overflow',
    rule: 'overflow/content-out',
    axis: 'x',
    px,
    grade,
    evidence: [],
    ...more,
  } as unknown as Observation;
  return { key, at: new Map([[1280, observation]]), worst: 1280, observation };
};
const NAMES = ['chromium', 'firefox'];

const CASES: [string, FindingAcrossWidths[][], [key: string, worst: number, engines: number[]][]][] = [
  ['in both', [[found('a', 5)], [found('a', 5)]], [['a', 0, [0, 1]]]],
  ['larger in the second', [[found('a', 5)], [found('a', 9)]], [['a', 1, [0, 1]]]],
  ['larger by less than half a px', [[found('a', 5)], [found('a', 5.3)]], [['a', 0, [0, 1]]]],
  ['worse in the second', [[found('a', 50, 'doubtful')], [found('a', 5)]], [['a', 1, [0, 1]]]],
  ['in the second alone', [[], [found('a', 5)]], [['a', 1, [1]]]],
  [
    'what is wrong comes first',
    [[found('a', 5, 'meant')], [found('b', 5)]],
    [
      ['b', 1, [1]],
      ['a', 0, [0]],
    ],
  ],
];
for (const [name, lists, wanted] of CASES)
  test(`across engines: ${name}`, () =>
    assert.deepEqual(
      acrossEngines(lists, NAMES).map(({ seen, worst, engines }) => [seen.key, worst, engines]),
      wanted,
    ));

const signals = (lists: FindingAcrossWidths[][]): string[] =>
  acrossEngines(lists, NAMES).flatMap(({ seen }) => seen.observation.evidence.map(({ signal }) => signal));
const SAID: [string, FindingAcrossWidths[][], string[]][] = [
  ['in one alone', [[], [found('a', 5)]], ['in-some-engines']],
  ['in both', [[found('a', 5)], [found('a', 5)]], []],
  ['a declaration', [[], [found('a', 5, 'wrong', { kind: 'dropped' })]], []],
  ['what is meant', [[], [found('a', 5, 'meant')]], []],
];
for (const [name, lists, wanted] of SAID)
  test(`evidence across engines: ${name}`, () => assert.deepEqual(signals(lists), wanted));
