/**
 * Sweeps of pages, by revision, page and what is laid over it. The last ones are kept, and taken over by whoever asks for the
 * same again, until the application is another.
 */
import { version } from '$app/environment';
import type { Drawing } from '$core/reports/drawing.ts';
import type { Changed } from '$core/reading/reading.ts';
import type { Point } from '$core/search/seek.ts';
import type { Quantity } from '$core/search/measured-quantity.ts';
import type { Edit } from '$core/trials/edit.ts';
import { openFrame, type Frame } from '$station/frame.ts';
import { asked, settle, survey, takeReading } from '$station/survey.ts';
import * as Comlink from 'comlink';
import { keyFor, sourcesOf } from '../bench/state/hidden-frames.ts';
import { FROM, TO } from '../bench/width/scale.ts';
import { ownSheets } from '../defaults/defaults.ts';
import { bareAddress, frameAddress, frameBase, holderAddress, type Room } from '../frames.ts';
import type { Measuring, Sweeper, Swept } from './sweeper.worker.ts';
import SweeperWorker from './sweeper.worker.ts?worker';

export interface SweepInput {
  id: string;
  host: string;
  /** Key of the revision, with other defaults under it where there are such: a new one each time. */
  key: string;
  /** Key of the revision alone. */
  plainKey: string;
  /** Whether other default styles lie under it, and their name. */
  isUnder: boolean;
  defaults: string;
  page: string;
  edits: readonly Edit[];
  /** Whether scrollbars take no room, as on phones. */
  areBarsOver: boolean;
}

const HEIGHT = 800;
/** Frames that are asked in turn, each in a room of its own. */
const ROOMS = ['left', 'right'] as const;
/** Sweeps that are kept, the last ones used. */
const KEPT = 4;
/** ms between two looks at what is known so far. */
const PACE = 400;

export type Sweep = ReturnType<typeof createSweep>;

function createSweep({ id, host, key, isUnder, page, edits, areBarsOver }: SweepInput, name: string) {
  let worker: Worker | null = null;
  let sweeper!: Comlink.Remote<Sweeper>;
  let status = $state<'idle' | 'running' | 'done' | 'stopped' | 'failed'>('idle');
  let failure = $state('');
  let measured = $state(0);
  let expected = $state(0);
  let result = $state.raw<Swept | null>(null);
  /** When a sweep was made that was taken over; null: it is of now. */
  let date = $state.raw<Date | null>(null);
  let stopping = new AbortController();
  let frames: Frame[] = [];
  let holder: HTMLElement | null = null;

  function close(): void {
    for (const frame of frames) frame.close();
    frames = [];
    holder?.remove();
    holder = null;
  }

  async function open(rooms: readonly Room[]): Promise<void> {
    close();
    const { signal } = stopping;
    const texts = await sourcesOf(id, key, signal);
    const changed = edits.length > 0 ? await sweeper.laid(page, texts, [...edits]) : {};
    const text = await keyFor(id, key, changed);
    holder = document.body.appendChild(document.createElement('div'));
    holder.className = 'workshop';
    holder.inert = true;
    const within = () => holder!.appendChild(document.createElement('div'));
    const at = { width: TO, height: HEIGHT };
    frames = await Promise.all(
      rooms.map((room) =>
        openFrame(within(), frameAddress(host, text, page, room), at, signal, holderAddress(host, text, room)),
      ),
    );
    for (const [i, frame] of frames.entries()) {
      if (areBarsOver) await frame.ask('setScrollbars', { areOver: true });
      const surveyed = await survey(
        frame,
        (described) => sweeper.plan(page, { ...texts, ...changed }, described, frameBase(host, text, rooms[i])),
        (mode) =>
          openFrame(within(), bareAddress(host, key, isUnder, mode), { width: 800, height: 600 }, signal),
      );
      await sweeper.settle(surveyed.validity, surveyed.defaults);
    }
  }

  async function read(frame: number, width: number, changed: Changed | null): Promise<unknown> {
    const entry = frames[frame]!;
    const at = { width, height: HEIGHT };
    entry.resize(width, HEIGHT);
    if (!changed) return (await takeReading(entry, at, 'full')).reading;
    await settle(entry, at);
    return entry.ask('read', { ...asked('full', changed), isResized: true });
  }

  /** `anew`: what was kept of it counts for nothing. */
  async function start(anew = false): Promise<void> {
    if (status === 'running') return;
    worker ??= new SweeperWorker();
    sweeper = Comlink.wrap<Sweeper>(worker);
    stopping = new AbortController();
    status = 'running';
    failure = '';
    [measured, expected, result, date] = [0, 0, null, null];
    let shown = 0;
    const measuring: Measuring = {
      read,
      intrinsic: (frame, batches) => frames[frame]!.ask('intrinsicSizes', { batches }),
      progress: (now, all) => {
        [measured, expected] = [now, all];
        if (performance.now() - shown < PACE) return;
        shown = performance.now();
        void sweeper.result().then((swept) => {
          if (status === 'running') result = swept;
        });
      },
    };
    try {
      const asker = Comlink.proxy(measuring);
      if (!anew && (await isKept())) {
        await open(ROOMS.slice(0, 1));
        const when = await sweeper.recall(name, TO, asker);
        if (when !== null) date = new Date(when);
      }
      if (!date) {
        await open(ROOMS);
        await sweeper.sweep(FROM, TO, ROOMS.length, asker);
        await sweeper.keep(name).catch((error: unknown) => console.warn('The sweep is not kept:', error));
      }
      result = await sweeper.result();
      status = 'done';
    } catch (error) {
      result = await sweeper.result();
      const isStopped = stopping.signal.aborted;
      status = isStopped ? 'stopped' : 'failed';
      if (!isStopped) failure = error instanceof Error ? error.message : String(error);
    } finally {
      // One stays open, to be asked what a selector matches.
      for (const frame of frames.splice(1)) frame.close();
    }
  }

  /** A browser that keeps nothing measures all the same. */
  async function isKept(): Promise<boolean> {
    try {
      return await sweeper.isKept(name);
    } catch (error) {
      console.warn('No sweep is kept:', error);
      return false;
    }
  }

  /** The first element that a selector matches, by its path; null: none. Throws where it is no selector. */
  async function find(selector: string): Promise<string | null> {
    const [frame] = frames;
    if (!frame) return null;
    const [first] = await frame.ask('find', { selector });
    return first === undefined ? null : ((await sweeper.named(first))?.path ?? null);
  }

  return {
    get status() {
      return status;
    },
    get failure() {
      return failure;
    },
    get measured() {
      return measured;
    },
    get expected() {
      return expected;
    },
    get result() {
      return result;
    },
    get made() {
      return date;
    },
    start,
    stop: () => {
      stopping.abort();
      void sweeper?.stop();
    },
    drawing: (width: number): Promise<Drawing | null> => sweeper.drawing(width),
    numbers: (quantity: Quantity): Promise<{ points: Point[]; words: string }> => sweeper.numbers(quantity),
    find,
    discard: () => {
      stopping.abort();
      close();
      worker?.terminate();
    },
  };
}

const kept = new Map<string, Sweep>();

/** The sweep of a page as it is under edits; not begun where it is a new one. */
export function sweepOf(input: SweepInput): Sweep {
  const name = JSON.stringify([
    version,
    navigator.userAgent,
    input.plainKey,
    input.defaults,
    ownSheets().find((ownSheet) => ownSheet.name === input.defaults)?.css ?? '',
    input.page,
    input.edits.map(({ change, widths }) => [change, widths]),
    input.areBarsOver,
  ]);
  const result = kept.get(name) ?? createSweep(input, name);
  kept.delete(name);
  kept.set(name, result);
  for (const [old, sweep] of kept) {
    if (kept.size <= KEPT) break;
    if (sweep.status === 'running') continue;
    sweep.discard();
    kept.delete(old);
  }
  return result;
}
