import { editSchema } from '$core/trials/edit.ts';
import { answer, bodyOf, reply, required } from '$lib/server/answer.ts';
import { findSpecimen } from '$lib/server/database/specimens.ts';
import { createTrial, listTrials } from '$lib/server/database/trials.ts';
import { database } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const trial = z.object({
  page: z.string().min(1).max(1000),
  name: z.string().trim().min(1, 'must not be empty').max(200),
  edits: z.array(editSchema).max(2000),
});

export const GET: RequestHandler = ({ params }) =>
  answer(async () => {
    const db = await database();
    required(await findSpecimen(db, params.id), 'specimen');
    return reply(await listTrials(db, params.id));
  });

export const POST: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const db = await database();
    required(await findSpecimen(db, params.id), 'specimen');
    return reply(await createTrial(db, params.id, await bodyOf(request, trial)), 201);
  });
