/** Takes a folder into a specimen: a first revision, and a further one whenever its files are others. */
import { basename, join } from 'node:path';
import type { Storage } from '../database/open.ts';
import { adoptGrades } from '../database/grades.ts';
import { insertOrigin, originOf, specimenOfPlace, type Origin } from '../database/origins.ts';
import { adoptContents, entriesOf, findSpecimen, insertSpecimen } from '../database/specimens.ts';
import type { FileEntry } from '../ingest/files.ts';
import { typeOf } from '../ingest/paths.ts';
import { Refusal } from '../ingest/refusal.ts';
import type { Examined } from '../ingest/specimen.ts';
import type { StagedFile } from '../ingest/staging.ts';
import { projectGrades } from '../specimen-archive.ts';
import { work } from '../work/pool.ts';
import { copyOut, listFolder, namedFolder } from './folder.ts';
import { addTaken, areSame, inTurn, withStaging } from './turns.ts';

/** Hashes of files by where they lie, for as long as they are as they were. */
const hashes = new Map<string, { state: string; hash: string; size: number }>();

type Laid = Examined & { files: (FileEntry & { file?: string })[] };

/** The files of a folder; null: they are those that `newest` has. `folder`: for copies. Throws a Refusal. */
async function readFolder(
  { contents }: Storage,
  root: string,
  newest: readonly FileEntry[] | null,
  folder: string,
): Promise<Laid | null> {
  const stored = new Set(newest?.map(({ hash }) => hash));
  const files: StagedFile[] = [];
  const copied = new Set<string>();
  for (const { path, state } of await listFolder(root)) {
    const key = join(root, path);
    const hashed = hashes.get(key);
    if (hashed?.state === state && stored.has(hashed.hash)) {
      files.push({ path, type: typeOf(path), size: hashed.size, hash: hashed.hash, file: '' });
      continue;
    }
    const file = join(folder, String(files.length));
    const held = await copyOut(root, path, file);
    if (!held) continue;
    hashes.set(key, { state, ...held });
    if (!stored.has(held.hash)) copied.add(path);
    files.push({ path, type: typeOf(path), ...held, file });
  }
  if (newest && areSame(files, newest)) return null;
  const readable = await Promise.all(
    files.map(async (entry) => ({
      ...entry,
      file:
        entry.file || !/^text\/(html|css)$/.test(entry.type)
          ? entry.file
          : await contents.onDisk(entry.hash, folder),
    })),
  );
  const examined = await work('examine', { files: readable, name: basename(root) });
  return {
    ...examined,
    files: files.map(({ file, ...entry }) => (copied.has(entry.path) ? { ...entry, file } : entry)),
  };
}

/** Another server on the same database may bring a revision in at the same time. */
const TRIES = 3;

async function syncOnce(storage: Storage, { specimenId, place }: Origin): Promise<number> {
  return withStaging(storage, async (folder) => {
    const found = await findSpecimen(storage.db, specimenId);
    if (!found) throw new Refusal('specimen: it was deleted meanwhile. Open its folder again.', 404);
    const { revision } = found;
    const laid = await readFolder(storage, place, await entriesOf(storage.db, revision.id), folder);
    if (!laid) return revision.number;
    return addTaken(storage, specimenId, revision.number, laid);
  });
}

/**
 * Sees to it that the newest revision is what the folder holds now; its number. Throws a Refusal where the folder is gone, or
 * holds no page, or where other machines can reach this server.
 */
export const syncFolder = (storage: Storage, origin: Origin): Promise<number> =>
  inTurn(origin.place, async () => {
    refuseElsewhere();
    for (let tries = 1; ; tries++)
      try {
        return await syncOnce(storage, origin);
      } catch (error) {
        if (!(error instanceof Refusal && error.status === 409 && tries < TRIES)) throw error;
      }
  });

/** Whether this server opens folders of its disk: only where no other machine can reach it. */
export const opensFolders = (): boolean => process.env['NORMETRA_LOOPBACK'] === 'yes';

/** Throws a Refusal where it does not. */
export function refuseElsewhere(): void {
  if (!opensFolders())
    throw new Refusal(
      'place: folders and live pages are opened only by a Normetra that no other machine can reach. Start it without --host, or bring the files in.',
      403,
    );
}

/**
 * The specimen of a folder, or of a page in one, on the server's disk; made where there is none yet. Throws a Refusal.
 * `root`: the folder that root-relative addresses start at; null: the folder itself, or that of the page.
 */
export async function openFolder(
  storage: Storage,
  place: string,
  root: string | null,
): Promise<{ id: string; page: string | null }> {
  refuseElsewhere();
  const named = await namedFolder(place, root);
  const earlier = await specimenOfPlace(storage.db, named.root);
  const id = earlier ?? (await inTurn(named.root, () => takeIn(storage, named.root)));
  if (earlier) await syncFolder(storage, (await originOf(storage.db, earlier))!);
  const { revision } = (await findSpecimen(storage.db, id))!;
  if (named.entry !== null && !revision.pages.includes(named.entry))
    throw new Refusal(
      `place: there is no page ${named.entry} in ${named.root}. Its pages are ${revision.pages.slice(0, 5).join(', ')}${revision.pages.length > 5 ? ' …' : ''}.`,
    );
  return { id, page: named.entry === revision.entry ? null : named.entry };
}

async function takeIn(storage: Storage, place: string): Promise<string> {
  // Another request may have taken it in while this one waited for its turn.
  const earlier = await specimenOfPlace(storage.db, place);
  if (earlier !== null) return earlier;
  return withStaging(storage, async (folder) => {
    const laid = (await readFolder(storage, place, null, folder))!;
    const grades = await projectGrades(laid.files);
    await adoptContents(storage, laid.files);
    return storage.db.transaction(async (tx) => {
      // A folder of several pages is not called as one of them is.
      const name = laid.pages.length > 1 ? basename(place).slice(0, 120) : laid.name;
      const { id } = await insertSpecimen(tx, { ...laid, name });
      await insertOrigin(tx, { specimenId: id, kind: 'folder', place, options: {} });
      await adoptGrades(tx, id, grades);
      return id;
    });
  });
}
