/** Takes the page of an address into a specimen, as its scripts have made it, and again whenever it changes. */
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { openLivePage, type Captured, type LiveInput, type LivePage } from '../capture/live-page.ts';
import { hashOf } from '../contents/store.ts';
import type { Storage } from '../database/open.ts';
import { insertOrigin, keepOptions, specimenOfPlace, type Origin } from '../database/origins.ts';
import type { OriginOptions } from '../database/schema.ts';
import {
  addRevision,
  adoptContents,
  entriesOf,
  findSpecimen,
  insertSpecimen,
  pruneRevisions,
  type Arrived,
} from '../database/specimens.ts';
import { typeOf } from '../ingest/paths.ts';
import { Refusal } from '../ingest/refusal.ts';
import type { StagedFile } from '../ingest/staging.ts';
import { work } from '../work/pool.ts';
import { refuseElsewhere } from './sync.ts';
import { inTurn, withStaging } from './turns.ts';

/** Ms for which a live page that nobody follows stays open: it is often asked for again at once. */
const IDLE_MS = 30_000;

interface Session {
  live: Promise<LivePage>;
  followers: number;
  idle: NodeJS.Timeout | undefined;
}

const sessions = new Map<string, Session>();
/** How each page was asked for last. Cookies and passwords are kept here alone, and go with the process. */
const inputs = new Map<string, LiveInput>();

const inputOf = ({ place, options }: Origin): LiveInput =>
  inputs.get(place) ?? {
    address: new URL(place),
    width: options.width ?? 1280,
    height: options.height ?? 800,
    steps: options.steps ?? [],
    cookies: [],
    credentials: null,
    also: (options.also ?? []).map((address) => new URL(address)),
  };

async function end(place: string): Promise<void> {
  const session = sessions.get(place);
  if (!session) return;
  sessions.delete(place);
  clearTimeout(session.idle);
  // One that could not be opened has nothing to close.
  await session.live.then(
    (live) => live.close(),
    () => undefined,
  );
}

function rest(place: string, session: Session): void {
  clearTimeout(session.idle);
  session.idle = setTimeout(() => void end(place), IDLE_MS);
  session.idle.unref();
}

/** The live page of an address, opened where it is not. */
function sessionOf(input: LiveInput): Session {
  const place = input.address.href;
  const known = sessions.get(place);
  if (known) return known;
  const session: Session = { live: openLivePage(input), followers: 0, idle: undefined };
  session.live.catch(() => sessions.delete(place));
  sessions.set(place, session);
  rest(place, session);
  return session;
}

async function arrivedOf(captured: Captured, folder: string): Promise<Arrived & { files: StagedFile[] }> {
  const files: StagedFile[] = [];
  for (const { path, bytes } of captured.files) {
    const file = join(folder, String(files.length));
    await writeFile(file, bytes);
    files.push({ path, type: typeOf(path), size: bytes.length, hash: hashOf(bytes), file });
  }
  const examined = await work('examine', { files, name: new URL(captured.url).host });
  const pages = [captured.entry, ...examined.pages.filter((page) => page !== captured.entry)];
  return { ...examined, pages, files };
}

const optionsOf = ({ width, height, steps, also }: LiveInput, left: string[]): OriginOptions => ({
  width,
  height,
  steps: [...steps],
  also: also.map(({ href }) => href),
  left: left.slice(0, 50),
});

/** Brings in what the page is now, where it is another than the newest revision; the number of the newest. */
async function takeNow(storage: Storage, specimenId: string, input: LiveInput): Promise<number> {
  const live = await sessionOf(input).live;
  const captured = await live.freeze().catch(async (error: unknown) => {
    // What has gone wrong in an engine is not tried there again.
    await end(input.address.href);
    throw error;
  });
  return withStaging(storage, async (folder) => {
    const found = await findSpecimen(storage.db, specimenId);
    if (!found) throw new Refusal('specimen: it was deleted meanwhile. Open its address again.', 404);
    const { revision } = found;
    const arrived = await arrivedOf(captured, folder);
    const before = new Map((await entriesOf(storage.db, revision.id)).map(({ path, hash }) => [path, hash]));
    await keepOptions(storage.db, specimenId, optionsOf(input, captured.left));
    if (
      arrived.files.length === before.size &&
      arrived.files.every(({ path, hash }) => before.get(path) === hash)
    )
      return revision.number;
    await adoptContents(storage, arrived.files);
    const number = await addRevision(storage, specimenId, revision.number, arrived);
    await pruneRevisions(storage.db, specimenId);
    return number;
  });
}

/** The specimen of an address; made where there is none yet. Throws a Refusal. */
export async function openAddress(
  storage: Storage,
  input: LiveInput,
): Promise<{ id: string; page: string | null }> {
  refuseElsewhere();
  const place = input.address.href;
  return inTurn(place, async () => {
    await end(place);
    inputs.set(place, input);
    const known = await specimenOfPlace(storage.db, place);
    if (known !== null) {
      await takeNow(storage, known, input);
      return { id: known, page: null };
    }
    const captured = await (await sessionOf(input).live).freeze();
    const id = await withStaging(storage, async (folder) => {
      const arrived = await arrivedOf(captured, folder);
      await adoptContents(storage, arrived.files);
      return storage.db.transaction(async (tx) => {
        const made = await insertSpecimen(tx, arrived);
        await insertOrigin(tx, {
          specimenId: made.id,
          kind: 'address',
          place,
          options: optionsOf(input, captured.left),
        });
        return made.id;
      });
    });
    return { id, page: null };
  });
}

/** The page loaded anew and taken; the number of the newest revision. Throws a Refusal. */
export const takeAgain = (storage: Storage, origin: Origin): Promise<number> => {
  refuseElsewhere();
  return inTurn(origin.place, async () => {
    const followers = sessions.get(origin.place)?.followers ?? 0;
    if (followers === 0) await end(origin.place);
    const live = await sessionOf(inputOf(origin)).live;
    await live.reload();
    return takeNow(storage, origin.specimenId, inputOf(origin));
  });
};

/** The page as it is, taken; the number of the newest revision. Throws a Refusal. */
export const takeChanged = (storage: Storage, origin: Origin): Promise<number> =>
  inTurn(origin.place, () => takeNow(storage, origin.specimenId, inputOf(origin)));

/** Calls `stir` whenever the page has changed and is quiet again, until the answer is called. */
export function watchAddress(origin: Origin, stir: () => void): () => Promise<void> {
  const session = sessionOf(inputOf(origin));
  session.followers += 1;
  clearTimeout(session.idle);
  // Why it cannot be opened is told by whoever takes it.
  session.live.then(
    (live) => live.onStir(stir),
    () => stir(),
  );
  let isOver = false;
  return async () => {
    if (isOver) return;
    isOver = true;
    session.live.then(
      (live) => live.onStir(() => undefined),
      () => undefined,
    );
    session.followers -= 1;
    if (session.followers === 0 && sessions.get(origin.place) === session) rest(origin.place, session);
  };
}

export async function endAddresses(): Promise<void> {
  await Promise.all([...sessions.keys()].map(end));
}
