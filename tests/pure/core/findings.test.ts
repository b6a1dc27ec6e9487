/** Findings put together over widths, mended names, and the formats that they are written in. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { ruleChanges, topLevelRules } from '../../../src/core/css/syntax/top-level-rules.ts';
import { parseSheet } from '../../../src/core/css/syntax/style-sheets.ts';
import { righted } from '../../../src/core/remedies/declaration.ts';
import { findingsText, type FindingsDocument } from '../../../src/core/reports/findings.ts';
import { junitDocument } from '../../../src/core/reports/junit.ts';
import { sarifDocument } from '../../../src/core/reports/sarif.ts';
import { isSarif } from '../../support/schemas/sarif.ts';
import { foldTargets, runsOf } from '../../../src/core/proof/across-widths.ts';
import { shapeOf } from '../../../src/core/rules/clip/clip-path.ts';

describe('runs of the widths asked for', () => {
  const cases: [widths: number[], holds: number[], runs: [number, number][]][] = [
    [[320, 768, 1280], [320], [[320, 320]]],
    [[320, 768, 1280], [320, 768], [[320, 768]]],
    [
      [1280, 320, 768],
      [320, 1280],
      [
        [320, 320],
        [1280, 1280],
      ],
    ],
    [[320], [], []],
  ];
  for (const [widths, holds, runs] of cases)
    test(`${holds.join(', ') || 'none'} of ${widths.join(', ')}`, () =>
      assert.deepEqual(
        runsOf(widths, (width) => holds.includes(width)),
        runs.map(([from, to]) => ({ from, to })),
      ));
});

describe('which finding goes with which', () => {
  type Row = [key: string, also: string[], widths?: number[]];
  const cases: [name: string, list: Row[], into: [string, string][]][] = [
    [
      'nothing in common',
      [
        ['a', []],
        ['b', []],
      ],
      [],
    ],
    [
      'one goes with the first',
      [
        ['a', ['b']],
        ['b', []],
      ],
      [['b', 'a']],
    ],
    [
      'the first goes with a later one',
      [
        ['a', []],
        ['b', ['a']],
      ],
      [['a', 'b']],
    ],
    [
      'each with the other: the first is told',
      [
        ['a', ['b']],
        ['b', ['a']],
      ],
      [['b', 'a']],
    ],
    [
      'in a row',
      [
        ['a', []],
        ['b', ['a']],
        ['c', ['b']],
      ],
      [
        ['a', 'c'],
        ['b', 'c'],
      ],
    ],
    ['of what is not in the list', [['a', ['z']]], []],
    [
      'seen where the other is not',
      [
        ['a', ['b'], [360]],
        ['b', [], [360, 1280]],
      ],
      [],
    ],
    [
      'seen where the other is too',
      [
        ['a', ['b'], [360, 1280]],
        ['b', [], [360]],
      ],
      [['b', 'a']],
    ],
  ];
  for (const [name, list, into] of cases)
    test(name, () =>
      assert.deepEqual(
        [
          ...foldTargets(
            list.map(([key, also, widths]) => ({
              key,
              also,
              ...(widths ? { at: new Map(widths.map((width) => [width, null])) } : {}),
            })),
          ),
        ].sort(),
        into,
      ),
    );
});

describe('a declaration put right', () => {
  const cases: [property: string, value: string, right: string | null][] = [
    ['widht', '7rem', 'width: 7rem'],
    ['paddign-left', '4px', 'padding-left: 4px'],
    ['padding', '8 px 12px', 'padding: 8px 12px'],
    ['margin-top', '40', 'margin-top: 40px'],
    ['colour', 'red', 'color: red'],
    ['frobnicate', '3px', null],
    ['width', 'tall', null],
  ];
  for (const [property, value, right] of cases)
    test(`${property}: ${value}`, () => {
      const result = righted(property, value);
      assert.equal(result && `${result.property}: ${result.value}`, right);
    });
});

describe('rules that stand in no other', () => {
  const css =
    '@charset "utf-8";\n@import "a.css";\n/* x */\n.a { width: 1px }\n@media (width > 1px) { .b { top: 0 } .c {} }\n.d{}';
  test('are counted as an engine counts them', () =>
    assert.deepEqual(
      topLevelRules(css).map(({ start, end }) => css.slice(start, end).slice(0, 7)),
      ['@import', '.a { wi', '@media ', '.d{}'],
    ));
  const cases: [name: string, is: string, changed: number[] | null][] = [
    ['the same', css, []],
    ['a value', css.replace('1px }', '22px }'), [1]],
    ['a value under a condition', css.replace('top: 0', 'top: 9px'), [2]],
    ['two rules', css.replace('1px }', '22px }').replace('.d{}', '.d{top:1px}'), [1, 3]],
    ['a rule more', `${css}\n.e{}`, null],
    ['a rule less', css.replace('.d{}', ''), null],
  ];
  for (const [name, is, changed] of cases)
    test(name, () => assert.deepEqual(ruleChanges(css, is)?.list.map(({ index }) => index) ?? null, changed));
});

test('a long sheet with one value changed is parsed as if anew', () => {
  const rules = Array.from(
    { length: 200 },
    (_, i) => `.r${i} { width: ${i}px; color: red }\n@media (min-width: ${i}px) { .m${i} { top: 0 } }`,
  );
  const source = (text: string, file: string) => ({ file, text, line: 1, column: 1, form: 'file' as const });
  const plain = rules.join('\n');
  parseSheet(source(plain, 'long.css'));
  for (const changed of [
    plain.replace('100px;', '123456px;'),
    plain.replace('.m7 { top: 0', '.m7 { top: 9px; left: 1px'),
  ]) {
    const [quick, anew] = [
      parseSheet(source(changed, 'long.css')),
      parseSheet(source(`${changed} `, 'other.css')),
    ];
    assert.deepEqual(quick.rules, anew.rules);
    assert.deepEqual(quick.lineStarts, anew.lineStarts);
  }
});

const DOCUMENT: FindingsDocument = {
  normetra: 'findings/1',
  page: 'fares.html',
  engine: { name: 'chromium', version: '1' },
  defaults: 'as-rendered',
  widths: [320, 1280],
  findings: [
    {
      rank: 1,
      kind: 'overflow',
      rule: 'overflow/page',
      px: 43,
      axis: 'x',
      at: [{ from: 320, to: 320 }],
      subject: 'body > p',
      other: null,
      places: ['body > p'],
      culprits: [
        {
          path: 'body > p',
          property: 'white-space',
          px: 43,
          rule: 'nowrap',
          source: {
            origin: 'author',
            sheet: 'css/a b.css',
            line: 6,
            column: 3,
            selector: '.ticker',
            property: 'white-space',
            value: 'nowrap',
          },
        },
      ],
      because: 'The page is 43 px wider than <its> viewport & scrolls.',
      grade: 'wrong',
      evidence: [],
      meant: '',
      remedies: [
        {
          what: 'let it wrap',
          edits: [{ selector: '.ticker', property: 'white-space', value: 'normal', was: 'nowrap' }],
          proved: true,
          sideEffects: { moved: 1, resized: 0, largest: 5 },
          diff: '--- a/x\n+++ b/x\n-nowrap\n+normal\n',
        },
      ],
    },
    {
      rank: 2,
      kind: 'clip',
      rule: 'clip/cut-off',
      px: 9,
      axis: 'x',
      at: [{ from: 1280, to: 1280 }],
      subject: 'body > h1',
      other: null,
      places: ['body > h1'],
      culprits: [],
      because: 'h1 cuts off 9 px.',
      grade: 'meant',
      evidence: [{ signal: 'declared-to-cut', strength: -4, words: 'text-overflow: ellipsis says so' }],
      meant: 'text-overflow: ellipsis says so',
      remedies: [],
    },
  ],
};

describe('findings written out', () => {
  test('in words: the sentence, the place, the change', () => {
    const text = findingsText({ ...DOCUMENT, findings: DOCUMENT.findings.slice(0, 1) }, { quiet: 1 });
    for (const part of [
      '1 finding at 320, 1280 px',
      'css/a b.css:6:3  body > p',
      '     -nowrap\n     +normal',
      '1 more is probably meant',
    ])
      assert.ok(text.includes(part), part);
    assert.ok(!text.includes('h1 cuts off'));
    assert.ok(findingsText(DOCUMENT).includes('Probably meant: text-overflow: ellipsis says so.'));
    assert.equal(findingsText({ ...DOCUMENT, findings: [] }), 'fares.html: nothing found at 320, 1280 px.');
  });
  test('as SARIF: each rule once with its words, a result with its place, what is meant suppressed', () => {
    const { version, runs } = sarifDocument(DOCUMENT, '1.2.3') as {
      version: string;
      runs: {
        tool: { driver: { version: string; rules: { id: string; shortDescription: { text: string } }[] } };
        results: Record<string, never>[];
      }[];
    };
    assert.equal(version, '2.1.0');
    const [{ tool, results } = assert.fail()] = runs;
    assert.deepEqual(
      tool.driver.rules.map(({ id, shortDescription: { text } }) => [id, text]),
      [
        ['overflow/page', 'A box makes the page wider than its viewport'],
        ['clip/cut-off', 'Text or a control is cut off'],
      ],
    );
    assert.deepEqual(
      results.map((result) => [result['ruleId'], result['level']]),
      [
        ['overflow/page', 'warning'],
        ['clip/cut-off', 'note'],
      ],
    );
    assert.deepEqual((results[0] as unknown as { locations: unknown[] }).locations, [
      {
        physicalLocation: {
          artifactLocation: { uri: 'css/a%20b.css' },
          region: { startLine: 6, startColumn: 3 },
        },
      },
    ]);
    assert.ok('suppressions' in results[1]!);
  });
  for (const [page, uri] of [
    ['fares.html', 'fares.html'],
    ['a b/c:d.html', 'a%20b/c%3Ad.html'],
    ['https://127.0.0.1:8080/fares list.html', 'https://127.0.0.1:8080/fares%20list.html'],
    ['https://127.0.0.1/fares%20list.html?to=100%25', 'https://127.0.0.1/fares%20list.html?to=100%25'],
  ] as const)
    test(`as SARIF, which meets its schema: ${page}`, () => {
      const findings = DOCUMENT.findings.map((finding) => ({ ...finding, culprits: [] }));
      for (const document of [DOCUMENT, { ...DOCUMENT, findings: [] }, { ...DOCUMENT, page, findings }]) {
        const sarif = sarifDocument(document, '1.2.3');
        assert.equal(isSarif(sarif), true, JSON.stringify(isSarif.errors, null, 1));
        if (document.findings === findings) assert.ok(JSON.stringify(sarif).includes(`"uri":"${uri}"`));
      }
      assert.equal(isSarif({ version: '2.1.0', runs: [{}] }), false, 'the schema would take anything');
    });
  test('as JUnit: what is wrong by so much fails, and its words are escaped', () => {
    const xml = junitDocument(DOCUMENT, 10);
    assert.match(xml, /<testsuite name="fares\.html" tests="1" failures="1">/);
    assert.match(xml, /wider than &lt;its&gt; viewport &amp; scrolls/);
    assert.match(junitDocument(DOCUMENT, 100), /tests="1" failures="0"[\s\S]*nothing found at 320, 1280 px/);
    const odd = { ...DOCUMENT, page: 'fares\u0001\ud800\uffff \u{1f6a2}.html' };
    assert.match(junitDocument(odd, 10), /<testsuite name="fares \u{1f6a2}\.html"/u);
  });
});

describe('the shapes of clip-path, over a box of 200 × 100', () => {
  const cases: [value: string, shown: [number, number][], hidden: [number, number][]][] = [
    [
      'inset(10px)',
      [
        [11, 11],
        [189, 89],
      ],
      [
        [9, 50],
        [191, 50],
        [100, 5],
      ],
    ],
    [
      'inset(0 50% 0 1em round 4px)',
      [
        [17, 50],
        [99, 50],
      ],
      [
        [15, 50],
        [101, 50],
      ],
    ],
    [
      'circle(40px)',
      [
        [100, 50],
        [139, 50],
      ],
      [
        [141, 50],
        [0, 0],
      ],
    ],
    [
      'circle(30px at top right)',
      [
        [199, 1],
        [175, 10],
      ],
      [
        [1, 1],
        [100, 50],
      ],
    ],
    [
      'circle(30px at bottom)',
      [[100, 99]],
      [
        [199, 50],
        [100, 1],
      ],
    ],
    [
      'ellipse(50% 2rem at center)',
      [
        [1, 50],
        [100, 80],
      ],
      [[100, 85]],
    ],
    [
      'polygon(0 0, 100% 0, 0 100%)',
      [
        [10, 10],
        [150, 10],
      ],
      [[150, 90]],
    ],
  ];
  for (const [value, shown, hidden] of cases)
    test(value, () => {
      const shows = shapeOf(value, { width: 200, height: 100 }, { em: 16, rem: 16 })!;
      for (const [x, y] of shown) assert.ok(shows(x, y), `${x}, ${y}`);
      for (const [x, y] of hidden) assert.ok(!shows(x, y), `${x}, ${y}`);
    });
  for (const value of ['none', 'url(#a)', 'inset(calc(1px + 1%))', 'path("M0 0")'])
    test(`${value} is none that is known`, () =>
      assert.equal(shapeOf(value, { width: 200, height: 100 }, { em: 16, rem: 16 }), null));
});
