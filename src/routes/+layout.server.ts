import { frameName } from '$lib/server/access.ts';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = () => ({ bareName: frameName('bare') });
