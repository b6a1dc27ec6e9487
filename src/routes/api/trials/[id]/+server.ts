import { editSchema } from '$core/trials/edit.ts';
import { answer, bodyOf, reply, required, seenVersion, version } from '$lib/server/answer.ts';
import { changeTrial, deleteTrial } from '$lib/server/database/trials.ts';
import { database } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const change = z.object({
  version,
  name: z.string().trim().min(1, 'must not be empty').max(200).optional(),
  edits: z.array(editSchema).max(2000).optional(),
});

/** `version`: the one that was seen; the answer is the new one. */
export const PATCH: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const { version: seen, ...asked } = await bodyOf(request, change);
    const { name, edits } = asked;
    const changed = await changeTrial(await database(), params.id, seen, {
      ...(name !== undefined && { name }),
      ...(edits !== undefined && { edits }),
    });
    return reply({ ok: true, version: required(changed, 'trial') });
  });

export const DELETE: RequestHandler = ({ params, url }) =>
  answer(async () => {
    required(await deleteTrial(await database(), params.id, seenVersion(url)), 'trial');
    return reply({ ok: true });
  });
