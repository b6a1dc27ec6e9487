import { frameName } from '$lib/server/access.ts';
import { listTrials } from '$lib/server/database/trials.ts';
import { specimenOr404 } from '$lib/server/database/specimenOr404.ts';
import { database } from '$lib/server/state.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, request }) => {
  const db = await database();
  const { specimen, revision } = await specimenOr404(db, params.id);
  return {
    host: request.headers.get('host') ?? '',
    specimen: { id: specimen.id, name: specimen.name },
    revision: {
      key: frameName(revision.key),
      number: revision.number,
      entry: revision.entry,
      pages: revision.pages,
    },
    trials: await listTrials(db, params.id),
  };
};
