/** Grades that a user has given findings of a specimen, with the reason. */
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { UserGrade } from '../../../core/evidence/user-grades.ts';
import type { Database } from './open.ts';
import { grades, specimens } from './schema.ts';
import { newId, refuseUnlessSeen, type Transaction } from './specimens.ts';

export interface GradeRow extends UserGrade {
  id: string;
  /** What there is one grade of on a page. */
  key: string;
  /** Counts its changes: who changes it names the one that they have seen. */
  version: number;
}

const shown = {
  id: grades.id,
  page: grades.page,
  key: grades.key,
  grade: grades.grade,
  rule: grades.rule,
  place: grades.place,
  declaration: grades.declaration,
  why: grades.reason,
  version: grades.version,
};

/** What an older version says by its key alone: `kind axis path`, or `kind axis property value`. */
export function fromKey(key: string): Pick<UserGrade, 'rule' | 'place' | 'declaration'> {
  const [, rule = '', rest = ''] = /^(\S*) \S* ?(.*)$/s.exec(key) ?? [];
  const isOfDeclaration = /^(inert|dropped)$/.test(rule) && !/^(html|body)\b/.test(rest);
  return {
    rule,
    place: isOfDeclaration ? '' : rest,
    declaration: isOfDeclaration ? rest.replace(' ', ': ') : '',
  };
}

const whole = (row: GradeRow): GradeRow => (row.rule === '' ? { ...row, ...fromKey(row.key) } : row);

/** Those of a specimen that is on the Shelf. */
export async function listGrades(db: Database, specimenId: string): Promise<GradeRow[]> {
  const rows = await db
    .select(shown)
    .from(grades)
    .innerJoin(specimens, eq(specimens.id, grades.specimenId))
    .where(and(eq(grades.specimenId, specimenId), isNull(specimens.deletedAt)))
    .orderBy(asc(grades.createdAt), asc(grades.id));
  return rows.map(whole);
}

export const keyOfGrade = ({
  rule,
  place,
  declaration,
}: Pick<UserGrade, 'rule' | 'place' | 'declaration'>): string => [rule, place, declaration].join(' ').trim();

/**
 * Grades findings, or grades them otherwise where `version` of the grade has been seen. 0: as far as the client knows nobody
 * has graded them. `key`: of the grade that is there; not there: by what it is about. Throws a Refusal (409) with what is
 * there where it was given or changed elsewhere.
 */
export async function saveGrade(
  tx: Transaction,
  specimenId: string,
  version: number,
  { why, ...about }: UserGrade & { key?: string | undefined },
): Promise<GradeRow> {
  const key = about.key ?? keyOfGrade(about);
  const place = and(eq(grades.specimenId, specimenId), eq(grades.page, about.page), eq(grades.key, key));
  const values = { ...about, key, reason: why };
  if (version === 0) {
    const id = newId();
    const rows = await tx
      .insert(grades)
      .values({ id, specimenId, ...values })
      .onConflictDoNothing({ target: [grades.specimenId, grades.page, grades.key] })
      .returning({ id: grades.id });
    if (rows.length > 0) return { ...about, id, key, why, version: 1 };
  }
  const [row] = await tx.select(shown).from(grades).where(place).for('update');
  refuseUnlessSeen(row?.version ?? 0, version, row ? whole(row) : null);
  await tx
    .update(grades)
    .set({ ...values, version: version + 1 })
    .where(place);
  return { ...row!, ...about, key, why, version: version + 1 };
}

/** Takes the grades of a project's file over: each goes before one about the same. */
export async function adoptGrades(
  tx: Transaction,
  specimenId: string,
  list: readonly UserGrade[],
): Promise<void> {
  for (const { why, ...about } of list) {
    const values = { ...about, key: keyOfGrade(about), reason: why };
    await tx
      .insert(grades)
      .values({ id: newId(), specimenId, ...values })
      .onConflictDoUpdate({ target: [grades.specimenId, grades.page, grades.key], set: values });
  }
}

/** False: there is no such grade. Throws a Refusal (409) where it was changed elsewhere since `version` was seen. */
export const deleteGrade = (db: Database, specimenId: string, id: string, version: number): Promise<boolean> =>
  db.transaction(async (tx) => {
    const [row] = await tx
      .select(shown)
      .from(grades)
      .innerJoin(specimens, eq(specimens.id, grades.specimenId))
      .where(and(eq(grades.id, id), eq(grades.specimenId, specimenId), isNull(specimens.deletedAt)))
      .for('update');
    if (!row) return false;
    refuseUnlessSeen(row.version, version, whole(row));
    await tx.delete(grades).where(eq(grades.id, id));
    return true;
  });
