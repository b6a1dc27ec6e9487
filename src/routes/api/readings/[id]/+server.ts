import { answer, bodyOf, reply, required } from '$lib/server/answer.ts';
import { deleteReading, findReading, noteReading, readingBody } from '$lib/server/database/specimens.ts';
import { database } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
  answer(async () => {
    const db = await database();
    const head = required(await findReading(db, params.id), 'reading');
    return reply({ head, body: await readingBody(db, params.id) });
  });

export const PATCH: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const { note } = await bodyOf(request, z.object({ note: z.string().max(2000) }));
    required(await noteReading(await database(), params.id, note), 'reading');
    return reply({ ok: true });
  });

export const DELETE: RequestHandler = ({ params }) =>
  answer(async () => {
    required(await deleteReading(await database(), params.id), 'reading');
    return reply({ ok: true });
  });
