import { answer, bodyOf, reply, required, version } from '$lib/server/answer.ts';
import { listMeants, saveMeant } from '$lib/server/database/intents.ts';
import { findSpecimen } from '$lib/server/database/specimens.ts';
import { database } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const meant = z.object({
  page: z.string().min(1).max(1000),
  key: z.string().min(1).max(4000),
  reason: z.string().trim().min(1, 'must say why it is meant').max(500),
  /** Of the mark that is there, as it was seen; 0: none was. */
  version: version.default(0),
});

export const GET: RequestHandler = ({ params }) =>
  answer(async () => {
    const db = await database();
    required(await findSpecimen(db, params.id), 'specimen');
    return reply(await listMeants(db, params.id));
  });

/** Says that a finding of a page is meant, and why. */
export const POST: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const db = await database();
    required(await findSpecimen(db, params.id), 'specimen');
    const { version: seen, ...mark } = await bodyOf(request, meant);
    return reply(await db.transaction((tx) => saveMeant(tx, params.id, seen, mark)), 201);
  });
