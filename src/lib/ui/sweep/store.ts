/** Sweeps that outlive the page they were made in: the last ones, in this browser's own database. */
import type { Drawing } from '$core/reports/drawing.ts';
import type { Snapshot } from '$core/sweep/snapshot.ts';
import { createStore, delMany, get, set, update } from 'idb-keyval';

export interface StoredSweep {
  /** ms since 1970. */
  made: number;
  /** Elements of the page. */
  count: number;
  looks: Snapshot[];
  drawings: [width: number, drawing: Drawing][];
}

const MOST = 12;
/** Names of the sweeps that are kept, the last one first. */
const NAMES = 'names';

/** Another number where what is kept of a look is no longer what it was: older ones are measured again. */
const FORMAT = 2;
const store = createStore(`normetra-sweeps-${FORMAT}`, 'sweeps');
const names = async (): Promise<string[]> => (await get<string[]>(NAMES, store)) ?? [];

export const isKept = async (name: string): Promise<boolean> => (await names()).includes(name);
export const recall = (name: string): Promise<StoredSweep | undefined> => get<StoredSweep>(name, store);

export async function keep(name: string, sweep: StoredSweep): Promise<void> {
  await set(name, sweep, store);
  await update<string[]>(NAMES, (previous = []) => [name, ...previous.filter((text) => text !== name)], store);
  const old = (await names()).slice(MOST);
  if (old.length === 0) return;
  await delMany(old, store);
  await update<string[]>(NAMES, (previous = []) => previous.slice(0, MOST), store);
}
