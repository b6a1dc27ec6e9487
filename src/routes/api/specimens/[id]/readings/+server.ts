import { answer, bodyOf, reply, required } from '$lib/server/answer.ts';
import { findSpecimen, listReadings, saveReading } from '$lib/server/database/specimens.ts';
import { savedReadingSchema } from '$core/reading/saved.ts';
import { database } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

/** As columns of the database hold them. */
const column = z
  .number()
  .transform(Math.round)
  .pipe(
    z
      .number()
      .min(-(2 ** 31), 'is too small to be kept')
      .max(2 ** 31 - 1, 'is too large to be kept'),
  );
const sizes = z.object({
  width: column,
  height: column,
  scrollWidth: column,
  scrollHeight: column,
  boxes: column,
});

export const GET: RequestHandler = ({ params }) =>
  answer(async () => {
    const db = await database();
    required(await findSpecimen(db, params.id), 'specimen');
    return reply(await listReadings(db, params.id));
  });

export const POST: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const db = await database();
    const { specimen, revision } = required(await findSpecimen(db, params.id), 'specimen');
    const { note, pick, page, under, ...body } = await bodyOf(request, savedReadingSchema);
    const { engine, viewport, document, count } = body.reading;
    const numbers = sizes.parse({
      width: viewport.width,
      height: viewport.height,
      scrollWidth: document.scrollWidth,
      scrollHeight: document.scrollHeight,
      boxes: count,
    });
    const id = await saveReading(
      db,
      {
        specimenId: specimen.id,
        revisionId: revision.id,
        page,
        engine: engine.name,
        engineVersion: engine.version,
        ...numbers,
        defaults: under,
        note,
        pick,
      },
      body,
    );
    return reply({ id }, 201);
  });
