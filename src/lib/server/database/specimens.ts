/** Specimens, their revisions and files, and readings, as kept in the database. */
import { and, asc, desc, eq, inArray, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import { randomBytes } from 'node:crypto';
import { promisify } from 'node:util';
import { gunzip, gzip } from 'node:zlib';
import type { Drawing } from '../../../core/reports/drawing.ts';
import type { FileEntry, StoredFile } from '../ingest/files.ts';
import { Refusal } from '../ingest/refusal.ts';
import type { Examined } from '../ingest/specimen.ts';
import { MissingContents } from '../contents/store.ts';
import { rowsOf, type Database, type Storage } from './open.ts';
import { files, origins, overlays, readings, revisions, specimens, writes } from './schema.ts';

const compress = promisify(gzip);
const decompress = promisify(gunzip);

export const newId = (): string => randomBytes(9).toString('hex');
/** Names a host, so it may hold lower-case letters and digits alone. */
const newKey = (): string => randomBytes(16).toString('hex');

const KEPT_AFTER_DELETION = 7 * 24 * 3600 * 1000;

export type Specimen = typeof specimens.$inferSelect;
export type Revision = typeof revisions.$inferSelect;

export interface Shown {
  id: string;
  name: string;
  demo: boolean;
  scripts: 'hold' | 'run';
  drawing: Drawing | null;
  measuredAt: string | null;
  createdAt: string;
  /** Which state of name and scripts this is. */
  version: number;
  key: string;
  entry: string;
  pages: number;
  missing: number;
  readings: number;
  /** The folder or the address that it is taken from; null: its files were brought in. */
  origin: string | null;
}

export async function listSpecimens(db: Database): Promise<Shown[]> {
  const count = db
    .select({ specimenId: readings.specimenId, count: sql<number>`count(*)::int`.as('count') })
    .from(readings)
    .groupBy(readings.specimenId)
    .as('counts');
  const rows = await db
    .select({ specimen: specimens, revision: revisions, readings: count.count, origin: origins.place })
    .from(specimens)
    .innerJoin(revisions, eq(revisions.specimenId, specimens.id))
    .leftJoin(count, eq(count.specimenId, specimens.id))
    .leftJoin(origins, eq(origins.specimenId, specimens.id))
    .where(isNull(specimens.deletedAt))
    .orderBy(desc(specimens.createdAt), asc(specimens.name), desc(revisions.number));
  const seen = new Set<string>();
  return rows.flatMap(({ specimen, revision, readings: saved, origin }): Shown[] => {
    if (seen.has(specimen.id)) return [];
    seen.add(specimen.id);
    return [
      {
        id: specimen.id,
        name: specimen.name,
        demo: specimen.demo,
        scripts: specimen.scripts,
        drawing: specimen.drawing,
        measuredAt: specimen.measuredAt?.toISOString() ?? null,
        createdAt: specimen.createdAt.toISOString(),
        version: specimen.version,
        key: revision.key,
        entry: revision.entry,
        pages: revision.pages.length,
        missing: revision.missing.length,
        readings: saved ?? 0,
        origin,
      },
    ];
  });
}

export async function findSpecimen(
  db: Database,
  id: string,
): Promise<{ specimen: Specimen; revision: Revision } | null> {
  const [row] = await db
    .select({ specimen: specimens, revision: revisions })
    .from(specimens)
    .innerJoin(revisions, eq(revisions.specimenId, specimens.id))
    .where(and(eq(specimens.id, id), isNull(specimens.deletedAt)))
    .orderBy(desc(revisions.number))
    .limit(1);
  return row ?? null;
}

/** Every revision of a specimen, the newest first. */
export const listRevisions = (db: Database, id: string): Promise<Pick<Revision, 'number' | 'key'>[]> =>
  db
    .select({ number: revisions.number, key: revisions.key })
    .from(revisions)
    .where(eq(revisions.specimenId, id))
    .orderBy(desc(revisions.number));

export async function findRevision(
  db: Database,
  key: string,
): Promise<{ specimen: Specimen; revision: Revision } | null> {
  const [row] = await db
    .select({ specimen: specimens, revision: revisions })
    .from(revisions)
    .innerJoin(specimens, eq(revisions.specimenId, specimens.id))
    .where(and(eq(revisions.key, key), isNull(specimens.deletedAt)));
  return row ?? null;
}

/** What runs in one transaction: all of it or nothing. */
export type Transaction = Pick<Database, 'insert' | 'select' | 'update' | 'delete' | 'execute'>;

export interface Arrived extends Examined {
  files: (FileEntry & { file?: string })[];
}

/** Puts contents into their store before a row names them. `file`: where they lie on disk; none where they are held already. */
export async function adoptContents({ contents: store }: Storage, arrived: Arrived['files']): Promise<void> {
  const distinct = new Map(arrived.map((file) => [file.hash, file]));
  await store.adopt(
    [...distinct.values()].flatMap(({ hash, size, file }) => (file ? [{ hash, size, file }] : [])),
  );
}

/** A specimen with its first revision. Its contents must be in the store. Returns its id. */
export async function insertSpecimen(
  tx: Transaction,
  { name, files: entries, pages, missing }: Arrived,
  extra: { demo?: boolean; drawing?: Drawing | null; createdAt?: Date } = {},
): Promise<{ id: string; revisionId: string }> {
  const id = newId();
  await tx.insert(specimens).values({
    id,
    name,
    demo: extra.demo ?? false,
    scripts: 'hold',
    drawing: extra.drawing ?? null,
    ...(extra.createdAt && { createdAt: extra.createdAt }),
  });
  const revisionId = newId();
  await tx
    .insert(revisions)
    .values({ id: revisionId, specimenId: id, number: 1, key: newKey(), entry: pages[0]!, pages, missing });
  await insertFiles(tx, revisionId, entries);
  return { id, revisionId };
}

/** Thousands of rows in one statement, as one parameter. */
async function insertFiles(tx: Transaction, revisionId: string, entries: readonly FileEntry[]): Promise<void> {
  const rows = JSON.stringify(entries.map(({ path, type, size, hash }) => ({ path, type, size, hash })));
  await tx.execute(sql`insert into ${files} (revision_id, path, type, size, hash)
    select ${revisionId}, path, type, size, hash
    from json_to_recordset(${rows}::json) as arrived(path text, type text, size integer, hash text)`);
}

/**
 * A further state of a specimen's files. Returns its number; readings of earlier ones stay with them. `newest`: the number
 * that the newest has as far as the client knows. Throws a Refusal (409) where it is another by now.
 */
export async function addRevision(
  { db }: Storage,
  specimenId: string,
  newest: number,
  { files: entries, pages, missing }: Arrived,
): Promise<number> {
  return db.transaction(async (tx) => {
    const [specimen] = await tx
      .select({ id: specimens.id })
      .from(specimens)
      .where(and(eq(specimens.id, specimenId), isNull(specimens.deletedAt)))
      .for('update');
    if (!specimen) throw new Refusal('There is no such specimen any more: it was deleted meanwhile.', 404);
    const [last] = await tx
      .select({ number: revisions.number, entry: revisions.entry, createdAt: revisions.createdAt })
      .from(revisions)
      .where(eq(revisions.specimenId, specimenId))
      .orderBy(desc(revisions.number))
      .limit(1);
    if (last!.number !== newest)
      throw new Refusal(
        `newest: revision ${last!.number} was brought in elsewhere meanwhile; you have seen revision ${newest}. Nothing was changed.`,
        409,
        { now: { number: last!.number, createdAt: last!.createdAt.toISOString() } },
      );
    const number = newest + 1;
    const entry = pages.includes(last!.entry) ? last!.entry : pages[0]!;
    const id = newId();
    await tx.insert(revisions).values({ id, specimenId, number, key: newKey(), entry, pages, missing });
    await insertFiles(tx, id, entries);
    return number;
  });
}

/** Revisions of a folder that nobody has saved a reading of are kept up to this many. */
const KEPT_REVISIONS = 30;

/** Removes the oldest revisions of a specimen that no reading was saved of, but for the newest ones. */
export async function pruneRevisions(db: Database, specimenId: string): Promise<void> {
  const rows = await db
    .select({ id: revisions.id })
    .from(revisions)
    .leftJoin(readings, eq(readings.revisionId, revisions.id))
    .where(and(eq(revisions.specimenId, specimenId), isNull(readings.id)))
    .orderBy(desc(revisions.number))
    .offset(KEPT_REVISIONS);
  if (rows.length > 0)
    await db.delete(revisions).where(
      inArray(
        revisions.id,
        rows.map(({ id }) => id),
      ),
    );
}

/** A revision of a specimen by its number. */
export async function findRevisionNumber(
  db: Database,
  specimenId: string,
  number: number,
): Promise<Revision | null> {
  const [row] = await db
    .select({ revision: revisions })
    .from(revisions)
    .innerJoin(specimens, eq(revisions.specimenId, specimens.id))
    .where(
      and(eq(revisions.specimenId, specimenId), eq(revisions.number, number), isNull(specimens.deletedAt)),
    );
  return row?.revision ?? null;
}

export async function duplicateSpecimen(db: Database, id: string): Promise<string | null> {
  const found = await findSpecimen(db, id);
  if (!found) return null;
  const { specimen, revision } = found;
  const copy = newId();
  await db.transaction(async (tx) => {
    await tx.insert(specimens).values({
      id: copy,
      name: `${specimen.name} (copy)`,
      scripts: specimen.scripts,
      drawing: specimen.drawing,
      measuredAt: specimen.measuredAt,
    });
    const revisionId = newId();
    await tx.insert(revisions).values({
      ...revision,
      id: revisionId,
      specimenId: copy,
      number: 1,
      key: newKey(),
      createdAt: new Date(),
    });
    await insertFiles(tx, revisionId, await tx.select().from(files).where(eq(files.revisionId, revision.id)));
  });
  return copy;
}

export type SpecimenChange = Partial<Pick<Specimen, 'name' | 'scripts'>>;

/** What a client sees of a specimen that it may change. */
export const changeable = ({ name, scripts, version }: Specimen) => ({ name, scripts, version });

/**
 * Changes a specimen of which `version` has been seen; the answer is its new version. Null: there is no such specimen.
 * Throws a Refusal (409) with what is there where another client has changed it since.
 */
export async function changeSpecimen(
  db: Database,
  id: string,
  version: number,
  change: SpecimenChange,
): Promise<number | null> {
  return db.transaction(async (tx) => {
    const [row] = await tx
      .select()
      .from(specimens)
      .where(and(eq(specimens.id, id), isNull(specimens.deletedAt)))
      .for('update');
    if (!row) return null;
    refuseUnlessSeen(row.version, version, changeable(row));
    await tx
      .update(specimens)
      .set({ ...change, version: version + 1 })
      .where(eq(specimens.id, id));
    return version + 1;
  });
}

/** Throws a Refusal (409) with what is there where that is another version than the one that was seen. */
export function refuseUnlessSeen(is: number, seen: number, now: object | null): void {
  if (is !== seen)
    throw new Refusal(
      `version: it was changed elsewhere meanwhile; version ${is} is there, you have seen version ${seen}. Nothing was changed.`,
      409,
      { now },
    );
}

/** Keeps the drawing of the newest measurement, which is nobody's edit. False where there is no such specimen. */
export async function keepDrawing(db: Database, id: string, drawing: Drawing): Promise<boolean> {
  const rows = await db
    .update(specimens)
    .set({ drawing, measuredAt: new Date() })
    .where(and(eq(specimens.id, id), isNull(specimens.deletedAt)))
    .returning({ id: specimens.id });
  return rows.length > 0;
}

/** Takes a specimen off the Shelf; for a week `restoreSpecimen` brings it back. */
export async function deleteSpecimen(db: Database, id: string): Promise<boolean> {
  const rows = await db
    .update(specimens)
    .set({ deletedAt: new Date() })
    .where(and(eq(specimens.id, id), isNull(specimens.deletedAt)))
    .returning({ id: specimens.id });
  return rows.length > 0;
}

export async function restoreSpecimen(db: Database, id: string): Promise<boolean> {
  const rows = await db
    .update(specimens)
    .set({ deletedAt: null })
    .where(and(eq(specimens.id, id), isNotNull(specimens.deletedAt)))
    .returning({ id: specimens.id });
  return rows.length > 0;
}

const DAY = 24 * 3600 * 1000;

/** Removes for good what was deleted more than a week ago, and contents that nothing has held for a day. */
export async function purgeDeleted({ db, contents: store }: Storage): Promise<void> {
  await db.delete(specimens).where(lt(specimens.deletedAt, new Date(Date.now() - KEPT_AFTER_DELETION)));
  await db.delete(overlays).where(lt(overlays.usedAt, new Date(Date.now() - DAY)));
  const before = new Date(Date.now() - DAY);
  const rows = await rowsOf<{ hash: string }>(
    db,
    sql`select hash from ${files}
    union select value ->> 'before' from ${writes}, jsonb_array_elements(files)
    union select value ->> 'after' from ${writes}, jsonb_array_elements(files)
    union select underlay from ${overlays} where underlay is not null
    union select value from ${overlays}, jsonb_each_text(texts)`,
  );
  await store.purge(before, new Set(rows.map(({ hash }) => hash)));
}

const entry = { path: files.path, type: files.type, size: files.size, hash: files.hash };

export async function entryOf(db: Database, revisionId: string, path: string): Promise<FileEntry | null> {
  const [row] = await db
    .select(entry)
    .from(files)
    .where(and(eq(files.revisionId, revisionId), eq(files.path, path)));
  return row ?? null;
}

export const entriesOf = (db: Database, revisionId: string, types?: string[]): Promise<FileEntry[]> =>
  db
    .select(entry)
    .from(files)
    .where(and(eq(files.revisionId, revisionId), types ? inArray(files.type, types) : undefined))
    .orderBy(asc(files.path));

/** Throws MissingContents where the store has lost them. */
export async function withBytes(
  { contents: store }: Storage,
  { path, type, hash }: FileEntry,
): Promise<StoredFile> {
  const bytes = await store.read(hash);
  if (!bytes) throw new MissingContents(hash);
  return { path, type, bytes };
}

type ReadingRow = typeof readings.$inferSelect;
export type ReadingHead = Omit<ReadingRow, 'body' | 'specimenId' | 'revisionId'> & { revision: number };

export async function saveReading(
  db: Database,
  head: Omit<ReadingRow, 'id' | 'takenAt' | 'body'>,
  body: unknown,
): Promise<string> {
  const id = newId();
  const bytes = await compress(JSON.stringify(body));
  await db.insert(readings).values({ ...head, id, body: new Uint8Array(bytes) });
  return id;
}

/** `body`: JSON. */
export type SavedReading = Omit<ReadingRow, 'id' | 'specimenId' | 'revisionId' | 'body'> & { body: string };

/** Puts readings that came with an imported specimen beside it, with the times at which they were taken. */
export async function insertReadings(
  tx: Transaction,
  { id: specimenId, revisionId }: { id: string; revisionId: string },
  saved: readonly SavedReading[],
): Promise<void> {
  for (const { body, ...head } of saved)
    await tx
      .insert(readings)
      .values({ ...head, id: newId(), specimenId, revisionId, body: new Uint8Array(await compress(body)) });
}

export async function findReading(db: Database, id: string): Promise<ReadingHead | null> {
  const [row] = await db
    .select({ reading: { ...withoutBody }, revision: revisions.number })
    .from(readings)
    .innerJoin(revisions, eq(readings.revisionId, revisions.id))
    .innerJoin(specimens, eq(readings.specimenId, specimens.id))
    .where(and(eq(readings.id, id), isNull(specimens.deletedAt)));
  return row ? { ...row.reading, revision: row.revision } : null;
}

export async function revisionOfReading(db: Database, id: string): Promise<Revision | null> {
  const [row] = await db
    .select({ revision: revisions })
    .from(revisions)
    .innerJoin(readings, eq(readings.revisionId, revisions.id))
    .where(eq(readings.id, id));
  return row?.revision ?? null;
}

export async function listReadings(db: Database, specimenId: string): Promise<ReadingHead[]> {
  const rows = await db
    .select({ reading: { ...withoutBody }, revision: revisions.number })
    .from(readings)
    .innerJoin(revisions, eq(readings.revisionId, revisions.id))
    .innerJoin(specimens, eq(readings.specimenId, specimens.id))
    .where(and(eq(readings.specimenId, specimenId), isNull(specimens.deletedAt)))
    .orderBy(desc(readings.takenAt));
  return rows.map(({ reading, revision }) => ({ ...reading, revision }));
}

const withoutBody = {
  id: readings.id,
  page: readings.page,
  engine: readings.engine,
  engineVersion: readings.engineVersion,
  width: readings.width,
  height: readings.height,
  scrollWidth: readings.scrollWidth,
  scrollHeight: readings.scrollHeight,
  defaults: readings.defaults,
  boxes: readings.boxes,
  note: readings.note,
  pick: readings.pick,
  takenAt: readings.takenAt,
};

export async function readingBody(db: Database, id: string): Promise<unknown> {
  const [row] = await db.select({ body: readings.body }).from(readings).where(eq(readings.id, id));
  return row ? (JSON.parse((await decompress(row.body)).toString()) as unknown) : null;
}

export async function deleteReading(db: Database, id: string): Promise<boolean> {
  if (!(await findReading(db, id))) return false;
  return (await db.delete(readings).where(eq(readings.id, id)).returning({ id: readings.id })).length > 0;
}
