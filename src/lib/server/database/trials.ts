/** Trials of specimens, as kept in the database. */
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { Edit } from '../../../core/trials/edit.ts';
import type { Database } from './open.ts';
import { specimens, trials } from './schema.ts';
import { newId, refuseUnlessSeen, type Transaction } from './specimens.ts';

export interface TrialRow {
  id: string;
  page: string;
  name: string;
  edits: Edit[];
  /** Counts its changes: who changes it names the one that they have seen. */
  version: number;
}

const shown = {
  id: trials.id,
  page: trials.page,
  name: trials.name,
  edits: trials.edits,
  version: trials.version,
};

/** Those of a specimen that is on the Shelf. */
export const listTrials = (db: Database, specimenId: string): Promise<TrialRow[]> =>
  db
    .select(shown)
    .from(trials)
    .innerJoin(specimens, eq(specimens.id, trials.specimenId))
    .where(and(eq(trials.specimenId, specimenId), isNull(specimens.deletedAt)))
    .orderBy(asc(trials.createdAt), asc(trials.id));

export async function createTrial(
  tx: Transaction,
  specimenId: string,
  result: Pick<TrialRow, 'page' | 'name' | 'edits'>,
): Promise<TrialRow> {
  const id = newId();
  await tx.insert(trials).values({ id, specimenId, ...result });
  return { id, ...result, version: 1 };
}

/** The trial for a change in the same transaction; null: there is none, or its specimen was deleted. */
async function lockTrial(tx: Transaction, id: string): Promise<TrialRow | null> {
  const [row] = await tx
    .select(shown)
    .from(trials)
    .innerJoin(specimens, eq(specimens.id, trials.specimenId))
    .where(and(eq(trials.id, id), isNull(specimens.deletedAt)))
    .for('update');
  return row ?? null;
}

/**
 * Changes a trial of which `version` has been seen; the answer is its new version. Null: there is no such trial. Throws a
 * Refusal (409) with what is there where another client has changed it since.
 */
export const changeTrial = (
  db: Database,
  id: string,
  version: number,
  change: Partial<Pick<TrialRow, 'name' | 'edits'>>,
): Promise<number | null> =>
  db.transaction(async (tx) => {
    const row = await lockTrial(tx, id);
    if (!row) return null;
    refuseUnlessSeen(row.version, version, row);
    await tx
      .update(trials)
      .set({ ...change, changedAt: new Date(), version: version + 1 })
      .where(eq(trials.id, id));
    return version + 1;
  });

/** The same for taking it away. False: there is no such trial. */
export const deleteTrial = (db: Database, id: string, version: number): Promise<boolean> =>
  db.transaction(async (tx) => {
    const row = await lockTrial(tx, id);
    if (!row) return false;
    refuseUnlessSeen(row.version, version, row);
    await tx.delete(trials).where(eq(trials.id, id));
    return true;
  });
