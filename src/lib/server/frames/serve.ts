/** Answers the requests of specimen frames, wherever their files are kept. */
import { decodeHtml } from '../ingest/encoding.ts';
import type { StoredFile } from '../ingest/files.ts';
import { FRAME_HOST } from '../../../protocol/protocol.ts';
import { frameBase, isFrameHost } from '../request-guard.ts';
import type { FramePlaces } from './markup.ts';
import type { Underlays } from './overlays.ts';
import {
  BARE,
  frameFile,
  frameHolder,
  frameMissing,
  frameMoved,
  framePage,
  type FrameAnswer,
  type FrameOptions,
} from './page.ts';

export interface FrameSource {
  scripts: 'hold' | 'run';
  /** The page that is opened first; its encoding is that of sheets which declare none. */
  entry: string;
  file: (path: string, target?: string) => Promise<StoredFile | null>;
  /** Says where a page gets what its frame needs; none: on this thread. */
  places?: (html: string) => Promise<FramePlaces>;
  /** Style sheets that are laid under all of its pages. */
  underlay?: Underlays | null;
}

/** `host`: name and port of the application, or of the specimen's own host; `key`: the specimen's own. */
export const frameOptions = (host: string, key: string, scripts: 'hold' | 'run'): FrameOptions => ({
  scripts,
  own: isFrameHost(host) ? `http://${host}` : frameBase(host, key),
});

/** Under this folder of every specimen: the empty documents, with what is laid under its pages. */
const BARE_FOLDER = '__bare/';

/** The empty documents in which defaults are measured: `standards.html` and `quirks.html`. */
export async function serveBare(
  host: string,
  path: string,
  key = 'bare',
  underlay: Underlays | null = null,
): Promise<FrameAnswer> {
  const options = { ...frameOptions(host, key, 'hold'), underlay };
  const html = BARE[path.replace(/\.html$/, '')];
  return html === undefined ? frameMissing(path, options) : framePage(html, options);
}

/** `target`: path and query as they were asked for, undecoded. */
export async function serveFrame(
  host: string,
  key: string,
  path: string,
  source: FrameSource,
  target?: string,
): Promise<FrameAnswer> {
  const { underlay = null, places } = source;
  if (underlay && path.startsWith(BARE_FOLDER))
    return serveBare(host, path.slice(BARE_FOLDER.length), key, underlay);
  const options = { ...frameOptions(host, key, source.scripts), underlay, ...(places && { places }) };
  if (path === FRAME_HOST) return frameHolder(options);
  const isFolder = path === '' || path.endsWith('/');
  let found = await source.file(path, target);
  if (!found && isFolder) found = await source.file(`${path}index.html`);
  // What is in a folder names its neighbours from the folder, so its address ends with a slash.
  if (!found && !isFolder && (await source.file(`${path}/index.html`)))
    return frameMoved(`${encodeURIComponent(path.split('/').at(-1)!)}/`, options);
  if (!found) return frameMissing(path, options);
  let encoding = 'utf-8';
  if (found.type === 'text/css') {
    const entry = await source.file(source.entry);
    if (entry) ({ encoding } = decodeHtml(entry.bytes));
  }
  return frameFile(found, options, encoding);
}
