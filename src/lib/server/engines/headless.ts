/** Pages measured without the application: a station in a headless engine, its specimens served from memory. */
import { build } from 'esbuild';
import { randomBytes } from 'node:crypto';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import type { Requests, Verb } from '../../../collector/protocol.ts';
import {
  analyse,
  intrinsicBatches,
  learn,
  readAgain,
  readSources,
  type Analysis,
  type Sources,
} from '../../../core/analysis.ts';
import { readingSchema } from '../../../core/boxes/reading.ts';
import type { Station } from '../../../station/page.ts';
import { dressing, isStructural, makeTailor, sameTexts } from '../../../core/trials/dressing.ts';
import { laidAt, type Edit } from '../../../core/trials/edit.ts';
import { overlay, type Overlay } from '../../../core/trials/overlay.ts';
import { survey, takeReading, type Asker, type Survey } from '../../../station/survey.ts';
import { passDoor } from '../door.ts';
import { serveBare, serveFrame } from '../frames/serve.ts';
import { withText, type StoredFile } from '../ingest/files.ts';
import { ROOT } from '../root.ts';
import { launch } from './chromium.ts';
import { unpack } from './unpack.ts';
import { fromFiles, textsOf, type PageSource } from './source.ts';

export interface Headless {
  page: Page;
  /** Opens a page at a viewport. */
  openSource: (
    source: PageSource,
    size: { width: number; height: number },
    scripts?: 'hold' | 'run',
  ) => Promise<Opened>;
  /** The same for a page of a set of files. */
  open: (
    files: StoredFile[],
    entry: string,
    size: { width: number; height: number },
    scripts?: 'hold' | 'run',
  ) => Promise<Opened>;
  close: () => Promise<void>;
}

export interface Opened {
  address: string;
  ask: Asker['ask'];
  /** Lays edits over the page, in the place of those before. The page is opened anew where they change its elements. */
  lay: (edits: readonly Edit[]) => Promise<Overlay>;
  /** The source's own texts of pages and style sheets, by path. */
  texts: () => Promise<Record<string, string>>;
  /**
   * A full reading at the size at hand, reasoned about. `isSteady`: nothing but the width is another than last time, and
   * only what is laid out depends on it.
   */
  measure: (isSteady?: boolean) => Promise<Analysis>;
  /** Runs what asks accounts, and again with the content widths that these lacked. */
  complete: <T>(analysis: Analysis, run: () => T) => Promise<T>;
  resize: (size: { width: number; height: number }) => Promise<void>;
  /** What an expression comes to in the page itself, with `e` the element at a path: for tests that take the engine's word. */
  evaluate: (path: string, expression: string) => Promise<number>;
  close: () => Promise<void>;
}

type Kept = PageSource & { scripts: 'hold' | 'run' };

/** A page as it stands in a frame of the station. */
interface Standing {
  key: string;
  base: string;
  address: string;
  frame: number;
  ask: Asker['ask'];
  /** Texts that it was opened with in the place of the source's own. */
  texts: Readonly<Record<string, string>>;
  known: Known | null;
}

interface Known extends Survey {
  texts: Record<string, string>;
  sources: Sources;
  last: Analysis | null;
  tailor: ReturnType<typeof makeTailor> | null;
}

/** The source's own texts of files that were opened with others. */
const plainOf = (
  plain: Record<string, string>,
  opened: Readonly<Record<string, string>>,
): Record<string, string> => Object.fromEntries(Object.keys(opened).map((file) => [file, plain[file] ?? '']));

async function listen(specimens: Map<string, Kept>): Promise<{ server: Server; port: number }> {
  const handle = async (req: IncomingMessage, res: ServerResponse): Promise<void> => {
    if (passDoor(req, res, { hosts: [] })) return;
    const host = req.headers.host ?? '';
    const framed = /^\/frame\/(\w+)\/([^?#]*)/.exec(req.url ?? '');
    if (!framed) {
      res
        .writeHead(200, { 'content-type': 'text/html; charset=utf-8' })
        .end('<!doctype html><title>Station</title><body style="margin:0">');
      return;
    }
    const [, key = '', path = ''] = framed;
    const kept = specimens.get(key);
    const answer =
      key === 'bare' || !kept
        ? await serveBare(host, path)
        : await serveFrame(host, key, decodeURIComponent(path), kept);
    res.writeHead(answer.status, answer.headers).end(answer.body);
  };
  const server = createServer((req, res) => {
    handle(req, res).catch((error: unknown) => {
      res.writeHead(500).end(error instanceof Error ? error.message : String(error));
    });
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return { server, port: (server.address() as AddressInfo).port };
}

async function stationScript(): Promise<string> {
  const { outputFiles } = await build({
    entryPoints: [join(ROOT, 'src/station/page.ts')],
    bundle: true,
    write: false,
    format: 'iife',
    target: 'es2022',
    tsconfigRaw: {},
  });
  return outputFiles[0]!.text;
}

export async function openHeadless(): Promise<Headless> {
  const specimens = new Map<string, Kept>();
  const [{ server, port }, script, browser] = await Promise.all([listen(specimens), stationScript(), launch()]);
  const page = await browser.newPage({ viewport: { width: 1400, height: 1000 } });
  await page.goto(`http://127.0.0.1:${port}/`);
  await page.addScriptTag({ content: script });
  const openAt = (address: string, size: { width: number; height: number }): Promise<number> =>
    page.evaluate(
      ([to, width, height]) => (window as unknown as { station: Station }).station.open(to, width, height),
      [address, size.width, size.height] as const,
    );
  const askOf =
    (frame: number): Asker['ask'] =>
    async <V extends Verb>(verb: V, ask: Requests[V]['ask']) =>
      unpack(
        await page.evaluate(
          ([id, name, asked]) =>
            (window as unknown as { station: Station }).station.askPacked(id, name as Verb, asked as never),
          [frame, verb, ask] as const,
        ),
      ) as Requests[V]['reply'];
  const shut = (frame: number): Promise<void> =>
    page.evaluate((id) => (window as unknown as { station: Station }).station.close(id), frame);
  const bareFrames = new Map<string, Promise<Asker>>();
  const bare = (mode: string): Promise<Asker> => {
    const known =
      bareFrames.get(mode) ??
      openAt(`http://bare.localhost:${port}/${mode}.html`, { width: 800, height: 600 }).then((frame) => ({
        ask: askOf(frame),
      }));
    bareFrames.set(mode, known);
    return known;
  };

  /** A page in a frame with the texts that it was opened with; `texts`: those that are not the source's own. */
  const openTexts = async (
    source: PageSource,
    texts: Readonly<Record<string, string>>,
    size: { width: number; height: number },
    scripts: 'hold' | 'run',
  ): Promise<Standing> => {
    const { entry } = source;
    const key = randomBytes(16).toString('hex');
    const file: PageSource['file'] = async (path) => {
      const own = await source.file(path);
      return own && withText(own, texts[own.path]);
    };
    specimens.set(key, { ...source, file, scripts });
    const base = `http://${key}.localhost:${port}/`;
    const address = base + entry.split('/').map(encodeURIComponent).join('/');
    const frame = await openAt(address, size);
    return { key, base, address, frame, ask: askOf(frame), texts, known: null };
  };

  /** Asks a page what it is, once. */
  const know = async (standing: Standing, source: PageSource): Promise<Known> => {
    if (standing.known) return standing.known;
    const { ask, base } = standing;
    let own: Record<string, string> = {};
    let sources: Sources | undefined;
    const surveyed = await survey(
      { ask },
      async (described) => {
        own = { ...(await textsOf(source, described, base)), ...standing.texts };
        sources = readSources(source.entry, own, described, base);
        return sources.plan.request;
      },
      bare,
    );
    standing.known = { ...surveyed, texts: own, sources: sources!, last: null, tailor: null };
    return standing.known;
  };

  const openSource: Headless['openSource'] = async (source, first, scripts = 'hold') => {
    const { entry } = source;
    let size = first;
    let standing = await openTexts(source, {}, first, scripts);
    /** The source's own texts, whatever is laid over them. */
    let plain: Record<string, string> | null = null;
    const measure: Opened['measure'] = async (isSteady = false) => {
      const known = await know(standing, source);
      plain ??= known.texts;
      if (isSteady) await standing.ask('settle', { ...size, ms: 5000 });
      const { reading } = await takeReading({ ask: standing.ask }, size, 'full', isSteady ? [] : null);
      known.last = analyse(known.sources, known.validity, known.defaults, readingSchema.parse(reading));
      return known.last;
    };
    const close = async (): Promise<void> => {
      specimens.delete(standing.key);
      await shut(standing.frame);
    };
    return {
      get address() {
        return standing.address;
      },
      ask: (verb, ask) => standing.ask(verb, ask),
      measure: (isSteady) => measure(isSteady),
      texts: async () => {
        if (!plain) await measure();
        return plain!;
      },
      lay: async (edits) => {
        if (!plain) await measure();
        const on = laidAt(edits, size.width, 'chromium');
        const whole = overlay(plain!, on, entry);
        let opened = overlay(plain!, on.filter(isStructural), entry).texts;
        const reopen = async (): Promise<void> => {
          const next = await openTexts(source, opened, size, scripts);
          await close();
          standing = next;
          await measure();
        };
        if (!sameTexts(opened, standing.texts)) await reopen();
        const dress = async (): Promise<boolean> => {
          const known = standing.known!;
          const loaded = {
            page: entry,
            texts: { ...plain!, ...standing.texts },
            described: known.described,
            frameBase: standing.base,
            sources: known.last!.styles.sources,
          };
          const made = dressing(loaded, {
            ...standing.texts,
            ...plainOf(plain!, standing.texts),
            ...whole.texts,
          });
          if (!made) return false;
          known.tailor ??= makeTailor(known.described);
          if (!(await standing.ask('dress', known.tailor(made, false))))
            await standing.ask('dress', known.tailor(made, true));
          const texts = { ...plain!, ...whole.texts };
          const html = standing.texts[entry] ?? plain![entry] ?? '';
          known.sources = readAgain(known.sources, html, texts, known.described, standing.base);
          known.validity = await standing.ask('plan', known.sources.plan.request);
          return true;
        };
        if (!(await dress())) {
          opened = whole.texts;
          await reopen();
        }
        return whole;
      },
      evaluate: async (path, expression) => {
        const frame = page.frames().find((one) => one.url() === standing.address);
        if (!frame) throw new Error('The page is not open any more.');
        return frame.evaluate(
          `(() => { const e = document.querySelector(${JSON.stringify(path)}); return Number(${expression}); })()`,
        );
      },
      complete: async (analysis, run) => {
        // What is learned can show that more is wanted; three rounds settle all that was met.
        for (let round = 0; round < 3; round++) {
          const made = run();
          if (analysis.wanting.size === 0) return made;
          learn(analysis, await standing.ask('intrinsic', { batches: intrinsicBatches(analysis) }));
        }
        return run();
      },
      resize: async (wanted) => {
        size = wanted;
        await page.evaluate(
          ([id, width, height]) =>
            (window as unknown as { station: Station }).station.resize(id, width, height),
          [standing.frame, wanted.width, wanted.height] as const,
        );
      },
      close,
    };
  };
  return {
    page,
    openSource,
    open: (files, entry, size, scripts) => openSource(fromFiles(files, entry), size, scripts),
    close: async () => {
      await browser.close();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
    },
  };
}
