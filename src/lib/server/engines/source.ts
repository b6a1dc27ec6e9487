/** Where a page's files come from when no database holds them: memory, a folder, an archive, or an address. */
import { readFile, realpath, stat } from 'node:fs/promises';
import { basename, dirname, join, resolve, sep } from 'node:path';
import type { Described } from '../../../core/reading/reading.ts';
import { pathInFrame, pathOf } from '../../../core/css/syntax/addresses.ts';
import { documentReferences, sheetReferences, type Reference } from '../../../core/css/syntax/references.ts';
import { decodeCss, decodeHtml } from '../ingest/encoding.ts';
import type { StoredFile } from '../ingest/files.ts';
import { MAX_SCRIPT_BYTES } from '../ingest/limits.ts';
import { typeOf } from '../ingest/paths.ts';
import { Refusal } from '../ingest/refusal.ts';
import { otherThanHtml } from '../ingest/sniff.ts';
import { ingestFiles, isMarkup } from '../ingest/specimen.ts';
import { makeFetcher } from './fetching.ts';

export interface PageSource {
  /** Path of the page from the root that root-relative addresses start at. */
  entry: string;
  /** The folder on this machine that the files lie in; none: they lie elsewhere. */
  folder?: string;
  /** Path and query under which the page is opened, where they are others than its path. */
  target?: string;
  /** Where an address led elsewhere. */
  redirected?: { from: string; to: string };
  /** Null where there is no such file. `target`: path and query as the page asks for them. */
  file: (path: string, target?: string) => Promise<StoredFile | null>;
}

/** Whether a page is named by its address. */
export const isAddress = (page: string): boolean => /^[a-z][a-z0-9+.-]+:\/\//i.test(page);

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
    folder: root,
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

async function folderOf(root: string): Promise<string> {
  try {
    const full = await realpath(root);
    if ((await stat(full)).isDirectory()) return full;
  } catch (error) {
    if (!isMissing(error)) throw error;
  }
  throw new Refusal(`--root ${root} is no folder. Name the folder that root-relative addresses start at.`);
}

async function fromDisk(page: string, root: string | null): Promise<PageSource> {
  const full = await realpath(page);
  if ((await stat(full)).isDirectory()) return fromDisk(join(full, 'index.html'), root ?? full);
  const bytes = new Uint8Array(await readFile(full));
  if (/\.zip$/i.test(full)) {
    const { files, pages } = await ingestFiles([{ path: basename(full), bytes }]);
    return fromFiles(files, pages[0]!);
  }
  const what = otherThanHtml(bytes);
  if (what) throw new Refusal(`${page} is ${what}, not an HTML page. Name the page's own file.`);
  if (!isMarkup(bytes))
    throw new Refusal(`${page} is not HTML: there is no tag in it. Name the page's own file.`);
  const { text } = decodeHtml(bytes);
  let top = dirname(full);
  if (root !== null) {
    top = await folderOf(root);
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

/** A path and query as a request names them, from the root of the host. */
const targetOf = (url: URL): string => url.pathname.slice(1) + url.search;

async function fromAddress(address: string): Promise<PageSource> {
  if (!URL.canParse(address))
    throw new Refusal(`${address} is no address. Write it like http://localhost:5173/.`);
  const asked = new URL(address);
  const fetcher = makeFetcher();
  const page = await fetcher.page(asked);
  const what = otherThanHtml(page.bytes, page.type);
  if (what) throw new Refusal(`${page.url.href} is ${what}, not an HTML page. Name the address of a page.`);
  const entry = decodedPath(
    page.url.pathname.endsWith('/') ? `${page.url.pathname}index.html` : page.url.pathname,
  );
  const target = targetOf(page.url);
  const file: StoredFile = { path: entry, type: 'text/html', bytes: page.bytes };
  const byTarget = new Map<string, Promise<StoredFile | null>>([[target, Promise.resolve(file)]]);
  /** What a path was asked for with last: a sheet is known by its path, and may be served for a query alone. */
  const lastOf = new Map<string, string>([[entry, target]]);
  const get = (path: string, wanted: string): Promise<StoredFile | null> => {
    lastOf.set(path, wanted);
    const cached = byTarget.get(wanted);
    if (cached) return cached;
    const result = fetcher
      .part(new URL(`/${wanted}`, page.url.origin))
      .then((found) => found && { path, type: found.type || typeOf(path), bytes: found.bytes });
    byTarget.set(wanted, result);
    return result;
  };
  return {
    entry,
    target,
    ...(page.url.href === asked.href ? {} : { redirected: { from: asked.href, to: page.url.href } }),
    file: (path, wanted) =>
      get(path, wanted ?? lastOf.get(path) ?? path.split('/').map(encodeURIComponent).join('/')),
  };
}

/** A path without its first slash; as it is where it holds what is no escape. */
function decodedPath(path: string): string {
  try {
    return decodeURIComponent(path.slice(1));
  } catch (error) {
    if (error instanceof URIError) return path.slice(1);
    throw error;
  }
}

/**
 * The source of a page as the command line names it: an HTML file, a folder with `index.html`, a `.zip`, or an
 * http(s) address. `root`: the folder that root-relative addresses start at; null: as far up as the page's own addresses
 * reach. Throws a Refusal.
 */
export async function openPage(page: string, root: string | null): Promise<PageSource> {
  if (isAddress(page)) return fromAddress(page);
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

/** Texts of a page, of the style sheets that it uses, imports included, and of its scripts, by path. */
export async function textsOf(
  { entry, file }: PageSource,
  described: Described,
  base: string,
): Promise<Record<string, string>> {
  const page = await file(entry);
  const { text, encoding } = decodeHtml(page?.bytes ?? new Uint8Array());
  const out: Record<string, string> = { [entry]: text };
  const take = async (path: string | null): Promise<void> => {
    if (path === null || Object.hasOwn(out, path)) return;
    const sheet = await file(path);
    if (!sheet) return;
    out[path] = decodeCss(sheet.bytes, encoding);
    await imports(path, out[path]);
  };
  const imports = async (path: string, css: string): Promise<void> => {
    for (const { what, address } of sheetReferences(path, css))
      if (what === 'style sheet') await take(pathOf(address, path));
  };
  const takeScript = async (path: string | null): Promise<void> => {
    if (path === null || Object.hasOwn(out, path)) return;
    const script = await file(path);
    if (script && script.bytes.length < MAX_SCRIPT_BYTES) out[path] = new TextDecoder().decode(script.bytes);
  };
  for (const sheet of described.sheets) {
    if (sheet.form === 'link') await take(pathInFrame(sheet.address, '', base));
    else await imports(entry, sheet.text);
  }
  const { base: documentBase, references } = documentReferences(entry, text);
  for (const { what, address } of references)
    if (what === 'script') await takeScript(pathOf(address, entry, documentBase));
  return out;
}

/** A font's address without what tells its formats apart. */
const stemOf = (address: string): string => address.replace(/[?#].*$/, '').replace(/\.\w+$/, '');

/** A style sheet or a font. */
type OfLooks = Reference & { what: 'style sheet' | 'font' };
const isOfLooks = (reference: Reference): reference is OfLooks =>
  reference.what === 'style sheet' || reference.what === 'font';

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
