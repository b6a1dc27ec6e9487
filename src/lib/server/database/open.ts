import { PGlite } from '@electric-sql/pglite';
import { sql } from 'drizzle-orm';
import type { PgDatabase, PgQueryResultHKT } from 'drizzle-orm/pg-core';
import { drizzle } from 'drizzle-orm/pglite';
import { migrate } from 'drizzle-orm/pglite/migrator';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from '../root.ts';
import * as schema from './schema.ts';

export type Database = PgDatabase<PgQueryResultHKT, typeof schema>;

export interface Opened {
  db: Database;
  close: () => Promise<void>;
}

const MIGRATIONS = join(ROOT, 'drizzle');
/** A new database takes seconds to make; set-up makes one once and every new data folder starts as its copy. */
export const TEMPLATE = join(ROOT, 'node_modules', '.cache', 'normetra', 'database.tgz');

/** Opens the database in `folder`, or the PostgreSQL server that `url` names, with all migrations applied. */
export async function openDatabase({
  folder,
  url,
}: {
  folder: string;
  url?: string | undefined;
}): Promise<Opened> {
  if (url) return openServer(url);
  mkdirSync(folder, { recursive: true });
  const unlock = lock(folder);
  try {
    const dataDir = join(folder, 'postgres');
    const isNew = !existsSync(join(dataDir, 'PG_VERSION'));
    if (isNew) rmSync(dataDir, { recursive: true, force: true });
    const template = isNew && existsSync(TEMPLATE) ? new Blob([readFileSync(TEMPLATE)]) : undefined;
    const client = await PGlite.create({ dataDir, ...(template ? { loadDataDir: template } : {}) });
    const db = drizzle(client, { schema });
    await migrate(db, { migrationsFolder: MIGRATIONS });
    return {
      db: db as unknown as Database,
      close: async () => {
        await client.close();
        unlock();
      },
    };
  } catch (error) {
    unlock();
    throw error;
  }
}

async function openServer(url: string): Promise<Opened> {
  const { default: postgres } = await import('postgres');
  const pg = await import('drizzle-orm/postgres-js');
  const { migrate: migrateServer } = await import('drizzle-orm/postgres-js/migrator');
  const client = postgres(url, { onnotice: () => undefined });
  const db = pg.drizzle(client, { schema });
  await db.execute(sql`select 1`);
  await migrateServer(db, { migrationsFolder: MIGRATIONS });
  return { db: db as unknown as Database, close: () => client.end() };
}

/** Makes the template that new data folders are copied from. */
export async function makeTemplate(): Promise<void> {
  const client = await PGlite.create();
  await migrate(drizzle(client, { schema }), { migrationsFolder: MIGRATIONS });
  const dump = await client.dumpDataDir('gzip');
  mkdirSync(join(TEMPLATE, '..'), { recursive: true });
  writeFileSync(TEMPLATE, Buffer.from(await dump.arrayBuffer()));
  await client.close();
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** Two processes on one data folder would destroy it: the second is turned away. A killed owner's lock is taken over. */
function lock(folder: string): () => void {
  const prefix = 'in-use-by-';
  for (const name of readdirSync(folder).filter((one) => one.startsWith(prefix))) {
    const pid = Number(name.slice(prefix.length));
    if (pid !== process.pid && isAlive(pid) && isNormetra(pid))
      throw new Error(
        `The data folder ${folder} is in use by process ${pid}. Stop that one, or choose another folder with --data.`,
      );
    rmSync(join(folder, name));
  }
  const own = join(folder, `${prefix}${process.pid}`);
  writeFileSync(own, '');
  return () => rmSync(own, { force: true });
}

/** After a restart of the machine the number may be some other program's. */
function isNormetra(pid: number): boolean {
  const file = `/proc/${pid}/cmdline`;
  return !existsSync(file) || readFileSync(file, 'utf8').includes('node');
}
