/** Where boxes lie, and what does nothing on them, as the document `reading/1` says it. */
import assert from 'node:assert/strict';
import { before, describe, test } from 'node:test';
import { readingDocument, type ReadingDocument } from '../../../../src/core/reports/reading.ts';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';

type Box = ReadingDocument['boxes'][number];

/** Of the box of class `t`: where it lies, by which declaration, and where it would lie with other CSS. */
interface Case {
  what: string;
  css: string;
  html: string;
  axis: 'x' | 'y';
  px: number;
  told: RegExp;
  instead: [css: string, px: number];
}

const CASES: Case[] = [
  {
    what: 'moved by an offset',
    css: '.t { position: relative; left: 50px }',
    html: '<div class=t>A</div>',
    axis: 'x',
    px: 50,
    told: /left: 50px/,
    instead: ['.t { left: 70px }', 70],
  },
  {
    what: 'in the middle by its margins',
    css: '.c { position: relative; width: 600px; height: 300px } .t { position: absolute; inset: 0; margin: auto; width: 200px; height: 100px }',
    html: '<div class=c><div class=t></div></div>',
    axis: 'x',
    px: 200,
    told: /margin: auto/,
    instead: ['.t { margin: 0 }', 0],
  },
  {
    what: 'without insets, in a flex container',
    css: '.f { position: relative; display: flex; justify-content: center; width: 600px; height: 50px } .t { position: absolute; width: 100px }',
    html: '<div class=f><div class=t>A</div></div>',
    axis: 'x',
    px: 250,
    told: /justify-content: center/,
    instead: ['.f { justify-content: end }', 500],
  },
  {
    what: 'after a track and a gap',
    css: '.g { display: grid; grid-template-columns: 100px 100px; gap: 10px }',
    html: '<div class=g><p>A</p><p class=t>B</p></div>',
    axis: 'x',
    px: 110,
    told: /gap: 10px/,
    instead: ['.g { gap: 30px }', 130],
  },
  {
    what: 'under a margin that leaves its parent',
    css: '.t { margin-top: 40px }',
    html: '<section><div class=t>A</div></section>',
    axis: 'y',
    px: 40,
    told: /margin-top: 40px/,
    instead: ['.t { margin-top: 15px }', 15],
  },
];

const words = ({ terms }: Box['width']): string =>
  terms.map(({ px, note, source }) => `${px} ${source?.property}: ${source?.value} ${note}`).join(' + ');

describe('where boxes lie', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });

  const read = async (html: string, css: string): Promise<Box> => {
    const bytes = new TextEncoder().encode(`<!doctype html><style>body, p { margin: 0 } ${css}</style>${html}`);
    const files = [{ path: 'index.html', type: 'text/html', bytes }];
    const opened = await headless.open(files, 'index.html', { width: 800, height: 600 });
    const analysis = await opened.measure();
    const { boxes } = await opened.complete(analysis, () =>
      readingDocument(analysis, { page: 'index.html', defaults: 'as-rendered' }),
    );
    await opened.close();
    return boxes.find(({ label }) => label.endsWith('.t'))!;
  };

  for (const { what, css, html, axis, px, told, instead } of CASES)
    test(what, async () => {
      const { place, rect } = await read(html, css);
      assert.equal(place[axis].used, px);
      assert.equal(rect[axis], px);
      assert.ok(Math.abs(place[axis].residual) < 0.05, words(place[axis]));
      assert.match(words(place[axis]), told);
      assert.equal((await read(html, `${css} ${instead[0]}`)).place[axis].used, instead[1]);
    });

  test('what a box does not take stands with it', async () => {
    const { inert } = await read('<span class=t>A</span>', '.t { width: 200px }');
    assert.deepEqual(
      inert.map(({ property, value }) => `${property}: ${value}`),
      ['width: 200px'],
    );
  });
});
