/** Edits laid over files, table by table: what the files come to, and what is written out of them. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { collapseShorthands, collapseSides } from '../../../src/core/css/cascade/collapse-shorthands.ts';
import { editSchema, laidAt, type BlockTarget, type Change, type Edit } from '../../../src/core/trials/edit.ts';
import { overlay } from '../../../src/core/trials/overlay.ts';
import {
  applyPatches,
  mapBack,
  offsetOf,
  placeOf,
  settled,
  type Patch,
} from '../../../src/core/trials/text-patch.ts';
import { declarationAt, readFiles } from '../../../src/core/trials/targets.ts';
import { inUnit, sideEdits, type Side } from '../../../src/core/trials/side-edits.ts';
import { changedRules, inWords, unifiedDiff } from '../../../src/core/trials/write.ts';

const CSS = `.a { color: red; width: 10px }
@media (min-width: 600px) {
  .a {
    width: 20px;
    padding: 1px;
  }
}
.b{height:5px;height:6px}
.c {}
.d:hover > p, .d:focus { margin: 0 }
`;
const HTML = `<!doctype html><html><head><meta name="viewport" content="width=300"><style>.e { top: 1px }</style></head><body><p class="a">one</p><p style="margin: 0; color: red">two</p><div><b>three</b></div></body></html>`;
const TEXTS = { 'a.css': CSS, 'index.html': HTML };

const rule = (prelude: string, more: Partial<Extract<BlockTarget, { kind: 'rule' }>> = {}): BlockTarget => ({
  kind: 'rule',
  file: 'a.css',
  style: -1,
  prelude,
  conditions: [],
  nth: 0,
  ...more,
});
const edit = (change: Change, more: Partial<Edit> = {}): Edit => editSchema.parse({ id: 'e', change, ...more });
const change = (at: BlockTarget, property: string, value: string, nth = 0): Change => ({
  do: 'change',
  at,
  nth,
  was: '',
  property,
  value,
  important: false,
});
const mute = (at: BlockTarget, property: string, nth = 0): Change => ({
  do: 'mute',
  at,
  nth,
  was: '',
  property,
});
const add = (at: BlockTarget, property: string, value: string): Change => ({
  do: 'add',
  at,
  property,
  value,
  important: false,
});
const inline = (path: string): BlockTarget => ({ kind: 'inline', file: 'index.html', path });
const element = { file: 'index.html', path: 'body > p:nth-child(1)' };

/** One edit each: the file that it changes, and a part of what that file comes to. */
const LAID: [name: string, change: Change, file: string, part: string | RegExp][] = [
  ['a value', change(rule('.a'), 'width', '12px'), 'a.css', '.a { color: red; width: 12px }'],
  [
    'under a condition',
    change(rule('.a', { conditions: ['media (min-width: 600px)'] }), 'width', '21px'),
    'a.css',
    '    width: 21px;\n    padding: 1px;',
  ],
  ['the second of two', change(rule('.b'), 'height', '7px', 1), 'a.css', '.b{height:5px;height:7px}'],
  ['muted in one line', mute(rule('.a'), 'color'), 'a.css', '.a {  width: 10px }'],
  [
    'muted with its line',
    mute(rule('.a', { conditions: ['media (min-width: 600px)'] }), 'width'),
    'a.css',
    '  .a {\n    padding: 1px;\n  }',
  ],
  ['muted where minified', mute(rule('.b'), 'height'), 'a.css', '.b{height:6px}'],
  ['added to one line', add(rule('.a'), 'top', '1px'), 'a.css', '.a { color: red; width: 10px; top: 1px }'],
  [
    'added on a line of its own',
    add(rule('.a', { conditions: ['media (min-width: 600px)'] }), 'top', '1px'),
    'a.css',
    '    padding: 1px;\n    top: 1px;\n  }',
  ],
  ['added to an empty rule', add(rule('.c'), 'top', '1px'), 'a.css', '.c { top: 1px;}'],
  [
    'in a style element',
    change({ ...rule('.e'), file: 'index.html', style: 0 } as BlockTarget, 'top', '2px'),
    'index.html',
    '.e { top: 2px }',
  ],
  [
    'in a style attribute',
    change(inline('body > p:nth-child(2)'), 'margin', '1px'),
    'index.html',
    'style="margin: 1px; color: red"',
  ],
  [
    'a new style attribute',
    add(inline('body > div'), 'top', '"x"'),
    'index.html',
    '<div style="top: &quot;x&quot;;">',
  ],
  ['an element taken out', { do: 'remove', ...element }, 'index.html', '<body><p style'],
  [
    'an element twice',
    { do: 'duplicate', ...element },
    'index.html',
    '<p class="a">one</p><p class="a">one</p>',
  ],
  ['a text', { do: 'text', ...element, text: '1 < 2' }, 'index.html', '<p class="a">1 &lt; 2</p>'],
  ['markup', { do: 'markup', ...element, markup: '<i>x</i>' }, 'index.html', '<p class="a"><i>x</i></p>'],
  [
    'an attribute',
    { do: 'attribute', ...element, name: 'class', value: 'z' },
    'index.html',
    '<p class="z">one',
  ],
  ['an attribute gone', { do: 'attribute', ...element, name: 'class', value: null }, 'index.html', '<p>one'],
  [
    'a new attribute',
    { do: 'attribute', ...element, name: 'id', value: 'q' },
    'index.html',
    '<p id="q" class="a">',
  ],
  [
    'an element moved',
    { do: 'move', ...element, to: 'body > div', where: 'end' },
    'index.html',
    '<div><b>three</b><p class="a">one</p></div>',
  ],
  [
    'the viewport',
    { do: 'viewport', file: 'index.html', content: 'width=device-width' },
    'index.html',
    'content="width=device-width"',
  ],
  ['no viewport', { do: 'viewport', file: 'index.html', content: null }, 'index.html', '<head><style>'],
  [
    'a rule at the end of a sheet',
    {
      do: 'rule',
      at: { kind: 'sheet', file: 'a.css', style: -1 },
      selector: '.n',
      declarations: [{ property: 'top', value: '1px', important: true }],
    },
    'a.css',
    /\.n \{\n {2}top: 1px !important;\n\}\n$/,
  ],
  [
    'a rule in a sheet of its own',
    { do: 'rule', at: { kind: 'sheet', file: '', style: -1 }, selector: '.n', declarations: [] },
    'index.html',
    '<style>\n.n {\n}\n</style>\n</head>',
  ],
  [
    'a state on an element and on those around it',
    { do: 'state', file: 'index.html', path: 'body > div > b', states: ['hover', 'focus'] },
    'index.html',
    '<div data-normetra-state="hover focus-within"><b data-normetra-state="hover focus focus-within">',
  ],
  [
    'and what asks for it',
    { do: 'state', file: 'index.html', path: 'body > div > b', states: ['hover'] },
    'a.css',
    '.d:is(:hover, [data-normetra-state~="hover"]) > p, .d:is(:focus, [data-normetra-state~="focus"]) { margin: 0 }',
  ],
];

const REFUSED: [name: string, change: Change, why: RegExp][] = [
  ['a rule that is gone', change(rule('.zz'), 'top', '1px'), /a\.css has no rule \.zz/],
  ['a declaration that is gone', mute(rule('.a'), 'left'), /says nothing of left/],
  [
    'an element that is gone',
    { do: 'remove', file: 'index.html', path: 'body > table' },
    /no element body > table/,
  ],
  [
    'an element into itself',
    { do: 'move', file: 'index.html', path: 'body > div', to: 'body > div > b', where: 'end' },
    /into itself/,
  ],
  [
    'a sheet that is gone',
    { do: 'rule', at: { kind: 'sheet', file: 'z.css', style: -1 }, selector: 'p', declarations: [] },
    /no style sheet z\.css/,
  ],
];

describe('edits laid over files', () => {
  for (const [name, result, file, part] of LAID)
    test(name, () => {
      const { texts, failed } = overlay(TEXTS, [edit(result)], 'index.html');
      assert.deepEqual(failed, []);
      const text = texts[file] ?? '';
      if (typeof part === 'string') assert.ok(text.includes(part), text);
      else assert.match(text, part);
    });

  for (const [name, result, why] of REFUSED)
    test(`${name} is told`, () => {
      const { texts, failed } = overlay(TEXTS, [edit(result)], 'index.html');
      assert.deepEqual(texts, {});
      assert.match(failed[0]!.why, why);
    });

  test('several edits of one attribute come together', () => {
    const at = inline('body > p:nth-child(2)');
    const { texts } = overlay(
      TEXTS,
      [edit(mute(at, 'color')), edit(change(at, 'margin', '3px'))],
      'index.html',
    );
    assert.match(texts['index.html']!, /<p style="margin: 3px;">two/);
  });

  for (const [name, css, word] of [
    ['on lines', '.a {\n  top: 0;\n  widht: 1px;\n}', '.a {\n  top: 0;\n  width: 1px;\n}'],
    ['in one line', '.a{widht:1px;}', '.a{ width: 1px;}'],
    ['without a semicolon', '.a { widht: 1px }', '.a { ; width: 1px }'],
  ] as const)
    test(`one added beside the last one, which goes: ${name}`, () => {
      const edits = [
        edit({ do: 'mute', at: rule('.a'), nth: 0, was: '', property: 'widht' }),
        edit({ do: 'add', at: rule('.a'), property: 'width', value: '1px', important: false }),
      ];
      assert.equal(overlay({ 'a.css': css }, edits, 'index.html').texts['a.css'], word);
    });
  test('several declarations added where there are none', () => {
    const path = 'body > div';
    const edits = ['top', 'left'].map((property) => edit(add(inline(path), property, '1px')));
    assert.match(
      overlay(TEXTS, edits, 'index.html').texts['index.html']!,
      /<div style="top: 1px; left: 1px;">/,
    );
    const empty = ['top', 'left'].map((property) => edit(add(rule('.c'), property, '1px')));
    assert.match(overlay(TEXTS, empty, 'index.html').texts['a.css']!, /\.c \{ top: 1px; left: 1px;\}/);
  });

  test('an edit for some widths is a rule under a media condition behind its own', () => {
    const widths = { from: 0, to: 500 };
    const { texts } = overlay(TEXTS, [edit(change(rule('.a'), 'width', '1px'), { widths })], 'index.html');
    assert.ok(
      texts['a.css']!.includes(
        'width: 10px }\n@media (min-width: 0px) and (max-width: 500px) { .a { width: 1px; } }',
      ),
    );
    const muted = overlay(TEXTS, [edit(mute(rule('.a'), 'width'), { widths })], 'index.html').texts['a.css']!;
    assert.ok(
      muted.includes('@media not all and (min-width: 0px) and (max-width: 500px) { .a { width: 10px; } }'),
    );
  });

  test('what changes elements is laid over at its widths alone', () => {
    const widths = { from: 400, to: 500 };
    const list = [
      edit({ do: 'remove', ...element }, { id: 'a', widths }),
      edit(change(rule('.a'), 'width', '1px'), { id: 'b', widths }),
      edit({ do: 'duplicate', ...element }, { id: 'c', on: false }),
    ];
    const at = (width: number) => laidAt(list, width).map(({ id }) => id);
    assert.deepEqual([at(399), at(400), at(501)], [['b'], ['a', 'b'], ['b']]);
  });

  test('what lies in an element that goes, goes with it', () => {
    const edits = [
      edit({ do: 'remove', file: 'index.html', path: 'body > div' }),
      edit({ do: 'text', file: 'index.html', path: 'body > div > b', text: 'x' }),
    ];
    assert.ok(overlay(TEXTS, edits, 'index.html').texts['index.html']!.endsWith('two</p></body></html>'));
  });
});

describe('patches', () => {
  const patch = (start: number, end: number, text: string, by = 0): Patch => ({ start, end, text, edit: by });
  const cases: [string, Patch[], string][] = [
    ['in any order', [patch(4, 5, 'X'), patch(0, 1, 'Y')], 'Ybcd' + 'Xfg'],
    ['two at one place', [patch(2, 2, '1'), patch(2, 2, '2')], 'ab12cdefg'],
    ['of two for the same the later stands', [patch(0, 2, '1'), patch(0, 2, '2')], '2cdefg'],
    ['what lies in another goes with it', [patch(2, 3, 'X'), patch(1, 5, '-')], 'a-fg'],
  ];
  for (const [name, list, wanted] of cases)
    test(name, () => assert.equal(applyPatches('abcdefg', list), wanted));

  test('offsets lead back to where they came from', () => {
    const list = [patch(1, 2, 'XYZ', 7), patch(5, 6, '')];
    assert.deepEqual(mapBack(list, 0), { offset: 0, edit: null });
    assert.deepEqual(mapBack(list, 2), { offset: 1, edit: 7 });
    assert.deepEqual(mapBack(list, 4), { offset: 2, edit: null });
    assert.deepEqual(mapBack(list, 7), { offset: 6, edit: null });
    assert.equal(settled(list).length, 2);
  });

  test('lines and columns', () => {
    assert.deepEqual(placeOf('a\nbc', 3), { line: 2, column: 2 });
    assert.equal(offsetOf('a\nbc', 2, 2), 3);
  });
});

describe('what stands where', () => {
  test('a declaration by its line and column', () => {
    const files = readFiles(TEXTS);
    const found = declarationAt(files, 'a.css', 8, 15);
    assert.equal(found?.declaration.value, '6px');
    assert.equal(found?.nth, 1);
    assert.deepEqual(found?.target, rule('.b'));
    assert.equal(declarationAt(files, 'index.html', 1, HTML.indexOf('top:') + 1)?.target.style, 0);
    assert.equal(declarationAt(files, 'a.css', 1, 1), null);
  });
});

describe('a trial written out', () => {
  const edits = [
    edit(change(rule('.a'), 'width', '12px')),
    edit({ do: 'state', file: 'index.html', path: 'body > div', states: ['hover'] }),
    edit(mute(rule('.b'), 'height'), { on: false }),
  ];

  test('as a patch, without what only shows a state and what is switched off', () => {
    const diff = unifiedDiff(TEXTS, edits, 'index.html');
    assert.match(
      diff,
      /^diff --git a\/a\.css b\/a\.css\n--- a\/a\.css\n\+\+\+ b\/a\.css\n@@ -1,4 \+1,4 @@\n-\.a \{ color: red; width: 10px \}\n\+\.a \{ color: red; width: 12px \}\n/,
    );
    assert.ok(!diff.includes('state'));
  });

  test('as rules with short shorthands', () => {
    const sides = ['top', 'right', 'bottom', 'left'].map((side, i) =>
      edit(add(rule('.a'), `padding-${side}`, `${i % 2 ? 4 : 8}px`)),
    );
    assert.equal(changedRules(sides), '.a {\n  padding: 8px 4px;\n}\n');
    assert.equal(
      changedRules([edit(mute(rule('.a', { conditions: ['media (min-width: 600px)'] }), 'width'))]),
      '@media (min-width: 600px) {\n  .a {\n    /* taken out: width:  */\n  }\n}\n',
    );
  });

  test('in words', () => {
    const [first] = inWords(readFiles(TEXTS), [
      edit({ ...change(rule('.a'), 'width', '12px'), was: '10px' } as Change),
    ]);
    assert.equal(first, 'in a.css, line 1, rule .a: width 10px becomes 12px');
  });
});

describe('shorthands', () => {
  const cases: [string, [string, string, string, string], string][] = [
    ['one value', ['1px', '1px', '1px', '1px'], '1px'],
    ['two', ['1px', '2px', '1px', '2px'], '1px 2px'],
    ['three', ['1px', '2px', '3px', '2px'], '1px 2px 3px'],
    ['four', ['1px', '2px', '1px', '4px'], '1px 2px 1px 4px'],
  ];
  for (const [name, values, wanted] of cases) test(name, () => assert.equal(collapseSides(values), wanted));

  test('what a shorthand cannot say stays in longhands', () => {
    const entry = (property: string, value: string, important = false) => ({ property, value, important });
    const mixed = [entry('row-gap', 'inherit'), entry('column-gap', '1px')];
    assert.deepEqual(collapseShorthands(mixed), mixed);
    const loud = [entry('row-gap', '2px', true), entry('column-gap', '1px')];
    assert.deepEqual(collapseShorthands(loud), loud);
    assert.deepEqual(
      collapseShorthands([entry('row-gap', '2px'), entry('color', 'red'), entry('column-gap', '1px')]),
      [entry('gap', '2px 1px'), entry('color', 'red')],
    );
  });
});

describe('box sides', () => {
  const units: [was: string, used: number, px: number, made: string][] = [
    ['2rem', 28, 14, '1rem'],
    ['10%', 60, 45, '7.5%'],
    ['8px', 8, 9.5, '9.5px'],
    ['0', 0, 6, '6px'],
    ['1em', 0, 6, '6px'],
    ['calc(1em + 2px)', 18, 20, '20px'],
    ['3em', 48, 0, '0'],
    ['-1em', -16, 8, '0.5em'],
  ];
  for (const [was, used, px, text] of units)
    test(`${px} px where ${was} was ${used} px`, () => assert.equal(inUnit(was, used, px), text));

  const side = (longhand: string, property = '', value = '', used = 10, important = false): Side => ({
    longhand,
    used,
    winner: property ? { key: `${property}: ${value}`, property, value, important } : null,
  });
  const set = (key: string, value: string) => ({ do: 'set', key, value });
  const cases: [name: string, sides: Side[], px: number, made: unknown[]][] = [
    [
      'one side of a shorthand of one value',
      [side('padding-left', 'padding', '10px')],
      4,
      [set('padding: 10px', '10px 10px 10px 4px')],
    ],
    [
      'a side that comes to equal the one across is left out',
      [side('padding-left', 'padding', '1px 10px 2px 4px', 4)],
      10,
      [set('padding: 1px 10px 2px 4px', '1px 10px 2px')],
    ],
    [
      'both sides of an axis, in their unit',
      [side('margin-left', 'margin', '1rem 2rem', 28), side('margin-right', 'margin', '1rem 2rem', 28)],
      14,
      [set('margin: 1rem 2rem', '1rem')],
    ],
    ['a longhand by itself', [side('margin-top', 'margin-top', '10px')], 3, [set('margin-top: 10px', '3px')]],
    [
      'all sides that nobody declared',
      ['top', 'right', 'bottom', 'left'].map((text) => side(`padding-${text}`)),
      5,
      [{ do: 'add', beside: null, list: [{ property: 'padding', value: '5px', important: false }] }],
    ],
    [
      'the width of a whole border',
      ['top', 'right', 'bottom', 'left'].map((text) =>
        side(`border-${text}-width`, 'border', 'solid 1px red', 1),
      ),
      3,
      [set('border: solid 1px red', 'solid 3px red')],
    ],
    [
      'one side of a border stands beside it',
      [side('border-left-width', 'border', 'solid 1px red', 1, true)],
      3,
      [
        {
          do: 'add',
          beside: 'border: solid 1px red',
          list: [{ property: 'border-left-width', value: '3px', important: true }],
        },
      ],
    ],
    [
      'a logical property is told by a physical one behind it',
      [side('padding-left', 'padding-inline-start', '10px')],
      3,
      [
        {
          do: 'add',
          beside: 'padding-inline-start: 10px',
          list: [{ property: 'padding-left', value: '3px', important: false }],
        },
      ],
    ],
    [
      'a value with a variable cannot be taken apart',
      [side('padding-left', 'padding', 'var(--x) 4px')],
      3,
      [
        {
          do: 'add',
          beside: 'padding: var(--x) 4px',
          list: [{ property: 'padding-left', value: '3px', important: false }],
        },
      ],
    ],
  ];
  for (const [name, sides, px, result] of cases)
    test(name, () => assert.deepEqual(sideEdits(sides, px), result));
});
