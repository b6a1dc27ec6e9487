import { answer, required } from '$lib/server/answer.ts';
import { exportSpecimen } from '$lib/server/specimen-archive.ts';
import { storage } from '$lib/server/state.ts';
import { Readable } from 'node:stream';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
  answer(async () => {
    const { name, zip } = required(await exportSpecimen(await storage(), params.id), 'specimen');
    const file = name.replace(/[^\w.-]+/g, '-').replace(/^-+|-+$/g, '') || 'specimen';
    return new Response(Readable.toWeb(zip) as ReadableStream, {
      headers: {
        'content-type': 'application/zip',
        'content-disposition': `attachment; filename="${file}.zip"`,
      },
    });
  });
