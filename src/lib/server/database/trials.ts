/** Trials of specimens, as kept in the database. */
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { Edit } from '../../../core/trials/edit.ts';
import type { Database } from './open.ts';
import { specimens, trials } from './schema.ts';
import { newId } from './specimens.ts';

export interface TrialRow {
  id: string;
  page: string;
  name: string;
  edits: Edit[];
}

const shown = { id: trials.id, page: trials.page, name: trials.name, edits: trials.edits };

export const listTrials = (db: Database, specimenId: string): Promise<TrialRow[]> =>
  db
    .select(shown)
    .from(trials)
    .innerJoin(specimens, eq(specimens.id, trials.specimenId))
    .where(and(eq(trials.specimenId, specimenId), isNull(specimens.deletedAt)))
    .orderBy(asc(trials.createdAt), asc(trials.id));

export async function createTrial(
  db: Database,
  specimenId: string,
  made: Omit<TrialRow, 'id'>,
): Promise<TrialRow> {
  const id = newId();
  await db.insert(trials).values({ id, specimenId, ...made });
  return { id, ...made };
}

/** False: there is no such trial. */
export async function changeTrial(
  db: Database,
  id: string,
  change: Partial<Pick<TrialRow, 'name' | 'edits'>>,
): Promise<boolean> {
  const rows = await db
    .update(trials)
    .set({ ...change, changedAt: new Date() })
    .where(eq(trials.id, id))
    .returning({ id: trials.id });
  return rows.length > 0;
}

export async function deleteTrial(db: Database, id: string): Promise<boolean> {
  const rows = await db.delete(trials).where(eq(trials.id, id)).returning({ id: trials.id });
  return rows.length > 0;
}
