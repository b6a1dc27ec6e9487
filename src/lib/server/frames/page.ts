/** A specimen's files as its frame gets them: the collector put in, scripts held, nothing reachable but the specimen. */
import { randomBytes } from 'node:crypto';
import { parse, type DefaultTreeAdapterMap } from 'parse5';
import { decodeCss, decodeHtml } from '../ingest/encoding.ts';
import type { StoredFile } from '../ingest/files.ts';
import { collectorScript, holderScript } from './collector.ts';
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
}

/**
 * The policy of everything that comes from a specimen (CSP 3): an opaque origin, and no way out but its own files.
 * Who may embed it is not told: no source expression names the opaque origin of the page around a frame, and the
 * specimen's address holds a key that cannot be guessed.
 */
export function policy({ scripts, own }: FrameOptions, nonce: string): string {
  const code = scripts === 'run' ? `${own} 'unsafe-inline' 'unsafe-eval' data: blob:` : `'nonce-${nonce}'`;
  return [
    'sandbox allow-scripts',
    "default-src 'none'",
    `script-src ${code}`,
    `style-src ${own} 'unsafe-inline' data: blob:`,
    `img-src ${own} data: blob:`,
    `font-src ${own} data: blob:`,
    `media-src ${own} data: blob:`,
    `frame-src ${own} data: blob:`,
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
  };
}

type Tree = DefaultTreeAdapterMap['document'];
type Node = DefaultTreeAdapterMap['childNode'];

/** Offset at which the collector's script goes in: before anything of the page can run, behind the doctype. */
function insertionPoint(document: Tree): number {
  const root = document.childNodes.find((node) => node.nodeName === 'html');
  const head =
    root && 'childNodes' in root ? root.childNodes.find((node) => node.nodeName === 'head') : undefined;
  const doctype = document.childNodes.find((node) => node.nodeName === '#documentType');
  const tagEnd = (node: typeof root): number | undefined =>
    node && 'tagName' in node ? node.sourceCodeLocation?.startTag?.endOffset : undefined;
  return tagEnd(head) ?? tagEnd(root) ?? doctype?.sourceCodeLocation?.endOffset ?? 0;
}

interface Replacement {
  start: number;
  end: number;
  text: string;
}

/**
 * A page under measurement stays where it is: the `http-equiv` of a refresh is given another name of the same length,
 * so nothing else in the file moves. A document written in a `srcdoc` gets the collector like any other.
 */
function replacements(html: string, document: Tree, tag: string): Replacement[] {
  const out: Replacement[] = [];
  const stack: Node[] = [...document.childNodes];
  for (let node = stack.pop(); node; node = stack.pop()) {
    if ('attrs' in node) {
      const places = node.sourceCodeLocation?.attrs;
      const value = (name: string) => node.attrs.find((attr) => attr.name === name)?.value;
      const refresh =
        node.tagName === 'meta' && value('http-equiv')?.trim().toLowerCase() === 'refresh'
          ? places?.['http-equiv']
          : undefined;
      if (refresh)
        out.push({ start: refresh.startOffset, end: refresh.startOffset + 'http-equiv'.length, text: HELD });
      const srcdoc = node.tagName === 'iframe' ? places?.['srcdoc'] : undefined;
      if (srcdoc) {
        const inner = withCollector(value('srcdoc') ?? '', tag);
        out.push({
          start: srcdoc.startOffset,
          end: srcdoc.endOffset,
          text: `srcdoc="${escapeAttribute(inner)}"`,
        });
      }
    }
    if ('childNodes' in node) for (const child of node.childNodes) stack.push(child);
  }
  return out.sort((one, other) => other.start - one.start);
}

const HELD = 'data-equiv';

/** The page with `tag` as its first script. */
function withCollector(html: string, tag: string): string {
  const document = parse(html, { sourceCodeLocationInfo: true });
  const at = insertionPoint(document);
  let out = html;
  let placed = false;
  for (const { start, end, text } of replacements(html, document, tag)) {
    if (!placed && start < at) {
      out = out.slice(0, at) + tag + out.slice(at);
      placed = true;
    }
    out = out.slice(0, start) + text + out.slice(end);
  }
  return placed ? out : out.slice(0, at) + tag + out.slice(at);
}

const escapeAttribute = (text: string): string => text.replace(/&/g, '&amp;').replace(/"/g, '&quot;');

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
    body: withCollector(html, await collectorTag(nonce, options)),
  };
}

/** A document that holds the frame of a page of the specimen: see `collector/holder.ts`. */
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
  const csp = policy(options, '');
  if (file.type === 'text/css')
    return {
      status: 200,
      headers: headers('text/css; charset=utf-8', csp),
      body: decodeCss(file.bytes, encoding),
    };
  return { status: 200, headers: headers(file.type, csp), body: file.bytes };
}

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
