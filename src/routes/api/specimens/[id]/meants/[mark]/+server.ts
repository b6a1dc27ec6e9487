import { answer, reply, required, seenVersion } from '$lib/server/answer.ts';
import { deleteMeant } from '$lib/server/database/intents.ts';
import { database } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

/** `version`: the one that was seen. */
export const DELETE: RequestHandler = ({ params, url }) =>
  answer(async () => {
    required(await deleteMeant(await database(), params.id, params.mark, seenVersion(url)), 'mark');
    return reply({ ok: true });
  });
