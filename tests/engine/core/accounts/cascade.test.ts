/** The cascade's answers are the engine's computed values: on a page of every feature, the demo, and the corpus. */
import assert from 'node:assert/strict';
import { join } from 'node:path';
import { after, before, describe, test } from 'node:test';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';
import { ROOT } from '../../../../src/lib/server/root.ts';
import { compareCascade } from '../../../harness/conformance/cascade.ts';
import { corpusPages, demoPages, pagesOf, withCorpus, type CorpusPage } from '../../../support/corpus.ts';

const SAMPLE = /general_elements|landing|form|atomiccommit|whentouse|about/;

describe('cascade against the engine', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  async function agreement({ entry, files }: CorpusPage, width = 1280) {
    const opened = await headless.open(files, entry, { width, height: 800 });
    const analysis = await opened.measure();
    const result = await compareCascade(headless.page, opened.address, analysis);
    await opened.close();
    return { ...result, mode: analysis.reading.document.mode };
  }
  const shown = (list: unknown[]) => JSON.stringify(list.slice(0, 30), null, 1);

  const [every] = pagesOf('specimens', join(ROOT, 'tests/support/specimens'));
  /** The same page without its doctype, and with lengths that quirks mode alone takes (Quirks Mode §3.2). */
  const quirks = (page: CorpusPage): CorpusPage => ({
    ...page,
    files: page.files.map((file) => {
      if (file.path !== page.entry) return file;
      const html = new TextDecoder()
        .decode(file.bytes)
        .replace('<!doctype html>', '')
        .replace('width: 12 px', 'width: 12; margin-left: 7; font-size: 19; width: 12 px');
      return { ...file, bytes: new TextEncoder().encode(html) };
    }),
  });
  for (const [mode, page] of [
    ['standards', every!],
    ['quirks', quirks(every!)],
  ] as const)
    for (const width of [1280, 250])
      test(`every feature, in ${mode} mode at ${width}`, async () => {
        const { disagreements, mode: found } = await agreement(page, width);
        assert.equal(found, mode);
        assert.deepEqual(disagreements, [], shown(disagreements));
      });

  const pages = [...demoPages(), ...corpusPages().filter(({ name }) => SAMPLE.test(name))];
  test('the demo and a sample of the corpus agree to 99.9 %', withCorpus, async (t) => {
    let compared = 0;
    let agreed = 0;
    for (const page of pages) {
      const result = await agreement(page, 1280);
      compared += result.compared;
      agreed += result.agreed;
    }
    t.diagnostic(`${((100 * agreed) / compared).toFixed(4)} % of ${compared} values on ${pages.length} pages`);
    assert.ok(compared > 400_000);
    assert.ok(agreed / compared >= 0.999);
  });
});
