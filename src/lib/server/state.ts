/** The one database of this process, opened before anything is served. */
import { eq } from 'drizzle-orm';
import { join } from 'node:path';
import { NoDatabase, openDatabase, type Opened, type Storage } from './database/open.ts';
import { facts } from './database/schema.ts';
import { purgeDeleted } from './database/specimens.ts';
import { prepareDemo } from './demo.ts';
import { ROOT } from './root.ts';
import { endWatching } from './origins/watch.ts';
import { endThreads } from './work/pool.ts';

let opening: Promise<Opened> | undefined;

export const place = (): { folder: string; url: string | undefined } => ({
  folder: process.env['NORMETRA_DATA'] ?? join(ROOT, 'data'),
  url: process.env['DATABASE_URL'] || undefined,
});

/** The demo comes once, whole or not at all, however many servers begin on one database. */
async function loadDemoOnce(storage: Storage): Promise<void> {
  await storage.alone(async () => {
    const isLoaded = async (db: Pick<Storage['db'], 'select'>): Promise<boolean> =>
      (await db.select().from(facts).where(eq(facts.name, 'demo'))).length > 0;
    if (await isLoaded(storage.db)) return;
    const put = process.env['NORMETRA_DEMO'] === 'none' ? null : await prepareDemo(storage);
    await storage.db.transaction(async (tx) => {
      await put?.(tx);
      await tx.insert(facts).values({ name: 'demo', value: new Date().toISOString() });
    });
  });
}

async function open(): Promise<Opened> {
  const opened = await openDatabase(place());
  await loadDemoOnce(opened);
  await purgeDeleted(opened);
  return opened;
}

/** Opens the database. Throws NoDatabase with a sentence. */
export async function start(): Promise<void> {
  opening ??= open();
  await opening;
}

export async function storage(): Promise<Storage> {
  opening ??= open();
  return opening;
}

export async function database(): Promise<Storage['db']> {
  return (await storage()).db;
}

export async function stop(): Promise<void> {
  await endWatching();
  await endThreads();
  await (await opening)?.close();
}

export { NoDatabase };
