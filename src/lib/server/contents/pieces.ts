/** Contents in a PostgreSQL database, in pieces, so that all servers on it share them. */
import { and, asc, eq, lt } from 'drizzle-orm';
import { createReadStream, statSync } from 'node:fs';
import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Database } from '../database/open.ts';
import { contentPieces } from '../database/schema.ts';
import { hashOf, MissingContents, type ContentStore } from './store.ts';

/** Bytes of one piece. */
const PIECE = 512 * 1024;

/** Longer than any upload may take, in ms. */
const FORGOTTEN = 24 * 3600 * 1000;

/** What a server that was killed has left of its uploads goes; those of other servers on this machine stay. */
async function clearOld(scratch: string): Promise<void> {
  for (const name of await readdir(scratch)) {
    const path = join(scratch, name);
    // Another server that starts now may have taken it away.
    const found = statSync(path, { throwIfNoEntry: false });
    if (found && Date.now() - found.mtimeMs > FORGOTTEN) await rm(path, { recursive: true, force: true });
  }
}

/** `scratch`: a folder on this machine for contents on their way in. */
export async function pieceStore(db: Database, scratch: string): Promise<ContentStore> {
  await mkdir(scratch, { recursive: true });
  await clearOld(scratch);
  /** Whether they are there; they count as brought in now. */
  const isHeld = async (hash: string): Promise<boolean> => {
    const rows = await db
      .update(contentPieces)
      .set({ addedAt: new Date() })
      .where(eq(contentPieces.hash, hash))
      .returning({ number: contentPieces.number });
    return rows.length > 0;
  };
  const put = async (hash: string, pieces: AsyncIterable<Uint8Array>): Promise<void> => {
    if (await isHeld(hash)) return;
    await db.transaction(async (tx) => {
      let number = 0;
      for await (const bytes of pieces)
        await tx
          .insert(contentPieces)
          .values({ hash, number: number++, bytes: new Uint8Array(bytes) })
          .onConflictDoNothing();
      if (number === 0)
        await tx.insert(contentPieces).values({ hash, number, bytes: new Uint8Array() }).onConflictDoNothing();
    });
  };
  const pieces: ContentStore['pieces'] = async function* (hash) {
    for (let number = 0; ; number++) {
      const [row] = await db
        .select({ bytes: contentPieces.bytes })
        .from(contentPieces)
        .where(and(eq(contentPieces.hash, hash), eq(contentPieces.number, number)));
      if (row) yield row.bytes;
      else if (number === 0) throw new MissingContents(hash);
      else return;
    }
  };
  return {
    staging: () => mkdtemp(join(scratch, 'upload-')),
    adopt: async (files) => {
      // Small ones go together: a question each would take longer than the writing.
      let batch: (typeof contentPieces.$inferInsert)[] = [];
      let weight = 0;
      const send = async (): Promise<void> => {
        if (batch.length > 0)
          await db
            .insert(contentPieces)
            .values(batch)
            .onConflictDoUpdate({
              target: [contentPieces.hash, contentPieces.number],
              set: { addedAt: new Date() },
            });
        [batch, weight] = [[], 0];
      };
      for (const { hash, size, file } of files) {
        if (size > PIECE) {
          await put(hash, createReadStream(file, { highWaterMark: PIECE }));
          continue;
        }
        batch.push({ hash, number: 0, bytes: new Uint8Array(await readFile(file)) });
        weight += size;
        if (batch.length >= 500 || weight > 4 * PIECE) await send();
      }
      await send();
    },
    write: async (bytes) => {
      const hash = hashOf(bytes);
      const parts = async function* (): AsyncGenerator<Uint8Array> {
        for (let at = 0; at < bytes.length; at += PIECE) yield bytes.subarray(at, at + PIECE);
      };
      await put(hash, parts());
      return { hash, size: bytes.length };
    },
    read: async (hash) => {
      const rows = await db
        .select({ bytes: contentPieces.bytes })
        .from(contentPieces)
        .where(eq(contentPieces.hash, hash))
        .orderBy(asc(contentPieces.number));
      if (rows.length === 0) return null;
      return rows.length === 1 ? rows[0]!.bytes : new Uint8Array(Buffer.concat(rows.map(({ bytes }) => bytes)));
    },
    pieces,
    onDisk: async (hash, folder) => {
      const file = join(folder, `held-${hash}`);
      await writeFile(file, pieces(hash));
      return file;
    },
    purge: async (before, held) => {
      const old = await db
        .selectDistinct({ hash: contentPieces.hash })
        .from(contentPieces)
        .where(lt(contentPieces.addedAt, before));
      for (const { hash } of old)
        if (!held.has(hash))
          // What was brought in again meanwhile is not old any more.
          await db
            .delete(contentPieces)
            .where(and(eq(contentPieces.hash, hash), lt(contentPieces.addedAt, before)));
    },
  };
}
