import { answer } from '$lib/server/answer.ts';
import { makeBackup } from '$lib/server/database/backup.ts';
import { storage } from '$lib/server/state.ts';
import { Readable } from 'node:stream';
import type { RequestHandler } from './$types';

/** Everything that is kept, as `normetra backup` writes it. */
export const GET: RequestHandler = () =>
  answer(async () => {
    const day = new Date().toISOString().slice(0, 10);
    return new Response(Readable.toWeb(await makeBackup(await storage())) as ReadableStream, {
      headers: {
        'content-type': 'application/gzip',
        'content-disposition': `attachment; filename="normetra-${day}.tar.gz"`,
      },
    });
  });
