/** Watches the folders of specimens that somebody looks at: a burst of writes is one revision, unchanged bytes are none. */
import { watch, type FSWatcher } from 'chokidar';
import { basename, relative, sep } from 'node:path';
import type { Storage } from '../database/open.ts';
import type { Origin } from '../database/origins.ts';
import { Refusal } from '../ingest/refusal.ts';
import { reasonOfError } from '../log.ts';
import { isPassedOver } from './folder.ts';
import { syncFolder } from './sync.ts';

/** What is told of a folder: the number of its newest revision, or why there is none of what it holds now. */
export type FolderNews = { revision: number } | { problem: string };

interface Watched {
  watcher: FSWatcher;
  listeners: Set<(news: FolderNews) => void>;
  last: FolderNews | null;
}

/** Ms without a change after which a burst of writes is over, and after which it is looked at all the same. */
const QUIET_MS = 40;
const LONGEST_MS = 500;

const watched = new Map<string, Watched>();

/** What a folder comes to now. Throws what is no Refusal. */
export async function newsOf(storage: Storage, origin: Origin): Promise<FolderNews> {
  try {
    return { revision: await syncFolder(storage, origin) };
  } catch (error) {
    if (error instanceof Refusal) return { problem: error.message.replace(/^place: /, '') };
    throw error;
  }
}

function begin(storage: Storage, origin: Origin): Watched {
  const { place } = origin;
  const listeners: Watched['listeners'] = new Set();
  let timer: NodeJS.Timeout | undefined;
  let since = 0;
  const look = async (): Promise<void> => {
    since = 0;
    const news = await newsOf(storage, origin).catch((error: unknown): FolderNews => {
      console.error(`Reading ${place} again: ${reasonOfError(error)}`);
      return { problem: `${place} could not be read. The terminal of the server says why.` };
    });
    if (JSON.stringify(news) === JSON.stringify(entry.last)) return;
    entry.last = news;
    for (const hear of listeners) hear(news);
  };
  const stir = (): void => {
    const now = Date.now();
    since ||= now;
    clearTimeout(timer);
    timer = setTimeout(() => void look(), Math.max(0, Math.min(QUIET_MS, since + LONGEST_MS - now)));
  };
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
  const entry: Watched = { watcher, listeners, last: null };
  return entry;
}

/** Tells `hear` of every change of a folder until the answer is called. */
export function follow(storage: Storage, origin: Origin, hear: (news: FolderNews) => void): () => void {
  const entry = watched.get(origin.specimenId) ?? begin(storage, origin);
  watched.set(origin.specimenId, entry);
  entry.listeners.add(hear);
  if (entry.last) hear(entry.last);
  return () => {
    entry.listeners.delete(hear);
    if (entry.listeners.size > 0 || watched.get(origin.specimenId) !== entry) return;
    watched.delete(origin.specimenId);
    void entry.watcher.close();
  };
}

export async function endWatching(): Promise<void> {
  await Promise.all([...watched.values()].map(({ watcher }) => watcher.close()));
  watched.clear();
}
