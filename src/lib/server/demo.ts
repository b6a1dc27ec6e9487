/** The Quillhaven Ferries pages of `demo/`, put on the Shelf when a database is new. */
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join, relative } from 'node:path';
import type { Database } from './database/open.ts';
import { createSpecimen } from './database/specimens.ts';
import type { SourceFile } from './ingest/files.ts';
import { ingestFiles } from './ingest/specimen.ts';
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
export async function loadDemo(db: Database): Promise<void> {
  const files = filesUnder(join(ROOT, 'demo'));
  const assets = files.filter(({ path }) => /^(css|images)\//.test(path));
  for (const name of [...ORDER].reverse()) {
    const page = files.filter(({ path }) => path === `${name}.html`);
    await createSpecimen(db, await ingestFiles([...page, ...assets]), { demo: true });
  }
}
