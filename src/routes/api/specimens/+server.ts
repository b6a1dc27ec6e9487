import { answer, bodyOf, reply } from '$lib/server/answer.ts';
import { createSpecimen, listSpecimens } from '$lib/server/database/specimens.ts';
import { ingestPasted } from '$lib/server/ingest/specimen.ts';
import { bringIn } from '$lib/server/exchange.ts';
import { uploadOf } from '$lib/server/ingest/upload.ts';
import { database } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const pasted = z.object({ html: z.string().max(20_000_000), css: z.string().max(20_000_000) });

export const GET: RequestHandler = () => answer(async () => reply(await listSpecimens(await database())));

/** Files as `multipart/form-data` (`files`, with their paths in `paths`), or pasted HTML and CSS as JSON. */
export const POST: RequestHandler = ({ request }) =>
  answer(async () => {
    const db = await database();
    if (request.headers.get('content-type')?.startsWith('application/json')) {
      const { html, css } = await bodyOf(request, pasted);
      return reply({ id: await createSpecimen(db, await ingestPasted(html, css)) }, 201);
    }
    return reply({ id: await bringIn(db, await uploadOf(request)) }, 201);
  });
