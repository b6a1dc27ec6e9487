import { answer, reply, required } from '$lib/server/answer.ts';
import { deleteReading, findReading, readingBody, revisionOfReading } from '$lib/server/database/specimens.ts';
import { sourcesOf } from '$lib/server/database/sources.ts';
import { database, storage } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

/** A saved reading with the sources of the revision that it was taken of. */
export const GET: RequestHandler = ({ params }) =>
  answer(async () => {
    const kept = await storage();
    const head = required(await findReading(kept.db, params.id), 'reading');
    const revision = required(await revisionOfReading(kept.db, params.id), 'revision of this reading');
    const [texts, body] = [await sourcesOf(kept, revision), await readingBody(kept.db, params.id)];
    return reply({ head, texts, body });
  });

export const DELETE: RequestHandler = ({ params }) =>
  answer(async () => {
    required(await deleteReading(await database(), params.id), 'reading');
    return reply({ ok: true });
  });
