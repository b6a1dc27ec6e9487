/** Findings that a user said are meant, with the reason. */
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { Database } from './open.ts';
import { meants, specimens } from './schema.ts';
import { newId, refuseUnlessSeen, type Transaction } from './specimens.ts';

export interface MeantRow {
  id: string;
  page: string;
  key: string;
  reason: string;
  /** Counts its changes: who changes it names the one that they have seen. */
  version: number;
}

const shown = {
  id: meants.id,
  page: meants.page,
  key: meants.key,
  reason: meants.reason,
  version: meants.version,
};

/** Those of a specimen that is on the Shelf. */
export const listMeants = (db: Database, specimenId: string): Promise<MeantRow[]> =>
  db
    .select(shown)
    .from(meants)
    .innerJoin(specimens, eq(specimens.id, meants.specimenId))
    .where(and(eq(meants.specimenId, specimenId), isNull(specimens.deletedAt)))
    .orderBy(asc(meants.createdAt), asc(meants.id));

/**
 * Says that a finding is meant, or says so for another reason where `version` of the mark has been seen. 0: as far as the
 * client knows nobody has said so. Throws a Refusal (409) with what is there where it was said or changed elsewhere.
 */
export async function saveMeant(
  tx: Transaction,
  specimenId: string,
  version: number,
  result: Pick<MeantRow, 'page' | 'key' | 'reason'>,
): Promise<MeantRow> {
  const place = and(
    eq(meants.specimenId, specimenId),
    eq(meants.page, result.page),
    eq(meants.key, result.key),
  );
  if (version === 0) {
    const id = newId();
    const rows = await tx
      .insert(meants)
      .values({ id, specimenId, ...result })
      .onConflictDoNothing({ target: [meants.specimenId, meants.page, meants.key] })
      .returning({ id: meants.id });
    if (rows.length > 0) return { id, ...result, version: 1 };
  }
  const [row] = await tx.select(shown).from(meants).where(place).for('update');
  refuseUnlessSeen(row?.version ?? 0, version, row ?? null);
  await tx
    .update(meants)
    .set({ reason: result.reason, version: version + 1 })
    .where(place);
  return { ...row!, ...result, version: version + 1 };
}

/** False: there is no such mark. Throws a Refusal (409) where it was changed elsewhere since `version` was seen. */
export const deleteMeant = (db: Database, specimenId: string, id: string, version: number): Promise<boolean> =>
  db.transaction(async (tx) => {
    const [row] = await tx
      .select(shown)
      .from(meants)
      .innerJoin(specimens, eq(specimens.id, meants.specimenId))
      .where(and(eq(meants.id, id), eq(meants.specimenId, specimenId), isNull(specimens.deletedAt)))
      .for('update');
    if (!row) return false;
    refuseUnlessSeen(row.version, version, row);
    await tx.delete(meants).where(eq(meants.id, id));
    return true;
  });
