import { answer, bodyOf, reply } from '$lib/server/answer.ts';
import { openFolder } from '$lib/server/origins/sync.ts';
import { storage } from '$lib/server/state.ts';
import { isAbsolute } from 'node:path';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const absolute = (what: string) =>
  z
    .string()
    .min(1)
    .max(4000)
    .refine(isAbsolute, `must be the whole path of ${what} on this machine, like /home/me/site`);

const asked = z.object({
  place: absolute('a folder or a page'),
  root: absolute('a folder').nullable().default(null),
});

/** Opens a folder of this machine, or a page in one; its specimen, and the address of its Bench. */
export const POST: RequestHandler = ({ request, url }) =>
  answer(async () => {
    const { place, root } = await bodyOf(request, asked);
    const { id, page } = await openFolder(await storage(), place, root);
    const bench = new URL(`/bench/${id}`, url);
    if (page !== null) bench.searchParams.set('page', page);
    return reply({ id, page, url: bench.href });
  });
