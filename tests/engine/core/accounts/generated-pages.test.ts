/** The cascade on generated pages: random rules over a random tree, held against the engine. The seed is printed. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';
import { compareCascade } from '../../../harness/conformance/cascade.ts';
import { page } from '../../../support/generate.ts';

const PAGES = 12;
const SEED = Number(process.env['SEED'] ?? 20261125);

describe('generated pages', () => {
  let headless: Headless;
  let all = 0;
  let wrong = 0;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (let i = 0; i < PAGES; i++) {
    const seed = SEED + i;
    test(`the cascade is the engine’s (seed ${seed})`, async (t) => {
      const files = [{ path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(page(seed)) }];
      const opened = await headless.open(files, 'index.html', { width: 800, height: 600 });
      const { compared, disagreements } = await compareCascade(
        headless.page,
        opened.address,
        await opened.measure(),
      );
      await opened.close();
      t.diagnostic(`${compared - disagreements.length} of ${compared} values agree`);
      assert.ok(compared > 1000);
      for (const disagreement of disagreements.slice(0, 5)) t.diagnostic(JSON.stringify(disagreement));
      all += compared;
      wrong += disagreements.length;
      assert.ok(
        disagreements.length / compared <= 0.01,
        `SEED=${seed}: ${disagreements.length} of ${compared} disagree`,
      );
    });
  }

  test('99.9 % of all of them', (t) => {
    t.diagnostic(`${(100 - (100 * wrong) / all).toFixed(4)} % of ${all} values`);
    assert.ok(all > 50_000 && wrong / all <= 0.001);
  });
});
