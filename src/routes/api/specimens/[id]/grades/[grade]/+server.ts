import { answer, reply, required, seenVersion } from '$lib/server/answer.ts';
import { deleteGrade } from '$lib/server/database/grades.ts';
import { database } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

/** `version`: the one that was seen. */
export const DELETE: RequestHandler = ({ params, url }) =>
  answer(async () => {
    required(await deleteGrade(await database(), params.id, params.grade, seenVersion(url)), 'grade');
    return reply({ ok: true });
  });
