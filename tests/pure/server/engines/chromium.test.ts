import assert from 'node:assert/strict';
import { test } from 'node:test';
import { launchOptions } from '../../../../src/lib/server/engines/drivers/chromium.ts';

test('an engine keeps its own sandbox unless it is started as root', () => {
  assert.equal(launchOptions(1000).chromiumSandbox, true);
  assert.equal(launchOptions(undefined).chromiumSandbox, true);
  assert.equal(launchOptions(0).chromiumSandbox, false);
  for (const uid of [0, 1000]) assert.ok(!launchOptions(uid).args!.some((flag) => /sandbox/.test(flag)));
});
