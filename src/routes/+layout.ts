import { nameBare } from '$lib/ui/frames.ts';
import type { LayoutLoad } from './$types';

/** Pages are made in the browser alone: nothing can be pressed before it does something. */
export const ssr = false;

export const load: LayoutLoad = ({ data }) => {
  nameBare(data.bareName);
  return data;
};
