import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ request }) => ({ host: request.headers.get('host') ?? '' });
