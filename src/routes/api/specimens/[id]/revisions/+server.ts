import { answer, reply, required } from '$lib/server/answer.ts';
import {
  addRevision,
  adoptContents,
  entriesOf,
  findRevisionNumber,
  findSpecimen,
} from '$lib/server/database/specimens.ts';
import { adoptGrades } from '$lib/server/database/grades.ts';
import { projectGrades } from '$lib/server/specimen-archive.ts';
import { receiveUpload } from '$lib/server/ingest/upload.ts';
import { storage } from '$lib/server/state.ts';
import { work } from '$lib/server/work/pool.ts';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const NUMBER = 'must be the number of a revision';
const number = z.coerce
  .number(NUMBER)
  .int(NUMBER)
  .min(1, NUMBER)
  .max(2 ** 31 - 2, NUMBER);
const query = z.object({ newest: number, base: number.optional() });

/**
 * Changed files laid over a revision: a file replaces the one of its path, or the only one of its name. `newest`: the number of
 * the newest revision that the client has seen; `base`: of that over which the files are laid, if it is another.
 */
export const POST: RequestHandler = ({ params, request, url }) =>
  answer(async () => {
    const asked = query.parse(Object.fromEntries(url.searchParams));
    const kept = await storage();
    const { specimen } = required(await findSpecimen(kept.db, params.id), 'specimen');
    const base = required(
      await findRevisionNumber(kept.db, specimen.id, asked.base ?? asked.newest),
      'revision of this specimen',
    );
    const folder = await kept.contents.staging();
    try {
      const sent = await receiveUpload(request, join(folder, 'sent'));
      const over = await Promise.all(
        (await entriesOf(kept.db, base.id)).map(async (entry) => ({
          ...entry,
          // The others are not read.
          file: /^text\/(html|css)$/.test(entry.type) ? await kept.contents.onDisk(entry.hash, folder) : '',
        })),
      );
      const staged = await work('stage', { sent, folder, over });
      const held = new Set(over.map(({ hash }) => hash));
      const files = staged.files.map(({ file, ...entry }) =>
        held.has(entry.hash) ? entry : { ...entry, file },
      );
      const project = await projectGrades(files);
      await adoptContents(kept, files);
      const number = await addRevision(kept, specimen.id, asked.newest, { ...staged, files });
      // Only now: what is refused has changed nothing.
      await kept.db.transaction((tx) => adoptGrades(tx, specimen.id, project));
      return reply({ number }, 201);
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  });
