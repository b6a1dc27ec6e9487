import { answer, frameKey, reply, required } from '$lib/server/answer.ts';
import { findRevision } from '$lib/server/database/specimens.ts';
import { sourcesOf } from '$lib/server/database/sources.ts';
import { revisionKey } from '$lib/server/frames/overlays.ts';
import { storage } from '$lib/server/state.ts';
import type { RequestHandler } from './$types';

/** Texts of a revision's pages and style sheets by path. `key` names the revision. */
export const GET: RequestHandler = ({ params, url }) =>
  answer(async () => {
    const kept = await storage();
    const { specimen, revision } = required(
      await findRevision(kept.db, await revisionKey(kept, frameKey(url.searchParams.get('key') ?? ''))),
      'revision',
    );
    required(specimen.id === params.id, 'revision of this specimen');
    return reply(await sourcesOf(kept, revision));
  });
