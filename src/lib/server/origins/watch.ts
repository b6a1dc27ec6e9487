/**
 * Watches what the specimens that somebody looks at are taken from, folders and live pages: a burst of changes is one revision,
 * unchanged bytes are none.
 */
import { watch } from 'chokidar';
import { basename, relative, sep } from 'node:path';
import type { Storage } from '../database/open.ts';
import type { Origin } from '../database/origins.ts';
import { Refusal } from '../ingest/refusal.ts';
import { reasonOfError } from '../log.ts';
import { whenQuiet } from '../when-quiet.ts';
import { endAddresses, takeChanged, watchAddress } from './address.ts';
import { isPassedOver } from './folder.ts';
import { syncFolder } from './sync.ts';

/** What is told: the number of the newest revision, or why there is none of what is there now. */
export type OriginNews = { revision: number } | { problem: string };

interface Watched {
  end: () => Promise<void>;
  listeners: Set<(news: OriginNews) => void>;
  last: OriginNews | null;
}

/** Ms without a write after which a burst of them is over, and after which the folder is looked at all the same. */
const QUIET_MS = 40;
const LONGEST_MS = 500;

const watched = new Map<string, Watched>();

/** What it comes to now. Throws what is no Refusal. */
async function newsOf(take: () => Promise<number>): Promise<OriginNews> {
  try {
    return { revision: await take() };
  } catch (error) {
    if (error instanceof Refusal) return { problem: error.message.replace(/^place: /, '') };
    throw error;
  }
}

/** What is told when a specimen is opened: a folder is looked at, a live page is taken when it changes or somebody asks. */
export const newsAtOpening = async (storage: Storage, origin: Origin): Promise<OriginNews | null> =>
  origin.kind === 'folder' ? newsOf(() => syncFolder(storage, origin)) : null;

/** Of a page that changes by itself all the time so many states are taken one after another. */
const MOST_IN_A_ROW = 6;
const ROW_MS = 30_000;
const ENDLESS =
  'The page changes by itself all the time, and is followed no more. Take it again when you like.';

function begin(storage: Storage, origin: Origin): Watched {
  const { place } = origin;
  const listeners: Watched['listeners'] = new Set();
  const taken: number[] = [];
  const look = async (): Promise<void> => {
    const take = () => (origin.kind === 'folder' ? syncFolder(storage, origin) : takeChanged(storage, origin));
    const news = await newsOf(take).catch((error: unknown): OriginNews => {
      console.error(`Reading ${place} again: ${reasonOfError(error)}`);
      return { problem: `${place} could not be read. The terminal of the server says why.` };
    });
    if (JSON.stringify(news) === JSON.stringify(entry.last)) return;
    entry.last = news;
    if (origin.kind === 'address') {
      taken.push(Date.now());
      if (taken.length > MOST_IN_A_ROW && Date.now() - taken.shift()! < ROW_MS) {
        await entry.end();
        for (const hear of listeners) hear({ problem: ENDLESS });
        return;
      }
    }
    for (const hear of listeners) hear(news);
  };
  const { stir, stop } = whenQuiet(QUIET_MS, LONGEST_MS, () => void look());
  const unwatch = origin.kind === 'folder' ? watchFolder(place, stir) : watchAddress(origin, () => void look());
  const entry: Watched = {
    end: () => {
      stop();
      return unwatch();
    },
    listeners,
    last: null,
  };
  return entry;
}

function watchFolder(place: string, stir: () => void): () => Promise<void> {
  const watcher = watch(place, {
    ignoreInitial: true,
    ignored: (path) => {
      const inside = relative(place, path);
      return inside !== '' && inside.split(sep).some(isPassedOver);
    },
    followSymlinks: false,
  });
  watcher.on('all', stir);
  // Between the last look and the first watch something may have been written.
  watcher.on('ready', stir);
  watcher.on('error', (error) => console.error(`Watching ${basename(place)}: ${reasonOfError(error)}`));
  return () => watcher.close();
}

/** Tells `hear` of every change until the answer is called. */
export function follow(storage: Storage, origin: Origin, hear: (news: OriginNews) => void): () => void {
  const entry = watched.get(origin.specimenId) ?? begin(storage, origin);
  watched.set(origin.specimenId, entry);
  entry.listeners.add(hear);
  if (entry.last) hear(entry.last);
  return () => {
    entry.listeners.delete(hear);
    if (entry.listeners.size > 0 || watched.get(origin.specimenId) !== entry) return;
    watched.delete(origin.specimenId);
    void entry.end();
  };
}

export async function endWatching(): Promise<void> {
  await Promise.all([...watched.values()].map(({ end }) => end()));
  watched.clear();
  await endAddresses();
}
