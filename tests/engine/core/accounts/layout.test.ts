/** Rules of layout one by one: what the account says of each, held against what the engine laid out. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { distanceAccount } from '../../../../src/core/accounts/distance.ts';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';
import { classed, measureHtml, subjectOf } from '../../../support/measure.ts';

interface Case {
  name: string;
  css: string;
  html: string;
  says: RegExp;
}

/** The subject's gap towards `where`; its sentence, and no residual. */
const GAPS: (Case & { where: string })[] = [
  {
    name: 'siblings: the larger margin wins',
    where: 'above',
    css: 'p { margin: 32px 0 } .t { margin: 18px 0 }',
    html: '<p>a</p><p class=t>b</p>',
    says: /^32 between p and p\.t \(above\): margins 32 and 18 collapse, 32 wins; 18 is lost\.$/,
  },
  {
    name: 'a negative margin is taken off the largest',
    where: 'above',
    css: 'p { margin: 32px 0 } .t { margin-top: -10px }',
    html: '<p>a</p><p class=t>b</p>',
    says: /^22 .*margins 32 and −10 collapse, 22 is what is left/,
  },
  {
    name: 'two negative margins: the most negative one',
    where: 'above',
    css: 'p { margin: -5px 0 } .t { margin-top: -10px }',
    html: '<p>a</p><p class=t>b</p>',
    says: /^−10 .*−10 wins; −5 is lost/,
  },
  {
    name: 'a first child’s margin leaves its parent',
    where: 'above',
    css: 'p { margin: 20px 0 }',
    html: '<div><p class=t>b</p></div>',
    says: /^0 between the content edge of div and p\.t .*20 does not count here: it passes through the top edge of div/,
  },
  {
    name: 'and is named where it ends up',
    where: 'above',
    css: '.a { height: 5px } p { margin: 20px 0 }',
    html: '<div class=a></div><div class=t><p>b</p></div>',
    says: /20 .*margin-top of p.*|^20 between div\.a and div\.t \(above\): 20 margin-top of p/,
  },
  {
    name: 'padding keeps it in',
    where: 'above',
    css: 'div { padding-top: 1px } p { margin: 20px 0 }',
    html: '<div><p class=t>b</p></div>',
    says: /^20 between the content edge of div and p\.t/,
  },
  {
    name: 'a formatting context keeps it in',
    where: 'below',
    css: 'div { overflow: hidden } p { margin: 20px 0 }',
    html: '<div><p class=t>b</p></div>',
    says: /^20 between p\.t and the content edge of div/,
  },
  {
    name: 'margins meet through an empty box',
    where: 'below',
    css: 'p { margin: 10px 0 } .t { margin: 30px 0 } .e { margin: 20px 0 40px }',
    html: '<p class=t>a</p><div class=e></div><p>b</p>',
    says: /^30 between p\.t and div\.e/,
  },
  {
    name: 'and count once more only for what is larger',
    where: 'below',
    css: 'p { margin: 10px 0 } .s { margin: 30px 0 } .t { margin: 20px 0 40px }',
    html: '<p class=s>a</p><div class=t></div><p>b</p>',
    says: /^10 between div\.t and p/,
  },
  {
    name: 'clearance',
    where: 'above',
    css: '.f { float: left; width: 10px; height: 50px } p { margin: 8px 0 } .t { clear: left }',
    html: '<p>a</p><div class=f></div><p class=t>b</p>',
    says: /float .*put below div\.f, which floats/,
  },
  {
    name: 'a fixed height holds the last margin in',
    where: 'below',
    css: 'div { height: 200px } p { margin: 20px 0; height: 30px }',
    html: '<div style="border-top: 1px solid"><p class=t>b</p></div>',
    says: /^150 between p\.t and the content edge of div/,
  },
  {
    name: 'a minimum height in force does so too',
    where: 'below',
    css: 'div { min-height: 200px; border-top: 1px solid } p { margin: 20px 0; height: 30px }',
    html: '<div><p class=t>b</p></div>',
    says: /^150 between p\.t and the content edge of div/,
  },
  {
    name: 'position: relative moves a box and makes no room',
    where: 'above',
    css: 'p { margin: 0 0 10px } .t { position: relative; top: 7px }',
    html: '<p>a</p><p class=t>b</p>',
    says: /^17 .*7 offset \(position: relative moves p\.t by 7/,
  },
  {
    name: 'text between two blocks',
    where: 'above',
    css: 'p { margin: 0; line-height: 20px } body { line-height: 24px }',
    html: '<p>a</p>between<p class=t>b</p>',
    says: /^24 .*24 line/,
  },
];

const LADDERS: (Case & { breaks: boolean })[] = [
  {
    name: 'a parent with a height',
    breaks: false,
    css: '.o { height: 100px } .t { height: 50% }',
    html: '<div class=o><div class=t></div></div>',
    says: /holds: its ladder reaches div\.o/,
  },
  {
    name: 'a parent without',
    breaks: true,
    css: '.t { height: 50% }',
    html: '<div class=o><div class=t></div></div>',
    says: /height 50% is ignored: its containing block div\.o has no height of its own: its height is auto/,
  },
  {
    name: 'the chain breaks further up; min-height does not count',
    breaks: true,
    css: 'main { min-height: 300px } .panel { height: 100% } .t { height: 50% }',
    html: '<main><div class=panel><div class=t></div></div></main>',
    says: /its containing block div\.panel has no height of its own; the chain breaks at main \(its height is auto \(min-height 300px does not count\)\)/,
  },
  {
    name: 'up to the viewport',
    breaks: false,
    css: 'html, body { height: 100% } .t { height: 100% }',
    html: '<div class=t></div>',
    says: /its ladder reaches the viewport/,
  },
  {
    name: 'absolutely positioned',
    breaks: false,
    css: '.o { position: relative } .t { position: absolute; height: 50% }',
    html: '<div class=o>a<div class=t></div></div>',
    says: /padding box, whose height is known/,
  },
  {
    name: 'in a stretched flex item',
    breaks: false,
    css: '.o { display: flex; height: 80px } .t { height: 50% }',
    html: '<div class=o><div class=i><div class=t></div></div></div>',
    says: /its ladder reaches/,
  },
  {
    name: 'in a flex item that is not stretched',
    breaks: true,
    css: '.o { display: flex; height: 80px; align-items: center } .t { height: 50% }',
    html: '<div class=o><div class=i><div class=t></div></div></div>',
    says: /align-self center keeps it from being stretched/,
  },
  {
    name: 'in a grid item',
    breaks: false,
    css: '.o { display: grid; grid-template-rows: 90px } .t { height: 50% }',
    html: '<div class=o><div class=i><div class=t></div></div></div>',
    says: /its ladder reaches/,
  },
];

const BLOCKS: [name: string, css: string, label: string, why: RegExp][] = [
  ['position: relative', '.o { position: relative }', 'div.o', /position: relative/],
  ['a transform', '.o { transform: translateX(1px) }', 'div.o', /transform is not none/],
  ['a translation of its own', '.o { translate: 1px }', 'div.o', /translate is not none/],
  ['perspective', '.o { perspective: 100px }', 'div.o', /perspective/],
  ['a filter', '.o { filter: blur(1px) }', 'div.o', /filter is not none/],
  ['contain: layout', '.o { contain: layout }', 'div.o', /contain: layout/],
  ['contain: paint', '.o { contain: paint }', 'div.o', /contain: paint/],
  ['will-change: transform', '.o { will-change: transform }', 'div.o', /will-change: transform/],
  ['nothing', '.o { overflow: hidden }', '', /initial containing block/],
];

const INERT: [name: string, css: string, html: string, property: string, why: RegExp | null][] = [
  ['width of an inline box', '.t { width: 9px }', '<p><b class=t>x</b>', 'width', /inline box/],
  ['top of a static box', '.t { top: 3px }', '<p class=t>x', 'top', /static/],
  ['z-index of a static box', '.t { z-index: 3 }', '<p class=t>x', 'z-index', /positioned/],
  [
    'z-index of a flex item',
    'div { display: flex } .t { z-index: 3 }',
    '<div><p class=t>x</div>',
    'z-index',
    null,
  ],
  [
    'float on a flex item',
    'div { display: flex } .t { float: left }',
    '<div><p class=t>x</div>',
    'float',
    /flex item/,
  ],
  ['auto margins down the page', '.t { margin-top: auto }', '<p class=t>x', 'margin-top', /is 0 in flow/],
  [
    'auto margins in a flex container',
    'div { display: flex } .t { margin-top: auto }',
    '<div><p class=t>x</div>',
    'margin-top',
    null,
  ],
  [
    'vertical-align on a block',
    '.t { vertical-align: middle }',
    '<p class=t>x',
    'vertical-align',
    /inline-level/,
  ],
  ['vertical-align in a line', '.t { vertical-align: middle }', '<p><b class=t>x</b>', 'vertical-align', null],
  [
    'a height in percent of nothing',
    '.t { height: 50% }',
    '<div><p class=t>x</div>',
    'height',
    /no height of its own/,
  ],
  [
    'beaten by a maximum',
    '.t { width: 300px; max-width: 100px }',
    '<p class=t>x',
    'width',
    /max-width allows no more/,
  ],
  [
    'beaten by width and height',
    '.t { width: 30px; height: 10px; aspect-ratio: 1 }',
    '<p class=t>x',
    'aspect-ratio',
    /go before it/,
  ],
  ['flex outside of a flex container', '.t { flex: 1 }', '<p class=t>x', 'flex-grow', /no flex container/],
  ['gap on a block', '.t { gap: 4px }', '<p class=t>x', 'row-gap', /flex, grid and multi-column/],
  [
    'margins of a cell',
    '.t { margin: 4px }',
    '<table><tr><td class=t>x</table>',
    'margin-top',
    /cells have no margins/,
  ],
  [
    'a border without a line',
    '.t { border-top-width: 4px }',
    '<p class=t>x',
    'border-top-width',
    /there is no line/,
  ],
];

describe('rules of layout', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (const { name, where, css, html, says } of GAPS)
    test(`margins: ${name}`, async () => {
      const { box } = await subjectOf(headless, html, css);
      const beside = box.gaps.find((gap) => gap.where === where);
      assert.match(beside?.sentence ?? 'no gap', says);
      assert.ok(Math.abs(beside!.gap.residual) < 0.05, beside!.sentence);
    });

  for (const { name, breaks, css, html, says } of LADDERS)
    test(`percentage heights: ${name}`, async () => {
      const { box } = await subjectOf(headless, html, css);
      assert.match(`${box.ladder?.sentence} ${box.ladder?.rungs.map(({ rule }) => rule).join(' ')}`, says);
      assert.equal(box.ladder?.rungs.at(-1)?.definite, !breaks);
      assert.ok(Math.abs(box.height.residual) < 0.05, box.height.sentence);
    });

  for (const [name, css, label, why] of BLOCKS)
    test(`the containing block of an absolutely positioned box: ${name}`, async () => {
      const { box } = await subjectOf(
        headless,
        '<div class=o><div class=t></div></div>',
        `.o { margin: 30px } ${css} .t { position: absolute; width: 100% }`,
      );
      assert.equal(box.containingBlock?.label ?? '', label);
      assert.match(box.context.containing, why);
      assert.ok(Math.abs(box.width.residual) < 0.05, box.width.sentence);
    });

  for (const [name, css, html, property, why] of INERT)
    test(`without effect: ${name}`, async () => {
      const { box } = await subjectOf(headless, html, css);
      const found = box.inert.find((inert) => inert.property.split(', ').includes(property));
      if (why) assert.match(found?.why ?? 'not found', why);
      else assert.equal(found, undefined);
    });

  const DISTANCES: [name: string, css: string, html: string, px: number, says: RegExp][] = [
    [
      'between flex items: the gap',
      '.o { display: flex; gap: 14px } .o div { width: 50px; height: 9px }',
      '<div class=o><div class=t></div><div class=u></div></div>',
      14,
      /: 14 gap of div\.o \(14px\)\.$/,
    ],
    [
      'between flex items: free space',
      '.o { display: flex; justify-content: space-between; width: 300px } .o div { width: 50px; height: 9px }',
      '<div class=o><div class=t></div><div class=u></div></div>',
      200,
      /free/,
    ],
    [
      'between inline-blocks: white space',
      'b { display: inline-block; width: 20px; height: 9px } body { font: 20px sans-serif }',
      '<p><b class=t></b> <b class=u></b></p>',
      5.56,
      /text/,
    ],
    [
      'through paddings and borders',
      '.o { padding-left: 7px; border-left: 2px solid } .t { width: 30px; float: left; height: 9px } .w { float: left; margin-left: 5px } .u { width: 9px; height: 9px }',
      '<div class=t></div><div class="o w"><div class=u></div></div>',
      14,
      /margin-left of div\.o\.w .*|5 margin/,
    ],
  ];
  for (const [name, css, html, px, says] of DISTANCES)
    test(`distances: ${name}`, async () => {
      const analysis = await measureHtml(
        headless,
        `<!doctype html><style>body { margin: 0 } ${css}</style>${html}`,
      );
      const result = distanceAccount(
        analysis,
        { element: classed(analysis, 't'), area: 'border', side: 'right' },
        { element: classed(analysis, 'u'), area: 'border', side: 'left' },
      );
      assert.ok(Math.abs(result.used - px) < 0.05, `${result.used}: ${result.sentence}`);
      assert.ok(Math.abs(result.residual) < 0.05, result.sentence);
      assert.match(result.sentence, says);
    });
});
