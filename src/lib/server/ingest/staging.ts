/** Files of an upload made ready for the content store: unpacked, hashed, and laid in a folder of their own. */
import {
  closeSync,
  createReadStream,
  openSync,
  readFileSync,
  readSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { open } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { isProjectText } from '../../../core/reports/project.ts';
import { hashOf, hashStream, type Held } from '../contents/store.ts';
import { isArchive, unpackEach } from './archive.ts';
import type { FileEntry, IncomingFile } from './files.ts';
import { makeTally } from './limits.ts';
import { placed, safePath, typeOf, withoutCommonFolder } from './paths.ts';
import { Refusal } from './refusal.ts';
import { examine, nameOfUpload, type Examined } from './specimen.ts';
import type { Spooled } from './upload.ts';

/** A file of the upload, or one that a revision had already. */
export interface StagedFile extends FileEntry {
  /** Where its contents lie on disk until the content store has them. */
  file: string;
}

export interface Staged extends Examined {
  files: StagedFile[];
  /** Files of an exported specimen that are no files of its pages: what is known of it, and its readings. */
  beside: StagedFile[];
}

export interface StageInput {
  sent: Spooled[];
  /** Folder for what is unpacked. */
  folder: string;
  /** Files of the revision that the upload is laid over; null: the upload is a specimen by itself. */
  over: StagedFile[] | null;
}

/** What says that an archive is a specimen exported from here; its files are under FILES. */
export const MANIFEST = 'normetra.json';
const FILES = 'files/';

/** Contents up to this size are read at once: a stream for each of thousands of files takes longer than the reading. */
const SMALL = 1024 * 1024;

/** Unpacks an entry of an archive into `file`; `size`: what the archive says of it. */
async function unpackEntry(contents: Readable, size: number, file: string): Promise<Held> {
  if (size > SMALL) return hashStream(contents, file);
  const pieces: Buffer[] = [];
  for await (const piece of contents) pieces.push(piece as Buffer);
  const bytes = Buffer.concat(pieces);
  writeFileSync(file, bytes);
  return { hash: hashOf(bytes), size: bytes.length };
}

/** The first bytes of a file, its size, and its hash where it is so small that all of it was read. */
function look(file: string): { head: Uint8Array; size: number; hash: string | null } {
  const { size } = statSync(file);
  if (size <= SMALL) {
    const bytes = readFileSync(file);
    return { head: bytes.subarray(0, 4), size, hash: hashOf(bytes) };
  }
  const handle = openSync(file, 'r');
  try {
    const head = new Uint8Array(4);
    readSync(handle, head, 0, 4, 0);
    return { head, size, hash: null };
  } finally {
    closeSync(handle);
  }
}

/** Throws a Refusal. */
async function unpackSent({ sent, folder }: StageInput): Promise<StagedFile[]> {
  const tally = makeTally();
  const out: StagedFile[] = [];
  for (const { path, file } of sent) {
    const { head, size, hash } = look(file);
    if (!isArchive(path, head, sent.length === 1)) {
      const safe = safePath(path);
      tally.add(size);
      const held = hash === null ? await hashStream(createReadStream(file), null) : { hash, size };
      out.push({ path: safe, type: typeOf(safe), file, ...held });
      continue;
    }
    await unpackEach(path, file, tally, async (entry, contents, unpackedSize) => {
      const to = join(folder, `unpacked-${out.length}`);
      out.push({
        path: entry,
        type: typeOf(entry),
        file: to,
        ...(await unpackEntry(contents, unpackedSize, to)),
      });
    });
  }
  return out;
}

const incoming = ({ path, size, file }: StagedFile): IncomingFile => ({
  path,
  size,
  read: async (most = size) => {
    const handle = await open(file);
    try {
      const buffer = new Uint8Array(Math.min(most, size));
      for (let at = 0; at < buffer.length;) {
        const { bytesRead } = await handle.read(buffer, at, buffer.length - at, at);
        if (bytesRead === 0) break;
        at += bytesRead;
      }
      return buffer;
    } finally {
      await handle.close();
    }
  },
});

/** Whether a file is the head of an exported specimen; the file of a project has the same name. */
const isManifest = (file: string): boolean => !isProjectText(readFileSync(file, 'utf8'));

/** What files come to that need no unpacking. Pages and style sheets must lie on disk. Throws a Refusal. */
export const examineStaged = (files: readonly StagedFile[], name: string): Promise<Examined> =>
  examine(files.map(incoming), name);

/** Throws a Refusal where what was sent is no specimen. */
export async function stage(input: StageInput): Promise<Staged> {
  if (input.sent.length === 0)
    throw new Refusal('files: nothing was sent. Drop an HTML file, a folder or a zip archive, or paste HTML.');
  const all = await unpackSent(input);
  if (input.over) {
    const files = new Map(input.over.map((file) => [file.path, file]));
    for (const file of all) {
      const path = placed(file.path, [...files.keys()]);
      files.set(path, { ...file, path, type: typeOf(path) });
    }
    const laid = [...files.values()];
    return { ...(await examine(laid.map(incoming), '')), files: laid, beside: [] };
  }
  const isExport = all.some(({ path, file }) => path === MANIFEST && isManifest(file));
  const files = isExport
    ? all
        .filter(({ path }) => path.startsWith(FILES))
        .map((file) => ({ ...file, path: file.path.slice(FILES.length) }))
    : withoutCommonFolder(all);
  return {
    ...(await examine(files.map(incoming), nameOfUpload(input.sent, all))),
    files,
    beside: isExport ? all.filter(({ path }) => !path.startsWith(FILES)) : [],
  };
}
