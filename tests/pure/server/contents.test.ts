/** What a server that was killed has left of its uploads. */
import assert from 'node:assert/strict';
import { existsSync, mkdirSync, rmSync, utimesSync } from 'node:fs';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { pieceStore } from '../../../src/lib/server/contents/pieces.ts';
import type { Database } from '../../../src/lib/server/database/open.ts';
import { temporaryFolder } from '../../support/app.ts';

const folder = temporaryFolder();
after(() => rmSync(folder, { recursive: true, force: true }));

test('uploads that a killed server left are cleared a day later; those of other servers stay', async () => {
  const old = join(folder, 'upload-old');
  const fresh = join(folder, 'upload-fresh');
  for (const path of [old, fresh]) mkdirSync(path);
  const yesterday = Date.now() / 1000 - 25 * 3600;
  utimesSync(old, yesterday, yesterday);
  await pieceStore({} as Database, folder);
  assert.equal(existsSync(old), false);
  assert.equal(existsSync(fresh), true);
});
