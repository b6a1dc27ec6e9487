/** Accounts of boxes of every kind, measured: the sentence, and what it says of the declared size. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { boxAccount, type BoxAccount } from '../../../../src/core/accounts/box.ts';
import { accountsByName, reachOf } from '../../../../src/core/accounts/property.ts';
import type { Analysis } from '../../../../src/core/analysis.ts';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';

interface Case {
  name: string;
  html: string;
  css?: string;
  x?: string;
  y?: string;
  /** How the border box is divided across. */
  inner?: string;
  sizing?: RegExp;
  otherwise?: RegExp | null;
  kind?: string;
  refused?: RegExp;
}

/** The subject of each is its element of class `t`. The page is 800 wide without a scrollbar. */
const CASES: Case[] = [
  {
    name: 'content-box: padding and border come on top',
    html: '<p class=t>',
    css: '.t { width: 100px; padding: 1px 2px; border: 3px solid }',
    x: '110 wide = 100 content, 2 + 2 padding, 3 + 3 border.',
    sizing: /sets the content box, because box-sizing is content-box by the browser’s default/,
    otherwise: /Under border-box the box would be 100 wide, with 90 left for content/,
  },
  {
    name: 'border-box: they come out of it',
    html: '<p class=t>',
    css: '.t { width: 100px; padding: 0 2px; border: 3px solid; box-sizing: border-box }',
    x: '100 wide = 100 border box.',
    inner: 'Inside: 90 content, 2 + 2 padding, 3 + 3 border.',
    sizing: /sets the border box, because box-sizing is border-box by \.t, index\.html:\d+:\d+/,
    otherwise: /Under content-box the box would be 110 wide, with 100 of content/,
  },
  {
    name: 'border-box smaller than its edges',
    html: '<p class=t>',
    css: '.t { width: 10px; padding: 0 20px; box-sizing: border-box }',
    x: '40 wide = 20 + 20 padding.',
    inner: 'Inside: 0 content, 20 + 20 padding.',
  },
  {
    name: 'an auto width',
    html: '<div class=t>',
    css: '.t { margin: 0 10px; padding-left: 5px }',
    x: '780 wide = 800 room in body, less 10 + 10 margin.',
    inner: 'Inside: 775 content, 5 padding.',
    sizing: /width is auto: nobody declared one/,
    otherwise: null,
  },
  {
    name: 'auto that somebody declared',
    html: '<div class=t>',
    css: '.t { width: auto }',
    sizing: /width is auto: so says \.t/,
  },
  {
    name: 'a percentage',
    html: '<div class=o><p class=t></div>',
    css: '.o { width: 300px } .t { width: 50% }',
    x: '150 wide = 150 content.',
    sizing: /width: 50% sets the content box/,
  },
  {
    name: 'rem against a smaller root',
    html: '<p class=t>',
    css: 'html { font-size: 87.5% } .t { padding-left: 1rem; width: 50px }',
    x: '64 wide = 50 content, 14 padding.',
  },
  {
    name: 'a maximum has the last word',
    html: '<p class=t>',
    css: '.t { width: 500px; max-width: 200px }',
    x: '200 wide = 200 content.',
    sizing: /asks for 500, and the content box is 200: max-width 200px has the last word/,
  },
  {
    name: 'a minimum has the last word',
    html: '<p class=t>',
    css: '.t { height: 5px; min-height: 25px }',
    y: '25 tall = 25 content.',
  },
  {
    name: 'an inline box takes no width',
    html: '<p>x <span class=t>text</span>',
    css: '.t { width: 300px; padding: 0 4px }',
    kind: 'inline',
    sizing: /width: 300px does nothing: an inline box takes its width from its text/,
    refused: /vertical margins of an inline box move nothing/,
  },
  {
    name: 'an inline box in pieces',
    html: '<p style="width: 60px"><span class=t>one two three four five six</span>',
    x: '',
    kind: 'inline',
  },
  {
    name: 'an inline-block',
    html: '<b class=t>x</b>',
    css: '.t { display: inline-block; width: 30px; border-right: 2px solid }',
    x: '32 wide = 30 content, 2 border.',
    kind: 'inline-block',
  },
  {
    name: 'a flex item that shrinks',
    html: '<div class=o><p class=t></p><p class=q></p></div>',
    css: '.o { display: flex; width: 300px } .t, .q { width: 200px; margin: 0 }',
    x: '150 wide = 200 content, less 50 of the missing space.',
    sizing: /asks for 200, and the content box is 150: the flex container gave or took/,
    kind: 'flex-item',
  },
  {
    name: 'a grid item',
    html: '<div class=o><p class=t></p></div>',
    css: '.o { display: grid; grid-template-columns: 120px 1fr } .t { padding: 3px }',
    x: '120 wide = 120 room in its grid area.',
    inner: 'Inside: 114 content, 3 + 3 padding.',
    kind: 'grid-item',
  },
  {
    name: 'a cell with collapsed borders',
    html: '<table class=o><tr><td class=t>x<td>y</table>',
    css: '.o { border-collapse: collapse } td { border: 4px solid; padding: 1px; width: 40px }',
    x: '46 wide = 46 for its column.',
    inner: 'Inside: 40 content, 1 + 1 padding, 2 + 2 border.',
    kind: 'table-cell',
    refused: /cells have no margins/,
  },
  {
    name: 'a cell with separate borders',
    html: '<table><tr><td class=t>x</table>',
    css: 'td { border: 4px solid; padding: 1px; width: 40px }',
    x: '50 wide = 50 for its column.',
    inner: 'Inside: 40 content, 1 + 1 padding, 4 + 4 border.',
  },
  {
    name: 'a row has its size from columns',
    html: '<table><tr class=t><td>x</table>',
    css: '.t { padding: 9px; width: 5px }',
    kind: 'table-row',
    refused: /rows have no padding/,
  },
  {
    name: 'a scrollbar takes room between border and padding',
    html: '<div class=t><p style="height: 300px; width: 1px"></div>',
    css: '.t { width: 100px; height: 80px; overflow-y: scroll; padding: 5px; border: 1px solid }',
    x: '112 wide = 85 content, 5 + 5 padding, 1 + 1 border, 15 scrollbar.',
    inner: 'Inside: 85 content, 5 + 5 padding, 1 + 1 border, 15 scrollbar.',
  },
  {
    name: 'a replaced box with its attributes',
    html: '<img class=t width=40 height=30 alt="">',
    css: '.t { padding: 2px }',
    x: '44 wide = 40 content, 2 + 2 padding.',
    y: '34 tall = 30 content, 2 + 2 padding.',
    kind: 'inline-replaced',
  },
  {
    name: 'a control with the engine’s own size',
    html: '<input class=t>',
    css: '.t { width: 120px; padding: 3px; border: 1px solid }',
    x: '128 wide = 120 content, 3 + 3 padding, 1 + 1 border.',
  },
  {
    name: 'a check box is a border box by default',
    html: '<input type=checkbox class=t>',
    css: '.t { width: 20px; padding: 3px }',
    x: '20 wide = 20 border box.',
  },
  {
    name: 'absolutely positioned',
    html: '<div class=t>',
    css: '.t { position: absolute; left: 10px; right: 30px; padding-left: 6px }',
    x: '760 wide = 800 room in the viewport, less 10 left, 30 right.',
    kind: 'absolute',
  },
  {
    name: 'a float',
    html: '<div class=t>',
    css: '.t { float: left; width: 33px }',
    x: '33 wide = 33 content.',
    kind: 'float',
  },
  {
    name: 'a vertical writing mode',
    html: '<div class=t>x</div>',
    css: '.t { writing-mode: vertical-rl; inline-size: 90px; block-size: 40px; padding-inline-start: 7px }',
    x: '40 wide = 40 content.',
    y: '97 tall = 90 content, 7 padding.',
  },
  {
    name: 'right to left',
    html: '<div dir=rtl><p class=t></div>',
    css: '.t { width: 50px; padding-inline-start: 8px }',
    x: '58 wide = 50 content, 8 padding.',
  },
  { name: 'no box', html: '<p class=t>', css: '.t { display: none }', kind: 'none' },
  { name: 'no box of its own', html: '<p class=t>x', css: '.t { display: contents }', kind: 'contents' },
];

describe('accounts', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  const subject = ({ reading }: Analysis): number =>
    Array.from(reading.classes).findIndex((index) => reading.strings[index] === 't');
  async function measure(html: string): Promise<Analysis> {
    const files = [{ path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(html) }];
    const opened = await headless.open(files, 'index.html', { width: 800, height: 600 });
    const analysis = await opened.measure();
    await opened.complete(analysis, () => boxAccount(analysis, subject(analysis)));
    await opened.close();
    return analysis;
  }
  const account = async ({ html, css = '' }: Case): Promise<BoxAccount> => {
    const analysis = await measure(`<!doctype html><style>body { margin: 0 }\n${css}</style>${html}`);
    return boxAccount(analysis, subject(analysis));
  };

  for (const entry of CASES)
    test(entry.name, async () => {
      const box = await account(entry);
      if (entry.x) assert.equal(box.width.sentence, entry.x);
      if (entry.y) assert.equal(box.height.sentence, entry.y);
      if (entry.inner) assert.equal(box.width.inner, entry.inner);
      if (entry.kind) assert.equal(box.kind, entry.kind);
      if (entry.sizing) assert.match(box.width.sizing.sentence, entry.sizing);
      if (entry.otherwise === null) assert.equal(box.width.sizing.otherwise, null);
      else if (entry.otherwise) assert.match(box.width.sizing.otherwise ?? '', entry.otherwise);
      if (entry.refused) assert.match(box.takes.map(({ why }) => why ?? '').join('\n'), entry.refused);
    });

  test('an inline box in pieces says how many', async () => {
    const box = await account(CASES.find(({ name }) => name.endsWith('in pieces'))!);
    assert.ok(box.fragments > 2);
    assert.match(box.width.sentence, /^\d pieces on \d lines/);
  });

  test('where a relative length comes from', async () => {
    const box = await account(CASES.find(({ name }) => name.startsWith('rem'))!);
    assert.equal(
      box.width.terms.find(({ what }) => what === 'padding-left')!.note,
      '1rem = 14px: 1 × 14 (html font-size 0.875 × 16)',
    );
  });

  const NOTES: [string, string, string | null][] = [
    ['line-height', '1.5', '1.5 = 30px: 1.5 × 20 (own font size)'],
    ['line-height', '150%', '150% = 30px: 150 % of 20 (own font size)'],
    ['vertical-align', '50%', '50% = 15px: 50 % of 30 (own line height)'],
    ['font-size', '1.25em', '1.25em = 20px: 1.25 × 16 (font size of div)'],
    ['font-size', '125%', '125% = 20px: 125 % of 16 (font size of div)'],
    ['padding-top', '10%', '10% = 30px: 10 % of 300 (width of div)'],
    ['height', '50%', '50% = 100px: 50 % of 200 (height of div)'],
    ['border-top-width', 'medium', 'medium = 3px'],
    ['opacity', '50%', null],
    ['color', 'red', null],
  ];
  for (const [property, value, note] of NOTES)
    test(`where ${property}: ${value} comes from`, async () => {
      const analysis = await measure(
        `<!doctype html><style>div { width: 300px; height: 200px } .t { font-size: 20px; line-height: 30px; border: solid } p.t { ${property}: ${value} }</style><div><p class=t>x</div>`,
      );
      assert.equal(accountsByName(analysis, subject(analysis), property)[0]!.declared.note, note);
    });

  test('ancestors, children, containing block', async () => {
    const box = await account({
      name: '',
      html: '<div id=o><section><p class=t><b>1</b><i>2</i></section></div>',
      css: '#o { position: relative } .t { position: absolute }',
    });
    assert.deepEqual(
      box.ancestors.map(({ label }) => label),
      ['section', 'div#o', 'body', 'html'],
    );
    assert.deepEqual(
      box.children.map(({ label }) => label),
      ['b', 'i'],
    );
    assert.equal(box.containingBlock?.label, 'div#o');
  });

  test('asked about a shorthand, each longhand answers; a rule knows whom it reaches', async () => {
    const analysis = await measure(
      '<!doctype html><style>.t, .u { padding: 1px 2px } .t { padding-left: 9px }</style><p class=t></p><p class=u></p>',
    );
    const answers = accountsByName(analysis, subject(analysis), 'padding');
    assert.deepEqual(
      answers.map(({ property, declared }) => `${property} ${declared.value}`),
      ['padding-top 1px', 'padding-right 2px', 'padding-bottom 1px', 'padding-left 9px'],
    );
    assert.equal(answers[3]!.beaten[0]!.why, 'the other comes later');
    assert.equal(reachOf(analysis, answers[0]!.declared.source).length, 1);
    assert.deepEqual(
      accountsByName(analysis, subject(analysis), 'margin-top').map(({ sentence }) => sentence),
      ['Nobody set it; the browser’s default for this element is 1em.'],
    );
  });

  test('a column has the width that its cells have', async () => {
    const box = await account({
      name: '',
      html: '<table><col class=t><tr><td>x</table>',
      css: 'td { width: 40px; padding: 0 }',
    });
    assert.equal(box.kind, 'table-column');
    assert.equal(box.width.sentence, '40 wide = 40 for its column.');
    assert.ok(Number.isFinite(box.height.residual));
  });

  test('of rules with one selector, the one in its place is the one that reaches', async () => {
    const analysis = await measure(
      '<!doctype html><style>.o { & b { top: 1px } } .p { & b { top: 2px; left: 3px } }</style><div class=o><b>1</b></div><div class=p><b class=t>2</b><b>3</b></div>',
    );
    const [top] = accountsByName(analysis, subject(analysis), 'top');
    assert.equal(top!.declared.value, '2px');
    assert.equal(reachOf(analysis, top!.declared.source).length, 2);
  });
});
