/** The one database of this process, opened in the background as the server starts. */
import { eq } from 'drizzle-orm';
import { join } from 'node:path';
import { openDatabase, type Database, type Opened } from './database/open.ts';
import { facts } from './database/schema.ts';
import { purgeDeleted } from './database/specimens.ts';
import { loadDemo } from './demo.ts';
import { ROOT } from './root.ts';

let opening: Promise<Opened> | undefined;

async function open(): Promise<Opened> {
  const opened = await openDatabase({
    folder: process.env['NORMETRA_DATA'] ?? join(ROOT, 'data'),
    url: process.env['DATABASE_URL'],
  });
  const [loaded] = await opened.db.select().from(facts).where(eq(facts.name, 'demo'));
  if (!loaded) {
    if (process.env['NORMETRA_DEMO'] !== 'none') await loadDemo(opened.db);
    await opened.db.insert(facts).values({ name: 'demo', value: new Date().toISOString() });
  }
  await purgeDeleted(opened.db);
  return opened;
}

export function start(): void {
  opening ??= open();
  opening.catch((error: unknown) => {
    console.error(
      `The database could not be opened: ${error instanceof Error ? error.message : String(error)}`,
    );
    process.exit(3);
  });
}

export async function database(): Promise<Database> {
  start();
  return (await opening!).db;
}

export async function stop(): Promise<void> {
  await (await opening)?.close();
}
