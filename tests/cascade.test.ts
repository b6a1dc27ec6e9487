/** The cascade's answers are the engine's computed values: on a page of every feature, the demo, and the corpus. */
import assert from 'node:assert/strict';
import { join } from 'node:path';
import { after, before, describe, test } from 'node:test';
import { openHeadless, type Headless } from '../src/lib/server/engines/headless.ts';
import { ROOT } from '../src/lib/server/root.ts';
import { compareCascade } from './conformance/cascade.ts';
import { corpusPages, demoPages, hasCorpus, pagesOf, type CorpusPage } from './corpus.ts';

const SAMPLE = /general_elements|landing|form|atomiccommit|whentouse|about/;

describe('cascade against the engine', () => {
  let headless: Headless;
  before(async () => {
    headless = await openHeadless();
  });
  after(() => headless.close());

  async function agreement({ entry, files }: CorpusPage, width = 1280) {
    const opened = await headless.open(files, entry, { width, height: 800 });
    const result = await compareCascade(headless.page, opened.address, await opened.measure());
    await opened.close();
    return result;
  }
  const shown = (list: unknown[]) => JSON.stringify(list.slice(0, 30), null, 1);

  for (const page of pagesOf('specimens', join(ROOT, 'tests/specimens')))
    test(`every feature: ${page.name}`, async () => {
      const { disagreements } = await agreement(page);
      assert.deepEqual(disagreements, [], shown(disagreements));
    });

  const pages = [...demoPages(), ...corpusPages().filter(({ name }) => SAMPLE.test(name))];
  test(
    'the demo and a sample of the corpus agree to 99.9 %',
    { skip: hasCorpus ? false : 'the corpus is not here' },
    async (t) => {
      let compared = 0;
      let agreed = 0;
      for (const page of pages) {
        const result = await agreement(page, 1280);
        compared += result.compared;
        agreed += result.agreed;
      }
      t.diagnostic(
        `${((100 * agreed) / compared).toFixed(4)} % of ${compared} values on ${pages.length} pages`,
      );
      assert.ok(compared > 400_000);
      assert.ok(agreed / compared >= 0.999);
    },
  );
});
