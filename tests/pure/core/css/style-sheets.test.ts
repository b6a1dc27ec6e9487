import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { placeIn } from '../../../../src/core/css/syntax/source-positions.ts';
import { parseSheet, type Sheet } from '../../../../src/core/css/syntax/style-sheets.ts';

const parse = (
  text: string,
  at: { line?: number; column?: number; form?: 'file' | 'element' | 'attribute' } = {},
): Sheet =>
  parseSheet({ file: 'a.css', text, line: at.line ?? 1, column: at.column ?? 1, form: at.form ?? 'file' });

/** Rules as `selector { property@line:column: value }`, with what is around them. */
function shown(sheet: Sheet): string[] {
  return sheet.rules.map((rule) => {
    const around = [
      ...rule.conditions.map(({ kind, text }) => `@${kind} ${text}`.trim()),
      ...(rule.layer
        ? [`layer ${rule.layer.map((name) => (name.startsWith('(') ? '(anonymous)' : name)).join('.')}`]
        : []),
    ];
    const declarations = rule.declarations.map((declaration) => {
      const { line, column } = placeIn(sheet, declaration.start);
      return `${declaration.property}@${line}:${column}: ${declaration.value}${declaration.important ? ' !' : ''}`;
    });
    return [...around, [...rule.parents, rule.prelude].join(' > '), `{ ${declarations.join('; ')} }`].join(' ');
  });
}

const CASES: [string, string, string[]][] = [
  ['a declaration has its line and column', '.a {\n  width: 1px;\n}', ['.a { width@2:3: 1px }']],
  [
    'a minified sheet has columns on one line',
    '.a{width:1px;height:2px}.b{top:0}',
    ['.a { width@1:4: 1px; height@1:14: 2px }', '.b { top@1:28: 0 }'],
  ],
  [
    'a comment is no part of a value, and does not move what follows',
    '.a { /* x\n*/ width: 1px /* y */ ; }',
    ['.a { width@2:4: 1px }'],
  ],
  [
    'importance is taken off the value',
    '.a { width: 1px ! IMPORTANT; --x: y !important }',
    ['.a { width@1:6: 1px !; --x@1:30: y ! }'],
  ],
  [
    'an invalid declaration is kept as written',
    '.a { widht: 7rem; padding: 8 px; *zoom: 1 }',
    ['.a { widht@1:6: 7rem; padding@1:19: 8 px; *zoom@1:34: 1 }'],
  ],
  [
    'a custom property keeps its braces',
    '.a { --x: { a: b }; width: 1px }',
    ['.a { --x@1:6: { a: b }; width@1:21: 1px }'],
  ],
  [
    'rules nest, and what follows them is a rule of its own',
    '.a { top: 1px; & b { left: 2px } right: 3px }',
    ['.a { top@1:6: 1px }', '.a > & b { left@1:22: 2px }', '.a { right@1:34: 3px }'],
  ],
  [
    'a group rule nests in a style rule',
    '.a { @media (width > 1px) { top: 1px; i { left: 0 } } }',
    ['.a {  }', '@media (width > 1px) .a { top@1:29: 1px }', '@media (width > 1px) .a > i { left@1:43: 0 }'],
  ],
  [
    'conditions and layers add up',
    '@layer x { @supports (a: b) { @layer y { .a { top: 0 } } } }',
    ['@supports (a: b) layer x.y .a { top@1:47: 0 }'],
  ],
  [
    'an anonymous layer has a name that no author can write',
    '@layer { .a { top: 0 } }',
    ['layer (anonymous) .a { top@1:15: 0 }'],
  ],
  [
    'what is broken ends where the parser says',
    '.a { width: 1px; } }\n.b { top: 0',
    ['.a { width@1:6: 1px }', '}\n.b { top@2:6: 0 }'],
  ],
  [
    'a string may hold braces',
    '.a::before { content: "}{" ; top: 0 }',
    ['.a::before { content@1:14: "}{"; top@1:30: 0 }'],
  ],
  [
    'keyframes and font faces hold no style rules',
    '@keyframes k { from { top: 0 } } @font-face { src: url(x) } .a { top: 0 }',
    ['.a { top@1:66: 0 }'],
  ],
];

describe('parsing sheets', () => {
  for (const [name, text, expected] of CASES) test(name, () => assert.deepEqual(shown(parse(text)), expected));

  test('a style element is placed in its HTML file', () => {
    const sheet = parse('.a{top:0}\n.b{left:0}', { line: 7, column: 12, form: 'element' });
    assert.deepEqual(shown(sheet), ['.a { top@7:15: 0 }', '.b { left@8:4: 0 }']);
  });

  test('a style attribute is one rule without a selector', () => {
    assert.deepEqual(shown(parse('width: 1px; height: 2px', { line: 3, column: 20, form: 'attribute' })), [
      ' { width@3:20: 1px; height@3:32: 2px }',
    ]);
  });

  const imports: [string, string, string[] | null, string[]][] = [
    ['@import "a.css";', 'a.css', null, []],
    ['@import url(a.css) screen and (min-width: 1px);', 'a.css', null, ['media screen and (min-width: 1px)']],
    [
      '@import url("a b.css") layer(x.y) supports(display: grid) print;',
      'a b.css',
      ['x', 'y'],
      ['supports (display: grid)', 'media print'],
    ],
    ["@import 'a.css' supports((a: b) and (not (c: d)));", 'a.css', null, ['supports (a: b) and (not (c: d))']],
  ];
  for (const [text, address, layer, conditions] of imports)
    test(text, () => {
      const [found] = parse(text).imports;
      assert.equal(found!.address, address);
      assert.deepEqual(found!.layer, layer);
      assert.deepEqual(
        found!.conditions.map(({ kind, text: text }) => `${kind} ${text}`),
        conditions,
      );
    });

  test('registered custom properties', () => {
    assert.deepEqual(
      parse("@property --x { syntax: '<length>'; inherits: false; initial-value: 7px }").registrations,
      [{ name: '--x', inherits: false, initial: '7px' }],
    );
  });
});
