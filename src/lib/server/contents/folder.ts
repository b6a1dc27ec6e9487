/** Contents in a folder: `ab/abcd…`, written beside and renamed, so that what has its name is whole. */
import { execFile } from 'node:child_process';
import { createReadStream } from 'node:fs';
import { access, mkdir, mkdtemp, open, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { hashOf, type ContentStore } from './store.ts';

const run = promisify(execFile);

/** Files that are renamed at once. */
const AT_ONCE = 16;

async function inTurns<T>(items: readonly T[], work: (item: T) => Promise<void>): Promise<void> {
  let next = 0;
  await Promise.all(
    Array.from({ length: Math.min(AT_ONCE, items.length) }, async () => {
      while (next < items.length) await work(items[next++]!);
    }),
  );
}

async function flushed(path: string): Promise<void> {
  const handle = await open(path, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** Many files are flushed with their file system in one go where the machine can, else one by one. */
async function flush(root: string, paths: readonly string[]): Promise<void> {
  const folders = new Set(paths.map((path) => join(path, '..')));
  if (paths.length > 8 && process.platform === 'linux') {
    try {
      await run('sync', ['-f', root]);
      return;
    } catch (error) {
      // A machine without this command flushes them one by one.
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    }
  }
  await inTurns([...paths, ...folders], flushed);
}

const isMissing = (error: unknown): boolean => (error as NodeJS.ErrnoException).code === 'ENOENT';

export async function folderStore(root: string): Promise<ContentStore> {
  const incoming = join(root, 'incoming');
  // What was on its way in when the process ended was never acknowledged.
  await rm(incoming, { recursive: true, force: true });
  await mkdir(incoming, { recursive: true });
  const placeOf = (hash: string): string => join(root, hash.slice(0, 2), hash);
  const result = new Map<string, Promise<unknown>>();
  const folderOf = (hash: string): Promise<unknown> => {
    const folder = join(root, hash.slice(0, 2));
    const making =
      result.get(folder) ??
      mkdir(folder, { recursive: true }).catch((error: unknown) => {
        result.delete(folder);
        throw error;
      });
    result.set(folder, making);
    return making;
  };
  const staging = (): Promise<string> => mkdtemp(join(incoming, 'upload-'));
  return {
    staging,
    adopt: async (files) => {
      const places: string[] = [];
      await inTurns(files, async ({ hash, file }) => {
        await folderOf(hash);
        // Two files of an upload may have the same contents: the second finds its place taken.
        await rename(file, placeOf(hash)).catch(async (error: unknown) => {
          if (!isMissing(error)) throw error;
          await access(placeOf(hash));
        });
        places.push(placeOf(hash));
      });
      if (places.length > 0) await flush(root, places);
    },
    write: async (bytes, isDurable = true) => {
      const hash = hashOf(bytes);
      const folder = await staging();
      try {
        const beside = join(folder, hash);
        await writeFile(beside, bytes);
        if (isDurable) await flushed(beside);
        await folderOf(hash);
        await rename(beside, placeOf(hash));
        if (isDurable) await flushed(join(placeOf(hash), '..'));
      } finally {
        await rm(folder, { recursive: true, force: true });
      }
      return { hash, size: bytes.length };
    },
    read: (hash) =>
      readFile(placeOf(hash)).then(
        (bytes) => new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.byteLength),
        (error: unknown) => {
          if (isMissing(error)) return null;
          throw error;
        },
      ),
    pieces: (hash) => createReadStream(placeOf(hash), { highWaterMark: 256 * 1024 }),
    onDisk: (hash) => Promise.resolve(placeOf(hash)),
    purge: async (before, held) => {
      for (const name of await readdir(root, { recursive: true })) {
        const [, hash] = /^..[\\/]([0-9a-f]{64})$/.exec(name) ?? [];
        if (hash === undefined || held.has(hash)) continue;
        // The time of the directory entry: a file that is renamed keeps that of its contents.
        if ((await stat(placeOf(hash))).ctime < before) await rm(placeOf(hash), { force: true });
      }
    },
  };
}
