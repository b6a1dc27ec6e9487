import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import {
  resolveNesting,
  selectorsOf,
  specificity,
  splitPseudo,
} from '../../../../src/core/css/syntax/selectors.ts';

/** Selectors 4 §17, its own examples among them. */
const WEIGHTS: [string, string][] = [
  ['*', '0,0,0'],
  ['li', '0,0,1'],
  ['ul li', '0,0,2'],
  ['ul ol+li', '0,0,3'],
  ['h1 + *[rel=up]', '0,1,1'],
  ['ul ol li.red', '0,1,3'],
  ['li.red.level', '0,2,1'],
  ['#x34y', '1,0,0'],
  ['#s12:not(foo)', '1,0,1'],
  ['.foo :is(.bar, #baz)', '1,1,0'],
  [':where(#a, .b) c', '0,0,1'],
  [':has(> #a, b)', '1,0,0'],
  ['a:hover::before', '0,1,2'],
  ['p:first-line', '0,0,2'],
  [':nth-child(2n + 1 of .a, #b)', '1,1,0'],
  [':nth-child(even)', '0,1,0'],
  ['[title="a # b"]', '0,1,0'],
  ['svg|rect', '0,0,1'],
  [':host(.x) ::slotted(p.y)', '0,3,2'],
  ['.a\\:b', '0,1,0'],
  ['a:not(.b:is(#c, d))', '1,1,1'],
];

const PSEUDO: [selector: string, query: string, pseudo: string | null, end?: string][] = [
  ['p::before', 'p', 'before', '::before'],
  ['p:after', 'p', 'after', ':after'],
  ['::marker', '*', 'marker', '::marker'],
  ['ul > ::before', 'ul > *', 'before', '::before'],
  ['i::-webkit-thumb:horizontal', 'i', '-webkit-thumb', '::-webkit-thumb:horizontal'],
  ['i::part(a b)', 'i', 'part', '::part(a b)'],
  ['p:hover', 'p:hover', null],
  [':is(p, i)', ':is(p, i)', null],
];

/** CSS Nesting 1 §3. */
const NESTED: [string, string[], string[]][] = [
  ['.b', ['.a'], [':is(.a) .b']],
  ['& + &', ['.a'], [':is(.a) + :is(.a)']],
  ['> i, .x &', ['.a, .b'], [':is(.a,.b) > i', '.x :is(.a,.b)']],
  ['&:hover', ['.a', '& .b'], [':is(:is(.a) .b):hover']],
  ['& p', [], [':where(:scope) p']],
];

/** CSS Cascade 6 §2.5.2. */
const SCOPED: [string, string[], string[]][] = [
  ['.b', [], [':where(:scope) .b']],
  ['> .b, + .c', [], [':where(:scope) > .b', ':where(:scope) + .c']],
  [':scope.b, & i, .x :scope', [], [':scope.b', ':where(:scope) i', '.x :scope']],
  ['.y &', ['.b'], ['.y :is(:where(:scope) .b)']],
  ['.y', ['.b'], [':is(:where(:scope) .b) .y']],
];

describe('selectors', () => {
  for (const [prelude, parents, expected] of SCOPED)
    test(`in a scope: ${parents.join(' { ')} { ${prelude}`, () =>
      assert.deepEqual(resolveNesting(prelude, parents, true), expected));
  for (const [selector, expected] of WEIGHTS)
    test(`specificity of ${selector}`, () => assert.equal(specificity(selector).join(','), expected));
  for (const [selector, query, pseudo, end = ''] of PSEUDO)
    test(`pseudo-element of ${selector}`, () =>
      assert.deepEqual(splitPseudo(selector), { query, pseudo, end }));
  for (const [prelude, parents, expected] of NESTED)
    test(`${parents.join(' { ')} { ${prelude}`, () =>
      assert.deepEqual(resolveNesting(prelude, parents), expected));
  test('each selector of a list keeps what was written and weighs by itself', () => {
    assert.deepEqual(
      selectorsOf('.a, #b i::before', []).map(({ text, query, specificity: weight, pseudo }) => [
        text,
        query,
        weight.join(','),
        pseudo,
      ]),
      [
        ['.a', '.a', '0,1,0', null],
        ['#b i::before', '#b i', '1,0,2', 'before'],
      ],
    );
  });
});
