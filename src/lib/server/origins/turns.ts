/** What taking files in has in common, wherever they are from. */
import { rm } from 'node:fs/promises';
import type { Storage } from '../database/open.ts';

/** Gives a folder for files on their way in, for as long as `run` takes. */
export async function withStaging<T>({ contents }: Storage, run: (folder: string) => Promise<T>): Promise<T> {
  const folder = await contents.staging();
  try {
    return await run(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** One after another of the same name. */
const turns = new Map<string, Promise<unknown>>();
export function inTurn<T>(name: string, run: () => Promise<T>): Promise<T> {
  const turn = (turns.get(name) ?? Promise.resolve()).then(run, run);
  const settled = turn
    .catch(() => undefined)
    .then(() => {
      if (turns.get(name) === settled) turns.delete(name);
    });
  turns.set(name, settled);
  return turn;
}
