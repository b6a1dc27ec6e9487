import { drawingSchema } from '$core/boxes/drawing.ts';
import { answer, bodyOf, reply, required } from '$lib/server/answer.ts';
import { changeSpecimen, deleteSpecimen, type SpecimenChange } from '$lib/server/database/specimens.ts';
import { database } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const change = z
  .object({
    name: z.string().trim().min(1, 'a specimen needs a name').max(120, 'a name has at most 120 characters'),
    scripts: z.enum(['hold', 'run']),
    drawing: drawingSchema,
  })
  .partial();

export const PATCH: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const asked = (await bodyOf(request, change)) as SpecimenChange;
    required(await changeSpecimen(await database(), params.id, asked), 'specimen');
    return reply({ ok: true });
  });

export const DELETE: RequestHandler = ({ params }) =>
  answer(async () => {
    required(await deleteSpecimen(await database(), params.id), 'specimen');
    return reply({ ok: true });
  });
