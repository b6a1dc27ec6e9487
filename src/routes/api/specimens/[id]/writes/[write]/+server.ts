import { answer, reply, required } from '$lib/server/answer.ts';
import { folderOf } from '$lib/server/database/origins.ts';
import { findSpecimen } from '$lib/server/database/specimens.ts';
import { takeBack } from '$lib/server/origins/write.ts';
import { storage } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

/** Puts back what stood in the files before the last write; the number of the revision that it came to. */
export const DELETE: RequestHandler = ({ params }) =>
  answer(async () => {
    const kept = await storage();
    required(await findSpecimen(kept.db, params.id), 'specimen');
    const origin = required(await folderOf(kept.db, params.id), 'folder of this specimen');
    return reply(await takeBack(kept, origin, params.write));
  });
