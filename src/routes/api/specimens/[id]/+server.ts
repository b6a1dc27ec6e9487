import { drawingSchema } from '$core/reports/drawing.ts';
import { answer, bodyOf, reply, required, version } from '$lib/server/answer.ts';
import {
  changeSpecimen,
  deleteSpecimen,
  keepDrawing,
  type SpecimenChange,
} from '$lib/server/database/specimens.ts';
import { Refusal } from '$lib/server/ingest/refusal.ts';
import { database } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const change = z
  .object({
    version,
    name: z.string().trim().min(1, 'a specimen needs a name').max(120, 'a name has at most 120 characters'),
    scripts: z.enum(['hold', 'run']),
    drawing: drawingSchema,
  })
  .partial();

/** `name` and `scripts` with the `version` that they were read in; `drawing` is of the newest measurement, and no edit. */
export const PATCH: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const { version: seen, drawing, ...rest } = await bodyOf(request, change);
    const asked = rest as SpecimenChange;
    const db = await database();
    const isEdit = Object.keys(asked).length > 0;
    if (!isEdit && !drawing)
      throw new Refusal('body: nothing in it can be changed. Send name, scripts or drawing.', 400);
    if (isEdit && seen === undefined)
      throw new Refusal('version: say which version you have seen, as the list of specimens gave it.', 400);
    const now = isEdit ? required(await changeSpecimen(db, params.id, seen!, asked), 'specimen') : undefined;
    if (drawing) required(await keepDrawing(db, params.id, drawing), 'specimen');
    return reply({ ok: true, ...(now !== undefined && { version: now }) });
  });

export const DELETE: RequestHandler = ({ params }) =>
  answer(async () => {
    required(await deleteSpecimen(await database(), params.id), 'specimen');
    return reply({ ok: true });
  });
