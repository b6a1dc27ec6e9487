/** Random trials on real pages: applied, taken off, and written out. `TRIALS=n` and `SEED=n` choose how many and which. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { openHeadless, type Headless } from '../src/lib/server/engines/headless.ts';
import { draw } from './conformance/families.ts';
import { corpusPages, demoPages } from './corpus.ts';
import { tryOnce } from './random-trials.ts';

const TRIALS = Number(process.env['TRIALS'] ?? 24);
const SEED = Number(process.env['SEED'] ?? 4);
const SIZE = { width: 1280, height: 800 };

describe('random trials', () => {
  let headless: Headless;
  before(async () => {
    headless = await openHeadless();
  });
  after(() => headless.close());

  const pages = [...demoPages(), ...corpusPages()];
  const used = pages.slice(0, Math.min(pages.length, Math.max(1, Math.floor(TRIALS / 4))));
  for (const [number, page] of used.entries())
    test(`on ${page.name} (seed ${SEED})`, async (t) => {
      const opened = await headless.open(page.files, page.entry, SIZE);
      const plain = await opened.measure();
      let refused = 0;
      const own = Math.ceil((TRIALS - number) / used.length);
      for (let n = 0; n < own; n++) {
        const seed = SEED * 1000 + number * 100 + n;
        const { edits, failed, wrong } = await tryOnce(headless, opened, page, plain, draw(seed), SIZE);
        refused += failed;
        assert.deepEqual(wrong, [], `seed ${seed}: ${JSON.stringify(edits.map(({ change }) => change))}`);
      }
      await opened.close();
      t.diagnostic(`${own} trials, ${refused} edits with nothing to change`);
    });
});
