/**
 * Everything that is kept, as one file: a compressed tar archive with the rows of each table as lines of JSON and the contents of
 * files under their hashes. It is read and written the same with the embedded database and with a server's.
 */
import { getTableName, sql } from 'drizzle-orm';
import { createReadStream, createWriteStream, readFileSync } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import { createInterface } from 'node:readline';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import { extract, pack } from 'tar-stream';
import { z } from 'zod';
import { hashStream, MissingContents, type Held } from '../contents/store.ts';
import { Refusal } from '../ingest/refusal.ts';
import { ROOT } from '../root.ts';
import { VERSION } from '../version.ts';
import { rowsOf, type Database, type Storage } from './open.ts';
import { facts, files, grades, readings, revisions, specimens, trials } from './schema.ts';

/** In the order in which rows name those of others. */
const TABLES: string[] = [facts, specimens, revisions, files, readings, trials, grades].map((table) =>
  getTableName(table),
);

const HEAD = 'normetra-backup.json';
const headSchema = z.object({
  normetra: z.literal('backup/1', 'is not a backup of a kind that is known here'),
  version: z.string(),
  madeAt: z.string(),
  /** How many migrations the tables have been through. */
  migrations: z.number().int(),
  rows: z.record(z.string(), z.number().int().min(0)),
  contents: z.number().int().min(0),
});
type Head = z.infer<typeof headSchema>;

const journalSchema = z.object({ entries: z.array(z.unknown()) });
const migrationCount = (): number =>
  journalSchema.parse(JSON.parse(readFileSync(join(ROOT, 'drizzle/meta/_journal.json'), 'utf8'))).entries
    .length;

/** Rows that are read and written at once. */
const BATCH = 200;
/** Characters of rows that are written at once. */
const BATCH_LENGTH = 4_000_000;

/** Lines of JSON, one a row; `ctid` orders them the same within a transaction. */
async function* linesOf(tx: Pick<Database, 'execute'>, table: string): AsyncGenerator<string> {
  for (let at = 0; ; at += BATCH) {
    const rows = await rowsOf<{ row: unknown }>(
      tx,
      sql`select row_to_json(kept) as row from (select * from ${sql.identifier(table)} order by ctid limit ${BATCH} offset ${at}) as kept`,
    );
    for (const { row } of rows) yield `${JSON.stringify(row)}\n`;
    if (rows.length < BATCH) return;
  }
}

/** The backup as it is made, of one moment; what is changed meanwhile is not in it. */
export async function makeBackup(storage: Storage): Promise<Readable> {
  const folder = await storage.contents.staging();
  const tidy = (): Promise<void> => rm(folder, { recursive: true, force: true });
  const rows: Record<string, number> = {};
  const reading = storage.db.transaction(
    async (tx) => {
      for (const table of TABLES) {
        let count = 0;
        const counted = async function* (): AsyncGenerator<string> {
          for await (const line of linesOf(tx, table)) {
            count += 1;
            yield line;
          }
        };
        await pipeline(Readable.from(counted()), createWriteStream(join(folder, table)));
        rows[table] = count;
      }
      return tx.selectDistinct({ hash: files.hash, size: files.size }).from(files);
    },
    { isolationLevel: 'repeatable read', accessMode: 'read only' },
  );
  const hashes = await reading.catch(async (error: unknown) => {
    await tidy();
    throw error;
  });
  const head: Head = {
    normetra: 'backup/1',
    version: VERSION,
    madeAt: new Date().toISOString(),
    migrations: migrationCount(),
    rows,
    contents: hashes.length,
  };
  const archive = pack();
  const put = (name: string, size: number, contents: AsyncIterable<Uint8Array>): Promise<void> =>
    pipeline(Readable.from(contents), archive.entry({ name, size }));
  const fill = async (): Promise<void> => {
    const text = Buffer.from(JSON.stringify(head, null, 1));
    await put(HEAD, text.length, Readable.from([text]));
    for (const table of TABLES) {
      const file = join(folder, table);
      await put(`tables/${table}.ndjson`, (await stat(file)).size, createReadStream(file));
    }
    for (const { hash, size } of hashes) await put(`contents/${hash}`, size, storage.contents.pieces(hash));
    archive.finalize();
  };
  fill()
    .catch((error: unknown) => archive.destroy(error instanceof Error ? error : new Error(String(error))))
    .finally(tidy);
  return Readable.from(archive as AsyncIterable<Uint8Array>).compose(createGzip()) as Readable;
}

const broken = (file: string, error: unknown): Refusal =>
  new Refusal(
    `${file} cannot be read as a backup (${error instanceof Error ? error.message : String(error)}). Name a file that normetra backup has made, whole.`,
  );

/** Puts a backup into a database without specimens, all of it or nothing. The answer counts them. Throws a Refusal. */
export async function restoreBackup(storage: Storage, file: string): Promise<number> {
  const [kept] = await storage.db.select({ count: sql<number>`count(*)::int` }).from(specimens);
  if (kept!.count > 0)
    throw new Refusal(
      `There are ${kept!.count} specimens already, and a backup is put back where there are none. Name an empty folder with --data, or an empty database in DATABASE_URL.`,
    );
  const folder = await storage.contents.staging();
  try {
    const { head, staged } = await unpack(file, folder);
    await checkWhole(head, staged, folder, file);
    await storage.contents.adopt(staged);
    await storage.db.transaction(async (tx) => {
      for (const table of [...TABLES].reverse()) await tx.execute(sql`delete from ${sql.identifier(table)}`);
      for (const table of TABLES) await insertLines(tx, table, join(folder, `${table}.ndjson`));
    });
    return head.rows['specimens'] ?? 0;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

type StagedContents = Held & { file: string };

async function unpack(file: string, folder: string): Promise<{ head: Head; staged: StagedContents[] }> {
  const entries = extract();
  const staged: StagedContents[] = [];
  let head: Head | null = null;
  try {
    const reading = pipeline(createReadStream(file), createGunzip(), entries);
    // Heard of below: an archive that breaks off breaks off the entries too.
    reading.catch(() => undefined);
    for await (const entry of entries) {
      const { name } = entry.header;
      const [, table] = /^tables\/(\w+)\.ndjson$/.exec(name) ?? [];
      const [, hash] = /^contents\/([0-9a-f]{64})$/.exec(name) ?? [];
      if (name === HEAD) {
        const pieces: Buffer[] = [];
        for await (const piece of entry) pieces.push(piece as Buffer);
        head = headSchema.parse(JSON.parse(Buffer.concat(pieces).toString()));
      } else if (table !== undefined && TABLES.includes(table))
        await pipeline(entry, createWriteStream(join(folder, `${table}.ndjson`)));
      else if (hash !== undefined) {
        const to = join(folder, hash);
        const { hash: is, size } = await hashStream(entry as AsyncIterable<Uint8Array>, to);
        if (is !== hash) throw new Error(`the contents ${hash} are not what their name says`);
        staged.push({ hash, size, file: to });
      } else throw new Error(`there is “${name}” in it, which no backup has`);
    }
    await reading;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT' && (error as NodeJS.ErrnoException).path === file)
      throw new Refusal(`There is no file ${file}. Name one that normetra backup has made.`);
    throw broken(file, error instanceof z.ZodError ? new Error(`normetra ${error.issues[0]?.message}`) : error);
  }
  if (!head) throw broken(file, new Error('it does not say what it is'));
  if (head.migrations > migrationCount())
    throw new Refusal(
      `${file} was made by Normetra ${head.version}, which is newer than this one (${VERSION}). Restore it with that.`,
    );
  return { head, staged };
}

/** Whether all rows and contents are there that the backup says it has. */
async function checkWhole(head: Head, staged: StagedContents[], folder: string, file: string): Promise<void> {
  const held = new Set(staged.map(({ hash }) => hash));
  for (const table of TABLES) {
    let count = 0;
    for await (const line of linesIn(join(folder, `${table}.ndjson`))) {
      count += 1;
      const { hash } = table === 'files' ? (JSON.parse(line) as { hash: string }) : { hash: '' };
      if (hash && !held.has(hash)) throw broken(file, new MissingContents(hash));
    }
    if (count !== (head.rows[table] ?? 0))
      throw broken(file, new Error(`${count} of ${head.rows[table] ?? 0} rows of ${table} are in it`));
  }
  if (held.size !== head.contents)
    throw broken(file, new Error(`${held.size} of ${head.contents} contents are in it`));
}

const linesIn = (file: string): AsyncIterable<string> =>
  createInterface({ input: createReadStream(file), crlfDelay: Infinity });

/** Rows from lines of JSON, columns by their names: those that an older backup lacks get their defaults. */
async function insertLines(tx: Pick<Database, 'execute'>, table: string, file: string): Promise<void> {
  let batch: string[] = [];
  let length = 0;
  const send = async (): Promise<void> => {
    if (batch.length === 0) return;
    const columns = Object.keys(JSON.parse(batch[0]!) as object).map((name) => sql.identifier(name));
    const list = sql.join(columns, sql`, `);
    const name = sql.identifier(table);
    await tx.execute(
      sql`insert into ${name} (${list}) select ${list} from json_populate_recordset(null::${name}, ${`[${batch.join(',')}]`}::json)`,
    );
    [batch, length] = [[], 0];
  };
  for await (const line of linesIn(file)) {
    batch.push(line);
    length += line.length;
    if (batch.length >= BATCH || length > BATCH_LENGTH) await send();
  }
  await send();
}
