import { frameName } from '$lib/server/access.ts';
import { answer, bodyOf, frameKey, reply, required } from '$lib/server/answer.ts';
import { findRevision } from '$lib/server/database/specimens.ts';
import { keepOverlay, revisionKey } from '$lib/server/frames/overlays.ts';
import { storage } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const overlay = z.object({
  key: z.string().min(1).max(100),
  texts: z.record(z.string().max(1000), z.string().max(20_000_000)),
  underlay: z
    .object({ standards: z.string().max(2_000_000), quirks: z.string().max(2_000_000) })
    .nullable()
    .default(null),
});

/** Serves a revision's files with other texts or defaults; the answer is the key to open them under. */
export const POST: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const asked = await bodyOf(request, overlay);
    const kept = await storage();
    const key = frameKey(asked.key);
    const { specimen } = required(await findRevision(kept.db, await revisionKey(kept, key)), 'revision');
    required(specimen.id === params.id, 'revision of this specimen');
    return reply({ key: frameName(await keepOverlay(kept, { ...asked, key })) }, 201);
  });
