/** Findings that a user said are meant, with the reason. */
import { and, asc, eq } from 'drizzle-orm';
import type { Database } from './open.ts';
import { meants } from './schema.ts';
import { newId } from './specimens.ts';

export interface MeantRow {
  id: string;
  page: string;
  key: string;
  reason: string;
}

export const listMeants = (db: Database, specimenId: string): Promise<MeantRow[]> =>
  db
    .select({ id: meants.id, page: meants.page, key: meants.key, reason: meants.reason })
    .from(meants)
    .where(eq(meants.specimenId, specimenId))
    .orderBy(asc(meants.createdAt), asc(meants.id));

/** Says that a finding is meant, or says so for another reason. */
export async function saveMeant(
  db: Database,
  specimenId: string,
  made: Omit<MeantRow, 'id'>,
): Promise<MeantRow> {
  const [row] = await db
    .insert(meants)
    .values({ id: newId(), specimenId, ...made })
    .onConflictDoUpdate({
      target: [meants.specimenId, meants.page, meants.key],
      set: { reason: made.reason },
    })
    .returning({ id: meants.id });
  return { id: row!.id, ...made };
}

/** False: there is no such mark. */
export async function deleteMeant(db: Database, specimenId: string, id: string): Promise<boolean> {
  const rows = await db
    .delete(meants)
    .where(and(eq(meants.id, id), eq(meants.specimenId, specimenId)))
    .returning({ id: meants.id });
  return rows.length > 0;
}
