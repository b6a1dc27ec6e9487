/** A page brought in: files checked, pages and their encodings found, what they miss listed. */
import { pathOf } from '../../../core/css/addresses.ts';
import { documentReferences, sheetReferences, type Reference } from '../../../core/css/references.ts';
import { unzip } from './archive.ts';
import { decodeCss, decodeHtml } from './encoding.ts';
import type { SourceFile, StoredFile } from './files.ts';
import { MAX_BYTES, MAX_FILES, megabytes } from './limits.ts';
import { safePath, typeOf, withoutCommonFolder } from './paths.ts';
import { Refusal } from './refusal.ts';

export interface Ingested {
  name: string;
  files: StoredFile[];
  /** HTML files, the one to open first at the front. */
  pages: string[];
  missing: Reference[];
}

const isHtmlPath = (path: string): boolean => /\.x?html?$/i.test(path);
const isZip = (file: SourceFile): boolean =>
  /\.zip$/i.test(file.path) || (file.bytes[0] === 0x50 && file.bytes[1] === 0x4b && file.bytes[2] === 3);
const list = (names: string[]): string =>
  names.length > 3 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', ');

/** The files given, with those of archives in the place of the archives. Throws a Refusal. */
export async function unpacked(given: SourceFile[]): Promise<SourceFile[]> {
  const parts = await Promise.all(
    given.map((file) =>
      isZip(file) ? unzip(file.path, file.bytes) : [{ path: safePath(file.path), bytes: file.bytes }],
    ),
  );
  return parts.flat();
}

/** Files as they were dropped or chosen. Archives among them are unpacked in place. Throws a Refusal. */
export async function ingestFiles(given: SourceFile[], { keepPaths = false } = {}): Promise<Ingested> {
  if (given.length === 0)
    throw new Refusal('Nothing was sent. Drop an HTML file, a folder or a zip archive, or paste HTML.');
  const archive =
    given
      .find(isZip)
      ?.path.replace(/^.*\//, '')
      .replace(/\.zip$/i, '') ?? '';
  const files = await unpacked(given);
  check(files, given);
  const folder = files.every(({ path }) => path.includes('/')) ? files[0]!.path.split('/')[0]! : '';
  return finish(keepPaths ? files : withoutCommonFolder(files), archive || folder);
}

/** HTML, and CSS that goes behind all of its own sheets, as typed or pasted. Throws a Refusal. */
export async function ingestPasted(html: string, css: string): Promise<Ingested> {
  if (html.trim() === '' && css.trim() === '')
    throw new Refusal('There is nothing in the boxes yet. Paste the HTML of a page or of a part of it.');
  if (html.trim() === '')
    throw new Refusal('There is CSS but no HTML for it to act on. Paste the HTML that it styles.');
  const encode = (text: string) => new TextEncoder().encode(text);
  const link = '<link rel="stylesheet" href="style.css">';
  const declared = /<meta[^>]+charset/i.test(html) ? '' : '<meta charset="utf-8">';
  const head = `${declared}${css.trim() ? link : ''}`;
  const whole = /<(!doctype|html|head|body)\b/i.test(html);
  const page = whole
    ? /<\/head\s*>/i.test(html)
      ? html.replace(/<\/head\s*>/i, (end) => `${head}${end}`)
      : html.replace(
          /^(\s*(?:<!doctype[^>]*>)?\s*(?:<html[^>]*>)?\s*(?:<head[^>]*>)?)/i,
          (start) => `${start}${head}`,
        )
    : `<!doctype html>\n${head}\n${html}`;
  const files = [{ path: 'index.html', bytes: encode(page) }];
  if (css.trim()) files.push({ path: 'style.css', bytes: encode(css) });
  check(files, files);
  return finish(files, '');
}

function check(files: SourceFile[], given: SourceFile[]): void {
  if (files.length === 0)
    throw new Refusal(
      `${list(given.map(({ path }) => `“${path}”`))} holds no files. Put the page's HTML in it and try again.`,
    );
  if (files.length > MAX_FILES)
    throw new Refusal(
      `${files.length} files are more than the ${MAX_FILES} that a specimen may have. Leave out what the pages do not need.`,
      413,
    );
  const total = files.reduce((sum, { bytes }) => sum + bytes.length, 0);
  if (total > MAX_BYTES)
    throw new Refusal(
      `${megabytes(total)} are more than the ${megabytes(MAX_BYTES)} that a specimen may have. Leave out what the pages do not need.`,
      413,
    );
  const seen = new Set<string>();
  for (const { path } of files) {
    if (seen.has(path)) throw new Refusal(`“${path}” was sent twice. Send each file once.`);
    seen.add(path);
  }
  const pages = files.filter(({ path }) => isHtmlPath(path));
  if (pages.length === 0)
    throw new Refusal(
      `There is no HTML page among ${list(files.map(({ path }) => `“${path}”`))}. Add the page's .html file.`,
    );
  const filled = pages.filter(({ bytes }) => bytes.length > 0);
  if (filled.length === 0)
    throw new Refusal(
      `${list(pages.map(({ path }) => `“${path}”`))} is empty. Save the page with its content and try again.`,
    );
  if (!filled.some(looksLikeHtml))
    throw new Refusal(
      `${list(filled.map(({ path }) => `“${path}”`))} is named like a page but is not HTML: there is no tag in it. Choose the page's own file.`,
    );
}

function looksLikeHtml({ bytes }: SourceFile): boolean {
  const { text } = decodeHtml(bytes.subarray(0, 200_000));
  return !text.includes('\0') && /<[a-z!][^>]*>/i.test(text);
}

const depth = (path: string): number => path.split('/').length;

function finish(files: SourceFile[], name: string): Ingested {
  const stored = files.map((file) => ({ ...file, type: typeOf(file.path) }));
  const pages = stored
    .filter((file) => isHtmlPath(file.path) && looksLikeHtml(file))
    .map(({ path }) => path)
    .sort(
      (a, b) =>
        depth(a) - depth(b) ||
        Number(/(^|\/)index\.x?html?$/i.test(b)) - Number(/(^|\/)index\.x?html?$/i.test(a)) ||
        (a < b ? -1 : 1),
    );
  const title = /<title[^>]*>([^<]*)<\/title/i.exec(
    decodeHtml(stored.find(({ path }) => path === pages[0])!.bytes).text,
  )?.[1];
  const entities: Record<string, string> = { '&amp;': '&', '&lt;': '<', '&gt;': '>', '&quot;': '"' };
  const named = title
    ?.replace(/\s+/g, ' ')
    .replace(/&(amp|lt|gt|quot);/g, (entity) => entities[entity]!)
    .trim();
  return {
    name: (named || name || pages[0]!).slice(0, 120),
    files: stored,
    pages,
    missing: missingOf(stored, pages),
  };
}

function missingOf(files: StoredFile[], pages: string[]): Reference[] {
  const paths = new Set(files.map(({ path }) => path));
  const out = new Map<string, Reference>();
  const note = (references: Reference[], base: string | null) => {
    for (const reference of references) {
      if (/^(data|blob|about|javascript|mailto):|^#/i.test(reference.address)) continue;
      const target = pathOf(reference.address, reference.from, base);
      const there = target !== null && (paths.has(target) || paths.has(`${target}index.html`));
      if (!there && !out.has(reference.address)) out.set(reference.address, reference);
    }
  };
  for (const file of files) {
    if (pages.includes(file.path)) {
      const { base, references } = documentReferences(file.path, decodeHtml(file.bytes).text);
      note(references, base);
    } else if (file.type === 'text/css') note(sheetReferences(file.path, decodeCss(file.bytes, 'utf-8')), null);
  }
  return [...out.values()].slice(0, 500);
}
