/** Specimens, their revisions and files, and readings, as kept in the database. */
import { and, asc, desc, eq, inArray, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import { createHash, randomBytes } from 'node:crypto';
import { promisify } from 'node:util';
import { gunzip, gzip } from 'node:zlib';
import type { Drawing } from '../../../core/boxes/drawing.ts';
import type { StoredFile } from '../ingest/files.ts';
import type { Ingested } from '../ingest/specimen.ts';
import type { Database } from './open.ts';
import { blobs, files, readings, revisions, specimens } from './schema.ts';

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
  key: string;
  entry: string;
  pages: number;
  missing: number;
  readings: number;
}

export async function listSpecimens(db: Database): Promise<Shown[]> {
  const count = db
    .select({ specimenId: readings.specimenId, count: sql<number>`count(*)::int`.as('count') })
    .from(readings)
    .groupBy(readings.specimenId)
    .as('counts');
  const rows = await db
    .select({ specimen: specimens, revision: revisions, readings: count.count })
    .from(specimens)
    .innerJoin(revisions, eq(revisions.specimenId, specimens.id))
    .leftJoin(count, eq(count.specimenId, specimens.id))
    .where(isNull(specimens.deletedAt))
    .orderBy(desc(specimens.createdAt), asc(specimens.name), desc(revisions.number));
  const seen = new Set<string>();
  return rows.flatMap(({ specimen, revision, readings: saved }): Shown[] => {
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
        key: revision.key,
        entry: revision.entry,
        pages: revision.pages.length,
        missing: revision.missing.length,
        readings: saved ?? 0,
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
    .where(eq(revisions.key, key));
  return row ?? null;
}

/** Everything in one transaction: a specimen is on the Shelf whole or not at all. */
export async function createSpecimen(
  db: Database,
  { name, files: given, pages, missing }: Ingested,
  extra: { demo?: boolean; scripts?: 'hold' | 'run'; drawing?: Drawing | null } = {},
): Promise<string> {
  const id = newId();
  await db.transaction(async (tx) => {
    await tx.insert(specimens).values({
      id,
      name,
      demo: extra.demo ?? false,
      scripts: extra.scripts ?? 'hold',
      drawing: extra.drawing ?? null,
    });
    const revisionId = newId();
    await tx
      .insert(revisions)
      .values({ id: revisionId, specimenId: id, number: 1, key: newKey(), entry: pages[0]!, pages, missing });
    await insertFiles(tx, revisionId, given);
  });
  return id;
}

async function insertFiles(
  tx: Pick<Database, 'insert'>,
  revisionId: string,
  given: StoredFile[],
): Promise<void> {
  for (const file of given) {
    const hash = createHash('sha256').update(file.bytes).digest('hex');
    await tx.insert(blobs).values({ hash, bytes: file.bytes }).onConflictDoNothing();
    await tx
      .insert(files)
      .values({ revisionId, path: file.path, type: file.type, size: file.bytes.length, hash });
  }
}

/** A further state of a specimen's files. Returns its number; readings of earlier ones stay with them. */
export async function addRevision(
  db: Database,
  specimenId: string,
  { files: given, pages, missing }: Ingested,
): Promise<number> {
  return db.transaction(async (tx) => {
    const [last] = await tx
      .select({ number: revisions.number, entry: revisions.entry })
      .from(revisions)
      .where(eq(revisions.specimenId, specimenId))
      .orderBy(desc(revisions.number))
      .limit(1);
    const number = (last?.number ?? 0) + 1;
    const entry = last && pages.includes(last.entry) ? last.entry : pages[0]!;
    const id = newId();
    await tx.insert(revisions).values({ id, specimenId, number, key: newKey(), entry, pages, missing });
    await insertFiles(tx, id, given);
    return number;
  });
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
    const rows = await tx.select().from(files).where(eq(files.revisionId, revision.id));
    if (rows.length > 0) await tx.insert(files).values(rows.map((row) => ({ ...row, revisionId })));
  });
  return copy;
}

export type SpecimenChange = Partial<Pick<Specimen, 'name' | 'scripts' | 'drawing'>>;

/** False where there is no such specimen. */
export async function changeSpecimen(db: Database, id: string, change: SpecimenChange): Promise<boolean> {
  const rows = await db
    .update(specimens)
    .set({ ...change, ...(change.drawing ? { measuredAt: new Date() } : {}) })
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

/** Removes for good what was deleted more than a week ago, and contents that no revision holds any more. */
export async function purgeDeleted(db: Database): Promise<void> {
  await db.delete(specimens).where(lt(specimens.deletedAt, new Date(Date.now() - KEPT_AFTER_DELETION)));
  await db.execute(
    sql`delete from ${blobs} where not exists (select 1 from ${files} where ${files.hash} = ${blobs.hash})`,
  );
}

export async function fileOf(db: Database, revisionId: string, path: string): Promise<StoredFile | null> {
  const [row] = await db
    .select({ path: files.path, type: files.type, bytes: blobs.bytes })
    .from(files)
    .innerJoin(blobs, eq(files.hash, blobs.hash))
    .where(and(eq(files.revisionId, revisionId), eq(files.path, path)));
  return row ?? null;
}

export async function filesOf(db: Database, revisionId: string, types?: string[]): Promise<StoredFile[]> {
  const own = eq(files.revisionId, revisionId);
  return db
    .select({ path: files.path, type: files.type, bytes: blobs.bytes })
    .from(files)
    .innerJoin(blobs, eq(files.hash, blobs.hash))
    .where(types ? and(own, inArray(files.type, types)) : own)
    .orderBy(asc(files.path));
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

export type SavedReading = Omit<ReadingRow, 'id' | 'specimenId' | 'revisionId' | 'body'> & { body: unknown };

/** Puts readings that came with an imported specimen beside it, with the times at which they were taken. */
export async function restoreReadings(db: Database, specimenId: string, saved: SavedReading[]): Promise<void> {
  const found = await findSpecimen(db, specimenId);
  if (!found || saved.length === 0) return;
  const rows = await Promise.all(
    saved.map(async (one) => ({
      ...one,
      id: newId(),
      specimenId,
      revisionId: found.revision.id,
      body: new Uint8Array(await compress(JSON.stringify(one.body))),
    })),
  );
  await db.insert(readings).values(rows);
}

export async function findReading(db: Database, id: string): Promise<ReadingHead | null> {
  const [row] = await db
    .select({ reading: { ...withoutBody }, revision: revisions.number })
    .from(readings)
    .innerJoin(revisions, eq(readings.revisionId, revisions.id))
    .where(eq(readings.id, id));
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
    .where(eq(readings.specimenId, specimenId))
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
  return (await db.delete(readings).where(eq(readings.id, id)).returning({ id: readings.id })).length > 0;
}
