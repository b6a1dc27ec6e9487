/** The Quillhaven Ferries pages of `demo/`, put on the Shelf when a database is new. */
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { copyFile, rm } from 'node:fs/promises';
import { join, relative } from 'node:path';
import type { Storage } from './database/open.ts';
import { adoptContents, insertSpecimen, type Transaction } from './database/specimens.ts';
import type { SourceFile } from './ingest/files.ts';
import { stage, type Staged } from './ingest/staging.ts';
import { ROOT } from './root.ts';

export function filesUnder(folder: string): SourceFile[] {
  return readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .map((name) => join(folder, name))
    .filter((path) => statSync(path).isFile())
    .sort()
    .map((path) => ({ path: relative(folder, path), bytes: new Uint8Array(readFileSync(path)) }));
}

const ORDER = ['sailings', 'fares', 'timetable', 'notices', 'booking', 'harbour-guide'];

/** Each page with the sheets and images of the site is a specimen. The last one put in stands first on the Shelf. */
async function stageDemo(folder: string): Promise<Staged[]> {
  const root = join(ROOT, 'demo');
  const paths = readdirSync(root, { recursive: true, encoding: 'utf8' })
    .filter((path) => statSync(join(root, path)).isFile())
    .sort();
  const out: Staged[] = [];
  for (const name of [...ORDER].reverse()) {
    const sent = [];
    for (const path of paths.filter((path) => path === `${name}.html` || /^(css|images)[\\/]/.test(path))) {
      const file = join(folder, `${name}-${sent.length}`);
      await copyFile(join(root, path), file);
      sent.push({ path, file });
    }
    out.push(await stage({ sent, folder, over: null }));
  }
  return out;
}

/** Puts the demo's contents into the store; the answer puts its specimens on the Shelf, in a transaction of the caller's. */
export async function prepareDemo(storage: Storage): Promise<(tx: Transaction) => Promise<void>> {
  const folder = await storage.contents.staging();
  try {
    const staged = await stageDemo(folder);
    await adoptContents(
      storage,
      staged.flatMap(({ files }) => files),
    );
    return async (tx) => {
      // All of a transaction happens at one instant for the database, and the Shelf goes by time.
      const now = Date.now();
      for (const [i, specimen] of staged.entries())
        await insertSpecimen(tx, specimen, { demo: true, createdAt: new Date(now + i) });
    };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
