/** What differs between sweeps of one page in several engines. */
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { sweepDifferences, sweepDifferencesText } from '../../../../src/core/reports/sweep-differences.ts';
import type { SweepDocument } from '../../../../src/core/reports/sweep.ts';

type Band = SweepDocument['bands'][number];
const band = (from: number, to: number, more: Partial<Band> = {}): Band => ({
  kind: 'overflow',
  rule: 'overflow/page',
  grade: 'wrong',
  subject: 'body > main',
  other: null,
  from,
  to,
  px: 10,
  worst: from,
  what: 'main sticks out',
  ...more,
});
const flip = (width: number, what = 'The page begins to scroll'): SweepDocument['flips'][number] => ({
  width,
  what,
  path: null,
  places: 1,
  condition: null,
  source: null,
});
const sweep = (bands: Band[], flips: SweepDocument['flips'] = []): SweepDocument => ({
  normetra: 'sweep/1',
  page: 'index.html',
  engine: { name: 'chromium', version: '1' },
  defaults: 'as-rendered',
  from: 240,
  to: 1920,
  readings: 20,
  overflow: [],
  bands,
  flips,
  breakpoints: [],
  never: [],
});

const NAMES = ['chromium', 'firefox'];
const CASES: [string, SweepDocument[], string[][]][] = [
  ['the same', [sweep([band(300, 400)]), sweep([band(300, 400)])], []],
  ['the same to 2 px', [sweep([band(300, 400)], [flip(500)]), sweep([band(301, 402)], [flip(498)])], []],
  ['later in one', [sweep([band(300, 400)]), sweep([band(300, 410)])], [['300–400', '300–410']]],
  ['in one alone', [sweep([]), sweep([band(300, 300)])], [['not there', '300']]],
  [
    'two runs in one',
    [sweep([band(300, 400)]), sweep([band(300, 340), band(360, 400)])],
    [['300–400', '300–340, 360–400']],
  ],
  ['a change elsewhere', [sweep([], [flip(500)]), sweep([], [flip(520)])], [['500', '520']]],
  ['what is meant is none', [sweep([]), sweep([band(300, 400, { grade: 'meant' })])], []],
  [
    'numbers in words make no other change',
    [sweep([], [flip(500, 'p is 3 lines')]), sweep([], [flip(501, 'p is 4 lines')])],
    [],
  ],
];
for (const [name, documents, wanted] of CASES)
  test(`sweeps by engine: ${name}`, () => {
    const list = sweepDifferences(documents, NAMES);
    const runs = list.map(({ engines }) =>
      engines.map(({ at }) =>
        at.length === 0
          ? 'not there'
          : at.map(({ from, to }) => (from === to ? `${from}` : `${from}–${to}`)).join(', '),
      ),
    );
    assert.deepEqual(runs, wanted);
    for (const run of runs.flat()) assert.ok(sweepDifferencesText(list).includes(run));
  });

test('sweeps by engine: where none differs, it says so', () =>
  assert.match(sweepDifferencesText([]), /^All engines change at the same widths/));
