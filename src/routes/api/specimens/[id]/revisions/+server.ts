import { answer, reply, required } from '$lib/server/answer.ts';
import { addRevision, filesOf, findSpecimen } from '$lib/server/database/specimens.ts';
import { ingestFiles, unpacked } from '$lib/server/ingest/specimen.ts';
import { uploadOf } from '$lib/server/ingest/upload.ts';
import { placed } from '$lib/server/ingest/paths.ts';
import { database } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

/** Changed files laid over the newest revision: a file replaces the one of its path, or the only one of its name. */
export const POST: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const db = await database();
    const { specimen, revision } = required(await findSpecimen(db, params.id), 'specimen');
    const files = new Map((await filesOf(db, revision.id)).map((file) => [file.path, file.bytes]));
    for (const { path, bytes } of await unpacked(await uploadOf(request)))
      files.set(placed(path, [...files.keys()]), bytes);
    const ingested = await ingestFiles(
      [...files].map(([path, bytes]) => ({ path, bytes })),
      { keepPaths: true },
    );
    return reply({ number: await addRevision(db, specimen.id, ingested) }, 201);
  });
