/**
 * What a size goes along with: px of it for each px of a property of a box, as its sum says. The numbers are reasoned from
 * the specifications; `npm run conformance` holds the same answers against the engine on generated pages.
 */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { effectKey, sizeEffects } from '../../../../src/core/accounts/model/effects.ts';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';
import { classed, measureHtml } from '../../../support/measure.ts';

interface Case {
  name: string;
  css: string;
  html: string;
  axis: 'x' | 'y';
  /** By `class property`: px of the size of `.t` for each px; 0: it counts for nothing. */
  rates: Record<string, number>;
}

const CASES: Case[] = [
  {
    name: 'what is put below a float goes along with where the float ends, not with what lies beside it',
    css: '.f { float: left; width: 50px; height: 80px; margin: 4px 0 } .a { height: 20px } .b { clear: both; height: 10px } .t { overflow: hidden }',
    html: '<div class=t><div class="f f1"></div><div class="a a1"></div><div class="b b1"></div></div>',
    axis: 'y',
    rates: { 'f1 height': 1, 'f1 margin-top': 1, 'f1 margin-bottom': 1, 'a1 height': 0, 'b1 height': 1 },
  },
  {
    name: 'a float that reaches furthest down stretches its formatting context',
    css: '.t { overflow: hidden } .a { height: 20px } .f { float: left; height: 60px; width: 10px }',
    html: '<div class=t><div class="a a1"></div><div class="f f1"></div></div>',
    axis: 'y',
    rates: { 'a1 height': 1, 'f1 height': 1 },
  },
  {
    name: 'a float that is not put below text does not add to an auto height',
    css: '.f { float: left; height: 60px; width: 10px } .a { height: 100px }',
    html: '<div class=t><div class="f f1"></div><div class="a a1"></div></div>',
    axis: 'y',
    rates: { 'f1 height': 0, 'a1 height': 1 },
  },
  {
    name: 'a whole line goes along with all of the line height',
    css: '.t { font: 16px/20px sans-serif }',
    html: '<div class=t>a<br>b<br>c</div>',
    axis: 'y',
    rates: { 't line-height': 3 },
  },
  {
    name: 'under an image only half of the leading counts',
    css: '.t { font: 16px/20px sans-serif } .i { display: inline-block; width: 9px; height: 50px }',
    html: '<div class=t><span class="i i1"></span></div>',
    axis: 'y',
    rates: { 'i1 height': 1, 't line-height': 0.5 },
  },
  {
    name: 'two things as tall as their line: both count',
    css: '.t { font: 16px/20px sans-serif } .i { display: inline-block; width: 9px; height: 50px; vertical-align: top }',
    html: '<div class=t><span class="i i1"></span><span class="i i2"></span></div>',
    axis: 'y',
    rates: { 'i1 height': 1, 'i2 height': 1, 't line-height': 0 },
  },
  {
    name: 'half of what is in the middle reaches over the baseline, half under it',
    css: '.t { font: 16px/20px sans-serif } .i { display: inline-block; width: 9px; height: 60px; vertical-align: middle }',
    html: '<div class=t><span class="i i1"></span></div>',
    axis: 'y',
    rates: { 'i1 height': 1, 't line-height': 0 },
  },
  {
    name: 'a raised inline-block makes its line taller by as much',
    css: '.t { font: 16px/20px sans-serif } .i { display: inline-block; width: 9px; height: 40px; vertical-align: 6px }',
    html: '<div class=t><span class="i i1"></span></div>',
    axis: 'y',
    rates: { 'i1 height': 1, 'i1 vertical-align': 1 },
  },
  {
    name: 'the tallest item of a flex line',
    css: '.t { display: flex } .a { height: 30px } .b { height: 50px; margin-top: 3px }',
    html: '<div class=t><div class="a a1"></div><div class="b b1"></div></div>',
    axis: 'y',
    rates: { 'a1 height': 0, 'b1 height': 1, 'b1 margin-top': 1 },
  },
  {
    name: 'an item that is stretched goes along with the tallest',
    css: '.c { display: flex } .b { height: 50px }',
    html: '<div class=c><div class=t>a</div><div class="b b1"></div></div>',
    axis: 'y',
    rates: { 'b1 height': 1 },
  },
  {
    name: 'what shrinks shares what is missing by its base size',
    css: '.c { display: flex; width: 300px } .t { width: 200px; min-width: 0 } .b { width: 200px; min-width: 0 }',
    html: '<div class="c c1"><div class=t></div><div class="b b1"></div></div>',
    axis: 'x',
    // 200 − 100 × 200 / 400: both its base and its weight change.
    rates: { 't width': 0.375, 'b1 width': -0.375, 'c1 width': 0.5 },
  },
  {
    name: 'what grows shares what is free, less the gaps',
    css: '.c { display: flex; width: 300px; gap: 10px } .t, .b, .d { flex: 1 0 20px }',
    html: '<div class="c c1"><div class=t></div><div class=b></div><div class="d d1"></div></div>',
    axis: 'x',
    rates: { 'c1 width': 1 / 3, 'c1 column-gap': -2 / 3, 'd1 flex-basis': -1 / 3 },
  },
  {
    name: 'a percentage of a stretched item',
    css: '.c { display: flex; height: 200px } .t { height: 50% }',
    html: '<div class="c c1"><div><div class=t></div></div></div>',
    axis: 'y',
    rates: { 'c1 height': 0.5 },
  },
  {
    name: 'percentages of a height that is still being worked out count as auto',
    css: '.t { display: flex } .a { height: 50% } .i { height: 40px } .b { height: 30px }',
    html: '<div class=t><div><div class=a><div class="i i1"></div></div><div class="b b1"></div></div></div>',
    axis: 'y',
    rates: { 'i1 height': 1, 'b1 height': 1 },
  },
  {
    name: 'a flexible track takes what the others leave',
    css: '.c { display: grid; grid-template-columns: auto 1fr; width: 300px; column-gap: 8px } .a { width: 40px; margin-right: 2px }',
    html: '<div class="c c1"><div class="a a1"></div><div class=t></div></div>',
    axis: 'x',
    rates: { 'c1 width': 1, 'c1 column-gap': -1, 'a1 width': -1, 'a1 margin-right': -1 },
  },
  {
    name: 'two items as large in one track: either makes it larger',
    css: '.c { display: grid; grid-template-columns: max-content 1fr } .a { width: 40px }',
    html: '<div class=c><div class="a a1"></div><div></div><div class="a a2"></div><div></div><div class=t></div></div>',
    axis: 'x',
    rates: { 'a1 width': 1, 'a2 width': 1 },
  },
  {
    name: 'a minimum silences the width',
    css: '.t { width: 100px; min-width: 140px }',
    html: '<div class=t></div>',
    axis: 'x',
    rates: { 't min-width': 1, 't width': 0 },
  },
  {
    name: 'padding in em goes along with the font',
    css: '.t { display: inline-block; font-size: 20px; padding-left: 2em } .u { width: 10px }',
    html: '<div class=t><div class=u></div></div>',
    axis: 'x',
    rates: { 't padding-left': 1, 't font-size': 2 },
  },
  {
    name: 'half of the widest border where borders collapse; all that are as wide count',
    css: 'table { border-collapse: collapse } td { padding: 0; height: 20px } .a, .b { border: 4px solid }',
    html: '<table class=t><tr><td class="a a1"><td class="b b1"></table>',
    axis: 'y',
    rates: { 'a1 border-top-width': 0.5 + 0.5, 'b1 border-top-width': 0.5 + 0.5 },
  },
  {
    name: 'a column in percent asks for a whole of which it is that part',
    css: 'table { border-spacing: 0 } td { padding: 0 } .a { width: 25% } .i { width: 50px } .j { width: 30px }',
    html: '<table class=t><tr><td class=a><div class="i i1"></div><td><div class="j j1"></div></table>',
    axis: 'x',
    rates: { 'i1 width': 4, 'j1 width': 0 },
  },
];

describe('what sums go along with', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (const { name, css, html, axis, rates } of CASES)
    test(name, async () => {
      const page = `<!doctype html><style>body { margin: 0 }\n${css}</style>${html}`;
      const analysis = await measureHtml(headless, page);
      const effects = sizeEffects(analysis, classed(analysis, 't'), axis);
      const found = Object.fromEntries(
        Object.keys(rates).map((key) => {
          const [label = '', property = ''] = key.split(' ');
          const rate = effects.get(effectKey({ box: classed(analysis, label), property })) ?? 0;
          return [key, Math.round(rate * 1000) / 1000];
        }),
      );
      const wanted = Object.fromEntries(
        Object.entries(rates).map(([key, rate]) => [key, Math.round(rate * 1000) / 1000]),
      );
      assert.deepEqual(found, wanted);
    });
});
