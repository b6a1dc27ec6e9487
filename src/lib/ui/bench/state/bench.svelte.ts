/** State of one Bench: the page in its frame, what was measured of it, and what the user looks at. */
import type { HitIndex } from '$core/boxes/hit-test.ts';
import { elementAt, pathOf } from '$core/reading/labels.ts';
import type { Defaults, RawReading } from '$core/reading/reading.ts';
import type { Breakpoint } from '$core/css/media/breakpoints.ts';
import type { InUse } from '$core/css/values/units-in-use.ts';
import type { Quantity } from '$core/search/measured-quantity.ts';
import { laidAt, type Edit } from '$core/trials/edit.ts';
import type { Moved } from '$core/compare/reading-diff.ts';
import { openFrame, type Frame } from '$station/frame.ts';
import { readFramed, type FramedResult } from '$station/nested-documents.ts';
import { createSession, type Texts } from '$station/session.ts';
import { survey, takeReading } from '$station/survey.ts';
import * as Comlink from 'comlink';
import Flatbush from 'flatbush';
import { bareAddress, frameAddress, frameBase } from '../../frames.ts';
import { profilesOf } from '../../defaults/defaults.ts';
import { wrong } from '../../notices/notices.svelte.ts';
import type { ScriptFailure } from '$protocol/protocol.ts';
import { isEmptyPage } from '$core/visibility/empty-page.ts';
import { hasScripts } from '$core/html/scripts.ts';
import { isConflict, okSchema, send, versionSchema } from '../../send.ts';
import type { Analyst } from '../analyst.worker.ts';
import type { ChangedSince } from '../analyst/beside.ts';
import type { SheetFact, Taken } from '../analyst/page.ts';
import AnalystWorker from '../analyst.worker.ts?worker';
import { createDistances } from '../distances.svelte.ts';
import { createKept } from './saved-readings.svelte.ts';
import { createSizeRetry } from './retry-with-sizes.ts';
import { createPicking } from './picking.svelte.ts';
import type { BoxFilter } from '../stage/box-filters.ts';
import { createFinder } from '../finder.svelte.ts';
import { createSpots } from '../../asking/spots.svelte.ts';
import { createWishes } from '../../asking/wishes.svelte.ts';
import type { Outlines } from '../stage/view.ts';
import { createHiddenFrames, keyFor, sourcesOf, supportsHere, type Against } from './hidden-frames.ts';

/** The revision that is measured. */
export interface Served {
  revision: number;
  /** The name that it is served under, with other default styles under it where there are some; and without them. */
  key: string;
  plainKey: string;
  /** Earlier revisions of its files, the newest first. */
  earlier: { number: number; key: string }[];
}

export interface BenchInput extends Served {
  id: string;
  name: string;
  host: string;
  page: string;
  /** Whether other default styles lie under it. */
  isUnder: boolean;
  /** Their name. */
  defaults: string;
  scripts: 'hold' | 'run';
  /** Which state of the specimen's name and scripts this is. */
  version: number;
}

export interface Place {
  width: number;
  height: number;
  pick: string;
}

export interface Facts {
  sheets: SheetFact[];
  missing: string[];
  breakpoints: Breakpoint[];
  inUse: InUse;
  /** Whether any style sheet asks for the size of a container. */
  queriesContainers: boolean;
}

/** What is different since an earlier revision was measured. */
export interface Since extends ChangedSince {
  revision: number;
  /** When it was found out. */
  at: Date;
}

const MIN_WIDTH = 120;
const MAX_WIDTH = 3840;

export type Bench = ReturnType<typeof createBench>;

export function createBench(opened: BenchInput, start: Place) {
  let served = $state.raw<Served>(opened);
  const input: BenchInput = {
    ...opened,
    get revision() {
      return served.revision;
    },
    get key() {
      return served.key;
    },
    get plainKey() {
      return served.plainKey;
    },
    get earlier() {
      return served.earlier;
    },
  };
  const worker = new AnalystWorker();
  const analyst = Comlink.wrap<Analyst>(worker);
  let frame: Frame | null = null;
  let holders: { page: HTMLElement; bare: HTMLElement } | null = null;
  let texts: Record<string, string> = {};
  let hits: HitIndex | null = null;
  const bares = new Map<string, Promise<Frame>>();
  let stop = new AbortController();
  let opening: Promise<void> | null = null;
  let measuring: Promise<void> | null = null;
  let again = false;

  let width = $state(start.width);
  let height = $state(start.height);
  let status = $state<'opening' | 'measuring' | 'ready' | 'failed'>('opening');
  let failure = $state('');
  let waited = $state<string[]>([]);
  let scriptFailures = $state.raw<ScriptFailure[]>([]);
  let reading = $state.raw<RawReading | null>(null);
  let facts = $state.raw<Facts>({
    sheets: [],
    missing: [],
    breakpoints: [],
    inUse: { variables: [], units: [] },
    queriesContainers: false,
  });
  /** What the page's viewport meta elements say. */
  let viewports = $state.raw<readonly string[]>([]);
  let scroll = $state.raw({ x: 0, y: 0 });
  let sort = $state<BoxFilter>('none');
  let hatched = $state(false);
  /** What else is drawn of the pick: its containing block. */
  let shown = $state<'block' | null>(null);
  let scripts = $state(input.scripts);
  let { version } = input;
  /** What is laid over the page, and which of it found nothing to change. */
  let edits: readonly Edit[] = [];
  let unlaid = $state.raw<{ id: string; why: string }[]>([]);
  let moved = $state.raw<Moved | null>(null);
  /** What is different since the revision that was measured before; null: no other was, or nothing can be said of it. */
  let since = $state.raw<Since | null>(null);
  /** Where each of the trials that are compared puts what it moves. */
  let outlines = $state.raw<Outlines[]>([]);
  let against = $state.raw<Against>({ kind: 'plain' });
  let defaults: Defaults = {};
  /** Whether scrollbars take no room, as on phones. */
  let areBarsOver = false;
  const isQuiet = (): boolean => scripts === 'hold' && !facts.queriesContainers;
  const session = createSession({
    reasoner: {
      structural: (list) => analyst.structural(input.page, list),
      patch: (opened, list, isWhole) => analyst.lay(input.page, { ...opened }, list, isWhole),
      replan: () => analyst.replan(),
      planned: async (_request, validity): Promise<void> => {
        await analyst.settle(0, validity, defaults);
      },
      learned: (unknown, answers) => analyst.learnTaken(unknown, answers),
    },
    port: () => ({ ask: frame!.ask, supports: supportsHere }),
    size: () => ({ width, height }),
    isQuiet,
    reopen,
  });
  const lab = createHiddenFrames({
    analyst,
    specimen: input.id,
    host: input.host,
    served: () => served,
    page: input.page,
    holder: () => holders!.bare,
    signal: () => stop.signal,
    size: () => ({ width, height }),
    areBarsOver: () => areBarsOver,
    trial: () => edits,
    edits: editsNow,
    engine: engineName,
    opened: () => session.opened,
    bare: bareAsker,
    isQuiet,
    against: () => against,
  });

  const knowing = createSizeRetry({
    analyst,
    measure: (batches) => (frame && !kept.shown.saved ? frame.ask('intrinsicSizes', { batches }) : null),
  });
  const picking = createPicking({
    analyst,
    knowing,
    reading: () => reading,
    hits: () => hits,
    isMeasuring: () => distances.shown.measure,
    beside: () => distances.elements(),
  });
  const distances = createDistances({
    analyst,
    knowing,
    storageKey: `pinned:${input.id}:${input.page}`,
    reading: () => reading,
    refreshAreas: picking.refreshAreas,
  });
  const kept = createKept({
    analyst,
    specimen: input.id,
    page: input.page,
    defaults: input.defaults,
    pick: () => (reading && picking.shown.pick >= 0 ? pathOf(reading, picking.shown.pick) : ''),
    resize: async (newWidth, newHeight) => {
      await settled();
      width = newWidth;
      height = newHeight;
      frame?.resize(width, height);
    },
    show: async (raw, taken, path) => {
      adopt(raw, taken);
      picking.renumber(path ? await analyst.elementAt(path) : -1);
      await Promise.all([picking.refreshAccount(), picking.refreshAreas(true)]);
    },
  });

  const finder = createFinder(analyst, lab.openProving, input.isUnder ? lookBeneath : null);

  const spots = createSpots({ analyst, knowing });
  const wishes = createWishes({
    analyst,
    openProving: lab.openProving,
    finder,
    sizes: async (batches) => (frame ? frame.ask('intrinsicSizes', { batches }) : []),
    find: (selector) => elementsOf(selector),
    reading: () => reading,
  });

  /** A frame with an empty document of a mode, opened once. */
  function bareAsker(mode: 'standards' | 'quirks', isPlain = false): Promise<Frame> {
    const address = bareAddress(input.host, input.key, input.isUnder && !isPlain, mode);
    const cached = bares.get(address);
    if (cached) return cached;
    const holder = holders!.bare.appendChild(document.createElement('div'));
    const opened = openFrame(holder, address, { width: 800, height: 600 }, stop.signal);
    bares.set(address, opened);
    return opened;
  }

  let profiles: Promise<void> | null = null;
  /** Measures what the page at hand is under other defaults than: itself as rendered. */
  async function lookBeneath(): Promise<void> {
    profiles ??= profilesOf(input.host, input.defaults).then(({ own, other }) =>
      analyst.knowProfiles(own, other),
    );
    await profiles;
    await lab.measureRendered();
  }

  /** Opens the page in a new frame and measures it. */
  function open(where: { page: HTMLElement; bare: HTMLElement }): Promise<void> {
    const current = openNow(where).finally(() => {
      if (opening === current) opening = null;
    });
    return (opening = current);
  }

  /** Resolves once the page stands in its frame, and what is under way has been measured. */
  async function settled(): Promise<void> {
    while (opening ?? measuring) await (opening ?? measuring);
  }

  async function openNow(where: { page: HTMLElement; bare: HTMLElement }): Promise<void> {
    holders = where;
    stop.abort();
    stop = new AbortController();
    const { signal } = stop;
    status = 'opening';
    failure = '';
    kept.leave();
    frame?.close();
    frame = null;
    bares.clear();
    where.bare.replaceChildren();
    try {
      texts = await sourcesOf(input.id, input.key, signal);
      await analyst.hold(texts);
      const opened = await openFrame(
        where.page,
        frameAddress(input.host, input.key, input.page),
        { width, height },
        signal,
      );
      if (signal.aborted) return opened.close();
      adoptFrame(opened);
      if (areBarsOver) await frame!.ask('setScrollbars', { areOver: true });
      session.reset();
      lab.reset();
      facts = await surveyPage(input.key, texts);
      if (edits.length > 0) await firstLook();
      await measureNow();
      void distances.restore();
      // What the Shelf shows of it is no part of the measurement: where it fails, it is told, and all else stands.
      await keepDrawing(signal).catch((error: unknown) => (signal.aborted ? undefined : wrong(error)));
    } catch (error) {
      if (signal.aborted && status !== 'opening' && status !== 'measuring') return;
      fail(error);
    }
  }

  async function keepDrawing(signal: AbortSignal): Promise<void> {
    const drawing = await analyst.drawing();
    await send('PATCH', `/api/specimens/${input.id}`, okSchema, { drawing }, signal);
  }

  /** The frame that is shown. Where its page goes elsewhere, the numbers are those of no page that is there. */
  function adoptFrame(opened: Frame): void {
    frame = opened;
    opened.onGone((why) => {
      if (frame !== opened) return;
      frame = null;
      finder.forget();
      forget();
      fail(why);
    });
  }

  /** Nothing of what was measured is shown any more. */
  function forget(): void {
    reading = null;
    hits = null;
    moved = null;
    outlines = [];
    picking.shown.choose(-1);
  }

  /** Asks the page what it is; `own`: the texts that it was opened with. */
  async function surveyPage(key: string, texts: Record<string, string>): Promise<Facts> {
    const base = frameBase(input.host, key);
    const result = await survey(
      frame!,
      (described) => analyst.plan(0, input.page, texts, described, base),
      bareAsker,
    );
    ({ defaults } = result);
    return analyst.settle(0, result.validity, defaults);
  }

  /** Opens the page in the place of the one at hand, with other texts of some of its files. */
  async function reopen(other: Texts): Promise<void> {
    const key = await keyFor(input.id, input.key, other);
    const { signal } = stop;
    // The old page is taken out as the new one comes in: it has not gone by itself.
    frame?.close();
    const next = await openFrame(
      holders!.page,
      frameAddress(input.host, key, input.page),
      { width, height },
      signal,
    );
    adoptFrame(next);
    if (areBarsOver) await frame!.ask('setScrollbars', { areOver: true });
    await surveyPage(key, { ...texts, ...other });
    await firstLook();
  }

  /** A reading that nobody sees: what is laid over the page names its elements by it. */
  async function firstLook(): Promise<void> {
    const { reading: raw } = await takeReading(frame!, { width, height }, 'full');
    await analyst.take(raw, []);
  }

  /** The engine at hand, by the name that edits are limited by. */
  function engineName(): string {
    return reading?.engine.name ?? (navigator.userAgent.includes('Firefox/') ? 'firefox' : '');
  }

  let previous: readonly Edit[] = [];
  /** The edits that hold at the width at hand; the same list as long as they are the same. */
  function editsNow(): readonly Edit[] {
    const now = laidAt(edits, width, engineName());
    if (now.length !== previous.length || now.some((edit, i) => edit !== previous[i])) previous = now;
    return previous;
  }

  /** Lays edits over the page in the place of those before, and measures it. */
  function lay(next: readonly Edit[]): Promise<void> {
    edits = next;
    // What is being tried behind the page as it was is of no use any more, and takes its time from the new measurement.
    finder.stop();
    wishes.stop();
    return frame ? remeasure() : Promise.resolve();
  }

  function fail(error: unknown): void {
    status = 'failed';
    failure = error instanceof Error ? error.message : String(error);
  }

  function adopt(raw: RawReading, taken: Taken): void {
    reading = raw;
    hits = {
      reading: raw,
      order: taken.order,
      owners: taken.owners,
      index: taken.index ? Flatbush.from(taken.index) : null,
    };
  }

  /** What is in the page's frames, where it has any. A frame that does not answer in time is left as a box. */
  async function readFrames(reading: RawReading): Promise<FramedResult> {
    const has = reading.strings.some((text) => text === 'iframe' || text === 'frame');
    if (!frame || !has) return { framed: [], failed: [] };
    const base = frameBase(input.host, input.key);
    return readFramed(frame, {
      plan: (number, described) => analyst.plan(number, input.page, texts, described, base),
      settle: (number, { validity, defaults }) => analyst.settle(number, validity, defaults),
      bare: bareAsker,
    });
  }

  async function measureNow(): Promise<void> {
    if (!frame) return;
    status = 'measuring';
    const { signal } = stop;
    const asked = { width, height };
    const current = editsNow();
    const isLaid = current === session.applied || (current.length === 0 && session.applied.length === 0);
    const laid = isLaid ? null : await session.layAndRead(current);
    if (laid) unlaid = laid.failed.map(({ edit, why }) => ({ id: current[edit]!.id, why }));
    const taken = laid && asked.width === width && asked.height === height ? laid : await session.read();
    const ownReading = taken.reading as RawReading;
    const { framed, failed } = await readFrames(ownReading);
    const taking = analyst.take(ownReading, framed);
    // Where elements keep their numbers the account is asked for at once: what is drawn meanwhile does not hold it up.
    const asking = framed.length === 0 && reading?.count === ownReading.count ? picking.shown.pick : -1;
    const early = asking >= 0 ? analyst.account(asking) : null;
    // Where it fails the reading does, which is told.
    early?.catch(() => undefined);
    const result = await taking;
    if (signal.aborted) return;
    const raw = result.whole ?? ownReading;
    // Elements are numbered anew by every reading: where there are others, the pick is found again by its path.
    const isOther = reading !== null && picking.shown.pick >= 0 && reading.count !== raw.count;
    const path = isOther ? pathOf(reading!, picking.shown.pick) : start.pick;
    adopt(raw, result);
    if (path) picking.renumber(elementAt(raw, path));
    waited = [...taken.waited, ...failed];
    scroll = { x: raw.document.scrollX, y: raw.document.scrollY };
    kept.leave();
    start.pick = '';
    await Promise.all([
      picking.refreshAccount(early && asking === picking.shown.pick ? early : undefined),
      picking.refreshAreas(true),
      distances.explainAgain(),
      analyst.viewports().then((contents) => (viewports = contents)),
    ]);
    await compareNow();
    // The page may have gone meanwhile.
    if (!frame) return;
    status = 'ready';
    void frame.ask('failures', null).then((list) => (scriptFailures = list), wrong);
    void finder.look().catch(wrong);
    void wishes.lookAgain();
    void spots.lookAgain();
  }

  /** What is different from what the page is held against. */
  async function compareNow(): Promise<void> {
    await lab.measureBase();
    moved = editsNow().length > 0 || against.kind !== 'plain' ? await analyst.moved() : null;
  }

  /** Holds the page against something else. */
  async function holdAgainst(next: Against): Promise<void> {
    against = next;
    await settled();
    await compareNow();
  }

  /** Measures again; calls while one is under way come to one more. A page that has gone is opened again. */
  function remeasure(): Promise<void> {
    if (!frame && holders && status === 'failed') return open(holders);
    if (measuring) {
      again = true;
      return measuring;
    }
    measuring = (async () => {
      try {
        do {
          again = false;
          // What is asked for meanwhile is tried all the same.
          await measureNow().catch((error: unknown) => (again ? undefined : fail(error)));
        } while (again);
      } finally {
        measuring = null;
      }
    })();
    return measuring;
  }

  /** Measures another revision in the place of the one at hand: at the same size, with the same pick and the same trial. */
  async function follow(next: Served): Promise<void> {
    await settled();
    if (!holders || next.revision === served.revision) return;
    finder.stop();
    wishes.stop();
    const before = served.revision;
    if (reading && picking.shown.pick >= 0) start.pick = pathOf(reading, picking.shown.pick);
    await analyst.keepSince();
    served = next;
    since = null;
    await open(holders);
    const changed = status === 'ready' ? await analyst.changedSince() : null;
    since = changed && { revision: before, at: new Date(), ...changed };
  }

  function resize(newWidth: number, newHeight = height): void {
    width = Math.round(Math.min(MAX_WIDTH, Math.max(MIN_WIDTH, newWidth)));
    height = Math.round(Math.min(8000, Math.max(100, newHeight)));
    if (!frame) return;
    frame.resize(width, height);
    void remeasure();
  }

  /** Shows the page with scrollbars as phones have them, over what they scroll, or as the engine has them. */
  async function layBars(areOver: boolean): Promise<void> {
    if (areBarsOver === areOver) return;
    areBarsOver = areOver;
    await settled();
    await lab.renew();
    // By now it can have been changed again.
    if (await frame?.ask('setScrollbars', { areOver: areBarsOver })) await remeasure();
  }

  /** The elements of the reading at hand that a selector matches. */
  const elementsOf = async (selector: string): Promise<number[]> =>
    frame ? frame.ask('find', { selector }) : [];

  async function find(selector: string): Promise<number[]> {
    // The page numbers its elements anew with every reading, and while it is opened there is none to ask.
    await settled();
    if (!frame) return [];
    const found = await frame.ask('find', { selector });
    picking.shown.show(found);
    return found;
  }

  async function scrollBy(element: number, x: number, y: number, to = false): Promise<boolean> {
    if (!frame) return false;
    const result = await frame.ask('scroll', { element, x, y, to });
    scroll = { x: result.x, y: result.y };
    if (result.moved && element >= 0) await remeasure();
    return result.moved;
  }

  /** Brings a box into the viewport of the page. */
  async function reveal(element: number): Promise<void> {
    if (!reading || element < 0) return;
    const [x, y, w, h] = reading.rects.subarray(element * 4, element * 4 + 4) as unknown as [
      number,
      number,
      number,
      number,
    ];
    const seen =
      x + w > scroll.x &&
      x < scroll.x + width &&
      y + Math.min(h, height) > scroll.y + 8 &&
      y < scroll.y + height - 8;
    if (!seen) await scrollBy(-1, Math.max(0, x - 40), Math.max(0, y - height / 3), true);
  }

  async function setScripts(mode: 'hold' | 'run'): Promise<void> {
    const keep = (): Promise<{ version: number }> =>
      send('PATCH', `/api/specimens/${input.id}`, versionSchema, { scripts: mode, version });
    try {
      ({ version } = await keep());
    } catch (error) {
      if (!isConflict(error)) throw error;
      // What was renamed elsewhere, or let run, is still what the user decides about here.
      ({ version } = versionSchema.parse(error.now));
      ({ version } = await keep());
    }
    scripts = mode;
    if (holders) await open(holders);
  }

  const state = {
    input,
    get width() {
      return width;
    },
    get height() {
      return height;
    },
    get status() {
      return status;
    },
    get failure() {
      return failure;
    },
    get scriptFailures() {
      return scriptFailures;
    },
    /** Whether nothing can be seen on the page, and it has scripts that are held. */
    get isEmptyWithoutScripts() {
      const isHeld = scripts === 'hold' && reading !== null;
      return isHeld && isEmptyPage(reading!) && hasScripts(texts[input.page] ?? '');
    },
    get waited() {
      return waited;
    },
    get reading() {
      return reading;
    },
    get viewports() {
      return viewports;
    },
    get facts() {
      return facts;
    },
    get scroll() {
      return scroll;
    },
    get sort() {
      return sort;
    },
    set sort(next: BoxFilter) {
      sort = next;
    },
    get shown() {
      return shown;
    },
    set shown(value) {
      shown = value;
    },
    get hatched() {
      return hatched;
    },
    set hatched(next: boolean) {
      hatched = next;
    },
    get scripts() {
      return scripts;
    },
    get unlaid() {
      return unlaid;
    },
    get outlines() {
      return outlines;
    },
    set outlines(list) {
      outlines = list;
    },
    get moved() {
      return moved;
    },
    get against() {
      return against;
    },
    get since() {
      return since;
    },
    forgetSince: () => {
      since = null;
    },
    follow,
    holdAgainst,
    finder,
    wishes,
    spots,
    /** Findings that what the page is held against has and the page has not, and the other way round. */
    findingsMoved: () => analyst.findingsMoved(),
    why: (index: number) => knowing.sure(() => analyst.why(index)),
    ruleAnswers: (element: number) => knowing.sure(() => analyst.ruleAnswers(element)),
    lay,
    settled,
    openLab: lab.openLab,
    compareAt: lab.compareAt,
    look: (quantity: Quantity) => analyst.look(quantity),
    quantityWords: (quantity: Quantity) => analyst.quantityWords(quantity),
    childrenOf: (elements: number[]) => analyst.childrenOf(elements),
    mutes: () => analyst.mutes(),
    editWords: (list: readonly Edit[]) => analyst.words([...list]),
    elementPath: (element: number) => analyst.elementPath(element),
    written: (list: readonly Edit[]) => analyst.written([...list], input.page),
    open,
    resize,
    layBars,
    remeasure,
    elementsOf,
    find,
    scrollBy,
    reveal,
    setScripts,
    text: (file: string) => texts[file],
    stop: () => {
      stop.abort();
      fail(new Error('Stopped. Open the page again when you like.'));
    },
    close: () => {
      finder.stop();
      wishes.stop();
      stop.abort();
      frame?.close();
      worker.terminate();
    },
  };
  return joined(state, picking.shown, distances.shown, kept.shown);
}

/** One object with the members of several; what is read of them anew each time still is. */
function joined<A, B, C, D>(a: A, b: B, c: C, d: D): A & B & C & D {
  const members = [a, b, c, d].map((entry) => Object.getOwnPropertyDescriptors(entry));
  return Object.defineProperties({}, Object.assign({}, ...members)) as A & B & C & D;
}
