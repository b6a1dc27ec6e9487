/** Pages measured without the application: a station in a headless engine, its specimens served from memory. */
import { randomBytes } from 'node:crypto';
import type { Page } from 'playwright-core';
import { FRAME_HOST, type Requests, type Verb } from '../../../protocol/protocol.ts';
import {
  analyse,
  retryWithSizes,
  readAgain,
  readSources,
  type Analysis,
  type Sources,
} from '../../../core/analysis.ts';
import type { Mode, Profile } from '../../../core/css/defaults/profile.ts';
import { asksTheSame } from '../../../core/css/cascade/plan.ts';
import { makeSupportCache, type SupportCache } from '../../../core/css/cascade/support-cache.ts';
import { layeredBoth, underlays } from '../../../core/css/defaults/underlay.ts';
import { readingSchema, type Changed, type Described } from '../../../core/reading/reading.ts';
import type { Station } from '../../../station/page.ts';
import { createSession, type Port, type Reasoner } from '../../../station/session.ts';
import { documentPatch, isStructural, makePatcher, sameTexts } from '../../../core/trials/document-patch.ts';
import { laidAt, type Edit } from '../../../core/trials/edit.ts';
import { overlay, type Overlay } from '../../../core/trials/overlay.ts';
import { asked, survey, takeReading, type Asker, type Survey } from '../../../station/survey.ts';
import type { Underlays } from '../frames/overlays.ts';
import { withText, type StoredFile } from '../ingest/files.ts';
import { measureProfile } from './atlas.ts';
import { driverOf } from './drivers/index.ts';
import { serveStation } from './serving.ts';
import { makeDeltaDecoder } from '../../../protocol/delta-decoder.ts';
import { fromFiles, textsOf, type PageSource } from './source.ts';

export interface Headless {
  /** The name that it was asked for by. */
  engine: string;
  /** Playwright's page of the station. Throws where the engine is not Chromium. */
  page: Page;
  /** Opens a page at a viewport. `areBarsOver`: its scrollbars take no room, as on phones. */
  openSource: (
    source: PageSource,
    size: { width: number; height: number },
    scripts?: 'hold' | 'run',
    defaults?: OtherDefaults | null,
    areBarsOver?: boolean,
  ) => Promise<Opened>;
  version: () => Promise<{ version: string }>;
  /** Its version as its driver has it, device px to a CSS px, and the CSS px that a scrollbar takes. */
  display: () => Promise<{ version: string; ratio: number; scrollbar: number }>;
  /** Every property that the engine lists, with its value on an empty root element. */
  initialValues: () => Promise<[property: string, value: string][]>;
  /** Whether it takes each of these declarations. */
  supports: (declarations: readonly (readonly [property: string, value: string])[]) => Promise<boolean[]>;
  /** A frame with an empty document of a mode, with a style sheet laid under it. */
  bare: (mode: Mode, underlay?: Underlays | null) => Promise<Asker>;
  /** What the engine gives every element by itself. */
  profile: () => Promise<Profile>;
  /** What it gives with a style sheet of somebody's own as the lowest layer. */
  profileOf: (css: string, title: string) => Promise<Profile>;
  /** The same for a page of a set of files. */
  open: (
    files: StoredFile[],
    entry: string,
    size: { width: number; height: number },
    scripts?: 'hold' | 'run',
    defaults?: OtherDefaults | null,
  ) => Promise<Opened>;
  close: () => Promise<void>;
}

/** Defaults that are laid under a page: a profile, or a style sheet of somebody's own. */
export type OtherDefaults = Profile | { css: string };

export interface Opened {
  /** The name of the engine that it is open in, as it was asked for. */
  engine: string;
  address: string;
  /** Its number in the station. */
  frame: number;
  /** Whether its scripts are held. */
  areScriptsHeld: boolean;
  ask: Asker['ask'];
  /**
   * Lays edits over the page, in the place of those before. The page is opened anew where they change its elements. `failed`:
   * those that found nothing to change, by their index.
   */
  lay: (edits: readonly Edit[]) => Promise<Pick<Overlay, 'failed'>>;
  /** The source's own texts of pages and style sheets, by path. */
  texts: () => Promise<Record<string, string>>;
  /** A full reading at the size at hand, reasoned about. */
  measure: () => Promise<Analysis>;
  /**
   * The same at another size. `changed`: what depends on it besides layout (`varying`), where nothing else is another than
   * last time but edits; null: anything may be.
   */
  measureAt: (size: { width: number; height: number }, changed: Changed | null) => Promise<Analysis>;
  /** Runs what asks accounts, and again with the content widths that these lacked. */
  complete: <T>(analysis: Analysis, run: () => T) => Promise<T>;
  resize: (size: { width: number; height: number }) => Promise<void>;
  /** What an expression comes to in the page itself, with `e` the element at a path: for tests that take the engine's word. */
  evaluate: (path: string, expression: string) => Promise<number>;
  close: () => Promise<void>;
}

/** A page as it stands in a frame of the station. */
interface Standing {
  key: string;
  base: string;
  address: string;
  frame: number;
  ask: Asker['ask'];
  /** A full reading at a size of the viewport, in one go. */
  readAt: (size: { width: number; height: number }, changed: Changed | null) => Promise<unknown>;
  /** The style sheet of other defaults that lies under it. */
  underlay: Underlays | null;
  /** Texts that it was opened with in the place of the source's own. */
  texts: Readonly<Record<string, string>>;
  prepared: Known | null;
}

interface Known extends Survey {
  texts: Record<string, string>;
  sources: Sources;
  last: Analysis | null;
  taken: SupportCache;
  patcher: ReturnType<typeof makePatcher> | null;
}

/** The source's own texts of files that were opened with others. */
const plainOf = (
  plain: Record<string, string>,
  opened: Readonly<Record<string, string>>,
): Record<string, string> => Object.fromEntries(Object.keys(opened).map((file) => [file, plain[file] ?? '']));

export interface HeadlessOptions {
  /** Whether pages lie in a document that holds them (`FRAME_HOST`), or in the station's own, where they are painted. */
  isHeld?: boolean;
  /** `chromium`, `firefox`, `webkit`, or the name of a WebDriver endpoint. */
  engine?: string;
}

/** Starts an engine with a station in it. Throws NoEngine where it cannot be had. */
export async function openHeadless({
  isHeld = true,
  engine = 'chromium',
}: HeadlessOptions = {}): Promise<Headless> {
  const starting = driverOf(engine).open();
  // Where the engine cannot be had, nothing is served either.
  const [serving, page] = await Promise.all([serveStation(), starting]).catch(async (error: unknown) => {
    await starting.then(({ close }) => close()).catch(() => undefined);
    throw error;
  });
  const { port, script, specimens, bare: bareAddress, close: closeServer } = serving;
  await page.goto(`http://127.0.0.1:${port}/`);
  await page.addScript(script);
  const playwrightPage = (): Page => {
    if (!page.playwright) throw new Error(`${engine} is not driven by Playwright: no page of it can be had.`);
    return page.playwright;
  };
  const openAt = (
    address: string,
    size: { width: number; height: number },
    holder: string | null = null,
  ): Promise<number> =>
    page.evaluate(
      ([to, width, height, held]) =>
        (window as unknown as { station: Station }).station.open(to, width, height, held),
      [address, size.width, size.height, holder] as const,
    );
  const askOf = (frame: number): Pick<Standing, 'ask' | 'readAt'> => {
    // Readings are of the same elements time after time; what else is asked is told as it is.
    const readings = makeDeltaDecoder();
    return {
      ask: async <V extends Verb>(verb: V, ask: Requests[V]['ask']) => {
        // As text, since what is handed on as it is gets looked at piece by piece on its way.
        const text = await page.evaluate(
          ([id, name, packed, last]) => {
            const { station } = window as unknown as { station: Station };
            return name === 'read'
              ? station.read(id, packed, last)
              : station.askPacked(id, name as Verb, packed);
          },
          [frame, verb, JSON.stringify(ask), readings.since()] as const,
        );
        return (verb === 'read' ? readings : makeDeltaDecoder()).unpack(text) as Requests[V]['reply'];
      },
      readAt: async (size, changed) => {
        const text = await page.evaluate(
          ([id, { width, height }, ask, last]) =>
            (window as unknown as { station: Station }).station.readAt(id, width, height, ask, last),
          [
            frame,
            size,
            JSON.stringify({ ...asked('full', changed), isResized: true }),
            readings.since(),
          ] as const,
        );
        return readings.unpack(text);
      },
    };
  };
  const shut = (frame: number): Promise<void> =>
    page.evaluate((id) => (window as unknown as { station: Station }).station.close(id), frame);
  const bareFrames = new Map<string, Promise<Asker>>();
  const bare = (mode: Mode, under: Underlays | null = null): Promise<Asker> => {
    const name = `${mode} ${under?.[mode] ?? ''}`;
    const previous =
      bareFrames.get(name) ?? openAt(bareAddress(mode, under), { width: 800, height: 600 }).then(askOf);
    bareFrames.set(name, previous);
    return previous;
  };

  const defaultsByMode = new Map<string, Promise<unknown>>();
  /** What an empty document says, which is the same each time. */
  const bareSays = <V extends Verb>(
    mode: Mode,
    under: Underlays | null,
    verb: V,
    ask: Requests[V]['ask'],
  ): Promise<Requests[V]['reply']> => {
    const name = JSON.stringify([mode, under?.[mode], verb, ask]);
    const previous = defaultsByMode.get(name) ?? bare(mode, under).then((asker) => asker.ask(verb, ask));
    defaultsByMode.set(name, previous);
    return previous as Promise<Requests[V]['reply']>;
  };

  let lastRead: { texts: Record<string, string>; described: string; sources: Sources } | null = null;
  /** A page in several frames says the same of itself in each, but for the address that it has there. */
  const sourcesOf = (
    entry: string,
    texts: Record<string, string>,
    described: Described,
    base: string,
  ): Sources => {
    const text = JSON.stringify({ ...described, entry }).replaceAll(base, '');
    if (lastRead?.described === text && sameTexts(lastRead.texts, texts)) return lastRead.sources;
    const sources = readSources(entry, texts, described, base);
    lastRead = { texts, described: text, sources };
    return sources;
  };

  /** A page in a frame with the texts that it was opened with; `texts`: those that are not the source's own. */
  const openTexts = async (
    source: PageSource,
    texts: Readonly<Record<string, string>>,
    size: { width: number; height: number },
    scripts: 'hold' | 'run',
    underlay: Underlays | null,
    areBarsOver: boolean,
  ): Promise<Standing> => {
    const { entry } = source;
    const key = randomBytes(16).toString('hex');
    const file: PageSource['file'] = async (path, target) => {
      const file = await source.file(path, target);
      return file && withText(file, Object.hasOwn(texts, file.path) ? texts[file.path] : undefined);
    };
    specimens.set(key, { ...source, file, scripts, underlay });
    const base = `http://${key}.localhost:${port}/`;
    const address = base + (source.target ?? entry.split('/').map(encodeURIComponent).join('/'));
    const frame = await openAt(address, size, isHeld ? base + FRAME_HOST : null);
    const askers = askOf(frame);
    if (areBarsOver) await askers.ask('setScrollbars', { areOver: true });
    return {
      key,
      base,
      address,
      frame,
      ...askers,
      texts,
      underlay,
      prepared: null,
    };
  };

  /** Asks a page what it is, once. */
  const know = async (standing: Standing, source: PageSource): Promise<Known> => {
    if (standing.prepared) return standing.prepared;
    const { ask, base } = standing;
    let plainTexts: Record<string, string> = {};
    let sources: Sources | undefined;
    const surveyed = await survey(
      { ask },
      async (described) => {
        plainTexts = { ...(await textsOf(source, described, base)), ...standing.texts };
        sources = sourcesOf(source.entry, plainTexts, described, base);
        return sources.plan.request;
      },
      async (mode) => ({ ask: (verb, ask) => bareSays(mode, standing.underlay, verb, ask) }),
    );
    const taken = makeSupportCache();
    taken.learn(sources!.plan.request.declarations, surveyed.validity.declarations);
    standing.prepared = { ...surveyed, texts: plainTexts, sources: sources!, last: null, taken, patcher: null };
    return standing.prepared;
  };

  const profiles = new Map<string, Promise<Profile>>();
  const profile: Headless['profile'] = () => {
    const result =
      profiles.get('own') ??
      measureProfile(async (mode, ask) => (await bare(mode)).ask('defaults', ask), {
        name: 'own',
        title: 'This engine',
      });
    profiles.set('own', result);
    return result;
  };

  const openSource: Headless['openSource'] = async (
    source,
    first,
    scripts = 'hold',
    defaults = null,
    areBarsOver = false,
  ) => {
    const { entry } = source;
    let size = first;
    const under =
      defaults && ('css' in defaults ? layeredBoth(defaults.css) : underlays(await profile(), defaults));
    // Nearly all pages are in this mode, and the empty document is asked for as soon as one says so: who asks hears why there
    // is none.
    bare('standards', under).catch(() => undefined);
    let standing = await openTexts(source, {}, first, scripts, under, areBarsOver);
    /** The source's own texts, whatever is laid over them. */
    let plain: Record<string, string> | null = null;
    const reason = (previous: Known, reading: unknown): Analysis => {
      const { sources, validity, defaults, last } = previous;
      previous.last = analyse(sources, validity, defaults, readingSchema.parse(reading), last);
      return previous.last;
    };
    /** What the core makes of the page that stands, for its session. */
    let lastOverlay: { edits: readonly Edit[]; laid: Overlay } | null = null;
    const overlayOf = (edits: readonly Edit[]): Overlay => {
      if (lastOverlay?.edits !== edits) lastOverlay = { edits, laid: overlay(plain!, edits, entry) };
      return lastOverlay.laid;
    };
    const reasoner: Reasoner<void> = {
      structural: (edits) => overlay(plain!, edits.filter(isStructural), entry).texts,
      patch: (opened, edits, isWhole) => {
        const { described, sources, last, ...previous } = standing.prepared!;
        const { failed, texts } = overlayOf(edits);
        const result = documentPatch(
          {
            page: entry,
            texts: { ...plain!, ...opened },
            described,
            frameBase: standing.base,
            sources: last!.styles.sources,
          },
          { ...opened, ...plainOf(plain!, opened), ...texts },
        );
        const patcher = (standing.prepared!.patcher = previous.patcher ?? makePatcher(described));
        return { patch: result && patcher(result, isWhole), failed, texts };
      },
      replan: (edits) => {
        const previous = standing.prepared!;
        const texts = { ...plain!, ...overlayOf(edits).texts };
        const html = standing.texts[entry] ?? plain![entry] ?? '';
        const before = previous.sources.plan.request;
        previous.sources = readAgain(previous.sources, html, texts, previous.described, standing.base);
        const { request } = previous.sources.plan;
        return asksTheSame(before, request)
          ? { request: null, unknown: previous.taken.unknown(request) }
          : { request, unknown: [] };
      },
      planned: ({ declarations }, validity) => {
        const previous = standing.prepared!;
        previous.validity = validity;
        previous.taken.learn(declarations, validity.declarations);
      },
      learned: (unknown, answers) => {
        const previous = standing.prepared!;
        previous.taken.learn(unknown, answers);
        previous.validity = previous.taken.validity(previous.sources.plan.request, previous.validity.supports);
      },
    };
    const port: Port = {
      ask: (verb, ask) => standing.ask(verb, ask),
      supports: (declarations) =>
        page.evaluate((pairs) => pairs.map(([name, value]) => CSS.supports(name, value)), declarations),
    };
    const session = createSession({
      reasoner,
      port: () => port,
      size: () => size,
      isQuiet: () => scripts === 'hold' && standing.prepared!.sources.plan.request.containers.length === 0,
      reopen: async (texts) => {
        const next = await openTexts(source, texts, size, scripts, under, areBarsOver);
        await close();
        standing = next;
        // What is laid over it is worked out from its elements as they are read.
        const previous = await know(standing, source);
        reason(previous, (await takeReading(port, size, 'full')).reading);
      },
    });
    const measure: Opened['measure'] = async () => {
      const previous = await know(standing, source);
      plain ??= previous.texts;
      return reason(previous, (await session.read()).reading);
    };
    const resize: Opened['resize'] = async (wanted) => {
      size = wanted;
      await page.evaluate(
        ([id, width, height]) => (window as unknown as { station: Station }).station.resize(id, width, height),
        [standing.frame, wanted.width, wanted.height] as const,
      );
    };
    const close = async (): Promise<void> => {
      specimens.delete(standing.key);
      await shut(standing.frame);
    };
    return {
      engine,
      get address() {
        return standing.address;
      },
      get frame() {
        return standing.frame;
      },
      areScriptsHeld: scripts === 'hold',
      ask: (verb, ask) => standing.ask(verb, ask),
      measure,
      measureAt: async (wanted, changed) => {
        if (!changed || !session.isRead) {
          await resize(wanted);
          return measure();
        }
        const previous = await know(standing, source);
        size = wanted;
        const reading = await standing.readAt(wanted, changed);
        session.wasRead(wanted);
        return reason(previous, reading);
      },
      texts: async () => {
        if (!plain) await measure();
        return plain!;
      },
      lay: async (edits) => {
        if (!plain) await measure();
        const { failed } = (await session.lay(
          laidAt(edits, size.width, standing.prepared!.described.engine.name),
        ))!;
        return { failed };
      },
      evaluate: async (path, expression) => {
        const frame = playwrightPage()
          .frames()
          .find((frame) => frame.url() === standing.address);
        if (!frame) throw new Error('The page is not open any more.');
        return frame.evaluate(
          `(() => { const e = document.querySelector(${JSON.stringify(path)}); return Number(${expression}); })()`,
        );
      },
      complete: (analysis, run) =>
        retryWithSizes(analysis, (batches) => standing.ask('intrinsicSizes', { batches }), run),
      resize,
      close,
    };
  };
  return {
    engine,
    get page() {
      return playwrightPage();
    },
    openSource,
    profile,
    profileOf: (css, title) =>
      measureProfile(async (mode, ask) => (await bare(mode, layeredBoth(css))).ask('defaults', ask), {
        name: title,
        title,
      }),
    bare,
    version: async () => {
      const { engine: described } = await (await bare('standards')).ask('describe', null);
      return { version: described.version };
    },
    initialValues: () =>
      page.evaluate(() => {
        const style = getComputedStyle(document.documentElement);
        return Array.from(style, (name): [string, string] => [name, style.getPropertyValue(name)]).filter(
          ([name, value]) => value !== '' && !name.startsWith('--'),
        );
      }, null),
    supports: (declarations) =>
      page.evaluate((pairs) => pairs.map(([name, value]) => CSS.supports(name, value)), declarations),
    display: async () => ({
      version: page.version,
      ...(await page.evaluate(() => {
        const box = document.body.appendChild(document.createElement('div'));
        box.style.cssText = 'position:absolute;width:100px;height:100px;overflow:scroll;visibility:hidden';
        const scrollbar = box.offsetWidth - box.clientWidth;
        box.remove();
        return { ratio: devicePixelRatio, scrollbar };
      }, null)),
    }),
    open: (files, entry, size, scripts, defaults) =>
      openSource(fromFiles(files, entry), size, scripts, defaults),
    close: async () => {
      await page.close();
      await closeServer();
    },
  };
}

/** What an engine gives every element. `underlay`: style sheets that are laid under its empty documents. Throws NoEngine. */
export async function measureEngine(
  engine: string,
  named: { name: string; title: string; made?: string },
  underlay: Underlays | null = null,
): Promise<Profile> {
  const headless = await openHeadless({ engine });
  try {
    const { version } = await headless.version();
    return await measureProfile(
      async (mode, ask) => (await headless.bare(mode, underlay)).ask('defaults', ask),
      { ...named, engine: { name: engine, version } },
    );
  } finally {
    await headless.close();
  }
}
