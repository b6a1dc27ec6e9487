import { frameName } from '$lib/server/access.ts';
import { listSpecimens } from '$lib/server/database/specimens.ts';
import { opensFolders } from '$lib/server/origins/sync.ts';
import { database } from '$lib/server/state.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ request }) => ({
  specimens: (await listSpecimens(await database())).map((shown) => ({ ...shown, key: frameName(shown.key) })),
  /** Whether folders of the server's disk may be opened. */
  canWatch: opensFolders(),
  host: request.headers.get('host') ?? '',
});
