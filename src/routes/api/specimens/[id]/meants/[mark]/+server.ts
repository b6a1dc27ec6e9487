import { answer, reply, required } from '$lib/server/answer.ts';
import { deleteMeant } from '$lib/server/database/meants.ts';
import { database } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

export const DELETE: RequestHandler = ({ params }) =>
  answer(async () => {
    required(await deleteMeant(await database(), params.id, params.mark), 'mark');
    return reply({ ok: true });
  });
