/**
 * Contents of files, each kept once under the SHA-256 of its bytes. What is put in is written in pieces and durable when
 * `adopt` or `write` has ended, so that a row of the database can name it.
 */
import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';

export interface Held {
  hash: string;
  size: number;
}

export interface ContentStore {
  /** Takes over contents that lie on disk, by their hashes. The files may be gone afterwards. */
  adopt: (files: readonly (Held & { file: string })[]) => Promise<void>;
  /** Puts in a text. `isDurable`: false where it may be lost with the machine. */
  write: (bytes: Uint8Array, isDurable?: boolean) => Promise<Held>;
  /** Null: there is nothing under this hash. */
  read: (hash: string) => Promise<Uint8Array | null>;
  /** The same piece by piece. */
  pieces: (hash: string) => AsyncIterable<Uint8Array>;
  /** A file on this machine's disk with the contents, inside `folder` unless it is there already. */
  onDisk: (hash: string, folder: string) => Promise<string>;
  /** Removes what was brought in before a time and is not `held`. */
  purge: (before: Date, held: ReadonlySet<string>) => Promise<void>;
  /** A folder of its own for contents on their way in; whoever asked for it removes it. */
  staging: () => Promise<string>;
}

export const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Reads a stream to its end, into `file` where there is one; memory does not grow with it. */
export async function hashStream(contents: AsyncIterable<Uint8Array>, file: string | null): Promise<Held> {
  const hash = createHash('sha256');
  let size = 0;
  const count = async function* (pieces: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
    for await (const piece of pieces) {
      hash.update(piece);
      size += piece.length;
      yield piece;
    }
  };
  if (file === null) for await (const piece of count(contents)) void piece;
  else await pipeline(contents, count, createWriteStream(file));
  return { hash: hash.digest('hex'), size };
}

export class MissingContents extends Error {
  override name = 'MissingContents';
  constructor(hash: string) {
    super(`The contents ${hash} are not in the store. Restore them from a backup.`);
  }
}
