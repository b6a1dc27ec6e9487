/** Grades that the user gives findings: kept with the specimen, whatever its revision. */
import { GRADES } from '$core/evidence/model.ts';
import { userGradeOf, type Gradable, type UserGrade } from '$core/evidence/user-grades.ts';
import { z } from 'zod';
import { wrong } from '../../notices/notices.svelte.ts';
import { askConflict } from '../../notices/conflicts.svelte.ts';
import { isConflict, okSchema, send } from '../../send.ts';

const gradeSchema = z.object({
  id: z.string(),
  page: z.string(),
  key: z.string(),
  rule: z.string(),
  place: z.string(),
  declaration: z.string(),
  grade: z.enum(GRADES),
  why: z.string(),
  version: z.number(),
});
export type KeptGrade = z.infer<typeof gradeSchema>;

export interface UserGradesInput {
  specimen: string;
  page: string;
  /** The elements of the page that a selector matches. */
  find: (selector: string) => Promise<number[]>;
}

export type UserGrades = ReturnType<typeof createUserGrades>;

const inWords = ({ grade, why }: Pick<UserGrade, 'grade' | 'why'>): string => `${grade}: ${why}`;

export function createUserGrades({ specimen, page, find }: UserGradesInput) {
  let list = $state.raw<KeptGrade[]>([]);
  /** Elements by place, of the reading at hand. */
  let places = $state.raw<Map<string, ReadonlySet<number>>>(new Map());
  /** Whether it is known what the user says of the page: before that nothing is listed. */
  let isKnown = $state(false);
  let loading: Promise<void> | null = null;
  const at = `/api/specimens/${specimen}/grades`;
  const isSame = (a: Pick<KeptGrade, 'page' | 'key'>, b: Pick<KeptGrade, 'page' | 'key'>): boolean =>
    a.page === b.page && a.key === b.key;

  async function load(): Promise<void> {
    list = await send('GET', at, z.array(gradeSchema));
  }

  /** Looks up the boxes that grades are about, in the page as it is now. */
  async function locate(): Promise<void> {
    // Where that fails it is told, and what was found is listed all the same.
    loading ??= load().catch(wrong);
    await loading;
    const wanted = new Set(
      list.filter((one) => one.page === '' || one.page === page).map(({ place }) => place),
    );
    wanted.delete('');
    const next = new Map<string, ReadonlySet<number>>();
    // A place that is not on this page, or is no selector here, is about nothing on it.
    for (const place of wanted) next.set(place, new Set(await find(place).catch(() => [])));
    places = next;
    isKnown = true;
  }

  const grades = {
    locate,
    /** What the user says of an observation; null: nothing. */
    of: (found: Gradable): KeptGrade | null =>
      list.length === 0 ? null : userGradeOf(list, found, page, (place) => places.get(place) ?? new Set()),
    give: async (given: UserGrade, before: KeptGrade | null): Promise<void> => {
      const replaced = before && before.page === given.page && before.place === given.place ? before : null;
      const seen = replaced ? { key: replaced.key, version: replaced.version } : { version: 0 };
      try {
        const result = await send('POST', at, gradeSchema, { ...given, ...seen });
        list = [...list.filter((one) => !isSame(one, result)), result];
        await locate();
      } catch (error) {
        if (!isConflict(error)) return wrong(error);
        const theirs = gradeSchema.nullable().parse(error.now);
        list = [
          ...list.filter((one) => one !== replaced && !(theirs && isSame(one, theirs))),
          ...(theirs ? [theirs] : []),
        ];
        await locate();
        const choice = await askConflict({
          what: 'The grade of this finding',
          mine: [inWords(given)],
          theirs: [theirs ? inWords(theirs) : 'Nobody has graded it any more.'],
          both: null,
        });
        if (choice === 'mine') await grades.give(given, theirs);
      }
    },
    takeBack: async (grade: KeptGrade): Promise<void> => {
      try {
        await send('DELETE', `${at}/${grade.id}?version=${grade.version}`, okSchema);
        list = list.filter((one) => one.id !== grade.id);
      } catch (error) {
        if (!isConflict(error)) return wrong(error);
        const theirs = gradeSchema.nullable().parse(error.now);
        list = [...list.filter((one) => one.id !== grade.id), ...(theirs ? [theirs] : [])];
        const choice = await askConflict({
          what: 'The grade of this finding',
          mine: ['The grade that the evidence comes to.'],
          theirs: theirs ? [inWords(theirs)] : [],
          both: null,
        });
        if (choice === 'mine' && theirs) await grades.takeBack(theirs);
      }
    },
    get isKnown() {
      return isKnown;
    },
    get count() {
      return list.length;
    },
  };
  return grades;
}
