import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { expand, longhandsOf } from '../../../../src/core/css/cascade/shorthands.ts';

const CASES: [string, string][] = [
  ['margin: 1px', 'margin-top: 1px; margin-right: 1px; margin-bottom: 1px; margin-left: 1px'],
  ['margin: 1px 2px', 'margin-top: 1px; margin-right: 2px; margin-bottom: 1px; margin-left: 2px'],
  ['margin: 1px auto 3px', 'margin-top: 1px; margin-right: auto; margin-bottom: 3px; margin-left: auto'],
  ['padding: 1px 2px 3px 4px', 'padding-top: 1px; padding-right: 2px; padding-bottom: 3px; padding-left: 4px'],
  [
    'padding: calc(1px + 2px) max(3px, 1em)',
    'padding-top: calc(1px + 2px); padding-right: max(3px, 1em); padding-bottom: calc(1px + 2px); padding-left: max(3px, 1em)',
  ],
  ['inset: 0 auto', 'top: 0; right: auto; bottom: 0; left: auto'],
  ['margin-inline: 1px 2px', 'margin-inline-start: 1px; margin-inline-end: 2px'],
  ['inset-block: 3px', 'inset-block-start: 3px; inset-block-end: 3px'],
  [
    'border-left: thick double',
    'border-left-width: thick; border-left-style: double; border-left-color: currentcolor',
  ],
  [
    'border-width: 1px 2px',
    'border-top-width: 1px; border-right-width: 2px; border-bottom-width: 1px; border-left-width: 2px',
  ],
  [
    'border-inline: red',
    'border-inline-start-width: medium; border-inline-start-style: none; border-inline-start-color: red; border-inline-end-width: medium; border-inline-end-style: none; border-inline-end-color: red',
  ],
  ['flex: 1', 'flex-grow: 1; flex-shrink: 1; flex-basis: 0%'],
  ['flex: auto', 'flex-grow: 1; flex-shrink: 1; flex-basis: auto'],
  ['flex: none', 'flex-grow: 0; flex-shrink: 0; flex-basis: auto'],
  ['flex: 2 0 10px', 'flex-grow: 2; flex-shrink: 0; flex-basis: 10px'],
  ['flex: 0', 'flex-grow: 0; flex-shrink: 1; flex-basis: 0%'],
  ['flex: 10em', 'flex-grow: 1; flex-shrink: 1; flex-basis: 10em'],
  ['flex-flow: column wrap', 'flex-direction: column; flex-wrap: wrap'],
  [
    'font: italic bold 12px/30px Georgia, serif',
    'font-style: italic; font-variant: normal; font-weight: bold; font-stretch: normal; line-height: 30px; font-size: 12px; font-family: Georgia, serif',
  ],
  [
    'font: 600 1em "A B"',
    'font-style: normal; font-variant: normal; font-weight: 600; font-stretch: normal; line-height: normal; font-size: 1em; font-family: "A B"',
  ],
  ['overflow: hidden scroll', 'overflow-x: hidden; overflow-y: scroll'],
  ['gap: 1px 2px', 'row-gap: 1px; column-gap: 2px'],
  [
    'grid-area: 1 / 2 / span 3',
    'grid-row-start: 1; grid-column-start: 2; grid-row-end: span 3; grid-column-end: auto',
  ],
  ['grid-area: a', 'grid-row-start: a; grid-column-start: a; grid-row-end: a; grid-column-end: a'],
  [
    'grid-template: "a b" 20px "c d" / 1fr 2fr',
    'grid-template-areas: "a b" "c d"; grid-template-rows: 20px auto; grid-template-columns: 1fr 2fr',
  ],
  ['place-items: center start', 'align-items: center; justify-items: start'],
  ['columns: 2 100px', 'column-width: 100px; column-count: 2'],
  ['list-style: none', 'list-style-position: outside; list-style-image: none; list-style-type: none'],
  ['-webkit-box-sizing: border-box', 'box-sizing: border-box'],
  ['word-wrap: break-word', 'overflow-wrap: break-word'],
  [
    'margin: inherit',
    'margin-top: inherit; margin-right: inherit; margin-bottom: inherit; margin-left: inherit',
  ],
  ['width: 3px', 'width: 3px'],
];

describe('shorthands', () => {
  for (const [declaration, expected] of CASES)
    test(declaration, () => {
      const cut = declaration.indexOf(': ');
      const longhands = expand(declaration.slice(0, cut), declaration.slice(cut + 2))!;
      assert.deepEqual(
        Object.entries(longhands)
          .map(([name, value]) => `${name}: ${value}`)
          .sort(),
        expected.split('; ').sort(),
      );
    });
  test('border sets all of width, style and colour', () => {
    assert.equal(Object.keys(expand('border', '5px solid red')!).length, 12);
    assert.equal(expand('border', 'solid')!['border-top-width'], 'medium');
  });
  test('a shorthand with var() waits for its substitution, and says what it will set', () => {
    assert.equal(expand('padding', 'var(--x) 2px'), null);
    assert.deepEqual(longhandsOf('padding'), [
      'padding-top',
      'padding-right',
      'padding-bottom',
      'padding-left',
    ]);
  });
});
