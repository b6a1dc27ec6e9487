import { frameName } from '$lib/server/access.ts';
import { answer, bodyOf, reply } from '$lib/server/answer.ts';
import { keepOverlay } from '$lib/server/frames/overlays.ts';
import { storage } from '$lib/server/state.ts';
import { z } from 'zod';
import type { RequestHandler } from './$types';

const sheet = z.string().max(2_000_000);

/** Serves empty documents with style sheets laid under them; the answer is the key to open them under. */
export const POST: RequestHandler = ({ request }) =>
  answer(async () => {
    const underlay = await bodyOf(request, z.object({ standards: sheet, quirks: sheet }));
    return reply({ key: frameName(await keepOverlay(await storage(), { key: '', texts: {}, underlay })) }, 201);
  });
