import { answer, bodyOf, reply, required } from '$lib/server/answer.ts';
import { findSpecimen, listReadings, saveReading } from '$lib/server/database/specimens.ts';
import { savedReadingSchema } from '$core/boxes/saved.ts';
import { database } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
  answer(async () => reply(await listReadings(await database(), params.id)));

export const POST: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const db = await database();
    const { specimen, revision } = required(await findSpecimen(db, params.id), 'specimen');
    const { note, pick, page, under, ...body } = await bodyOf(request, savedReadingSchema);
    const { engine, viewport, document, count } = body.reading;
    const id = await saveReading(
      db,
      {
        specimenId: specimen.id,
        revisionId: revision.id,
        page,
        engine: engine.name,
        engineVersion: engine.version,
        width: Math.round(viewport.width),
        height: Math.round(viewport.height),
        scrollWidth: Math.round(document.scrollWidth),
        scrollHeight: Math.round(document.scrollHeight),
        defaults: under,
        boxes: count,
        note,
        pick,
      },
      body,
    );
    return reply({ id }, 201);
  });
