import { editSchema } from '$core/trials/edit.ts';
import { answer, bodyOf, reply, required } from '$lib/server/answer.ts';
import { changeTrial, deleteTrial } from '$lib/server/database/trials.ts';
import { database } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const change = z
  .object({
    name: z.string().trim().min(1, 'must not be empty').max(200),
    edits: z.array(editSchema).max(2000),
  })
  .partial();

export const PATCH: RequestHandler = ({ params, request }) =>
  answer(async () => {
    required(await changeTrial(await database(), params.id, await bodyOf(request, change)), 'trial');
    return reply({ ok: true });
  });

export const DELETE: RequestHandler = ({ params }) =>
  answer(async () => {
    required(await deleteTrial(await database(), params.id), 'trial');
    return reply({ ok: true });
  });
