/** The language in which wishes are written, and grades that a user gives. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { userGradeOf, type UserGrade } from '../../../src/core/evidence/user-grades.ts';
import type { Observation } from '../../../src/core/finding.ts';
import { parseProject, projectText } from '../../../src/core/reports/project.ts';
import { relationWords, type Relation } from '../../../src/core/wishes/model.ts';
import { parseRelation, parseWish } from '../../../src/core/wishes/parse.ts';

const WISHES: [text: string, selector: string, relation: Relation][] = [
  ['.card: 300 wide', '.card', { is: 'size', axis: 'x', bound: 'equal', px: 300 }],
  ['.card: at most 300px wide', '.card', { is: 'size', axis: 'x', bound: 'at-most', px: 300 }],
  ['p: at least 40.5 tall', 'p', { is: 'size', axis: 'y', bound: 'at-least', px: 40.5 }],
  ['a:hover: square', 'a:hover', { is: 'ratio', ratio: 1 }],
  ['img: in ratio 16/9', 'img', { is: 'ratio', ratio: 16 / 9 }],
  ['a[title="x: y"]: one line', 'a[title="x: y"]', { is: 'lines', bound: 'equal', count: 1 }],
  ['li:is(.a, .b): at most 2 lines', 'li:is(.a, .b)', { is: 'lines', bound: 'at-most', count: 2 }],
  ['h2:  whole   text', 'h2', { is: 'whole-text' }],
  ['.a: as wide as .b > i', '.a', { is: 'size-of', axis: 'x', other: '.b > i' }],
  [
    '.a: at least 16 left of .b',
    '.a',
    { is: 'distance', side: 'left', bound: 'at-least', px: 16, other: '.b' },
  ],
  ['.a: -4 below .b', '.a', { is: 'distance', side: 'below', bound: 'equal', px: -4, other: '.b' }],
  ['.a: right flush with .b', '.a', { is: 'flush', side: 'right', other: '.b' }],
  ['.a: centred down in what is around it', '.a', { is: 'centred', axis: 'y', other: 'what is around it' }],
  ['.a: not over the next one', '.a', { is: 'not-over', other: 'the next one' }],
  ['html: no scroll across', 'html', { is: 'no-scroll', axis: 'x' }],
];

const REFUSED: [text: string, why: RegExp][] = [
  ['', /names no box/],
  ['.card', /names no box/],
  ['.card:square', /names no box/],
  [': square', /no selector before its colon/],
  ['.card: squarish', /no relation.*square/],
  ['.card: 300 long', /no relation/],
  ['.card: in ratio 3/0', /no ratio/],
  ['.card: 0 lines', /one line at least/],
  ['.card: as wide as', /no relation/],
];

describe('wishes', () => {
  for (const [text, selector, relation] of WISHES)
    test(text, () => {
      assert.deepEqual(parseWish(text), { selector, relation });
      const words = relationWords(relation, (path) => path);
      if (relation.is !== 'ratio' || relation.ratio === 1)
        assert.deepEqual(parseRelation(words.replace('−', '-')), relation, `read again: ${words}`);
    });
  for (const [text, why] of REFUSED)
    test(`refused: “${text}”`, () => {
      assert.throws(
        () => parseWish(text),
        (error: unknown) => error instanceof SyntaxError && why.test(error.message),
      );
    });
});

const GRADE: UserGrade = {
  page: '',
  rule: 'size/square',
  place: '',
  declaration: '',
  grade: 'meant',
  why: 'so',
};
const TOLD = { rule: 'size/square', kind: 'size', places: [4, 7], source: null } as unknown as Observation;
const elementsOf = (place: string): ReadonlySet<number> => new Set(place === '.seat' ? [7] : []);

describe('grades of the user', () => {
  const CASES: [what: string, grades: Partial<UserGrade>[], chosen: number | null][] = [
    ['of the rule', [{}], 0],
    ['of the kind', [{ rule: 'size' }], 0],
    ['of another rule', [{ rule: 'size/declared' }], null],
    ['of another page', [{ page: 'b.html' }], null],
    ['of a place that it is seen in', [{ place: '.seat' }], 0],
    ['of a place that it is not seen in', [{ place: '.row' }], null],
    ['of a declaration that it is not about', [{ declaration: 'width: 40px' }], null],
    ['a place goes before a rule', [{ place: '.seat' }, {}], 0],
    ['a page goes before all pages', [{ page: 'a.html' }, {}], 0],
    ['of two alike the later', [{}, { grade: 'wrong' }], 1],
  ];
  for (const [what, list, chosen] of CASES)
    test(what, () => {
      const grades = list.map((one) => ({ ...GRADE, ...one }));
      const found = userGradeOf(grades, TOLD, 'a.html', elementsOf);
      assert.equal(found, chosen === null ? null : grades[chosen]);
    });

  test('a file says the same when it is read again', () => {
    const grades: UserGrade[] = [
      GRADE,
      { ...GRADE, page: 'a.html', place: '.seat', declaration: 'width: 40px', grade: 'wrong' },
    ];
    assert.deepEqual(parseProject(projectText(grades)), grades);
  });

  const FILES: [text: string, why: RegExp][] = [
    ['{', /no JSON/],
    ['{"normetra":"project/2","grades":[]}', /normetra must be "project\/1"/],
    [
      '{"normetra":"project/1","grades":[{"rule":"size/sqare","grade":"meant","why":"x"}]}',
      /grades\[0\]\.rule must be the id of a rule/,
    ],
    [
      '{"normetra":"project/1","grades":[{"rule":"size","grade":"fine","why":"x"}]}',
      /grades\[0\]\.grade must be wrong, doubtful or meant/,
    ],
    ['{"normetra":"project/1","grades":[{"rule":"size","grade":"meant","why":""}]}', /why must say why/],
  ];
  for (const [text, why] of FILES)
    test(`refused: ${text}`, () => {
      assert.throws(
        () => parseProject(text),
        (error: unknown) => error instanceof SyntaxError && why.test(error.message),
      );
    });
});
