import { listTrials } from '$lib/server/database/trials.ts';
import { specimenOr404 } from '$lib/server/database/specimenOr404.ts';
import { profileNames } from '$lib/server/engines/atlas.ts';
import { database } from '$lib/server/state.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params }) => {
  const db = await database();
  const { specimen, revision } = await specimenOr404(db, params.id);
  return {
    specimen: { id: specimen.id, name: specimen.name },
    revision: { number: revision.number, entry: revision.entry, pages: revision.pages },
    trials: await listTrials(db, params.id),
    profiles: profileNames(),
  };
};
