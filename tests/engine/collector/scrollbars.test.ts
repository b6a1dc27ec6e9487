/** Scrollbars laid over what they scroll, as phones have them. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Headless } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';
import { classed } from '../../support/measure.ts';

const PAGES: { name: string; css: string; html: string; beside: number; over: number }[] = [
  { name: 'of the viewport', css: '.t { height: 3000px }', html: '<p class=t>', beside: 345, over: 360 },
  {
    name: 'of a box, of which its content has less room',
    css: 'main { width: 200px; height: 50px; overflow: auto } .t { height: 90px }',
    html: '<main><p class=t></main>',
    beside: 185,
    over: 200,
  },
  {
    name: 'that a box keeps room for',
    css: 'main { width: 200px; scrollbar-gutter: stable; overflow: auto }',
    html: '<main><p class=t>a</main>',
    beside: 185,
    over: 200,
  },
  {
    name: 'of a width of the page’s own',
    css: 'main { width: 200px; height: 50px; overflow: auto } main::-webkit-scrollbar { width: 40px } .t { height: 90px }',
    html: '<main><p class=t></main>',
    beside: 160,
    over: 200,
  },
  {
    name: 'in a shadow tree',
    css: '',
    html: '<div><template shadowrootmode=open><style>section { width: 200px; height: 50px; overflow: auto } p { margin: 0; height: 90px }</style><section><p class=t></section></template></div>',
    beside: 185,
    over: 200,
  },
];

describe('scrollbars', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (const { name, css, html, beside, over } of PAGES)
    test(`${name}, beside what they scroll and over it`, async () => {
      const text = `<!doctype html><style>body, p { margin: 0 } ${css}</style>${html}`;
      const files = [{ path: 'index.html', type: 'text/html', bytes: Buffer.from(text) }];
      const opened = await headless.open(files, 'index.html', { width: 360, height: 800 });
      const width = async () => {
        const analysis = await opened.measure();
        // The sheet that does it is none of the page's.
        assert.deepEqual(
          (await opened.ask('describe', null)).sheets.filter(({ form }) => form === 'constructed'),
          [],
        );
        return analysis.reading.rects[classed(analysis, 't') * 4 + 2];
      };
      assert.equal(await width(), beside);
      assert.equal(await opened.ask('setScrollbars', { areOver: true }), true);
      assert.equal(await width(), over);
      assert.equal(await opened.ask('setScrollbars', { areOver: true }), false, 'they were so already');
      assert.equal(await opened.ask('setScrollbars', { areOver: false }), true);
      assert.equal(await width(), beside);
      await opened.close();
    });
});
