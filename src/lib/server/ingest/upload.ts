/** Files out of a form as the Shelf sends it, written to disk as they arrive. */
import busboy from 'busboy';
import { once } from 'node:events';
import { createWriteStream, writeFileSync } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { finished, pipeline } from 'node:stream/promises';
import { MAX_BYTES, MAX_FILES, megabytes } from './limits.ts';
import { fullDisk, Refusal } from './refusal.ts';

/** A file that was sent, where it lies on disk. */
export interface Spooled {
  path: string;
  file: string;
}

/** Contents up to this size are written at once: a stream for each of thousands of files takes longer than the writing. */
const SMALL = 128 * 1024;

async function write(contents: Readable, file: string): Promise<void> {
  const pieces: Buffer[] = [];
  let size = 0;
  const arriving: AsyncIterableIterator<Buffer> = contents.iterator();
  for (let next = await arriving.next(); !next.done; next = await arriving.next()) {
    size += next.value.length;
    pieces.push(next.value);
    if (size > SMALL) {
      const all = async function* (): AsyncGenerator<Buffer> {
        yield* pieces.splice(0);
        yield* arriving;
      };
      return pipeline(all, createWriteStream(file));
    }
  }
  writeFileSync(file, Buffer.concat(pieces));
}

/** What an upload may have beside its files, for the form around them. */
const FORM_BYTES = 16 * 1024 * 1024;

const tooLarge = (): Refusal =>
  new Refusal(
    `files: the upload is larger than the ${megabytes(MAX_BYTES)} that a specimen may have. Leave out what the pages do not need.`,
    413,
  );
const broken = (error: unknown): Refusal =>
  new Refusal(
    `files: the upload broke off or is not a form with files (${error instanceof Error ? error.message : String(error)}). Send it again.`,
    400,
  );

/**
 * `files` and `paths` of a form, in the same order, with the files written into `folder`; memory does not grow with them.
 * Throws a Refusal where the form is none or too large.
 */
export async function receiveUpload(request: Request, folder: string): Promise<Spooled[]> {
  if (Number(request.headers.get('content-length') ?? 0) > MAX_BYTES + FORM_BYTES) throw tooLarge();
  await mkdir(folder, { recursive: true });
  const files: { name: string; file: string }[] = [];
  const paths: string[] = [];
  let form: busboy.Busboy;
  try {
    form = busboy({
      headers: { 'content-type': request.headers.get('content-type') ?? '' },
      limits: { files: MAX_FILES, fields: MAX_FILES + 10, fileSize: MAX_BYTES, fieldSize: 10_000 },
      defParamCharset: 'utf8',
      preservePath: true,
    });
  } catch (error) {
    throw broken(error);
  }
  const writing: Promise<unknown>[] = [];
  let failure: Refusal | null = null;
  const fail = (why: Refusal): void => {
    failure ??= why;
    form.destroy(why);
  };
  form.on('field', (name, value, { valueTruncated }) => {
    if (name !== 'paths') return;
    if (valueTruncated) fail(new Refusal('paths: a path is longer than 10,000 bytes. Send shorter ones.'));
    paths.push(value);
  });
  form.on('file', (name, contents, { filename }) => {
    if (name !== 'files') {
      contents.resume();
      return;
    }
    const file = join(folder, String(files.length));
    files.push({ name: filename ?? '', file });
    contents.on('limit', () => fail(tooLarge()));
    writing.push(write(contents, file).catch((error: unknown) => fail(fullDisk(error) ?? broken(error))));
  });
  for (const limit of ['filesLimit', 'fieldsLimit'] as const)
    form.on(limit, () =>
      fail(new Refusal(`files: more than the ${MAX_FILES} files that a specimen may have were sent.`, 413)),
    );
  if (!request.body) throw broken(new Error('there is nothing in it'));
  const ended = finished(form).catch((error: unknown) =>
    fail(error instanceof Refusal ? error : broken(error)),
  );
  // Read by hand: a stream that is cancelled takes the connection with it, and whoever sent this would never hear why.
  const reader = request.body.getReader();
  let received = 0;
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done || failure) break;
      received += value.length;
      if (received > MAX_BYTES + FORM_BYTES) fail(tooLarge());
      else if (!form.write(value)) await Promise.race([once(form, 'drain').catch(() => undefined), ended]);
    }
  } catch (error) {
    fail(broken(error));
  } finally {
    reader.releaseLock();
  }
  if (!failure) form.end();
  await ended;
  await Promise.all(writing);
  if (failure) throw failure as Refusal;
  return files.map(({ name, file }, i) => ({ path: paths[i] || name, file }));
}
