/** How facts come to a grade. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import {
  againstOf,
  facts,
  gradeOf,
  isWorseGrade,
  reasonOf,
  strengthOf,
  type Fact,
  type Grade,
} from '../../../src/core/evidence/model.ts';
import { priorOf, STRENGTHS, type SignalId } from '../../../src/core/evidence/strengths.ts';
import { acrossWidths } from '../../../src/core/proof/across-widths.ts';
import { RULES } from '../../../src/core/rules/index.ts';
import { invalidAreas, evenAreas } from '../../../src/core/css/values/template-areas.ts';
import { nearestWords } from '../../../src/core/css/syntax/spelling.ts';
import { keywordsOf } from '../../../src/core/css/syntax/property-syntax.ts';
import { righted } from '../../../src/core/remedies/declaration.ts';

const fact = (signal: SignalId): Fact => ({ signal, words: signal });

describe('grades', () => {
  const CASES: [prior: number, signals: SignalId[], grade: Grade][] = [
    [2, [], 'wrong'],
    [1, [], 'wrong'],
    [0.5, [], 'doubtful'],
    [-1, [], 'meant'],
    [2, ['layered-by-hand'], 'doubtful'],
    [2, ['layered-by-hand', 'letters-cut-through'], 'wrong'],
    [2, ['layered-by-hand', 'opens-over-the-page'], 'meant'],
    [2, ['moved-by-transform'], 'meant'],
    [2, ['scripts-are-held'], 'doubtful'],
    [0, ['made-to-meet'], 'wrong'],
  ];
  for (const [prior, signals, grade] of CASES)
    test(`${prior} with ${signals.join(', ') || 'nothing'} is ${grade}`, () =>
      assert.equal(gradeOf(prior, signals.map(fact)), grade));

  test('a fact that is told twice counts once', () =>
    assert.equal(gradeOf(2, [fact('scripts-are-held'), fact('scripts-are-held')]), 'doubtful'));

  test('what does not hold is left out', () =>
    assert.deepEqual(facts(['pile', false], ['closed', 'It is closed']), [
      { signal: 'closed', words: 'It is closed' },
    ]));

  test('every strength speaks for one side', () => {
    for (const [signal, strength] of Object.entries(STRENGTHS)) {
      assert.notEqual(strength, 0, signal);
      assert.ok(Math.abs(strength) <= 4, signal);
    }
  });

  test('every rule can be graded wrong by itself or by what speaks for it', () => {
    const most = Object.values(STRENGTHS).reduce((sum, strength) => sum + Math.max(0, strength), 0);
    for (const { id } of RULES) assert.ok(priorOf(id) + most >= 1, id);
  });

  test('the reason is the strongest fact against it', () => {
    const evidence = [fact('unlike-sorts'), fact('pile'), fact('much-is-cut')];
    assert.equal(reasonOf({ grade: 'meant', evidence }), 'pile');
    assert.deepEqual(againstOf({ grade: 'wrong', evidence }), []);
    assert.match(reasonOf({ grade: 'doubtful', evidence: [] }), /Little speaks/);
    assert.ok(strengthOf(evidence[2]!) > 0);
    assert.ok(isWorseGrade('wrong', 'doubtful') && !isWorseGrade('meant', 'doubtful'));
  });
});

describe('grades across widths', () => {
  const observation = {
    kind: 'gap',
    rule: 'gap/held-open',
    axis: 'y',
    px: 90,
    least: 90,
    subject: 0,
    other: null,
    places: [0],
    variant: null,
    what: '',
    evidence: [fact('mostly-empty')],
    grade: 'doubtful',
    boxes: [0],
    weight: 10,
    source: null,
  } as const;
  const reading = {
    count: 1,
    parent: [-1],
    tag: [0],
    idName: [-1],
    classes: [-1],
    via: [0],
    strings: ['html'],
  };
  const at = (...widths: number[]) =>
    acrossWidths(
      new Map(
        [360, 768, 1280].map((width) => [
          width,
          { analysis: { reading } as never, found: widths.includes(width) ? [observation as never] : [] },
        ]),
      ),
    );
  test('what is there at some widths speaks for a mistake', () => {
    const [found] = at(360);
    assert.equal(found!.observation.grade, 'wrong');
    assert.ok(found!.observation.evidence.some(({ signal }) => signal === 'at-some-widths'));
  });
  test('what is there at all of them says nothing more', () =>
    assert.equal(at(360, 768, 1280)[0]!.observation.grade, 'doubtful'));
});

describe('what was likely meant', () => {
  const RIGHTED: [property: string, value: string, right: string | null][] = [
    ['width', '20 px', 'width: 20px'],
    ['width', '20', 'width: 20px'],
    ['widht', '20px', 'width: 20px'],
    ['display', 'felx', 'display: flex'],
    ['display', '"flex"', 'display: flex'],
    ['margin', '1px, 2px', 'margin: 1px 2px'],
    ['margin-top', '1px 2px', 'margin-top: 1px'],
    ['width', 'calc(100%-20px)', 'width: calc(100% - 20px)'],
    ['padding', '-4px', 'padding: 4px'],
    ['grid-template-areas', '"a a" "b"', 'grid-template-areas: "a a" "b b"'],
    ['width', 'red', null],
  ];
  for (const [property, value, right] of RIGHTED)
    test(`${property}: ${value}`, () => {
      const found = righted(property, value);
      assert.equal(found && `${found.property}: ${found.value}`, right);
    });

  test('areas are rectangles in rows that are equally long', () => {
    assert.equal(invalidAreas('"a a" "b c"'), null);
    assert.match(invalidAreas('"a a" "b"')!, /2 and 1 columns/);
    assert.match(invalidAreas('"a b" "b a"')!, /no rectangle/);
    assert.equal(evenAreas('"a b" "b a"'), null);
  });

  test('words near to another', () => {
    assert.deepEqual(nearestWords('sied', ['head', 'side', 'main']), ['side']);
    assert.deepEqual(nearestWords('x', ['head']), []);
    assert.ok(keywordsOf('display').includes('flex'));
    assert.deepEqual(keywordsOf('no-such-property'), []);
  });
});
