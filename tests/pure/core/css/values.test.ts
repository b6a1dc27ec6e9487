/** Lengths, variables, logical sides and addresses: small tables, each by its specification. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { pathInFrame, pathOf } from '../../../../src/core/css/syntax/addresses.ts';
import { lengthNote, lengthPx, type LengthContext } from '../../../../src/core/css/values/lengths.ts';
import { physical, sameSideOf } from '../../../../src/core/css/cascade/properties.ts';
import { documentReferences, sheetReferences } from '../../../../src/core/css/syntax/references.ts';
import { substitute } from '../../../../src/core/css/values/variables.ts';

const CONTEXT: LengthContext = {
  em: 20,
  emOf: 'own font size',
  rem: 14,
  remOf: 'html font-size 0.875 × 16',
  zero: 9,
  xHeight: 7,
  lineHeight: 30,
  rootLineHeight: 21,
  viewport: { width: 1000, height: 500 },
  percentBase: 400,
  percentOf: 'width of main',
};

const LENGTHS: [string, number, string | null][] = [
  ['12px', 12, null],
  ['0', 0, null],
  ['1rem', 14, '1rem = 14px: 1 × 14 (html font-size 0.875 × 16)'],
  ['1.5em', 30, '1.5em = 30px: 1.5 × 20 (own font size)'],
  ['25%', 100, '25% = 100px: 25 % of 400 (width of main)'],
  ['10vw', 100, '10vw = 100px: 10 % of 1000 (viewport width)'],
  ['10svh', 50, '10svh = 50px: 10 % of 500 (viewport height)'],
  ['1vmin', 5, '1vmin = 5px: 1 % of the shorter viewport side'],
  ['2lh', 60, '2lh = 60px: 2 × 30 (line height)'],
  ['12pt', 16, '12pt = 16px: 12 × 1.33 px'],
  ['10ch', 90, '10ch = 90px: 10 × 9 (width of 0 in its font)'],
  ['10ex', 70, '10ex = 70px: 10 × 7 (height of x in its font)'],
  ['2cap', NaN, '2cap = 2 × a measure of the font itself'],
  [
    'calc(100% - 2 * 1rem)',
    372,
    'calc(100% - 2 * 1rem) = 372px; 100% = 400px: 100 % of 400 (width of main); 1rem = 14px: 1 × 14 (html font-size 0.875 × 16)',
  ],
  ['min(10px, 50%)', 10, 'min(10px, 50%) = 10px; 50% = 200px: 50 % of 400 (width of main)'],
  ['clamp(1rem, 2px + 1vw, 10px)', 14, null],
  ['max(1px, (3px + 2px) * 2)', 10, null],
  ['auto', NaN, null],
  ['calc(1px +)', NaN, null],
];

const VARIABLES: [string, string | null][] = [
  ['var(--a)', '1px'],
  ['0 var( --a ) calc(var(--b) * 2)', '0 1px calc(2px * 2)'],
  ['var(--none, 3px)', '3px'],
  ['var(--none, var(--a))', '1px'],
  ['var(--none,)', ''],
  ['var(--none)', null],
  ['var(--none, var(--nor-this))', null],
  ['"var(--a)"', '"var(--a)"'],
];

const SIDES: [string, string, string, string][] = [
  ['margin-inline-start', 'horizontal-tb', 'ltr', 'margin-left'],
  ['margin-inline-start', 'horizontal-tb', 'rtl', 'margin-right'],
  ['border-block-end-width', 'vertical-rl', 'ltr', 'border-left-width'],
  ['padding-inline-end', 'vertical-lr', 'rtl', 'padding-top'],
  ['inline-size', 'vertical-rl', 'ltr', 'height'],
  ['min-block-size', 'horizontal-tb', 'ltr', 'min-height'],
  ['inset-inline-start', 'sideways-lr', 'ltr', 'bottom'],
  ['overflow-inline', 'vertical-lr', 'ltr', 'overflow-y'],
  ['width', 'vertical-rl', 'ltr', 'width'],
];

const ADDRESSES: [string, string, string | null, string | null][] = [
  ['a.css', 'page/index.html', null, 'page/a.css'],
  ['../a.css', 'page/index.html', null, 'a.css'],
  ['../../../a.css', 'page/index.html', null, 'a.css'],
  ['/assets/a%20b.css', 'page/index.html', null, 'assets/a b.css'],
  ['a.css', 'page/index.html', 'deep/', 'page/deep/a.css'],
  ['a.css?v=1#x', 'index.html', null, 'a.css'],
  ['http://elsewhere.invalid/a.css', 'index.html', null, null],
  ['//elsewhere.invalid/a.css', 'index.html', null, null],
  ['data:text/css,x', 'index.html', null, null],
  ['%zz', 'index.html', null, null],
];

describe('values', () => {
  for (const [value, px, note] of LENGTHS)
    test(`length ${value}`, () => {
      assert.equal(Math.round(lengthPx(value, CONTEXT) * 100) / 100, px);
      if (note !== null) assert.equal(lengthNote(value, CONTEXT), note);
    });
  for (const [value, expected] of VARIABLES)
    test(`substitution in ${value}`, () =>
      assert.equal(
        substitute(value, (name) => ({ '--a': '1px', '--b': '2px' })[name] ?? null),
        expected,
      ));
  for (const [property, writingMode, direction, expected] of SIDES)
    test(`${property} in ${writingMode} ${direction}`, () =>
      assert.equal(physical(property, { writingMode, direction }), expected));
  test('the side of a default turns with the text', () => {
    assert.equal(
      sameSideOf('padding-right', { writingMode: 'horizontal-tb', direction: 'rtl' }),
      'padding-left',
    );
    assert.equal(sameSideOf('margin-right', { writingMode: 'vertical-rl', direction: 'ltr' }), 'margin-top');
    assert.equal(sameSideOf('width', { writingMode: 'vertical-rl', direction: 'ltr' }), 'width');
  });
  for (const [address, from, base, expected] of ADDRESSES)
    test(`address ${address} from ${from}`, () => assert.equal(pathOf(address, from, base), expected));
  test('addresses as a frame gives them', () => {
    assert.equal(pathInFrame('http://k.localhost:1/css/a.css', '', 'http://k.localhost:1/'), 'css/a.css');
    assert.equal(pathInFrame('http://host:1/frame/k/css/a.css', '', 'http://host:1/frame/k/'), 'css/a.css');
    assert.equal(pathInFrame('http://host:1/css/a.css', '', 'http://host:1/frame/k/'), 'css/a.css');
    assert.equal(pathInFrame('deep.css', 'css/a.css', 'http://k.localhost:1/'), 'css/deep.css');
  });
});

describe('references', () => {
  test('of a page', () => {
    const html =
      '<base href="b/"><link rel=stylesheet href=a.css><link rel="alternate stylesheet" href=no.css>\n<img src=i.png srcset="j.png 1x, k.png 2x">' +
      '<style>\n@import "s.css"; p { background: url("t.png") } @font-face { src: url(f.woff2) }</style><div style="background:url(u.png)"></div><iframe src=f.html></iframe><template><img src=v.png></template>';
    const { base, references } = documentReferences('p.html', html);
    assert.equal(base, 'b/');
    assert.deepEqual(
      references.map(({ address, line, what }) => `${address}:${line} ${what}`),
      [
        'a.css:1 style sheet',
        'i.png:2 image',
        'j.png:2 image',
        'k.png:2 image',
        's.css:3 style sheet',
        't.png:3 image',
        'f.woff2:3 font',
        'u.png:3 image',
        'f.html:3 frame',
        'v.png:3 image',
      ],
    );
  });
  test('of a sheet', () => {
    const found = sheetReferences(
      'a.css',
      '@import url(x.css) print;\n@namespace url(http://n.invalid);\n.a { background: url( "y z.png" ) }',
    );
    assert.deepEqual(
      found.map(({ address, line, what }) => [address, line, what]),
      [
        ['x.css', 1, 'style sheet'],
        ['y z.png', 3, 'image'],
      ],
    );
  });
});
