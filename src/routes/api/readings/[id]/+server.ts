import { answer, reply, required } from '$lib/server/answer.ts';
import { deleteReading, findReading, readingBody, revisionOfReading } from '$lib/server/database/specimens.ts';
import { sourcesOf } from '$lib/server/database/sources.ts';
import { database } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

/** A saved reading with the sources of the revision that it was taken of. */
export const GET: RequestHandler = ({ params }) =>
  answer(async () => {
    const db = await database();
    const head = required(await findReading(db, params.id), 'reading');
    const revision = required(await revisionOfReading(db, params.id), 'revision of this reading');
    return reply({ head, texts: await sourcesOf(db, revision), body: await readingBody(db, params.id) });
  });

export const DELETE: RequestHandler = ({ params }) =>
  answer(async () => {
    required(await deleteReading(await database(), params.id), 'reading');
    return reply({ ok: true });
  });
