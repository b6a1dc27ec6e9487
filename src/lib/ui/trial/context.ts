/** The trials of the Bench at hand, for whatever in it offers an edit. */
import { getContext, setContext } from 'svelte';
import type { Trials } from './trials.svelte.ts';

const KEY = Symbol('trials');

export const provideTrials = (trials: Trials): Trials => setContext(KEY, trials);
export const useTrials = (): Trials => getContext<Trials>(KEY);
