/** A harness that measures an empty frame, or another page's, is told so. */
import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Headless } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';
import { checkMeasured } from '../../support/measured.ts';

let headless: Headless;
before(async () => {
  headless = await openEngine();
});
after(() => headless.close());

const open = (html: string) =>
  headless.open([{ path: 'p.html', type: 'text/html', bytes: new TextEncoder().encode(html) }], 'p.html', {
    width: 800,
    height: 600,
  });

test('what is measured is what the page has', async () => {
  const page = await open('<!doctype html><title>x</title><p>a<p>b');
  const { elements, boxes } = await checkMeasured(page, await page.measure(), 'p');
  assert.deepEqual({ elements, boxes }, { elements: 6, boxes: 4 });
  const empty = await open('<!doctype html><title>x</title>');
  const other = await empty.measure();
  await assert.rejects(checkMeasured(page, other, 'p'), /4 elements were measured, and the page has 6/);
  const hidden = await open('<!doctype html><html hidden><title>x</title><p>a');
  await assert.rejects(
    async () => checkMeasured(hidden, await hidden.measure(), 'h'),
    /none of \d+ elements has a box/,
  );
});
