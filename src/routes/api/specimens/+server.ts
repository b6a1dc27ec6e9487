import { frameName } from '$lib/server/access.ts';
import { answer, bodyOf, reply } from '$lib/server/answer.ts';
import { listSpecimens } from '$lib/server/database/specimens.ts';
import { bringIn } from '$lib/server/specimen-archive.ts';
import { receiveUpload } from '$lib/server/ingest/upload.ts';
import { database, storage } from '$lib/server/state.ts';
import { work } from '$lib/server/work/pool.ts';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const LONGEST = 20_000_000;
const pasted = z.object({ html: z.string().max(LONGEST), css: z.string().max(LONGEST) });

export const GET: RequestHandler = () =>
  answer(async () =>
    reply((await listSpecimens(await database())).map((shown) => ({ ...shown, key: frameName(shown.key) }))),
  );

/** Files as `multipart/form-data` (`files`, with their paths in `paths`), or pasted HTML and CSS as JSON. */
export const POST: RequestHandler = ({ request }) =>
  answer(async () => {
    const kept = await storage();
    const folder = await kept.contents.staging();
    try {
      const staged = request.headers.get('content-type')?.startsWith('application/json')
        ? await work('paste', { ...(await bodyOf(request, pasted)), folder })
        : await work('stage', { sent: await receiveUpload(request, join(folder, 'sent')), folder, over: null });
      return reply({ id: await bringIn(kept, staged) }, 201);
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  });
