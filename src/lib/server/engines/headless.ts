/** Pages measured without the application: a station in a headless engine, its specimens served from memory. */
import { build } from 'esbuild';
import { randomBytes } from 'node:crypto';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import type { Requests, Verb } from '../../../collector/protocol.ts';
import { analyse, intrinsicBatches, learn, readSources, type Analysis } from '../../../core/analysis.ts';
import { readingSchema } from '../../../core/boxes/reading.ts';
import type { Station } from '../../../station/page.ts';
import { survey, takeReading, type Asker } from '../../../station/survey.ts';
import { passDoor } from '../door.ts';
import { serveBare, serveFrame } from '../frames/serve.ts';
import type { StoredFile } from '../ingest/files.ts';
import { ROOT } from '../root.ts';
import { launch } from './chromium.ts';
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
  /** A full reading at the size at hand, reasoned about. */
  measure: () => Promise<Analysis>;
  /** Runs what asks accounts, and again with the content widths that these lacked. */
  complete: <T>(analysis: Analysis, run: () => T) => Promise<T>;
  resize: (size: { width: number; height: number }) => Promise<void>;
  close: () => Promise<void>;
}

type Kept = PageSource & { scripts: 'hold' | 'run' };

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
    <V extends Verb>(verb: V, ask: Requests[V]['ask']) =>
      page.evaluate(
        ([id, name, asked]) =>
          (window as unknown as { station: Station }).station.ask(id, name as Verb, asked as never),
        [frame, verb, ask] as const,
      ) as Promise<Requests[V]['reply']>;
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

  const openSource: Headless['openSource'] = async (source, first, scripts = 'hold') => {
    const { entry } = source;
    const key = randomBytes(16).toString('hex');
    specimens.set(key, { ...source, scripts });
    const base = `http://${key}.localhost:${port}/`;
    const address = base + entry.split('/').map(encodeURIComponent).join('/');
    const frame = await openAt(address, first);
    const ask = askOf(frame);
    let size = first;
    let known:
      { sources: ReturnType<typeof readSources>; surveyed: Awaited<ReturnType<typeof survey>> } | undefined;
    return {
      address,
      ask,
      measure: async () => {
        if (!known) {
          let sources: ReturnType<typeof readSources> | undefined;
          const surveyed = await survey(
            { ask },
            async (described) => {
              const texts = await textsOf(source, described, base);
              sources = readSources(entry, texts, described, base);
              return sources.plan.request;
            },
            bare,
          );
          known = { sources: sources!, surveyed };
        }
        const { reading } = await takeReading({ ask }, size, 'full');
        return analyse(
          known.sources,
          known.surveyed.validity,
          known.surveyed.defaults,
          readingSchema.parse(reading),
        );
      },
      complete: async (analysis, run) => {
        // What is learned can show that more is wanted; three rounds settle all that was met.
        for (let round = 0; round < 3; round++) {
          const made = run();
          if (analysis.wanting.size === 0) return made;
          learn(analysis, await ask('intrinsic', { batches: intrinsicBatches(analysis) }));
        }
        return run();
      },
      resize: async (wanted) => {
        size = wanted;
        await page.evaluate(
          ([id, width, height]) =>
            (window as unknown as { station: Station }).station.resize(id, width, height),
          [frame, wanted.width, wanted.height] as const,
        );
      },
      close: async () => {
        specimens.delete(key);
        await shut(frame);
      },
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
