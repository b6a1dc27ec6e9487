/** A live page in an engine of the server: opened, waited for, frozen as often as it changes. */
import type { Browser, BrowserContext, Frame, Page, Response } from 'playwright-core';
import { FREEZE, STIRRED, type Frozen } from '../../../protocol/frozen.ts';
import { launch } from '../engines/drivers/chromium.ts';
import { freezeScript } from '../frames/collector.ts';
import type { SourceFile } from '../ingest/files.ts';
import { MAX_BYTES, MAX_FILES, megabytes } from '../ingest/limits.ts';
import { Refusal } from '../ingest/refusal.ts';
import { whenQuiet } from '../when-quiet.ts';
import { decodedText, documentFile, loadedFile, type FrozenDocument, type Loaded } from './assemble.ts';
import type { Cookie } from './cookies.ts';
import { hostOfAddress, openGate, type Gate } from './gate.ts';
import { makePlaces } from './places.ts';
import { doSteps } from './steps.ts';

export interface LiveInput {
  address: URL;
  width: number;
  height: number;
  /** Done in this order before each freeze of a page that was loaded anew. */
  steps: readonly string[];
  cookies: readonly Cookie[];
  /** Name and password that the page's own origin is told where it asks (RFC 7617). */
  credentials: { username: string; password: string } | null;
  /** Further hosts that may be reached wherever they lie. */
  also: readonly URL[];
}

export interface Captured {
  files: SourceFile[];
  /** Path of the page. */
  entry: string;
  /** What is not in it, in sentences. */
  left: string[];
  /** The address that the page had in the end. */
  url: string;
}

export interface LivePage {
  /** Loads the page again from its address. */
  reload: () => Promise<void>;
  freeze: () => Promise<Captured>;
  /** Called when the document has changed and been quiet for a while, or changes without end. */
  onStir: (hear: () => void) => void;
  close: () => Promise<void>;
}

const LOAD_MS = 30_000;
/** Ms without a request, or a change, after which a page counts as settled; and after which it does all the same. */
const QUIET_MS = 300;
const SETTLE_MS = 8_000;
const PAGES_IN_FRAMES = 20;

const KINDS = new Set(['stylesheet', 'image', 'font', 'media', 'document']);

const PHRASES: [RegExp, string][] = [
  [/ERR_CONNECTION_REFUSED|ERR_EMPTY_RESPONSE|ERR_TUNNEL/, 'nothing answers there'],
  [/ERR_UNSAFE_PORT/, 'its port is one that browsers do not connect to'],
  [/ERR_NAME_NOT_RESOLVED/, 'the name of its host is unknown'],
  [/ERR_CERT/, 'its certificate is not accepted'],
  [/Timeout/i, `it did not come in ${LOAD_MS / 1000} s`],
  [/ERR_INVALID_AUTH/, 'it asks for a name and a password'],
];

const phraseOf = (error: unknown): string => {
  const text = error instanceof Error ? error.message : String(error);
  return PHRASES.find(([pattern]) => pattern.test(text))?.[1] ?? text.split('\n')[0]!.replace(/^[\w.]+: /, '');
};

/** Everything that the page has loaded, by address; of each the last. */
interface Loading {
  responses: Map<string, Response>;
  underWay: () => number;
}

function noteLoading(page: Page): Loading {
  const responses = new Map<string, Response>();
  let underWay = 0;
  page.on('request', () => (underWay += 1));
  page.on('requestfinished', () => (underWay -= 1));
  page.on('requestfailed', () => (underWay -= 1));
  page.on('response', (response) => {
    const request = response.request();
    const isRedirect = response.status() >= 300 && response.status() < 400 && response.status() !== 304;
    if (KINDS.has(request.resourceType()) && !isRedirect) responses.set(request.url(), response);
  });
  return { responses, underWay: () => underWay };
}

/** Waits until nothing is loaded and nothing has changed for a while, and pictures below the fold have come. */
async function settle(page: Page, loading: Loading, changed: () => number): Promise<void> {
  await page.evaluate(() => {
    for (const image of document.querySelectorAll<HTMLImageElement>('img[loading=lazy]'))
      image.loading = 'eager';
  });
  const end = Date.now() + SETTLE_MS;
  let quietSince = Date.now();
  let [last, lastCount] = [changed(), loading.responses.size];
  while (Date.now() < end && Date.now() - quietSince < QUIET_MS) {
    await page.waitForTimeout(50);
    if (loading.underWay() > 0 || changed() !== last || loading.responses.size !== lastCount) {
      quietSince = Date.now();
      [last, lastCount] = [changed(), loading.responses.size];
    }
  }
  await page.evaluate(() =>
    Promise.race([document.fonts.ready, new Promise((done) => setTimeout(done, 3000))]),
  );
}

/** Why a page is none that may be frozen; null: it is. The gate answers with statuses of its own where it could not connect. */
function refusalOf(response: Response, url: URL, gate: Gate): Refusal | null {
  if (response.ok() || response.status() === 304) return null;
  const status = response.status();
  const refused = gate.refused.get(hostOfAddress(url));
  if (refused) return new Refusal(`place: ${url.host} is at ${refused}, and is not opened.`);
  if (status === 401)
    return new Refusal(
      `place: ${url.href} asks for a name and a password (401). Give them with --user, or cookies of a visit with --cookies.`,
    );
  return new Refusal(
    status >= 590
      ? `place: ${url.href} could not be opened: ${status === 593 ? 'the name of its host is unknown' : 'nothing answers there'}.`
      : `place: there is no page at ${url.href}: its server answers with ${status}. Check the address.`,
  );
}

/** Loads the page of an address. Throws a Refusal. */
async function visit(page: Page, address: URL, gate: Gate): Promise<void> {
  const response = await page
    .goto(address.href, { waitUntil: 'load', timeout: LOAD_MS })
    .catch((error: unknown) => {
      const refused = gate.refused.get(hostOfAddress(address));
      throw new Refusal(
        refused
          ? `place: ${address.host} is at ${refused}, and is not opened.`
          : `place: ${address.href} could not be opened: ${phraseOf(error)}.`,
      );
    });
  const refusal = response && refusalOf(response, new URL(response.url()), gate);
  if (refusal) throw refusal;
}

async function openContext(browser: Browser, gate: Gate, input: LiveInput): Promise<BrowserContext> {
  const { address, width, height, cookies, credentials } = input;
  const context = await browser.newContext({
    viewport: { width, height },
    proxy: gate.proxy,
    acceptDownloads: false,
    ...(credentials && { httpCredentials: { ...credentials, origin: address.origin } }),
  });
  if (cookies.length > 0) await context.addCookies([...cookies]);
  return context;
}

/** Opens the page of an address. Throws a Refusal, or NoEngine. */
export async function openLivePage(input: LiveInput): Promise<LivePage> {
  const { address } = input;
  if (!/^https?:$/.test(address.protocol))
    throw new Refusal(`place: ${address.protocol}// is not opened. Name an http or https address.`);
  const gate = await openGate([address, ...input.also]);
  let browser: Browser | null = null;
  const close = async (): Promise<void> => {
    await browser?.close();
    await gate.close();
  };
  try {
    browser = await launch();
    const context = await openContext(browser, gate, input);
    const script = await freezeScript();
    let changes = 0;
    let hear: (() => void) | null = null;
    const changed = whenQuiet(QUIET_MS, SETTLE_MS, () => hear?.());
    const stir = (): void => {
      changes += 1;
      changed.stir();
    };
    await context.exposeBinding(STIRRED, stir);
    await context.addInitScript(script);
    const page = await context.newPage();
    page.on('dialog', (dialog) => void dialog.dismiss());
    // What a page opens beside itself is not looked at.
    context.on('page', (other) => void (other !== page && other.close()));
    const loading = noteLoading(page);
    let isFresh = true;
    page.on('load', () => {
      isFresh = true;
      stir();
    });
    await visit(page, address, gate);
    return {
      reload: () => visit(page, address, gate),
      onStir: (next) => {
        hear = next;
      },
      freeze: async () => {
        if (isFresh) {
          await settle(page, loading, () => changes);
          await doSteps(page, input.steps);
        }
        await settle(page, loading, () => changes);
        // A page to which the steps have led is none on which they are to be done again.
        isFresh = false;
        return collect(page, loading, gate);
      },
      close: async () => {
        changed.stop();
        hear = null;
        await close();
      },
    };
  } catch (error) {
    await close();
    throw error;
  }
}

const mediaType = (header: string): { type: string; charset: string } => {
  const [type = '', ...rest] = header.split(';').map((part) => part.trim());
  const charset = rest.find((part) => /^charset=/i.test(part))?.replace(/^charset=["']?|["']$/gi, '') ?? '';
  return { type: type.toLowerCase(), charset };
};

async function loadedOf(response: Response): Promise<Loaded | null> {
  if (!response.ok()) return null;
  try {
    const { type, charset } = mediaType((await response.headerValue('content-type')) ?? '');
    const isSheet = response.request().resourceType() === 'stylesheet';
    return {
      url: new URL(response.url()),
      type: isSheet ? 'text/css' : type,
      charset,
      bytes: new Uint8Array(await response.body()),
    };
  } catch (error) {
    // The engine lets go of bodies of pages that it has left.
    if (error instanceof Error) return null;
    throw error;
  }
}

/** `served`: the text that its document came as. */
async function frozenOf(frame: Frame, served: string): Promise<Frozen> {
  return frame.evaluate(
    ([name, text]) => (window as unknown as Record<string, (served: string) => Frozen>)[name]!(text),
    [FREEZE, served] as const,
  );
}

async function collect(page: Page, loading: Loading, gate: Gate): Promise<Captured> {
  const left = new Set<string>();
  const url = new URL(page.url());
  // A server that has been stopped answers with a page of its own, or with none.
  const main = loading.responses.get(url.href.replace(/#.*$/, ''));
  const refusal = main && refusalOf(main, url, gate);
  if (refusal) throw refusal;
  if (!/^https?:$/.test(url.protocol)) throw new Refusal(`place: ${page.url()} is no page of a server.`);
  const places = makePlaces(url);
  const loaded: Loaded[] = [];
  const texts = new Map<string, string>();
  places.place(url, 'text/html');
  let bytes = 0;
  for (const [asked, response] of loading.responses) {
    const found = await loadedOf(response);
    if (!found) {
      if (response.request().resourceType() !== 'document')
        left.add(`${asked.slice(0, 200)} could not be had (${response.status()}).`);
      continue;
    }
    if (response.request().resourceType() === 'document') {
      texts.set(found.url.href, decodedText(found));
      if (/html/.test(found.type)) continue;
    }
    bytes += found.bytes.length;
    if (bytes > MAX_BYTES || loaded.length >= MAX_FILES - PAGES_IN_FRAMES) {
      left.add(
        `${asked.slice(0, 200)} is left out: a specimen has at most ${MAX_FILES} files and ${megabytes(MAX_BYTES)}.`,
      );
      bytes -= found.bytes.length;
      continue;
    }
    places.place(found.url, found.type);
    places.alias(asked, found.url);
    for (let from = response.request().redirectedFrom(); from; from = from.redirectedFrom())
      places.alias(from.url(), found.url);
    loaded.push(found);
  }
  const documents: FrozenDocument[] = [];
  // The innermost first: each is told where the documents in its frames lie.
  const frames = page.frames().filter((frame) => !frame.isDetached());
  for (const frame of [...frames].reverse()) {
    if (frame === page.mainFrame()) continue;
    if (documents.length >= PAGES_IN_FRAMES) {
      left.add(`More than ${PAGES_IN_FRAMES} frames: the others are empty.`);
      break;
    }
    try {
      const isOwn = /^https?:/.test(frame.url());
      const address = isOwn
        ? new URL(frame.url())
        : new URL(`_frames/${documents.length + 1}.html`, url.origin);
      const frozen = await frozenOf(frame, texts.get(frame.url()) ?? '');
      const place = places.place(address, 'text/html');
      const element = await frame.frameElement();
      await element.evaluate(
        (node, path) => {
          (node as unknown as { normetraPlace: string }).normetraPlace = path;
        },
        `/${place.split('/').map(encodeURIComponent).join('/')}`,
      );
      documents.push({ url: address, frozen, served: texts.get(frame.url()) ?? '' });
    } catch (error) {
      if (!(error instanceof Error)) throw error;
      left.add(`A frame with ${frame.url().slice(0, 200) || 'no address'} could not be read.`);
    }
  }
  const served = texts.get(url.href.replace(/#.*$/, '')) ?? '';
  documents.push({ url, frozen: await frozenOf(page.mainFrame(), served), served });
  for (const { frozen } of documents) for (const sentence of frozen.left) left.add(sentence);
  for (const [host, why] of gate.refused)
    left.add(`${host} is at ${why}: nothing was fetched from it. Name it with --also if it is meant.`);
  const files = new Map<string, SourceFile>();
  for (const item of loaded) {
    const file = loadedFile(item, places);
    files.set(file.path, file);
  }
  for (const item of documents) {
    const file = documentFile(item, places);
    files.set(file.path, file);
  }
  return { files: [...files.values()], entry: places.place(url, 'text/html'), left: [...left], url: url.href };
}
