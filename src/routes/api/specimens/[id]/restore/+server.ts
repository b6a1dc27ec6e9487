import { answer, reply, required } from '$lib/server/answer.ts';
import { restoreSpecimen } from '$lib/server/database/specimens.ts';
import { database } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params }) =>
  answer(async () => {
    required(await restoreSpecimen(await database(), params.id), 'specimen');
    return reply({ ok: true });
  });
