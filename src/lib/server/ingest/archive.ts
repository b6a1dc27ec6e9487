import yauzl from 'yauzl';
import { MAX_BYTES, MAX_FILES, megabytes } from './limits.ts';
import { safePath } from './paths.ts';
import { Refusal } from './refusal.ts';
import type { SourceFile } from './files.ts';

const LINK = 0o120000;
const KIND = 0o170000;

/** The files of a zip archive. Its directory is checked whole before anything is unpacked. */
export async function unzip(name: string, bytes: Uint8Array): Promise<SourceFile[]> {
  const broken = (error: unknown) =>
    new Refusal(
      `“${name}” cannot be read as a zip archive (${error instanceof Error ? error.message : String(error)}). Pack it again and drop it once more.`,
    );
  const zip = await yauzl
    .fromBufferPromise(Buffer.from(bytes), { lazyEntries: true, decodeStrings: true, validateEntrySizes: true })
    .catch((error: unknown) => {
      throw broken(error);
    });
  const entries: yauzl.Entry[] = [];
  let total = 0;
  try {
    for await (const entry of zip.eachEntry()) {
      if (entry.fileName.endsWith('/')) continue;
      if (((entry.externalFileAttributes >>> 16) & KIND) === LINK)
        throw new Refusal(
          `“${name}” holds a link, “${entry.fileName}”. Pack the file that it points at instead.`,
        );
      safePath(entry.fileName);
      total += entry.uncompressedSize;
      entries.push(entry);
      if (entries.length > MAX_FILES)
        throw new Refusal(
          `“${name}” holds more than ${MAX_FILES} files. Pack only the pages and what they need.`,
          413,
        );
      if (total > MAX_BYTES)
        throw new Refusal(
          `“${name}” unpacks to more than ${megabytes(MAX_BYTES)}. Leave out what the pages do not need.`,
          413,
        );
    }
    const files: SourceFile[] = [];
    for (const entry of entries) {
      const stream = await zip.openReadStreamPromise(entry);
      const chunks: Buffer[] = [];
      for await (const chunk of stream) chunks.push(chunk as Buffer);
      files.push({ path: safePath(entry.fileName), bytes: new Uint8Array(Buffer.concat(chunks)) });
    }
    return files;
  } catch (error) {
    if (error instanceof Refusal) throw error;
    const said = error instanceof Error ? error.message : '';
    if (/invalid relative path|absolute path|invalid characters in fileName/.test(said))
      throw new Refusal(
        `“${name}” holds a path that leads out of it (${said}). Pack the files with plain relative paths.`,
      );
    throw broken(error);
  } finally {
    zip.close();
  }
}
