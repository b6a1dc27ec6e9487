/** A specimen's files as its frame gets them: the collector put in, scripts held, nothing reachable but the specimen. */
import { randomBytes } from 'node:crypto';
import { decodeCss, decodeHtml } from '../ingest/encoding.ts';
import type { StoredFile } from '../ingest/files.ts';
import { collectorScript, holderScript } from './collector.ts';
import { escapeAttribute, framed, framePlaces, type FramePlaces } from './markup.ts';
import type { Underlays } from './overlays.ts';

export interface FrameAnswer {
  status: number;
  headers: Record<string, string>;
  body: Uint8Array | string;
}

export interface FrameOptions {
  scripts: 'hold' | 'run';
  /** Source expression of the specimen's own files, for its policy. */
  own: string;
  /** Style sheets that are laid under all of the page's own, by its mode; null: none is. */
  underlay?: Underlays | null;
  /** Says where a page gets what its frame needs, off this thread where that takes long. */
  places?: (html: string) => Promise<FramePlaces>;
}

/**
 * The policy of everything that comes from a specimen (CSP 3): an opaque origin, and no way out but its own files.
 * Who may embed it is not told: no source expression names the opaque origin of the page around a frame, and the
 * specimen's address holds a key that cannot be guessed.
 */
export function policy({ scripts, own }: FrameOptions, nonce: string): string {
  const isRun = scripts === 'run';
  const code = isRun ? `${own} 'unsafe-inline' 'unsafe-eval' data: blob:` : `'nonce-${nonce}'`;
  // A document that a script makes up would run scripts without the collector before them.
  const frames = isRun ? own : `${own} data: blob:`;
  return [
    'sandbox allow-scripts',
    "default-src 'none'",
    `script-src ${code}`,
    `style-src ${own} 'unsafe-inline' data: blob:`,
    `img-src ${own} data: blob:`,
    `font-src ${own} data: blob:`,
    `media-src ${own} data: blob:`,
    `frame-src ${frames}`,
    "connect-src 'none'",
    "object-src 'none'",
    "form-action 'none'",
  ].join('; ');
}

function headers(type: string, csp: string): Record<string, string> {
  return {
    'content-type': type,
    'content-security-policy': csp,
    'x-content-type-options': 'nosniff',
    // Fonts and sheets with a crossorigin attribute are fetched with CORS, which an opaque origin never passes by itself.
    'access-control-allow-origin': '*',
    'cross-origin-resource-policy': 'cross-origin',
    'referrer-policy': 'unsafe-url',
    'cache-control': 'no-store',
    // What a policy does not govern: WebRTC, connecting ahead, navigating elsewhere. Engines that know this header heed it in
    // blank and written documents too.
    'connection-allowlist': '(response-origin)',
    'x-dns-prefetch-control': 'off',
  };
}

async function collectorTag(nonce: string, { scripts, underlay }: FrameOptions): Promise<string> {
  const still = scripts === 'hold' ? ' data-still' : '';
  const under = underlay
    ? ` data-standards="${escapeAttribute(underlay.standards)}" data-quirks="${escapeAttribute(underlay.quirks)}"`
    : '';
  return `<script nonce="${escapeAttribute(nonce)}"${still}${under}>${await collectorScript()}</script>`;
}

export async function framePage(html: string, options: FrameOptions): Promise<FrameAnswer> {
  const nonce = randomBytes(18).toString('base64');
  return {
    status: 200,
    headers: headers('text/html; charset=utf-8', policy(options, nonce)),
    body: framed(
      html,
      options.places ? await options.places(html) : framePlaces(html),
      await collectorTag(nonce, options),
    ),
  };
}

/** A document that holds the frame of a page of the specimen: see `collector/frame-host.ts`. */
export async function frameHolder(options: FrameOptions): Promise<FrameAnswer> {
  const nonce = randomBytes(18).toString('base64');
  return {
    status: 200,
    headers: headers('text/html; charset=utf-8', policy({ ...options, scripts: 'hold' }, nonce)),
    body: `<!doctype html><title>Holder</title><style>html, body { margin: 0; height: 100%; overflow: hidden; }</style><body><script nonce="${escapeAttribute(nonce)}">${await holderScript()}</script>`,
  };
}

/** One file of a specimen. Texts are sent as UTF-8 whatever they are in, so that their bytes mean what they meant. */
export async function frameFile(
  file: StoredFile,
  options: FrameOptions,
  encoding: string,
): Promise<FrameAnswer> {
  if (file.type === 'text/html') return framePage(decodeHtml(file.bytes).text, options);
  // Drawings and other documents are shown, and no script of theirs runs: no collector would be before it.
  const csp = policy({ ...options, scripts: 'hold' }, '');
  if (file.type === 'text/css')
    return {
      status: 200,
      headers: headers('text/css; charset=utf-8', csp),
      body: decodeCss(file.bytes, encoding),
    };
  return { status: 200, headers: headers(file.type, csp), body: file.bytes };
}

/** `location`: where it is, from the folder of what was asked for. */
export const frameMoved = (location: string, options: FrameOptions): FrameAnswer => ({
  status: 301,
  headers: { ...headers('text/plain; charset=utf-8', policy(options, '')), location },
  body: '',
});

export function frameMissing(path: string, options: FrameOptions): FrameAnswer {
  return {
    status: 404,
    headers: headers('text/plain; charset=utf-8', policy(options, '')),
    body: `There is no file ${path} in this specimen.`,
  };
}

/** A document with nothing in it, in which the engine's defaults are measured. */
export const BARE: Record<string, string> = {
  standards: '<!doctype html><html><head></head><body></body></html>',
  quirks: '<html><head></head><body></body></html>',
};
