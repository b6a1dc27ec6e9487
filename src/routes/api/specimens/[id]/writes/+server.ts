import { answer, bodyOf, reply, required } from '$lib/server/answer.ts';
import { folderOf } from '$lib/server/database/origins.ts';
import { findSpecimen } from '$lib/server/database/specimens.ts';
import { writeFiles } from '$lib/server/origins/write.ts';
import { storage } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const asked = z.object({
  /** The revision that the texts were made of. */
  revision: z.number().int().min(1),
  files: z
    .record(z.string().min(1).max(4000), z.string().max(20_000_000))
    .refine((files) => Object.keys(files).length > 0, 'must name a file'),
});

/** Writes texts into the files of the specimen's folder; which write it is, and the number of the revision that it came to. */
export const POST: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const { revision, files } = await bodyOf(request, asked);
    const kept = await storage();
    required(await findSpecimen(kept.db, params.id), 'specimen');
    const origin = required(await folderOf(kept.db, params.id), 'folder of this specimen');
    return reply(await writeFiles(kept, origin, revision, files), 201);
  });
