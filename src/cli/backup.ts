/** `normetra backup` and `normetra restore`: everything that is kept, into one file and back. */
import { createWriteStream, existsSync, readFileSync } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';
import { z } from 'zod';
import { tokenAtHand } from '../lib/server/access.ts';
import { makeBackup, restoreBackup } from '../lib/server/database/backup.ts';
import { NoDatabase, openDatabase } from '../lib/server/database/open.ts';
import { Refusal } from '../lib/server/ingest/refusal.ts';
import { SERVING } from './serving.ts';
import { readKeepingOptions, writableFile } from './options.ts';

const servingSchema = z.object({ url: z.string() });

/** The address of the server that has a data folder in use; null: it says none. */
function servingAt(data: string): string | null {
  const file = join(data, SERVING);
  return existsSync(file) ? servingSchema.parse(JSON.parse(readFileSync(file, 'utf8'))).url : null;
}

/** Asks the server that has the folder in use for its backup. */
async function fromServer(url: string): Promise<Readable> {
  const token = tokenAtHand();
  const response = await fetch(new URL('api/backup', url), {
    headers: token === null ? {} : { authorization: `Bearer ${token}` },
  }).catch((error: unknown) => {
    throw new Refusal(
      `The server at ${url} has the data in use and does not answer. Stop it, then try again.`,
      422,
      {
        cause: String(error),
      },
    );
  });
  if (response.status === 401)
    throw new Refusal(
      `The server at ${url} asks for its token. Set NORMETRA_TOKEN to what it printed at its start.`,
    );
  if (!response.ok || !response.body)
    throw new Refusal(`The server at ${url} answered with ${response.status}.`);
  return Readable.fromWeb(response.body as ReadableStream<Uint8Array>);
}

export async function backup(argv: string[]): Promise<number> {
  const { file, data } = readKeepingOptions('backup', argv);
  if (existsSync(file))
    throw new Refusal(`${file} is there already. Name a file that is not, or move it away.`);
  await writableFile(file);
  const url = process.env['DATABASE_URL'] || undefined;
  if (!url && !existsSync(data))
    throw new Refusal(`There is no data folder ${data}. Name the one of normetra serve with --data.`);
  const part = `${file}.part`;
  const write = async (from: Readable): Promise<void> => {
    await pipeline(from, createWriteStream(part));
    await rename(part, file);
  };
  try {
    const opened = await openDatabase({ folder: resolve(data), url }).catch((error: unknown) => {
      const at = error instanceof NoDatabase && !url ? servingAt(data) : null;
      if (at === null) throw error;
      return at;
    });
    if (typeof opened === 'string') await write(await fromServer(opened));
    else
      try {
        await write(await makeBackup(opened));
      } finally {
        await opened.close();
      }
  } finally {
    await rm(part, { force: true });
  }
  console.log(`Everything that is kept is in ${file}.`);
  return 0;
}

export async function restore(argv: string[]): Promise<number> {
  const { file, data } = readKeepingOptions('restore', argv);
  const opened = await openDatabase({ folder: resolve(data), url: process.env['DATABASE_URL'] || undefined });
  try {
    const count = await opened.alone(() => restoreBackup(opened, file));
    console.log(`${count} ${count === 1 ? 'specimen is' : 'specimens are'} back from ${file}.`);
  } finally {
    await opened.close();
  }
  return 0;
}
