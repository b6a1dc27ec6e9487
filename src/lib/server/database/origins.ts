/** Folders that specimens are taken from, and what was written into them, as kept in the database. */
import { and, desc, eq, isNull } from 'drizzle-orm';
import type { Database } from './open.ts';
import { origins, specimens, writes, type OriginOptions, type WrittenFile } from './schema.ts';
import { newId, type Transaction } from './specimens.ts';

export type Origin = typeof origins.$inferSelect;
export type Write = typeof writes.$inferSelect;

export async function originOf(db: Database, specimenId: string): Promise<Origin | null> {
  const [row] = await db.select().from(origins).where(eq(origins.specimenId, specimenId));
  return row ?? null;
}

/** The folder that a specimen is taken from; null: it is from elsewhere. */
export async function folderOf(db: Database, specimenId: string): Promise<Origin | null> {
  const origin = await originOf(db, specimenId);
  return origin?.kind === 'folder' ? origin : null;
}

/** The specimen on the Shelf that a folder or an address is taken into; null: there is none. */
export async function specimenOfPlace(db: Database, place: string): Promise<string | null> {
  const [row] = await db
    .select({ id: origins.specimenId })
    .from(origins)
    .innerJoin(specimens, eq(specimens.id, origins.specimenId))
    .where(and(eq(origins.place, place), isNull(specimens.deletedAt)));
  return row?.id ?? null;
}

export const insertOrigin = async (tx: Transaction, origin: Origin): Promise<void> => {
  await tx.insert(origins).values(origin);
};

/** Keeps how the page of an address is taken now. */
export async function keepOptions(db: Database, specimenId: string, options: OriginOptions): Promise<void> {
  await db.update(origins).set({ options }).where(eq(origins.specimenId, specimenId));
}

export async function insertWrite(db: Database, specimenId: string, files: WrittenFile[]): Promise<string> {
  const id = newId();
  await db.insert(writes).values({ id, specimenId, files });
  return id;
}

/** What was written last and not taken back; null: nothing. */
export async function lastWrite(db: Database, specimenId: string): Promise<Write | null> {
  const [row] = await db
    .select()
    .from(writes)
    .where(and(eq(writes.specimenId, specimenId), isNull(writes.takenBackAt)))
    .orderBy(desc(writes.writtenAt))
    .limit(1);
  return row ?? null;
}

export async function markTakenBack(db: Database, id: string): Promise<void> {
  await db.update(writes).set({ takenBackAt: new Date() }).where(eq(writes.id, id));
}
