/** What taking files in has in common, wherever they are from. */
import { rm } from 'node:fs/promises';
import { adoptGrades } from '../database/grades.ts';
import type { Storage } from '../database/open.ts';
import { addRevision, adoptContents, pruneRevisions, type Arrived } from '../database/specimens.ts';
import type { FileEntry } from '../ingest/files.ts';
import { projectGrades } from '../specimen-archive.ts';

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

/** Whether files are those of a revision. */
export function areSame(
  files: readonly Pick<FileEntry, 'path' | 'hash'>[],
  revision: readonly Pick<FileEntry, 'path' | 'hash'>[],
): boolean {
  const hashes = new Map(revision.map(({ path, hash }) => [path, hash]));
  return files.length === hashes.size && files.every(({ path, hash }) => hashes.get(path) === hash);
}

/** A further revision of a specimen of which `newest` is the newest; its number. Throws a Refusal (409) where another is by now. */
export async function addTaken(
  storage: Storage,
  specimenId: string,
  newest: number,
  arrived: Arrived,
): Promise<number> {
  const grades = await projectGrades(arrived.files);
  await adoptContents(storage, arrived.files);
  const number = await addRevision(storage, specimenId, newest, arrived);
  await storage.db.transaction((tx) => adoptGrades(tx, specimenId, grades));
  await pruneRevisions(storage.db, specimenId);
  return number;
}
