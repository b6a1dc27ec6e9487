import { answer, bodyOf, reply, required } from '$lib/server/answer.ts';
import {
  deleteReading,
  findReading,
  noteReading,
  readingBody,
  revisionOfReading,
} from '$lib/server/database/specimens.ts';
import { sourcesOf } from '$lib/server/database/sources.ts';
import { database } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

/** A saved reading with the sources of the revision that it was taken of. */
export const GET: RequestHandler = ({ params }) =>
  answer(async () => {
    const db = await database();
    const head = required(await findReading(db, params.id), 'reading');
    const revision = required(await revisionOfReading(db, params.id), 'revision of this reading');
    return reply({ head, texts: await sourcesOf(db, revision), body: await readingBody(db, params.id) });
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
