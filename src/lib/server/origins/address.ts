/** Takes the page of an address into a specimen, as its scripts have made it, and again whenever it changes. */
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { openLivePage, type Captured, type LiveInput, type LivePage } from '../capture/live-page.ts';
import { hashOf } from '../contents/store.ts';
import type { Storage } from '../database/open.ts';
import { insertOrigin, keepOptions, specimenOfPlace, type Origin } from '../database/origins.ts';
import type { OriginOptions } from '../database/schema.ts';
import { adoptContents, entriesOf, findSpecimen, insertSpecimen, type Arrived } from '../database/specimens.ts';
import { typeOf } from '../ingest/paths.ts';
import { Refusal } from '../ingest/refusal.ts';
import type { StagedFile } from '../ingest/staging.ts';
import { work } from '../work/pool.ts';
import { refuseElsewhere } from './sync.ts';
import { addTaken, areSame, inTurn, withStaging } from './turns.ts';

/** Ms for which a live page that nobody follows stays open: it is often asked for again at once. */
const IDLE_MS = 30_000;

interface Session {
  live: Promise<LivePage>;
  idle: NodeJS.Timeout | undefined;
}

const sessions = new Map<string, Session>();
/** Who hears of changes of a page, by its address, whichever session it is open in. */
const followers = new Map<string, Set<() => void>>();
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

function closeWhenIdle(place: string, session: Session): void {
  clearTimeout(session.idle);
  session.idle = setTimeout(() => void end(place), IDLE_MS);
  session.idle.unref();
}

/** The live page of an address, opened where it is not. */
function sessionOf(input: LiveInput): Session {
  refuseElsewhere();
  const place = input.address.href;
  const opened = sessions.get(place);
  if (opened) return opened;
  const session: Session = { live: openLivePage(input), idle: undefined };
  sessions.set(place, session);
  if (!followers.has(place)) closeWhenIdle(place, session);
  session.live.then(
    (live) => live.onStir(() => followers.get(place)?.forEach((stir) => stir())),
    () => sessions.delete(place),
  );
  return session;
}

/** What a live page is now. What has gone wrong in an engine is not tried there again. */
async function frozen(input: LiveInput): Promise<Captured> {
  const live = await sessionOf(input).live;
  return live.freeze().catch(async (error: unknown) => {
    await end(input.address.href);
    throw error;
  });
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
  const captured = await frozen(input);
  return withStaging(storage, async (folder) => {
    const found = await findSpecimen(storage.db, specimenId);
    if (!found) throw new Refusal('specimen: it was deleted meanwhile. Open its address again.', 404);
    const { revision } = found;
    const arrived = await arrivedOf(captured, folder);
    await keepOptions(storage.db, specimenId, optionsOf(input, captured.left));
    if (areSame(arrived.files, await entriesOf(storage.db, revision.id))) return revision.number;
    return addTaken(storage, specimenId, revision.number, arrived);
  });
}

/** The specimen of an address; made where there is none yet. Throws a Refusal. */
export async function openAddress(
  storage: Storage,
  input: LiveInput,
): Promise<{ id: string; page: string | null }> {
  const place = input.address.href;
  return inTurn(place, async () => {
    await end(place);
    inputs.set(place, input);
    const earlier = await specimenOfPlace(storage.db, place);
    if (earlier !== null) {
      await takeNow(storage, earlier, input);
      return { id: earlier, page: null };
    }
    const captured = await frozen(input);
    const id = await withStaging(storage, async (folder) => {
      const arrived = await arrivedOf(captured, folder);
      await adoptContents(storage, arrived.files);
      return storage.db.transaction(async (tx) => {
        const specimen = await insertSpecimen(tx, arrived);
        await insertOrigin(tx, {
          specimenId: specimen.id,
          kind: 'address',
          place,
          options: optionsOf(input, captured.left),
        });
        return specimen.id;
      });
    });
    return { id, page: null };
  });
}

/** The page loaded anew and taken; the number of the newest revision. Throws a Refusal. */
export const takeAgain = (storage: Storage, origin: Origin): Promise<number> =>
  inTurn(origin.place, async () => {
    const isOpen = sessions.has(origin.place);
    const live = await sessionOf(inputOf(origin)).live;
    if (isOpen) await live.reload();
    return takeNow(storage, origin.specimenId, inputOf(origin));
  });

/** The page as it is, taken; the number of the newest revision. Throws a Refusal. */
export const takeChanged = (storage: Storage, origin: Origin): Promise<number> =>
  inTurn(origin.place, () => takeNow(storage, origin.specimenId, inputOf(origin)));

/** Calls `stir` whenever the page has changed and is quiet again, until the answer is called. Throws a Refusal. */
export function watchAddress(origin: Origin, stir: () => void): () => Promise<void> {
  const { place } = origin;
  const list = followers.get(place) ?? new Set();
  followers.set(place, list.add(stir));
  const session = sessionOf(inputOf(origin));
  clearTimeout(session.idle);
  // Why it cannot be opened is told by whoever takes it.
  session.live.catch(() => stir());
  return async () => {
    list.delete(stir);
    if (list.size > 0) return;
    if (followers.get(place) === list) followers.delete(place);
    const open = sessions.get(place);
    if (open) closeWhenIdle(place, open);
  };
}

export async function endAddresses(): Promise<void> {
  await Promise.all([...sessions.keys()].map(end));
}
