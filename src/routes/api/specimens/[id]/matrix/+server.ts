import { editSchema } from '$core/trials/edit.ts';
import { answer, bodyOf, required } from '$lib/server/answer.ts';
import { findRevisionNumber, findSpecimen } from '$lib/server/database/specimens.ts';
import { Refusal } from '$lib/server/ingest/refusal.ts';
import { reasonOfError } from '$lib/server/log.ts';
import { runMatrix } from '$lib/server/stations/matrix-run.ts';
import { storage } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const name = z.string().regex(/^[\w:-]{1,60}$/, 'is the name of an engine, or of a profile of default styles');
const asked = z
  .object({
    revision: z.number().int().min(1),
    page: z.string().min(1).max(1000),
    width: z.number().int().min(100).max(7680),
    height: z.number().int().min(100).max(8000),
    engines: z.array(name).min(1).max(10),
    defaults: z.array(name).max(6).default([]),
    edits: z.array(editSchema).max(2000).default([]),
  })
  .refine(
    ({ engines, defaults }) => engines.length + defaults.length >= 2,
    'names only one thing: name two or more',
  );

/**
 * Measures a specimen in several engines. Told as server-sent events (HTML §9.2): `progress`, then `matrix` with the document, or
 * `problem` with a sentence. It is stopped where nobody listens any more.
 */
export const POST: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const { revision: number, ...rest } = await bodyOf(request, asked);
    const kept = await storage();
    const specimen = required(await findSpecimen(kept.db, params.id), 'specimen');
    const revision = required(await findRevisionNumber(kept.db, params.id, number), 'revision');
    if (!revision.pages.includes(rest.page)) throw new Refusal('page: there is no such page in it.', 404);
    const stop = new AbortController();
    request.signal.addEventListener('abort', () => stop.abort());
    const body = new ReadableStream<Uint8Array>({
      async start(controller) {
        const text = new TextEncoder();
        const send = (event: string, data: unknown): void => {
          if (!stop.signal.aborted)
            controller.enqueue(text.encode(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`));
        };
        try {
          const job = { ...rest, scripts: specimen.specimen.scripts };
          const hear = (progress: unknown): void => send('progress', progress);
          send('matrix', await runMatrix(kept, revision, job, hear, stop.signal));
        } catch (error) {
          if (!(error instanceof Refusal) && !stop.signal.aborted)
            console.error(`Measuring in several engines: ${reasonOfError(error)}`);
          send('problem', {
            problem:
              error instanceof Refusal
                ? error.message
                : 'The page could not be measured. The terminal of the server says why.',
          });
        }
        if (!stop.signal.aborted) controller.close();
      },
      cancel: () => stop.abort(),
    });
    return new Response(body, {
      headers: { 'content-type': 'text/event-stream; charset=utf-8', 'cache-control': 'no-store' },
    });
  });
