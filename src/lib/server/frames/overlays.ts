/**
 * Specimens under trials or other defaults: files served otherwise, under keys of their own, for as long as they are looked
 * at. They are kept with everything else, so that all servers on one database know them.
 */
import { desc, eq, inArray, sql } from 'drizzle-orm';
import { randomBytes } from 'node:crypto';
import { z } from 'zod';
import type { Storage } from '../database/open.ts';
import { overlays } from '../database/schema.ts';
import { MissingContents } from '../contents/store.ts';

/** Style sheets of other defaults, by the mode of the page that they are laid under. */
export interface Underlays {
  standards: string;
  quirks: string;
}

const underlaysSchema = z.object({ standards: z.string(), quirks: z.string() });

export interface Overlaid {
  /** Key of the revision whose files they are, or of another overlay; '': of none, there are but empty documents. */
  key: string;
  /** Texts in the place of the revision's own, by path. */
  texts: Record<string, string>;
  underlay: Underlays | null;
}

export interface FoundOverlay {
  revisionKey: string;
  underlay: Underlays | null;
  /** The text of a file that is served in the place of the revision's own; undefined: its own is. */
  text: (path: string) => Promise<string | undefined>;
}

/** Bytes of all overlays together; those that were looked at longest ago go first. */
const KEPT_BYTES = 512 * 1024 * 1024;
/** An overlay takes this much beside its texts. */
const ROW_BYTES = 2000;
/** Looked at again within this time, it is not noted anew. */
const NOTED_MS = 60_000;

type Row = typeof overlays.$inferSelect;

async function rowOf({ db }: Storage, key: string): Promise<Row | null> {
  const [row] = await db.select().from(overlays).where(eq(overlays.key, key));
  return row ?? null;
}

/** Keeps what is laid over a revision, or over another overlay; the answer is its key. */
export async function keepOverlay(
  storage: Storage,
  { key: below, texts, underlay }: Overlaid,
): Promise<string> {
  const under = below === '' ? null : await rowOf(storage, below);
  const put = (text: string): Promise<{ hash: string; size: number }> =>
    storage.contents.write(new TextEncoder().encode(text), false);
  let size = (under?.size ?? 0) + ROW_BYTES;
  const hashes = new Map(Object.entries(under?.texts ?? {}));
  for (const [path, text] of Object.entries(texts)) {
    const held = await put(text);
    size += held.size;
    hashes.set(path, held.hash);
  }
  const laid = underlay ? await put(JSON.stringify(underlay)) : null;
  const key = randomBytes(16).toString('hex');
  await storage.db.insert(overlays).values({
    key,
    revisionKey: under?.revisionKey ?? below,
    texts: Object.fromEntries(hashes),
    underlay: laid?.hash ?? under?.underlay ?? null,
    size: size + (laid?.size ?? 0),
  });
  await forgetOldest(storage);
  return key;
}

async function forgetOldest({ db }: Storage): Promise<void> {
  const [sum] = await db
    .select({ bytes: sql<number>`coalesce(sum(${overlays.size}), 0)::float8` })
    .from(overlays);
  if (!sum || sum.bytes <= KEPT_BYTES) return;
  let kept = 0;
  const rows = await db
    .select({ key: overlays.key, size: overlays.size })
    .from(overlays)
    .orderBy(desc(overlays.usedAt));
  const old = rows.filter(({ size }) => (kept += size) > KEPT_BYTES).map(({ key }) => key);
  if (old.length > 0) await db.delete(overlays).where(inArray(overlays.key, old));
}

export async function findOverlay(storage: Storage, key: string): Promise<FoundOverlay | null> {
  const row = await rowOf(storage, key);
  if (!row) return null;
  if (Date.now() - row.usedAt.getTime() > NOTED_MS)
    await storage.db.update(overlays).set({ usedAt: new Date() }).where(eq(overlays.key, key));
  const read = async (hash: string): Promise<string> => {
    const bytes = await storage.contents.read(hash);
    if (!bytes) throw new MissingContents(hash);
    return new TextDecoder().decode(bytes);
  };
  const hashes = new Map(Object.entries(row.texts));
  return {
    revisionKey: row.revisionKey,
    underlay: row.underlay === null ? null : underlaysSchema.parse(JSON.parse(await read(row.underlay))),
    text: async (path) => {
      const hash = hashes.get(path);
      return hash === undefined ? undefined : read(hash);
    },
  };
}

/** The key of the revision that a key is of, whatever is laid over it. */
export const revisionKey = async (storage: Storage, key: string): Promise<string> =>
  (await rowOf(storage, key))?.revisionKey ?? key;
