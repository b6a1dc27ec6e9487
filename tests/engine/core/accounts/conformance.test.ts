/** A sample of the conformance run: accounts against the engine on generated pages, seeds printed, and on the demo. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';
import {
  complete,
  counterfactuals,
  newResult,
  residuals,
  type Share,
} from '../../../harness/conformance/accounts.ts';
import { draw, FAMILY_NAMES, familyPage } from '../../../harness/conformance/families.ts';
import { demoPages } from '../../../support/corpus.ts';

const SEED = Number(process.env['SEED'] ?? 20261125);
const PAGES = 4;
const part = ({ all, open }: Share): number => (all === 0 ? 1 : 1 - open / all);
const shown = (share: Share): string => `${(100 * part(share)).toFixed(2)} % of ${share.all}`;

describe('accounts against the engine', () => {
  let headless: Headless;
  const total = newResult();
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (const name of FAMILY_NAMES)
    test(`generated pages: ${name} (from seed ${SEED})`, async (t) => {
      const result = newResult();
      for (let seed = SEED; seed < SEED + PAGES; seed++) {
        const bytes = new TextEncoder().encode(familyPage(name, seed));
        const files = [{ path: 'index.html', type: 'text/html', bytes }];
        const opened = await headless.open(files, 'index.html', { width: 800, height: 600 });
        const analysis = await opened.measure();
        await complete(opened, analysis);
        residuals(analysis, `seed ${seed}`, result);
        await counterfactuals(headless.page, opened, analysis, `seed ${seed}`, draw(seed), 8, result);
        await opened.close();
      }
      for (const key of ['widths', 'heights', 'distances', 'counterfactual', 'causes'] as const) {
        t.diagnostic(`${key}: ${shown(result[key])}`);
        total[key].all += result[key].all;
        total[key].open += result[key].open;
      }
      for (const text of result.seen.slice(0, 3)) t.diagnostic(text.slice(0, 300));
      assert.ok(
        result.widths.all > 10 && result.heights.all > 10,
        `only ${result.widths.all} widths and ${result.heights.all} heights were looked at`,
      );
    });

  test('of all of them', (t) => {
    const least = { widths: 0.995, heights: 0.99, distances: 0.995, counterfactual: 0.97, causes: 0.99 };
    for (const [key, bound] of Object.entries(least)) {
      const share = total[key as keyof typeof least];
      t.diagnostic(`${key}: ${shown(share)}`);
      assert.ok(share.all > 100, `${key}: only ${share.all}`);
      assert.ok(part(share) >= bound, `${key}: ${shown(share)}`);
    }
  });

  test('on the demo nothing but 1 in 500 is left unexplained', async (t) => {
    const result = newResult();
    for (const { entry, files, name } of demoPages())
      for (const width of [360, 1280]) {
        const opened = await headless.open(files, entry, { width, height: 800 });
        const analysis = await opened.measure();
        await complete(opened, analysis);
        residuals(analysis, `${name} at ${width}`, result);
        await opened.close();
      }
    for (const text of result.seen) t.diagnostic(text.slice(0, 300));
    for (const share of [result.widths, result.heights, result.distances]) {
      t.diagnostic(shown(share));
      assert.ok(share.all > 300 && part(share) >= 0.998, shown(share));
    }
  });
});
