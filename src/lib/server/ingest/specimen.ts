/** A page brought in: files checked, pages and their encodings found, what they miss listed. */
import { pathOf } from '../../../core/css/syntax/addresses.ts';
import { documentReferences, sheetReferences, type Reference } from '../../../core/css/syntax/references.ts';
import { scanHtml } from '../../../core/html/scan.ts';
import { unpacked } from './archive.ts';
import { decodeCss, decodeHtml } from './encoding.ts';
import { inMemory, type IncomingFile, type SourceFile, type StoredFile } from './files.ts';
import { makeTally, MAX_TEXT_BYTES, megabytes } from './limits.ts';
import { typeOf, withoutCommonFolder } from './paths.ts';
import { Refusal } from './refusal.ts';
import { otherThanHtml } from './sniff.ts';

/** What a set of files comes to. */
export interface Examined {
  name: string;
  /** HTML files, the one to open first at the front. */
  pages: string[];
  missing: Reference[];
}

export interface Ingested extends Examined {
  files: StoredFile[];
}

const isHtmlPath = (path: string): boolean => /\.x?html?$/i.test(path);
const quoted = (paths: readonly string[]): string => {
  const names = paths.slice(0, 3).map((path) => `“${path}”`);
  return paths.length > 3 ? `${names.join(', ')} and ${paths.length - 3} more` : names.join(', ');
};

/** The name of what everything came in: an archive, or a folder; '': neither. */
export function nameOfUpload(sent: readonly { path: string }[], files: readonly { path: string }[]): string {
  const archive = sent.find(({ path }) => /\.zip$/i.test(path))?.path;
  if (archive) return archive.replace(/^.*\//, '').replace(/\.zip$/i, '');
  return files.length > 0 && files.every(({ path }) => path.includes('/')) ? files[0]!.path.split('/')[0]! : '';
}

/** Files in memory. Archives among them are unpacked in place. Throws a Refusal. */
export async function ingestFiles(sources: SourceFile[], { keepPaths = false } = {}): Promise<Ingested> {
  const all = await unpacked(sources);
  const files = keepPaths ? all : withoutCommonFolder(all);
  const examined = await examine(files.map(inMemory), nameOfUpload(sources, all));
  return { ...examined, files: files.map((file) => ({ ...file, type: typeOf(file.path) })) };
}

/** HTML, and CSS that goes behind all of its own sheets, as typed or pasted: the files that they make. Throws a Refusal. */
export function pastedFiles(html: string, css: string): SourceFile[] {
  if (html.trim() === '' && css.trim() === '')
    throw new Refusal('html: there is nothing in the boxes yet. Paste the HTML of a page or of a part of it.');
  if (html.trim() === '')
    throw new Refusal('html: there is CSS but no HTML for it to act on. Paste the HTML that it styles.');
  const encode = (text: string) => new TextEncoder().encode(text);
  let [hasCharset, isWhole] = [false, false];
  const { doctypeEnd, htmlTagEnd, headTagEnd, headEnd } = scanHtml(html, {
    element: ({ tag, attributes }) => {
      isWhole ||= tag === 'html' || tag === 'head' || tag === 'body';
      hasCharset ||=
        tag === 'meta' && attributes.some(({ name, value }) => name === 'charset' || /charset/i.test(value));
    },
  });
  const head = `${hasCharset ? '' : '<meta charset="utf-8">'}${css.trim() ? '<link rel="stylesheet" href="style.css">' : ''}`;
  const at = headEnd ?? headTagEnd ?? htmlTagEnd ?? doctypeEnd ?? 0;
  const page =
    isWhole || doctypeEnd !== null
      ? html.slice(0, at) + head + html.slice(at)
      : `<!doctype html>\n${head}\n${html}`;
  const files = [{ path: 'index.html', bytes: encode(page) }];
  if (css.trim()) files.push({ path: 'style.css', bytes: encode(css) });
  return files;
}

/** Checks files and says what they come to. `name`: what they are called where the first page has no title. Throws a Refusal. */
export async function examine(files: readonly IncomingFile[], name: string): Promise<Examined> {
  const named = check(files, name);
  const pages = await pagesOf(named);
  if (pages.length === 0) throw await notHtml(named);
  const { missing, titles } = await references(files, pages);
  const title = titles.get(pages[0]!) ?? '';
  return { name: (title || name || pages[0]!).slice(0, 120), pages, missing };
}

/** The files that are named like pages and hold something. Throws a Refusal. */
function check(files: readonly IncomingFile[], name: string): IncomingFile[] {
  if (files.length === 0)
    throw new Refusal(
      `${name ? `“${name}”` : 'What was sent'} holds no files. Put the HTML of the page in it and try again.`,
    );
  const tally = makeTally();
  const seen = new Set<string>();
  for (const { path, size } of files) {
    tally.add(size);
    if (seen.has(path)) throw new Refusal(`“${path}” was sent twice. Send each file once.`);
    seen.add(path);
    if (size > MAX_TEXT_BYTES && /^text\/(html|css)$/.test(typeOf(path)))
      throw new Refusal(
        `“${path}” has ${megabytes(size)}; a page or a style sheet may have ${megabytes(MAX_TEXT_BYTES)}. Split it, or leave it out.`,
        413,
      );
  }
  const pages = files.filter(({ path }) => isHtmlPath(path));
  if (pages.length === 0)
    throw new Refusal(
      `There is no HTML page among ${quoted(files.map(({ path }) => path))}. Add the page's .html file.`,
    );
  const filled = pages.filter(({ size }) => size > 0);
  if (filled.length === 0)
    throw new Refusal(
      `${quoted(pages.map(({ path }) => path))} is empty. Save the page with its content and try again.`,
    );
  return filled;
}

/** Why none of the files that are named like pages is one. */
async function notHtml(named: readonly IncomingFile[]): Promise<Refusal> {
  const what = otherThanHtml(await named[0]!.read(HEAD_BYTES));
  return new Refusal(
    what
      ? `“${named[0]!.path}” is named like a page but is ${what}. Choose the file of the page.`
      : `${quoted(named.map(({ path }) => path))} is named like a page but is not HTML: there is no tag in it. Choose the file of the page.`,
  );
}

/** Of a file this much is looked at to say what it is. */
const HEAD_BYTES = 200_000;

/** A tag, a comment or a doctype, and no zero, which no text has. */
export function isMarkup(bytes: Uint8Array): boolean {
  const { text } = decodeHtml(bytes);
  if (text.includes('\0')) return false;
  const start = text.search(/<[a-z!]/i);
  return start >= 0 && text.indexOf('>', start) > start;
}

async function looksLikeHtml(file: IncomingFile): Promise<boolean> {
  const head = await file.read(HEAD_BYTES);
  return isMarkup(head) && otherThanHtml(head) === null;
}

const depth = (path: string): number => path.split('/').length;
const isIndex = (path: string): boolean => /(^|\/)index\.x?html?$/i.test(path);

async function pagesOf(named: readonly IncomingFile[]): Promise<string[]> {
  const pages: string[] = [];
  for (const file of named) if (await looksLikeHtml(file)) pages.push(file.path);
  return pages.sort(
    (a, b) => depth(a) - depth(b) || Number(isIndex(b)) - Number(isIndex(a)) || (a < b ? -1 : 1),
  );
}

const MOST_MISSING = 500;

/** Titles of pages, and what files ask for and is not among them. Scripts are told by the page, where they run. */
async function references(
  files: readonly IncomingFile[],
  pages: readonly string[],
): Promise<{ missing: Reference[]; titles: Map<string, string> }> {
  const paths = new Set(files.map(({ path }) => path));
  const isPage = new Set(pages);
  const missing = new Map<string, Reference>();
  const titles = new Map<string, string>();
  const note = (found: readonly Reference[], base: string | null) => {
    for (const reference of found) {
      if (reference.what === 'script' || /^(data|blob|about|javascript|mailto):|^#/i.test(reference.address))
        continue;
      const target = pathOf(reference.address, reference.from, base);
      const isThere = target !== null && (paths.has(target) || paths.has(`${target}index.html`));
      if (!isThere && !missing.has(reference.address)) missing.set(reference.address, reference);
    }
  };
  for (const file of files) {
    if (isPage.has(file.path)) {
      const page = documentReferences(file.path, decodeHtml(await file.read()).text);
      titles.set(file.path, page.title);
      note(page.references, page.base);
    } else if (typeOf(file.path) === 'text/css')
      note(sheetReferences(file.path, decodeCss(await file.read(), 'utf-8')), null);
  }
  return { missing: [...missing.values()].slice(0, MOST_MISSING), titles };
}
