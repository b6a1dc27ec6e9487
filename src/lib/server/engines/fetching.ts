/** Fetching of pages and what they need, one hop at a time: each is checked by the address that is connected to, before it is. */
import { lookup as dnsLookup } from 'node:dns';
import { isIP, type LookupFunction } from 'node:net';
import { Agent, buildConnector, fetch } from 'undici';
import { MAX_BYTES, megabytes } from '../ingest/limits.ts';
import { Refusal } from '../ingest/refusal.ts';
import { VERSION } from '../version.ts';
import { mayReach, reachOf, type Reach } from './addresses.ts';

export interface Fetched {
  /** Where it was in the end. */
  url: URL;
  bytes: Uint8Array;
  /** The media type that the server says; '': none. */
  type: string;
}

export interface Fetcher {
  /** Null: the server says that there is nothing there (`status`). Throws a Refusal. */
  page: (url: URL) => Promise<Fetched>;
  /** Something of the page's, of its own origin; null: it cannot be had. */
  part: (url: URL) => Promise<Fetched | null>;
  close: () => Promise<void>;
}

class Forbidden extends Error {
  override name = 'Forbidden';
}

const MOST_HOPS = 6;
const PAGE_MS = 20_000;
const PART_MS = 10_000;

const PHRASES: Record<string, string> = {
  ECONNREFUSED: 'nothing listens there (the connection was refused)',
  ENOTFOUND: 'the name of its host is unknown',
  EAI_AGAIN: 'the name of its host could not be looked up',
  ETIMEDOUT: 'it does not answer',
  UND_ERR_CONNECT_TIMEOUT: 'it does not answer',
  ECONNRESET: 'the connection broke off',
  EHOSTUNREACH: 'its host cannot be reached',
  ENETUNREACH: 'its network cannot be reached',
  EPROTO: 'it does not speak TLS',
  ERR_SSL_WRONG_VERSION_NUMBER: 'it does not speak TLS: try http in place of https',
};

/** Why a request failed, in words. */
function reasonOf(error: unknown): string {
  for (let cause: unknown = error; cause instanceof Error; cause = cause.cause) {
    if (cause instanceof Forbidden || cause instanceof Refusal) return cause.message;
    if (cause.name === 'TimeoutError') return 'it does not answer in time';
    const code = (cause as NodeJS.ErrnoException).code ?? '';
    const phrase = PHRASES[code];
    if (phrase) return phrase;
    if (/CERT|SELF_SIGNED|UNABLE_TO_VERIFY|ALTNAME/.test(code))
      return `its certificate is not accepted (${code})`;
    if (/^(HPE_|UND_ERR)/.test(code)) return `it does not answer as HTTP has it (${cause.message})`;
    if (cause.message === 'bad port') return 'its port is one that browsers do not connect to';
  }
  return error instanceof Error ? error.message : String(error);
}

function checkScheme(url: URL): void {
  if (url.protocol !== 'http:' && url.protocol !== 'https:')
    throw new Refusal(`${url.protocol}// is not fetched. Name an http or https address, or a file.`);
}

/** `bytes` at most; what is longer is refused while it comes. */
async function bodyOf(response: Awaited<ReturnType<typeof fetch>>, url: URL): Promise<Uint8Array> {
  const pieces: Uint8Array[] = [];
  let size = 0;
  for await (const piece of response.body ?? []) {
    size += (piece as Uint8Array).length;
    if (size > MAX_BYTES)
      throw new Refusal(`${url.href} is larger than ${megabytes(MAX_BYTES)}. Name a smaller page.`);
    pieces.push(piece as Uint8Array);
  }
  return new Uint8Array(Buffer.concat(pieces));
}

/** Fetches one page and its parts. The page may lie anywhere that is not forbidden; nothing else reaches further in than it. */
export function makeFetcher(): Fetcher {
  /** Where the page is: known with its first connection. */
  let from: Reach | null = null;
  const check = (address: string, host: string): void => {
    const to = reachOf(address);
    if (!to)
      throw new Forbidden(
        `${host} is at ${address}, a link-local or special address, and is not fetched. Name another`,
      );
    if (from && !mayReach(from, to))
      throw new Forbidden(
        `${host} is at ${address}, a ${to} address, and the page that led there is at a ${from} one. Name that address itself if it is meant`,
      );
    from ??= to;
  };
  const lookup: LookupFunction = (host, options, done) => {
    dnsLookup(host, { ...options, all: true }, (error, found) => {
      if (error) return done(error, '', 0);
      try {
        for (const { address } of found) check(address, host);
      } catch (refused) {
        return done(refused as NodeJS.ErrnoException, '', 0);
      }
      if (options.all) done(null, found);
      else done(null, found[0]!.address, found[0]!.family);
    });
  };
  const connector = buildConnector({ timeout: PART_MS, lookup });
  const agent = new Agent({
    connect: (options, done) => {
      const host = options.hostname.replace(/^\[|\]$/g, '');
      try {
        // No name is looked up where the host is an address already.
        if (isIP(host)) check(host, options.hostname);
      } catch (refused) {
        done(refused as Error, null);
        return;
      }
      connector(options, done);
    },
  });
  const get = async (first: URL, ms: number, mayLead: (to: URL) => boolean): Promise<Fetched | number> => {
    const signal = AbortSignal.timeout(ms);
    let url = first;
    for (let hop = 0; hop < MOST_HOPS; hop++) {
      checkScheme(url);
      const response = await fetch(url, {
        redirect: 'manual',
        signal,
        dispatcher: agent,
        headers: { 'user-agent': `Normetra/${VERSION}`, accept: '*/*' },
      });
      const location = response.headers.get('location');
      if (response.status >= 300 && response.status < 400 && location) {
        await response.body?.cancel();
        if (!URL.canParse(location, url))
          throw new Refusal(`${url.href} redirects to “${location.slice(0, 200)}”, which is no address.`);
        url = new URL(location, url);
        if (!mayLead(url)) return response.status;
        continue;
      }
      if (!response.ok) {
        await response.body?.cancel();
        return response.status;
      }
      const type = response.headers.get('content-type')?.split(';')[0]?.trim().toLowerCase() ?? '';
      return { url, bytes: await bodyOf(response, url), type };
    }
    throw new Refusal(`${first.href} redirects without end. Open it in a browser and name where it ends up.`);
  };
  return {
    page: async (url) => {
      try {
        const found = await get(url, PAGE_MS, () => true);
        if (typeof found !== 'number') return found;
        throw new Refusal(
          `There is no page at ${url.href}: its server answers with ${found}. Check the address.`,
        );
      } catch (error) {
        if (error instanceof Refusal) throw error;
        throw new Refusal(`${url.href} could not be fetched: ${reasonOf(error)}.`);
      }
    },
    part: async (url) => {
      try {
        const found = await get(url, PART_MS, (to) => to.origin === url.origin);
        return typeof found === 'number' ? null : found;
      } catch (error) {
        // What a page lacks is told by what it asks for (`missingOf`), as where a file is not there.
        if (error instanceof Error) return null;
        throw error;
      }
    },
    close: () => agent.close(),
  };
}
