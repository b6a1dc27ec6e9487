import { under } from '$lib/ui/defaults/under.ts';
import type { PageLoad } from './$types';

export const load: PageLoad = ({ data, url }) => under(data, url);
