/** State of one Bench: the page in its frame, what was measured of it, and what the user looks at. */
import type { BoxAccount } from '$core/accounts/box.ts';
import type { DistanceAccount } from '$core/accounts/distance.ts';
import type { PropertyAccount, PseudoAccount } from '$core/accounts/cascade.ts';
import type { Areas } from '$core/boxes/areas.ts';
import { hit, type HitIndex } from '$core/boxes/hit.ts';
import { elementAt, pathOf } from '$core/boxes/label.ts';
import type { Defaults, RawReading } from '$core/boxes/reading.ts';
import { savedBodySchema } from '$core/boxes/saved.ts';
import type { Breakpoint } from '$core/css/breakpoints.ts';
import type { InUse } from '$core/css/inuse.ts';
import type { Source } from '$core/css/styles.ts';
import type { Quantity } from '$core/search/symptom.ts';
import { laidAt, type Edit } from '$core/trials/edit.ts';
import type { Moved } from '$core/trials/moved.ts';
import { openFrame, type Frame } from '$station/frame.ts';
import { readFramed, type FramedResult } from '$station/framed.ts';
import { survey, takeReading } from '$station/survey.ts';
import * as Comlink from 'comlink';
import Flatbush from 'flatbush';
import { z } from 'zod';
import { bareAddress, frameAddress, frameBase } from '../frames.ts';
import { profilesOf } from '../defaults/defaults.ts';
import { done, wrong } from '../notices/notices.svelte.ts';
import { idSchema, okSchema, send } from '../send.ts';
import type { Analyst, SheetFact, Taken } from './analyst.worker.ts';
import AnalystWorker from './analyst.worker.ts?worker';
import type { Edge } from './measuring.ts';
import { recallPins, storePins, type Pinned } from './pins.ts';
import type { Sort } from './sorts.ts';
import { createFinder } from './finder.svelte.ts';
import type { Outlines } from './view.ts';
import { createWearing } from './wearing.ts';
import { createLab, keyFor, sourcesOf, type Against } from './lab.ts';

export interface BenchInput {
  id: string;
  name: string;
  host: string;
  key: string;
  page: string;
  /** Whether other default styles lie under it, and the key of the revision without them. */
  isUnder: boolean;
  /** Their name. */
  defaults: string;
  plainKey: string;
  scripts: 'hold' | 'run';
  revision: number;
  /** Earlier revisions of its files, the newest first. */
  earlier: { number: number; key: string }[];
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

const MIN_WIDTH = 120;
const MAX_WIDTH = 3840;

export type Bench = ReturnType<typeof createBench>;

export function createBench(input: BenchInput, start: Place) {
  const worker = new AnalystWorker();
  const analyst = Comlink.wrap<Analyst>(worker);
  let frame: Frame | null = null;
  let holders: { page: HTMLElement; bare: HTMLElement } | null = null;
  let texts: Record<string, string> = {};
  let hits: HitIndex | null = null;
  const bares = new Map<string, Promise<Frame>>();
  let stop = new AbortController();
  let measuring: Promise<void> | null = null;
  let again = false;
  let choosing: Promise<void> = Promise.resolve();
  let nextPin = 1;

  let width = $state(start.width);
  let height = $state(start.height);
  let status = $state<'opening' | 'measuring' | 'ready' | 'failed'>('opening');
  let failure = $state('');
  let waited = $state<string[]>([]);
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
  let hovered = $state(-1);
  let pick = $state(-1);
  let account = $state.raw<BoxAccount | null>(null);
  let properties = $state.raw<PropertyAccount[]>([]);
  let pseudos = $state.raw<PseudoAccount[]>([]);
  let lit = $state.raw<number[]>([]);
  let sort = $state<Sort>('none');
  let explained = $state.raw<{ account: DistanceAccount; base: number } | null>(null);
  let explaining: Pick<Pinned, 'from' | 'to'> | null = null;
  let hatched = $state(false);
  /** What else is drawn of the pick: its containing block. */
  let shown = $state<'block' | null>(null);
  let measure = $state(false);
  let from = $state.raw<Edge | null>(null);
  let toward = $state.raw<Edge | null>(null);
  let pinned = $state.raw<Pinned[]>([]);
  let areas = $state.raw<Map<number, Areas>>(new Map());
  let saved = $state<{ id: string; takenAt: string; note: string } | null>(null);
  let scripts = $state(input.scripts);
  /** What is laid over the page, and which of it found nothing to change. */
  let edits: readonly Edit[] = [];
  let unlaid = $state.raw<{ edit: number; why: string }[]>([]);
  let moved = $state.raw<Moved | null>(null);
  /** Where each of the trials that are compared puts what it moves. */
  let outlines = $state.raw<Outlines[]>([]);
  let against = $state.raw<Against>({ kind: 'plain' });
  let defaults: Defaults = {};
  /** Whether scrollbars take no room, as on phones. */
  let areBarsOver = false;
  const isQuiet = (): boolean => scripts === 'hold' && !facts.queriesContainers;
  const wearing = createWearing({
    analyst,
    page: input.page,
    frame: () => frame!,
    defaults: () => defaults,
    size: () => ({ width, height }),
    isQuiet,
    reopen,
  });
  const lab = createLab({
    analyst,
    specimen: input.id,
    host: input.host,
    key: input.key,
    page: input.page,
    holder: () => holders!.bare,
    signal: () => stop.signal,
    size: () => ({ width, height }),
    areBarsOver: () => areBarsOver,
    trial: () => edits,
    edits: editsNow,
    engine: engineName,
    opened: () => wearing.opened,
    bare: bareAsker,
    plainKey: input.plainKey,
    isQuiet,
    against: () => against,
  });

  const finder = createFinder(analyst, lab.openProving, input.isUnder ? lookBeneath : null);

  /** A frame with an empty document of a mode, opened once. */
  function bareAsker(mode: 'standards' | 'quirks', isPlain = false): Promise<Frame> {
    const address = bareAddress(input.host, input.key, input.isUnder && !isPlain, mode);
    const known = bares.get(address);
    if (known) return known;
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
  async function open(where: { page: HTMLElement; bare: HTMLElement }): Promise<void> {
    holders = where;
    stop.abort();
    stop = new AbortController();
    const { signal } = stop;
    status = 'opening';
    failure = '';
    saved = null;
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
      frame = opened;
      if (areBarsOver) await frame.ask('bars', { areOver: true });
      wearing.reset();
      lab.reset();
      facts = await surveyPage(input.key, texts);
      if (edits.length > 0) await firstLook();
      await measureNow();
      restorePins();
      const drawing = await analyst.drawing();
      await send('PATCH', `/api/specimens/${input.id}`, okSchema, { drawing }, signal);
    } catch (error) {
      if (signal.aborted && status !== 'opening' && status !== 'measuring') return;
      fail(error);
    }
  }

  /** Asks the page what it is; `own`: the texts that it was opened with. */
  async function surveyPage(key: string, own: Record<string, string>): Promise<Facts> {
    const base = frameBase(input.host, key);
    const made = await survey(
      frame!,
      (described) => analyst.plan(0, input.page, own, described, base),
      bareAsker,
    );
    ({ defaults } = made);
    return analyst.settle(0, made.validity, defaults);
  }

  /** Opens the page in the place of the one at hand, with other texts of some of its files. */
  async function reopen(other: Record<string, string>): Promise<void> {
    const key = await keyFor(input.id, input.key, other);
    const { signal } = stop;
    const next = await openFrame(
      holders!.page,
      frameAddress(input.host, key, input.page),
      { width, height },
      signal,
    );
    frame?.close();
    frame = next;
    if (areBarsOver) await frame.ask('bars', { areOver: true });
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

  let known: readonly Edit[] = [];
  /** The edits that hold at the width at hand; the same list as long as they are the same. */
  function editsNow(): readonly Edit[] {
    const now = laidAt(edits, width, engineName());
    if (now.length !== known.length || now.some((edit, i) => edit !== known[i])) known = now;
    return known;
  }

  /** Lays edits over the page in the place of those before, and measures it. */
  function lay(next: readonly Edit[]): Promise<void> {
    edits = next;
    // What is being tried behind the page as it was is of no use any more, and takes its time from the new measurement.
    finder.stop();
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
  async function readFrames(own: RawReading): Promise<FramedResult> {
    const has = own.strings.some((text) => text === 'iframe' || text === 'frame');
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
    const worn = await wearing.wear(current);
    if (worn) unlaid = worn.failed;
    const isWorn = worn !== null && asked.width === width && asked.height === height;
    const first = isWorn ? worn.read : await takeReading(frame, asked, 'full');
    const taken = (await worn?.known) ? await takeReading(frame, asked, 'full') : first;
    const own = taken.reading as RawReading;
    const { framed, failed } = await readFrames(own);
    const taking = analyst.take(own, framed);
    // Where elements keep their numbers the account is asked for at once: what is drawn meanwhile does not hold it up.
    const keeps = framed.length === 0 && pick >= 0 && reading?.count === own.count;
    const early = keeps ? { pick, made: analyst.account(pick) } : null;
    // Where it fails the reading does, which is told.
    early?.made.catch(() => undefined);
    const made = await taking;
    if (signal.aborted) return;
    const raw = made.whole ?? own;
    // Elements are numbered anew by every reading: where there are others, the pick is found again by its path.
    const path = reading && pick >= 0 && reading.count !== raw.count ? pathOf(reading, pick) : start.pick;
    adopt(raw, made);
    if (path) pick = elementAt(raw, path);
    waited = [...taken.waited, ...failed];
    scroll = { x: raw.document.scrollX, y: raw.document.scrollY };
    saved = null;
    start.pick = '';
    await Promise.all([
      refreshAccount(early?.pick === pick ? early.made : undefined),
      refreshAreas(true),
      explain(explaining),
      analyst.viewports().then((said) => (viewports = said)),
    ]);
    await compareNow();
    status = 'ready';
    void finder.look().catch(wrong);
  }

  /** What is different from what the page is held against. */
  async function compareNow(): Promise<void> {
    await lab.measureBase();
    moved = editsNow().length > 0 || against.kind !== 'plain' ? await analyst.moved() : null;
  }

  /** Holds the page against something else. */
  async function holdAgainst(next: Against): Promise<void> {
    against = next;
    await measuring;
    await compareNow();
  }

  /** Measures again; calls while one is under way come to one more. */
  function remeasure(): Promise<void> {
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
    await measuring;
    await lab.renew();
    // By now it can have been changed again.
    if (await frame?.ask('bars', { areOver: areBarsOver })) await remeasure();
  }

  async function refreshAccount(early?: ReturnType<typeof analyst.account>): Promise<void> {
    if (pick < 0) {
      account = null;
      properties = [];
      pseudos = [];
      return;
    }
    const asked = pick;
    let made = await (early ?? analyst.account(asked));
    for (let round = 0; round < 3 && (await learn(made.wanting)); round++) made = await analyst.account(asked);
    if (asked !== pick) return;
    const show = () => {
      account = made.box;
      properties = made.properties;
      pseudos = made.pseudos;
    };
    show();
    // Content widths that were taken over from the last reading stand until the page has been asked again.
    if (!(await learn(await analyst.doubt())) || asked !== pick) return;
    made = await analyst.account(asked);
    for (let round = 0; round < 3 && (await learn(made.wanting)); round++) made = await analyst.account(asked);
    if (asked === pick) show();
  }

  /** Asks the page for the content widths that an account lacks. False: nothing was asked. */
  async function learn(batches: number[][]): Promise<boolean> {
    if (batches.length === 0 || !frame || saved) return false;
    await analyst.learn(await frame.ask('intrinsic', { batches }));
    return true;
  }

  /** Explains why two edges are as far apart as they are; null: nothing is explained any more. */
  async function explain(pin: Pick<Pinned, 'from' | 'to'> | null): Promise<void> {
    explaining = pin;
    if (!pin) {
      explained = null;
      return;
    }
    try {
      let made = await analyst.distance(pin.from, pin.to);
      for (let round = 0; round < 3 && made && (await learn(made.wanting)); round++)
        made = await analyst.distance(pin.from, pin.to);
      if (await learn(await analyst.doubt())) made = await analyst.distance(pin.from, pin.to);
      if (explaining !== pin) return;
      explained = made;
      if (!made)
        wrong(
          'These edges lie in different documents: the frame between them has no sum that goes through it.',
        );
    } catch (error) {
      wrong(error);
    }
  }

  /** Areas of the boxes that are drawn with theirs: the pick, measured edges, and the hovered one while measuring. */
  async function refreshAreas(anew = false): Promise<void> {
    const wanted = new Set([pick, ...pinned.flatMap((pin) => [pin.from.element, pin.to.element])]);
    if (from) wanted.add(from.element);
    if (toward) wanted.add(toward.element);
    if (measure) for (const element of around(hovered)) wanted.add(element);
    const list = [...wanted].filter((element) => element >= 0 && (anew || !areas.has(element)));
    if (list.length === 0) return;
    const made = await analyst.areas(list);
    const next = new Map(anew ? [] : areas);
    list.forEach((element, i) => next.set(element, made[i]!));
    areas = next;
  }

  /** A box and those that it lies in, the nearest first. */
  function around(element: number): number[] {
    const out: number[] = [];
    for (let at = element; reading && at >= 0 && out.length < 24; at = reading.parent[at]!) out.push(at);
    return out;
  }

  function choose(element: number): void {
    pick = element;
    lit = [];
    choosing = Promise.all([refreshAccount(), refreshAreas()]).then(() => undefined, wrong);
  }

  function walk(step: 'parent' | 'child' | 'next' | 'previous'): void {
    if (!reading) return;
    const { parent, count } = reading;
    if (pick < 0) return choose(Math.max(0, bodyOf(reading)));
    if (step === 'parent') {
      if (parent[pick]! >= 0) choose(parent[pick]!);
      return;
    }
    const above = step === 'child' ? pick : parent[pick]!;
    const siblings: number[] = [];
    for (let i = Math.max(0, above + 1); i < count; i++) if (parent[i] === above) siblings.push(i);
    if (step === 'child') return siblings[0] === undefined ? undefined : choose(siblings[0]);
    const at = siblings.indexOf(pick) + (step === 'next' ? 1 : -1);
    if (siblings[at] !== undefined) choose(siblings[at]);
  }

  function point(x: number, y: number): number {
    return hits ? hit(hits, x, y) : -1;
  }

  function hover(element: number): void {
    hovered = element;
    if (measure) void refreshAreas().catch(wrong);
  }

  async function find(selector: string): Promise<number[]> {
    // The page numbers its elements anew with every reading.
    await measuring;
    if (!frame) return [];
    const found = await frame.ask('find', { selector });
    lit = found;
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

  async function light(source: Source | null): Promise<void> {
    lit = source && source.origin !== 'browser' ? await analyst.reach(pick, source) : [];
  }

  function startMeasure(on: boolean): void {
    measure = on;
    from = null;
    toward = null;
    if (on) void refreshAreas().catch(wrong);
  }

  /** First edge, then the second, which pins the measurement. */
  function takeEdge(edge: Edge): void {
    if (!from) {
      from = edge;
      return;
    }
    pin(from, edge);
    from = null;
    toward = null;
  }

  function pin(a: Edge, b: Edge): void {
    const made = { id: nextPin++, from: a, to: b };
    pinned = [...pinned, made];
    keepPins();
    void explain(made);
    void refreshAreas().catch(wrong);
  }

  function unpin(id: number): void {
    pinned = pinned.filter((one) => one.id !== id);
    keepPins();
  }

  const pinsKey = `pinned:${input.id}:${input.page}`;
  const keepPins = (): void => {
    if (reading) storePins(pinsKey, reading, pinned);
  };
  async function restorePins(): Promise<void> {
    pinned = (await recallPins(pinsKey, (path) => analyst.elementAt(path))).map((one) => ({
      ...one,
      id: nextPin++,
    }));
    await refreshAreas();
  }

  async function save(note: string): Promise<void> {
    try {
      const body = await analyst.toStored();
      const path = reading && pick >= 0 ? pathOf(reading, pick) : '';
      await send('POST', `/api/specimens/${input.id}/readings`, idSchema, {
        ...body,
        page: input.page,
        note,
        pick: path,
        under: input.defaults,
      });
      done('The reading is saved with this specimen.');
    } catch (error) {
      wrong(error);
    }
  }

  /** Shows a saved reading in the place of the live one; the frame takes its viewport. */
  async function openSaved(id: string): Promise<void> {
    try {
      const {
        head,
        texts: then,
        body,
      } = await send(
        'GET',
        `/api/readings/${id}`,
        z.object({
          head: z.object({
            takenAt: z.string(),
            note: z.string(),
            pick: z.string(),
            page: z.string(),
            width: z.number(),
            height: z.number(),
          }),
          texts: z.record(z.string(), z.string()),
          body: savedBodySchema,
        }),
      );
      await measuring;
      width = head.width;
      height = head.height;
      frame?.resize(width, height);
      const { reading: raw, ...taken } = await analyst.open(head.page, then, body);
      adopt(raw, taken);
      pick = head.pick ? await analyst.elementAt(head.pick) : -1;
      await Promise.all([refreshAccount(), refreshAreas(true)]);
      saved = { id, takenAt: head.takenAt, note: head.note };
    } catch (error) {
      wrong(error);
    }
  }

  async function setScripts(mode: 'hold' | 'run'): Promise<void> {
    await send('PATCH', `/api/specimens/${input.id}`, okSchema, { scripts: mode });
    scripts = mode;
    if (holders) await open(holders);
  }

  return {
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
    get hovered() {
      return hovered;
    },
    get pick() {
      return pick;
    },
    get account() {
      return account;
    },
    get properties() {
      return properties;
    },
    get pseudos() {
      return pseudos;
    },
    get lit() {
      return lit;
    },
    get sort() {
      return sort;
    },
    set sort(next: Sort) {
      sort = next;
    },
    get shown() {
      return shown;
    },
    set shown(value) {
      shown = value;
    },
    get explained() {
      return explained;
    },
    get hatched() {
      return hatched;
    },
    set hatched(next: boolean) {
      hatched = next;
    },
    get measure() {
      return measure;
    },
    get from() {
      return from;
    },
    get toward() {
      return toward;
    },
    set toward(next: Edge | null) {
      toward = next;
    },
    get pinned() {
      return pinned;
    },
    get areas() {
      return areas;
    },
    get saved() {
      return saved;
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
    holdAgainst,
    finder,
    /** Findings that what the page is held against has and the page has not, and the other way round. */
    findingsMoved: () => analyst.findingsMoved(),
    why: async (index: number) => {
      const made = await analyst.why(index);
      return (await learn(await analyst.doubt())) ? analyst.why(index) : made;
    },
    lay,
    /** Resolves once what is under way has been measured. */
    settled: async () => {
      await measuring;
    },
    openLab: lab.openLab,
    compareAt: lab.compareAt,
    look: (quantity: Quantity) => analyst.look(quantity),
    quantityWords: (quantity: Quantity) => analyst.quantityWords(quantity),
    childrenOf: (elements: number[]) => analyst.childrenOf(elements),
    mutes: () => analyst.mutes(),
    target: (source: Source) => analyst.target(pick, source),
    editWords: (list: readonly Edit[]) => analyst.words([...list]),
    elementPath: (element: number) => analyst.elementPath(element),
    written: (list: readonly Edit[]) => analyst.written([...list], input.page),
    open,
    resize,
    layBars,
    remeasure,
    choose,
    /** Once the account of the pick is shown. */
    chosen: () => choosing,
    around,
    walk,
    point,
    hover,
    find,
    scrollBy,
    reveal,
    light,
    startMeasure,
    takeEdge,
    pin,
    unpin,
    explain,
    save,
    openSaved,
    setScripts,
    show: (elements: number[]) => {
      lit = elements;
    },
    text: (file: string) => texts[file],
    byName: (name: string) => analyst.byName(pick, name),
    reach: (source: Source) => analyst.reach(pick, source),
    stop: () => {
      stop.abort();
      fail(new Error('Stopped. Open the page again when you like.'));
    },
    close: () => {
      finder.stop();
      stop.abort();
      frame?.close();
      worker.terminate();
    },
  };
}

function bodyOf({ strings, tag, count }: RawReading): number {
  for (let i = 0; i < count; i++) if (strings[tag[i]!] === 'body') return i;
  return 0;
}
