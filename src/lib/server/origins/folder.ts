/** The files of a folder on the server's disk, as a specimen's: what browsers load, and nothing that a link leads out to. */
import { createReadStream } from 'node:fs';
import { copyFile, lstat, readdir, readFile, realpath, stat, writeFile } from 'node:fs/promises';
import { basename, dirname, join, relative, sep } from 'node:path';
import { hashOf, hashStream } from '../contents/store.ts';
import { makeTally } from '../ingest/limits.ts';
import { isOfPages } from '../ingest/paths.ts';
import { Refusal } from '../ingest/refusal.ts';

/** A file of the folder as it was found: `state` is another whenever its contents may be. */
export interface FolderFile {
  /** From the folder, with `/` between names. */
  path: string;
  size: number;
  state: string;
}

const isGone = (error: unknown): boolean =>
  /^(ENOENT|ENOTDIR|ELOOP)$/.test(String((error as NodeJS.ErrnoException).code));

/** What a version control system, a package manager or an editor keeps for itself. */
export const isPassedOver = (name: string): boolean => name.startsWith('.') || name === 'node_modules';

/** Whether `path`, both real, is the folder or lies in it. */
export const isInside = (root: string, path: string): boolean =>
  path === root || path.startsWith(root.endsWith(sep) ? root : root + sep);

/** A file in the folder by its real place; null: there is none, or a link leads out of the folder. */
export async function placeInFolder(root: string, path: string): Promise<string | null> {
  try {
    const full = await realpath(join(root, path));
    return isInside(root, full) && (await stat(full)).isFile() ? full : null;
  } catch (error) {
    if (isGone(error)) return null;
    throw error;
  }
}

const refusalOf = (error: unknown, root: string): Refusal | null => {
  const { code } = error as NodeJS.ErrnoException;
  if (isGone(error))
    return new Refusal(
      `place: the folder ${root} is not there any more. Put it back, or open where it is now.`,
      404,
    );
  return code === 'EACCES' || code === 'EPERM'
    ? new Refusal(`place: ${root} may not be read by the user that Normetra runs as. Change its permissions.`)
    : null;
};

/**
 * All files of a folder that browsers load, by path. Folders that begin with a dot, `node_modules`, and links that lead out
 * are passed over. Throws a Refusal where it is gone or holds more than a specimen may.
 */
export async function listFolder(root: string): Promise<FolderFile[]> {
  const tally = makeTally();
  const out: FolderFile[] = [];
  const walk = async (folder: string): Promise<void> => {
    const entries = await readdir(folder, { withFileTypes: true });
    entries.sort((entry, other) => (entry.name < other.name ? -1 : 1));
    for (const entry of entries) {
      if (isPassedOver(entry.name)) continue;
      const full = join(folder, entry.name);
      if (entry.isDirectory()) {
        // What is taken away while it is looked at is not there.
        await walk(full).catch((error: unknown) => {
          if (!isGone(error)) throw error;
        });
        continue;
      }
      const path = relative(root, full).split(sep).join('/');
      if (!isOfPages(path)) continue;
      const place = entry.isSymbolicLink() ? await placeInFolder(root, path) : full;
      const found =
        place && (await lstat(place).catch((error: unknown) => (isGone(error) ? null : Promise.reject(error))));
      if (!found || !found.isFile()) continue;
      tally.add(found.size);
      out.push({
        path,
        size: found.size,
        state: `${found.ino} ${found.size} ${found.mtimeMs} ${found.ctimeMs}`,
      });
    }
  };
  try {
    await walk(root);
  } catch (error) {
    throw refusalOf(error, root) ?? error;
  }
  return out;
}

/** Contents up to this size are read at once. */
const SMALL = 1024 * 1024;

/** Copies a file to `to` and hashes what was copied. Null: it is gone. */
export async function copyOut(
  root: string,
  path: string,
  to: string,
): Promise<{ hash: string; size: number } | null> {
  const place = await placeInFolder(root, path);
  if (place === null) return null;
  try {
    if ((await stat(place)).size > SMALL) {
      await copyFile(place, to);
      return await hashStream(createReadStream(to), null);
    }
    const bytes = await readFile(place);
    await writeFile(to, bytes);
    return { hash: hashOf(bytes), size: bytes.length };
  } catch (error) {
    if (isGone(error)) return null;
    throw error;
  }
}

/** What a user names: a folder, or a page in one. */
export interface Named {
  root: string;
  /** Path of the page from `root`; null: the one that lies nearest to it. */
  entry: string | null;
}

/** `root`: the folder that root-relative addresses start at; null: the folder itself, or that of the page. Throws a Refusal. */
export async function namedFolder(place: string, root: string | null): Promise<Named> {
  const real = async (path: string, field: string): Promise<string> =>
    realpath(path).catch((error: unknown) => {
      if (!isGone(error)) throw error;
      throw new Refusal(`${field}: there is no file or folder ${path} on this machine. Correct the path.`);
    });
  const full = await real(place, 'place');
  const isFolder = (await stat(full)).isDirectory();
  const top = root === null ? (isFolder ? full : dirname(full)) : await real(root, 'root');
  if (!(await stat(top)).isDirectory()) throw new Refusal(`root: ${root} is no folder. Name one.`);
  if (!isInside(top, full))
    throw new Refusal(`root: ${root} does not hold ${place}. Name a folder that it lies in.`);
  if (dirname(top) === top)
    throw new Refusal(`place: ${top} is the whole disk. Name the folder that the pages are in.`);
  const inside = relative(top, full).split(sep).join('/');
  if (!isFolder && !/\.x?html?$/i.test(full))
    throw new Refusal(`place: ${basename(full)} is no HTML file. Name a page, or a folder with pages.`);
  return { root: top, entry: isFolder ? (inside === '' ? null : `${inside}/index.html`) : inside };
}
