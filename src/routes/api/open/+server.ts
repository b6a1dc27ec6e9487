import { answer, bodyOf, reply } from '$lib/server/answer.ts';
import { cookieSchema } from '$lib/server/capture/cookies.ts';
import { parseStep } from '$lib/server/capture/steps.ts';
import { openAddress } from '$lib/server/origins/address.ts';
import { openFolder } from '$lib/server/origins/sync.ts';
import { storage } from '$lib/server/state.ts';
import { isAbsolute } from 'node:path';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const isAddress = (text: string): boolean => /^https?:\/\//i.test(text) && URL.canParse(text);
const side = (otherwise: number) => z.number().int().min(100).max(8000).default(otherwise);

const asked = z.object({
  place: z
    .string()
    .min(1)
    .max(4000)
    .refine(
      (text) => isAbsolute(text) || isAddress(text),
      'must be an http(s) address, or the whole path of a folder or a page on this machine, like /home/me/site',
    ),
  root: z
    .string()
    .min(1)
    .max(4000)
    .refine(isAbsolute, 'must be the whole path of a folder on this machine')
    .nullable()
    .default(null),
  /** Of an address alone: how its page is taken. */
  width: side(1280),
  height: side(800),
  steps: z.array(z.string().max(4000)).max(100).default([]),
  cookies: z.array(cookieSchema).max(2000).default([]),
  credentials: z
    .object({ username: z.string().max(1000), password: z.string().max(1000) })
    .nullable()
    .default(null),
  also: z.array(z.url()).max(50).default([]),
});

/** Opens a folder of this machine, a page in one, or an address; its specimen, and the address of its Bench. */
export const POST: RequestHandler = ({ request, url }) =>
  answer(async () => {
    const { place, root, also, ...how } = await bodyOf(request, asked);
    how.steps.forEach(parseStep);
    const { id, page } = isAddress(place)
      ? await openAddress(await storage(), {
          ...how,
          address: new URL(place),
          also: also.map((address) => new URL(address)),
        })
      : await openFolder(await storage(), place, root);
    const bench = new URL(`/bench/${id}`, url);
    if (page !== null) bench.searchParams.set('page', page);
    if (isAddress(place)) {
      bench.searchParams.set('w', String(how.width));
      bench.searchParams.set('h', String(how.height));
    }
    return reply({ id, page, url: bench.href });
  });
