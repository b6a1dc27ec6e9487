/** Where a page's files come from when no database holds them: memory, a folder, an archive, or an address. */
import { readFile, realpath, stat } from 'node:fs/promises';
import { dirname, join, resolve, sep } from 'node:path';
import { isIP } from 'node:net';
import { lookup } from 'node:dns/promises';
import type { Described } from '../../../core/boxes/reading.ts';
import { pathInFrame, pathOf } from '../../../core/css/addresses.ts';
import { documentReferences, sheetReferences, type Reference } from '../../../core/css/references.ts';
import { decodeCss, decodeHtml } from '../ingest/encoding.ts';
import type { StoredFile } from '../ingest/files.ts';
import { MAX_BYTES, megabytes } from '../ingest/limits.ts';
import { typeOf } from '../ingest/paths.ts';
import { Refusal } from '../ingest/refusal.ts';
import { ingestFiles } from '../ingest/specimen.ts';

export interface PageSource {
  /** Path of the page from the root that root-relative addresses start at. */
  entry: string;
  /** Null where there is no such file. */
  file: (path: string) => Promise<StoredFile | null>;
}

export function fromFiles(files: StoredFile[], entry: string): PageSource {
  const byPath = new Map(files.map((file) => [file.path, file]));
  return { entry, file: (path) => Promise.resolve(byPath.get(path) ?? null) };
}

const isMissing = (error: unknown): boolean =>
  error instanceof Error && 'code' in error && /^(ENOENT|ENOTDIR|EISDIR)$/.test(String(error.code));

/** Files of a folder, read when asked for. What a link points at outside of it is not given out. */
function fromFolder(root: string, entry: string): PageSource {
  return {
    entry,
    file: async (path) => {
      try {
        const full = await realpath(join(root, path));
        if (full !== root && !full.startsWith(root + sep)) return null;
        return { path, type: typeOf(path), bytes: new Uint8Array(await readFile(full)) };
      } catch (error) {
        if (isMissing(error)) return null;
        throw error;
      }
    },
  };
}

/** How many folders above its own a page's addresses reach. */
function reach(path: string, html: string): number {
  const { references } = documentReferences(path, html);
  return Math.max(0, ...references.map(({ address }) => (/^(\.\.\/)+/.exec(address)?.[0].length ?? 0) / 3));
}

async function fromDisk(page: string, root: string | null): Promise<PageSource> {
  const full = await realpath(page);
  if ((await stat(full)).isDirectory()) return fromDisk(join(full, 'index.html'), root ?? full);
  const bytes = new Uint8Array(await readFile(full));
  if (/\.zip$/i.test(full) || (bytes[0] === 0x50 && bytes[1] === 0x4b)) {
    const { files, pages } = await ingestFiles([{ path: 'page.zip', bytes }]);
    return fromFiles(files, pages[0]!);
  }
  const text = decodeHtml(bytes).text;
  if (!/<[a-z!][^>]*>/i.test(text))
    throw new Refusal(`${page} is not HTML: there is no tag in it. Name the page's own file.`);
  let top = dirname(full);
  if (root !== null) {
    top = await realpath(root);
    if (!full.startsWith(top + sep))
      throw new Refusal(`--root ${root} does not hold ${page}. Name a folder that it lies in.`);
  } else for (let up = reach(page, text); up > 0 && dirname(top) !== top; up--) top = dirname(top);
  return fromFolder(
    top,
    full
      .slice(top.length + (top === sep ? 0 : 1))
      .split(sep)
      .join('/'),
  );
}

/** Link-local and unspecified addresses belong to no page (RFC 3927, RFC 4291 §2.5). */
function isForbidden(address: string): boolean {
  return /^(169\.254\.|0\.|fe[89ab][0-9a-f]:|::$|::ffff:169\.254\.)/i.test(address);
}

async function refuseLocal(url: URL): Promise<void> {
  if (url.protocol !== 'http:' && url.protocol !== 'https:')
    throw new Refusal(`${url.protocol}// is not fetched. Name an http or https address, or a file.`);
  const host = url.hostname.replace(/^\[|\]$/g, '');
  const addresses = isIP(host) ? [host] : (await lookup(host, { all: true })).map(({ address }) => address);
  const bad = addresses.find(isForbidden);
  if (bad)
    throw new Refusal(`${url.host} is at ${bad}, a link-local address, and is not fetched. Name another.`);
}

/** Fetches an address, each redirect looked at before it is followed. Null: there is no such thing there. */
async function fetchBytes(
  address: URL,
  ms: number,
): Promise<{ url: URL; bytes: Uint8Array; type: string } | null> {
  let url = address;
  for (let hop = 0; hop < 6; hop++) {
    await refuseLocal(url);
    const answer = await fetch(url, { redirect: 'manual', signal: AbortSignal.timeout(ms) });
    const location = answer.headers.get('location');
    if (answer.status >= 300 && answer.status < 400 && location) {
      url = new URL(location, url);
      continue;
    }
    if (!answer.ok) return null;
    const bytes = new Uint8Array(await answer.arrayBuffer());
    if (bytes.length > MAX_BYTES)
      throw new Refusal(`${url.href} is larger than ${megabytes(MAX_BYTES)}. Name a smaller page.`);
    const type = answer.headers.get('content-type')?.split(';')[0]?.trim() ?? typeOf(url.pathname);
    return { url, bytes, type };
  }
  throw new Refusal(`${address.href} redirects without end. Open it in a browser and name where it ends up.`);
}

async function fromAddress(address: string): Promise<PageSource> {
  const page = await fetchBytes(new URL(address), 20_000).catch((error: unknown) => {
    if (error instanceof Refusal) throw error;
    throw new Refusal(
      `${address} could not be fetched: ${error instanceof Error ? error.message : String(error)}.`,
    );
  });
  if (!page) throw new Refusal(`There is nothing at ${address}. Check the address.`);
  const entry = page.url.pathname.endsWith('/')
    ? `${page.url.pathname.slice(1)}index.html`
    : page.url.pathname.slice(1);
  const kept = new Map<string, Promise<StoredFile | null>>();
  kept.set(entry, Promise.resolve({ path: entry, type: 'text/html', bytes: page.bytes }));
  return {
    entry,
    file: (path) => {
      const known = kept.get(path);
      if (known) return known;
      const url = new URL(`/${path.split('/').map(encodeURIComponent).join('/')}`, page.url.origin);
      const made = fetchBytes(url, 10_000).then(
        (found) =>
          found && found.url.origin === page.url.origin ? { path, type: found.type, bytes: found.bytes } : null,
        () => null,
      );
      kept.set(path, made);
      return made;
    },
  };
}

/**
 * The source of a page as the command line names it: an HTML file, a folder with `index.html`, a `.zip`, or an
 * http(s) address. `root`: the folder that root-relative addresses start at; null: as far up as the page's own addresses
 * reach. Throws a Refusal.
 */
export async function openPage(page: string, root: string | null): Promise<PageSource> {
  if (/^[a-z][a-z0-9+.-]+:\/\//i.test(page)) return fromAddress(page);
  try {
    return await fromDisk(resolve(page), root);
  } catch (error) {
    if (isMissing(error))
      throw new Refusal(
        `There is no page at ${page}. Name an HTML file, a folder with index.html, a .zip, or an http(s) address.`,
      );
    throw error;
  }
}

/** Texts of a page and of the style sheets that it uses, imports included, by path. */
export async function textsOf(
  { entry, file }: PageSource,
  described: Described,
  base: string,
): Promise<Record<string, string>> {
  const page = await file(entry);
  const { text, encoding } = decodeHtml(page?.bytes ?? new Uint8Array());
  const out: Record<string, string> = { [entry]: text };
  const take = async (path: string | null): Promise<void> => {
    if (path === null || path in out) return;
    const sheet = await file(path);
    if (!sheet) return;
    out[path] = decodeCss(sheet.bytes, encoding);
    await imports(path, out[path]);
  };
  const imports = async (path: string, css: string): Promise<void> => {
    for (const { what, address } of sheetReferences(path, css))
      if (what === 'style sheet') await take(pathOf(address, path));
  };
  for (const sheet of described.sheets) {
    if (sheet.form === 'link') await take(pathInFrame(sheet.address, '', base));
    else await imports(entry, sheet.text);
  }
  return out;
}

/** A font's address without what tells its formats apart. */
const stemOf = (address: string): string => address.replace(/[?#].*$/, '').replace(/\.\w+$/, '');

/** A style sheet or a font. */
type OfLooks = Reference & { what: 'style sheet' | 'font' };
const isOfLooks = (one: Reference): one is OfLooks => one.what === 'style sheet' || one.what === 'font';

/**
 * What of its looks a page asks for and does not get: style sheets with what they import, and fonts of which there is no
 * format, each address once.
 */
export async function missingOf({ entry, file }: PageSource): Promise<OfLooks[]> {
  const out = new Map<string, OfLooks>();
  const seen = new Set<string>();
  const fonts = new Set<string>();
  const page = await file(entry);
  const { text, encoding } = decodeHtml(page?.bytes ?? new Uint8Array());
  const look = async (references: readonly Reference[], base: string | null): Promise<void> => {
    for (const reference of references.filter(isOfLooks)) {
      const { address, from, what } = reference;
      if (/^(data|blob|about):|^#/i.test(address)) continue;
      const path = pathOf(address, from, base);
      const found = path === null ? null : await file(path);
      if (!found) out.set(address, out.get(address) ?? reference);
      else if (what === 'font') fonts.add(stemOf(address));
      else if (!seen.has(found.path)) {
        seen.add(found.path);
        await look(sheetReferences(found.path, decodeCss(found.bytes, encoding)), null);
      }
    }
  };
  const { base, references } = documentReferences(entry, text);
  await look(references, base);
  return [...out.values()].filter(({ what, address }) => what !== 'font' || !fonts.has(stemOf(address)));
}
