/** Writes texts into the files of a watched folder: only over what was measured, whole, and with the way back kept. */
import iconv from 'iconv-lite';
import { randomBytes } from 'node:crypto';
import { open, readFile, rename, rm, stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { hashOf, MissingContents } from '../contents/store.ts';
import type { Storage } from '../database/open.ts';
import { insertWrite, lastWrite, markTakenBack, type Origin } from '../database/origins.ts';
import { entriesOf, findRevisionNumber } from '../database/specimens.ts';
import type { WrittenFile } from '../database/schema.ts';
import { decodeCss, decodeHtml } from '../ingest/encoding.ts';
import { fullDisk, Refusal } from '../ingest/refusal.ts';
import { placeInFolder } from './folder.ts';
import { refuseElsewhere, syncFolder } from './sync.ts';

/** The way in which the bytes of a file stand for its text. */
interface Coding {
  encoding: string;
  /** Bytes of the order mark that they begin with. */
  mark: Uint8Array;
}

const MARKS: [number[], string][] = [
  [[0xef, 0xbb, 0xbf], 'utf-8'],
  [[0xfe, 0xff], 'utf-16be'],
  [[0xff, 0xfe], 'utf-16le'],
];

const encode = ({ encoding, mark }: Coding, text: string): Uint8Array =>
  Buffer.concat([mark, iconv.encode(text, encoding)]);

/** How a text that was read from `bytes` is put back: the way in which it comes to the same bytes. Null: there is none. */
function codingOf(bytes: Uint8Array, text: string, encodings: readonly string[]): Coding | null {
  const marked = MARKS.find(([mark]) => mark.every((byte, i) => bytes[i] === byte));
  const mark = new Uint8Array(marked?.[0] ?? []);
  for (const encoding of marked ? [marked[1]] : encodings) {
    if (!iconv.encodingExists(encoding)) continue;
    const coding = { encoding, mark };
    if (Buffer.compare(encode(coding, text), bytes) === 0) return coding;
  }
  return null;
}

/** The bytes of a file with another text, in the encoding that it has. Throws a Refusal where that cannot be. */
export function encodedAlike(path: string, before: Uint8Array, text: string, pageEncoding: string): Uint8Array {
  const isCss = /\.css$/i.test(path);
  const html = isCss ? null : decodeHtml(before);
  const was = html?.text ?? decodeCss(before, pageEncoding);
  const coding = codingOf(before, was, [...new Set([html?.encoding ?? 'utf-8', pageEncoding, 'windows-1252'])]);
  if (!coding)
    throw new Refusal(
      `files: “${path}” holds bytes that are no text in its encoding, and would be changed too. Save it as UTF-8 first.`,
    );
  const bytes = encode(coding, text);
  if (
    iconv.decode(Buffer.from(bytes.subarray(coding.mark.length)), coding.encoding, { stripBOM: false }) !== text
  )
    throw new Refusal(
      `files: “${path}” is in ${coding.encoding}, which has not all characters of the change. Save it as UTF-8 first.`,
    );
  return bytes;
}

/** Puts bytes in the place of a file at once: whoever reads it gets the old or the new one. It keeps its permissions. */
export async function replaceFile(place: string, bytes: Uint8Array): Promise<void> {
  const { mode } = await stat(place);
  const beside = join(dirname(place), `.${basename(place)}.${randomBytes(4).toString('hex')}`);
  try {
    const handle = await open(beside, 'wx', mode & 0o7777);
    try {
      await handle.writeFile(bytes);
      await handle.chmod(mode & 0o7777);
      await handle.sync();
    } finally {
      await handle.close();
    }
    await rename(beside, place);
  } catch (error) {
    await rm(beside, { force: true });
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
      throw new Refusal(`files: ${place} may not be written by the user that Normetra runs as (${code}).`);
    throw fullDisk(error) ?? error;
  }
}

interface Replacement extends WrittenFile {
  place: string;
  bytesBefore: Uint8Array;
  bytesAfter: Uint8Array;
}

/** All of them or none: where one cannot be written, those before it are put back. */
async function replaceAll(list: readonly Replacement[]): Promise<void> {
  const done: Replacement[] = [];
  try {
    for (const replacement of list) {
      await replaceFile(replacement.place, replacement.bytesAfter);
      done.push(replacement);
    }
  } catch (error) {
    for (const { place, bytesBefore } of done) await replaceFile(place, bytesBefore);
    throw error;
  }
}

const changedMeanwhile = (paths: readonly string[], number: number): Refusal =>
  new Refusal(
    `files: ${paths.map((path) => `“${path}”`).join(', ')} ${paths.length === 1 ? 'is' : 'are'} not as measured any more. Nothing was written; the newest files are measured now.`,
    409,
    { now: { number } },
  );

/** The files that are to have other contents, each as it stands on disk; `expected`: hashes of what must stand there. */
async function onDisk(
  { place: root }: Origin,
  expected: ReadonlyMap<string, string>,
): Promise<{ found: Map<string, { place: string; bytes: Uint8Array }>; changed: string[] }> {
  const found = new Map<string, { place: string; bytes: Uint8Array }>();
  const changed: string[] = [];
  for (const [path, hash] of expected) {
    const place = await placeInFolder(root, path);
    const bytes = place === null ? null : new Uint8Array(await readFile(place));
    if (place !== null && bytes && hashOf(bytes) === hash) found.set(path, { place, bytes });
    else changed.push(path);
  }
  return { found, changed };
}

/**
 * Writes texts over the files that revision `number` has, and takes the folder in again. Throws a Refusal: 409 with the number
 * of the newest revision where one of the files is another by now; nothing was written then.
 */
export async function writeFiles(
  storage: Storage,
  origin: Origin,
  number: number,
  texts: Readonly<Record<string, string>>,
): Promise<{ id: string; number: number }> {
  refuseElsewhere();
  const revision = await findRevisionNumber(storage.db, origin.specimenId, number);
  if (!revision) throw changedMeanwhile(Object.keys(texts), await syncFolder(storage, origin));
  const entries = new Map((await entriesOf(storage.db, revision.id)).map((entry) => [entry.path, entry]));
  const unknown = Object.keys(texts).find((path) => !entries.has(path));
  if (unknown !== undefined)
    throw new Refusal(`files: revision ${number} has no file “${unknown}”. Name files that it has.`);
  const { found, changed } = await onDisk(
    origin,
    new Map(Object.keys(texts).map((path) => [path, entries.get(path)!.hash])),
  );
  if (changed.length > 0) throw changedMeanwhile(changed, await syncFolder(storage, origin));
  const entry = await storage.contents.read(entries.get(revision.entry)!.hash);
  const pageEncoding = decodeHtml(entry ?? new Uint8Array()).encoding;
  const list: Replacement[] = [];
  for (const [path, text] of Object.entries(texts)) {
    const { place, bytes } = found.get(path)!;
    const after = encodedAlike(path, bytes, text, pageEncoding);
    const held = await storage.contents.write(after);
    list.push({
      path,
      place,
      before: entries.get(path)!.hash,
      after: held.hash,
      bytesBefore: bytes,
      bytesAfter: after,
    });
  }
  const files = list.map(({ path, before, after }) => ({ path, before, after }));
  // Noted before it is done: what was there can be had back whatever happens meanwhile.
  const id = await insertWrite(storage.db, origin.specimenId, files);
  try {
    await replaceAll(list);
  } catch (error) {
    await markTakenBack(storage.db, id);
    throw error;
  }
  return { id, number: await syncFolder(storage, origin) };
}

/** Puts back what stood in the files before the last write. Throws a Refusal where they are not as it left them. */
export async function takeBack(storage: Storage, origin: Origin, id: string): Promise<{ number: number }> {
  refuseElsewhere();
  const last = await lastWrite(storage.db, origin.specimenId);
  if (last?.id !== id)
    throw new Refusal('write: it is not the last one that is still in the files. Open the page again.', 409);
  const { found, changed } = await onDisk(origin, new Map(last.files.map(({ path, after }) => [path, after])));
  if (changed.length > 0) throw changedMeanwhile(changed, await syncFolder(storage, origin));
  const list: Replacement[] = [];
  for (const { path, before, after } of last.files) {
    const { place, bytes } = found.get(path)!;
    const bytesAfter = await storage.contents.read(before);
    if (!bytesAfter) throw new MissingContents(before);
    list.push({ path, place, before: after, after: before, bytesBefore: bytes, bytesAfter });
  }
  await replaceAll(list);
  await markTakenBack(storage.db, id);
  return { number: await syncFolder(storage, origin) };
}
