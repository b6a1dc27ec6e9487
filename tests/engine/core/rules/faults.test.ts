/** A few planted faults of those of `npm run faults`: found, blamed, and gone with the first remedy. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';
import { draw } from '../../../harness/conformance/families.ts';
import { FAULTS } from '../../../harness/faults/kinds.ts';
import { plant, type Result } from '../../../harness/faults/plant.ts';
import { SOUND } from '../../../harness/faults/sound.ts';

const SEED = Number(process.env['SEED'] ?? 3);

describe('planted faults', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (const fault of FAULTS)
    test(`${fault.name} (seed ${SEED})`, async (t) => {
      const drawn = draw(SEED * 100 + FAULTS.indexOf(fault));
      let result: Result | null = null;
      for (let attempt = 0; attempt < 20 && !(result && result.found !== null); attempt++)
        result = await plant(headless, SOUND, fault, drawn);
      assert.ok(result && result.found !== null, 'there is nowhere to plant it');
      t.diagnostic(`${result.page}: ${result.told}`);
      const { found, first, line, remedied, unrelated } = result;
      assert.deepEqual(
        { found, first, line, remedied, unrelated },
        { found: true, first: true, line: true, remedied: true, unrelated: [] },
      );
    });
});
