import { frameName } from '$lib/server/access.ts';
import { listSpecimens } from '$lib/server/database/specimens.ts';
import { database } from '$lib/server/state.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ request }) => ({
  specimens: (await listSpecimens(await database())).map((shown) => ({ ...shown, key: frameName(shown.key) })),
  host: request.headers.get('host') ?? '',
});
