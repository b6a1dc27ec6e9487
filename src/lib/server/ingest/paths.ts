/** Paths of a specimen's files: relative to its root, with `/` between names, none of them `.` or `..`. */
import { Refusal } from './refusal.ts';

/** A path as the specimen keeps it. Throws a Refusal for one that leads out of the upload. */
export function safePath(text: string): string {
  const slashed = text.replace(/\\/g, '/');
  const parts = slashed.split('/').filter((part) => part !== '' && part !== '.');
  if (/^([a-z]:|\/)/i.test(slashed) || parts.includes('..') || slashed.includes('\0'))
    throw new Refusal(
      `The path “${text}” leads out of the upload. Pack the files with plain relative paths, without “..” or a leading “/”.`,
    );
  if (parts.length === 0) throw new Refusal('A file without a name was sent. Give every file a name.');
  return parts.join('/');
}

/** A folder that holds everything is not part of the paths: its inside is the root. */
export function withoutCommonFolder<F extends { path: string }>(files: F[]): F[] {
  const first = files[0]?.path.split('/')[0];
  const common =
    files.length > 0 && files.every(({ path }) => path.includes('/') && path.split('/')[0] === first);
  return common ? files.map((file) => ({ ...file, path: file.path.slice(first!.length + 1) })) : files;
}

const TYPES: Record<string, string> = {
  html: 'text/html',
  htm: 'text/html',
  xhtml: 'text/html',
  css: 'text/css',
  js: 'text/javascript',
  mjs: 'text/javascript',
  json: 'application/json',
  svg: 'image/svg+xml',
  png: 'image/png',
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
  gif: 'image/gif',
  webp: 'image/webp',
  avif: 'image/avif',
  ico: 'image/x-icon',
  bmp: 'image/bmp',
  woff: 'font/woff',
  woff2: 'font/woff2',
  ttf: 'font/ttf',
  otf: 'font/otf',
  txt: 'text/plain',
  xml: 'application/xml',
  mp4: 'video/mp4',
  webm: 'video/webm',
  mp3: 'audio/mpeg',
};

const OTHER = 'application/octet-stream';

/** Whether browsers load files that end like this as parts of a page. */
export const isOfPages = (path: string): boolean => typeOf(path) !== OTHER;

export const typeOf = (path: string): string =>
  TYPES[/\.([a-z0-9]+)$/i.exec(path)?.[1]?.toLowerCase() ?? ''] ?? OTHER;

/** Where a file sent anew belongs among the `known` paths: at its own, or in the place of the only file that ends like it. */
export function placed(path: string, previous: string[]): string {
  if (previous.includes(path)) return path;
  for (let rest = path; rest; rest = rest.includes('/') ? rest.slice(rest.indexOf('/') + 1) : '') {
    const alike = previous.filter((text) => text === rest || text.endsWith(`/${rest}`));
    if (alike.length === 1) return alike[0]!;
  }
  return path;
}
