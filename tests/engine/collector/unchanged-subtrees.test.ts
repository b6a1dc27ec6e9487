/** What is different between two readings of a page, held against what was changed. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { elementAt } from '../../../src/core/reading/labels.ts';
import { measureQuantity, type Quantity } from '../../../src/core/search/measured-quantity.ts';
import { differences, matchBoxes } from '../../../src/core/compare/reading-diff.ts';
import type { Headless } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';
import { measureHtml } from '../../support/measure.ts';

const page = (css: string, body: string): string =>
  `<!doctype html><style>body { margin: 0; font: 16px/20px sans-serif } ${css}</style>${body}`;

interface Case {
  name: string;
  html: string;
  /** Styles before and after. */
  css: [string, string];
  /** Body after; the same as before where not given. */
  then?: string;
  /** Of what did not only go along: what became of it. */
  tops: string[];
  counts: Partial<ReturnType<typeof differences>['counts']>;
}

const CASES: Case[] = [
  {
    name: 'what lies below went along with what grew',
    html: '<div class=a></div><div class=b><p class=c>x</p></div>',
    css: ['.a { height: 20px }', '.a { height: 50px }'],
    tops: ['div.a resized'],
    counts: { resized: 3, moved: 2 },
  },
  {
    name: 'what is moved takes along what lies in it',
    html: '<div class=a><p class=c>x</p></div>',
    css: ['', '.a { position: relative; left: 7px }'],
    tops: ['div.a moved'],
    counts: { moved: 2, resized: 0 },
  },
  {
    name: 'a box that goes and what follows it',
    html: '<div class=a>x</div><div class=b>y</div>',
    css: ['', '.a { display: none }'],
    tops: ['div.a vanished'],
    counts: { vanished: 1, moved: 1 },
  },
  {
    name: 'an element that was not there',
    html: '<div class=a>x</div>',
    then: '<div class=n>n</div><div class=a>x</div>',
    css: ['', ''],
    tops: ['div.n appeared'],
    counts: { appeared: 1, moved: 1 },
  },
  {
    name: 'a text that wraps otherwise',
    html: '<p class=c>tide berth mast</p>',
    css: ['.c { width: 200px }', '.c { width: 60px }'],
    tops: ['p.c wrapped'],
    counts: { wrapped: 1 },
  },
  {
    name: 'nothing, where only a colour changes',
    html: '<p class=c>x</p>',
    css: ['', '.c { color: red }'],
    tops: [],
    counts: { moved: 0, resized: 0, wrapped: 0 },
  },
];

describe('what moved', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (const { name, html, css, then = html, tops, counts } of CASES)
    test(name, async () => {
      const [was, is] = [
        await measureHtml(headless, page(css[0], html)),
        await measureHtml(headless, page(css[1], then)),
      ];
      const moved = differences(was.tree, is.tree);
      const found = moved.list
        .filter(({ under, label }) => under < 0 && label !== 'html' && label !== 'body')
        .map(({ label, what }) => `${label} ${what}`);
      assert.deepEqual(found, tops);
      for (const [what, count] of Object.entries(counts))
        assert.equal(moved.counts[what as keyof typeof counts], count, what);
      for (const { under } of moved.list) assert.ok(under < moved.list.length);
    });

  test('elements are matched by their places among those alike', async () => {
    const [was, is] = [
      await measureHtml(headless, page('', '<ul><li>a<li>b<li class=x>c</ul><p>d</p>')),
      await measureHtml(headless, page('', '<h1>new</h1><ul><li>b<li class=x>c</ul><p>d</p>')),
    ];
    const pairs = matchBoxes(was.reading, is.reading);
    const path = (reading: typeof was.reading, wanted: string) => elementAt(reading, wanted);
    const of = (element: number) => pairs.find(([a]) => a === element)?.[1];
    assert.equal(of(path(was.reading, 'body > p')), path(is.reading, 'body > p'));
    assert.equal(
      of(path(was.reading, 'body > ul > li:nth-child(3)')),
      path(is.reading, 'body > ul > li:nth-child(2)'),
    );
  });

  const QUANTITIES: [string, string, Quantity, number | null][] = [
    ['sideways scroll', '<div style="width:1000px;height:1px"></div>', { of: 'overflow', axis: 'x' }, 200],
    ['no scroll', '<div></div>', { of: 'overflow', axis: 'x' }, 0],
    ['a size', '<div style="width:70px"></div>', { of: 'size', path: 'body > div', axis: 'x' }, 70],
    ['a box that is not there', '<div hidden></div>', { of: 'size', path: 'body > div', axis: 'x' }, null],
    ['lines', '<p style="width:60px">tide berth <b>mast</b></p>', { of: 'lines', path: 'body > p' }, 3],
    ['squareness', '<div style="width:70px;height:50px"></div>', { of: 'squareness', path: 'body > div' }, 20],
    [
      'a distance',
      '<i style="display:block;height:10px"></i><div style="margin-top:12px">x</div>',
      { of: 'distance', a: { path: 'body > i', side: 'bottom' }, b: { path: 'body > div', side: 'top' } },
      12,
    ],
  ];
  for (const [name, body, quantity, wanted] of QUANTITIES)
    test(`a number: ${name}`, async () => {
      const { tree } = await measureHtml(headless, page('', body));
      assert.equal(measureQuantity(tree, quantity), wanted);
    });
});
