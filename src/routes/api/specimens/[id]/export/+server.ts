import { answer, required } from '$lib/server/answer.ts';
import { exportSpecimen } from '$lib/server/exchange.ts';
import { database } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
  answer(async () => {
    const { name, bytes } = required(await exportSpecimen(await database(), params.id), 'specimen');
    const file = name.replace(/[^\w.-]+/g, '-').replace(/^-+|-+$/g, '') || 'specimen';
    return new Response(bytes as BodyInit, {
      headers: {
        'content-type': 'application/zip',
        'content-disposition': `attachment; filename="${file}.zip"`,
      },
    });
  });
