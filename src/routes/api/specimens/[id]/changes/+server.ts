import { answer, required } from '$lib/server/answer.ts';
import { originOf } from '$lib/server/database/origins.ts';
import { findSpecimen } from '$lib/server/database/specimens.ts';
import { refuseElsewhere } from '$lib/server/origins/sync.ts';
import { follow } from '$lib/server/origins/watch.ts';
import { storage } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

/** Ms after which something goes over a connection on which nothing happens, so that nobody closes it. */
const PULSE_MS = 20_000;

/**
 * What happens to the folder or the live page of a specimen, as server-sent events (HTML §9.2), for as long as somebody
 * listens: `revision` with the number of the newest one, `problem` with why it cannot be taken as it is.
 */
export const GET: RequestHandler = ({ params, request }) =>
  answer(async () => {
    const kept = await storage();
    required(await findSpecimen(kept.db, params.id), 'specimen');
    const origin = required(await originOf(kept.db, params.id), 'origin of this specimen');
    refuseElsewhere();
    let leave = (): void => undefined;
    const body = new ReadableStream<Uint8Array>({
      start(controller) {
        const text = new TextEncoder();
        const send = (lines: string): void => controller.enqueue(text.encode(`${lines}\n\n`));
        const unfollow = follow(kept, origin, (news) =>
          send(`event: ${'revision' in news ? 'revision' : 'problem'}\ndata: ${JSON.stringify(news)}`),
        );
        const pulse = setInterval(() => send(': still here'), PULSE_MS);
        leave = () => {
          clearInterval(pulse);
          unfollow();
        };
        send(': watching');
      },
      cancel: () => leave(),
    });
    request.signal.addEventListener('abort', () => leave());
    return new Response(body, {
      headers: { 'content-type': 'text/event-stream; charset=utf-8', 'cache-control': 'no-store' },
    });
  });
