import { answer, reply, required } from '$lib/server/answer.ts';
import { originOf } from '$lib/server/database/origins.ts';
import { findSpecimen } from '$lib/server/database/specimens.ts';
import { takeAgain } from '$lib/server/origins/address.ts';
import { syncFolder } from '$lib/server/origins/sync.ts';
import { storage } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

/** Takes a specimen again from its folder or its address; the number of the newest revision. */
export const POST: RequestHandler = ({ params }) =>
  answer(async () => {
    const kept = await storage();
    required(await findSpecimen(kept.db, params.id), 'specimen');
    const origin = required(await originOf(kept.db, params.id), 'origin of this specimen');
    const take = origin.kind === 'folder' ? syncFolder : takeAgain;
    return reply({ number: await take(kept, origin) });
  });
