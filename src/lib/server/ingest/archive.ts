import type { Readable } from 'node:stream';
import yauzl from 'yauzl';
import type { SourceFile } from './files.ts';
import { makeTally, type Tally } from './limits.ts';
import { safePath } from './paths.ts';
import { Refusal } from './refusal.ts';

const LINK = 0o120000;
const KIND = 0o170000;
const OPTIONS = { lazyEntries: true, decodeStrings: true, validateEntrySizes: true, autoClose: false } as const;

/** An archive on disk, by its path, or in memory. */
export type Archive = string | Uint8Array;

/** Whether a file is to be unpacked: one that is named so, or one that comes alone and begins like one. */
export const isArchive = (path: string, head: Uint8Array, comesAlone: boolean): boolean =>
  /\.zip$/i.test(path) || (comesAlone && head[0] === 0x50 && head[1] === 0x4b && head[2] === 3);

/**
 * Unpacks a zip archive, file by file, in the order of its directory, which is checked whole before anything is unpacked.
 * Throws a Refusal.
 */
export async function unpackEach(
  name: string,
  archive: Archive,
  tally: Tally,
  take: (path: string, contents: Readable, size: number) => Promise<void>,
): Promise<void> {
  const broken = (error: unknown) =>
    new Refusal(
      `“${name}” cannot be read as a zip archive (${error instanceof Error ? error.message : String(error)}). Pack it again and drop it once more.`,
    );
  const opening =
    typeof archive === 'string'
      ? yauzl.openPromise(archive, OPTIONS)
      : yauzl.fromBufferPromise(Buffer.from(archive.buffer, archive.byteOffset, archive.byteLength), OPTIONS);
  const zip = await opening.catch((error: unknown) => {
    throw broken(error);
  });
  const entries: yauzl.Entry[] = [];
  try {
    for await (const entry of zip.eachEntry()) {
      if (entry.fileName.endsWith('/')) continue;
      if (((entry.externalFileAttributes >>> 16) & KIND) === LINK)
        throw new Refusal(
          `“${name}” holds a link, “${entry.fileName}”. Pack the file that it points at instead.`,
        );
      safePath(entry.fileName);
      tally.add(entry.uncompressedSize);
      entries.push(entry);
    }
    for (const entry of entries)
      await take(safePath(entry.fileName), await zip.openReadStreamPromise(entry), entry.uncompressedSize);
  } catch (error) {
    if (error instanceof Refusal) throw error;
    const text = error instanceof Error ? error.message : '';
    if (/invalid relative path|absolute path|invalid characters in fileName/.test(text))
      throw new Refusal(
        `“${name}” holds a path that leads out of it (${text}). Pack the files with plain relative paths.`,
      );
    throw broken(error);
  } finally {
    zip.close();
  }
}

/** The files given, in memory, with those of archives in the place of the archives. Throws a Refusal. */
export async function unpacked(sources: readonly SourceFile[]): Promise<SourceFile[]> {
  const tally = makeTally();
  const out: SourceFile[] = [];
  for (const { path, bytes } of sources) {
    if (!isArchive(path, bytes, sources.length === 1)) {
      tally.add(bytes.length);
      out.push({ path: safePath(path), bytes });
      continue;
    }
    await unpackEach(path, bytes, tally, async (entry, contents) => {
      const pieces: Buffer[] = [];
      for await (const piece of contents) pieces.push(piece as Buffer);
      out.push({ path: entry, bytes: new Uint8Array(Buffer.concat(pieces)) });
    });
  }
  return out;
}
