/** A data folder of an earlier version is opened with all that is in it. */
import { PGlite } from '@electric-sql/pglite';
import { drizzle } from 'drizzle-orm/pglite';
import { migrate } from 'drizzle-orm/pglite/migrator';
import assert from 'node:assert/strict';
import { cpSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { hashOf } from '../../../src/lib/server/contents/store.ts';
import { openDatabase } from '../../../src/lib/server/database/open.ts';
import {
  entriesOf,
  findSpecimen,
  listRevisions,
  withBytes,
} from '../../../src/lib/server/database/specimens.ts';
import { ROOT } from '../../../src/lib/server/root.ts';
import { temporaryFolder } from '../../support/app.ts';

/** Migrations up to 0.18, which kept the contents of files in rows. */
const EARLIER = 3;

test('contents in rows become files, and revisions that two clients gave one number get their own', async () => {
  const folder = temporaryFolder();
  const migrations = join(folder, 'migrations');
  cpSync(join(ROOT, 'drizzle'), migrations, { recursive: true });
  const journal = join(migrations, 'meta/_journal.json');
  const all = JSON.parse(readFileSync(journal, 'utf8')) as { entries: unknown[] };
  writeFileSync(journal, JSON.stringify({ ...all, entries: all.entries.slice(0, EARLIER) }));
  const data = join(folder, 'data');
  mkdirSync(data);
  const before = await PGlite.create({ dataDir: join(data, 'postgres') });
  await migrate(drizzle(before), { migrationsFolder: migrations });
  const bytes = new TextEncoder().encode('<p>kept');
  const hash = hashOf(bytes);
  await before.query('insert into blobs (hash, bytes) values ($1, $2)', [hash, bytes]);
  await before.query(`insert into specimens (id, name) values ('s', 'Kept')`);
  for (const [id, number] of [
    ['a', 1],
    ['b', 2],
    ['c', 2],
  ])
    await before.query(
      `insert into revisions (id, specimen_id, number, key, entry, pages, missing) values ($1, 's', $2, $1, 'p.html', '["p.html"]', '[]')`,
      [id, number],
    );
  await before.query(
    `insert into files (revision_id, path, type, size, hash) values ('c', 'p.html', 'text/html', 7, $1)`,
    [hash],
  );
  await before.close();

  const storage = await openDatabase({ folder: data });
  const found = (await findSpecimen(storage.db, 's'))!;
  assert.equal(found.specimen.version, 1);
  assert.deepEqual(
    (await listRevisions(storage.db, 's')).map(({ number }) => number),
    [3, 2, 1],
  );
  const [entry] = await entriesOf(storage.db, 'c');
  assert.equal(new TextDecoder().decode((await withBytes(storage, entry!)).bytes), '<p>kept');
  assert.equal(readFileSync(join(data, 'contents', hash.slice(0, 2), hash), 'utf8'), '<p>kept');
  await storage.close();
  rmSync(folder, { recursive: true, force: true });
});
