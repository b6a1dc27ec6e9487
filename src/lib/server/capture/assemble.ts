/** Frozen documents and what came with them, as the files of a specimen. */
import type { Frozen, FrozenPiece } from '../../../protocol/frozen.ts';
import { withAddresses } from '../../../core/css/syntax/references.ts';
import { decodeCss, decodeHtml } from '../ingest/encoding.ts';
import type { SourceFile } from '../ingest/files.ts';
import { escapeAttribute } from '../frames/markup.ts';
import type { Places } from './places.ts';

/** Something that a live page has loaded. */
export interface Loaded {
  url: URL;
  /** Its media type, and the encoding that the server says; '': none. */
  type: string;
  charset: string;
  bytes: Uint8Array;
}

export interface FrozenDocument {
  url: URL;
  frozen: Frozen;
  /** The text that it came as; '': it is not known. */
  served: string;
}

/** With a mark, so that it is UTF-8 whatever it says of itself. */
const utf8 = (text: string): Uint8Array => new TextEncoder().encode(`\uFEFF${text.replace(/^\uFEFF/, '')}`);

function absolute(address: string, base: string): string | null {
  return URL.canParse(address, base) ? new URL(address, base).href : null;
}

const inCss = (css: string, base: string, places: Places): string =>
  withAddresses(css, (address) => {
    const full = absolute(address, base);
    return full === null || address.startsWith('#') ? null : places.standing(full);
  });

function pieceText(piece: FrozenPiece, places: Places): string {
  if (typeof piece === 'string') return piece;
  if ('css' in piece) {
    const css = inCss(piece.css, piece.base, places);
    return piece.isAttribute ? escapeAttribute(css) : css.replace(/<\/style/gi, '<\\/style');
  }
  return escapeAttribute(places.standing(piece.address) ?? piece.written);
}

/** Whether all addresses of a document say the same in the capture. */
const isPlain = (pieces: readonly FrozenPiece[], places: Places): boolean =>
  pieces.every(
    (piece) =>
      typeof piece === 'string' ||
      ('css' in piece
        ? inCss(piece.css, piece.base, places) === piece.css
        : places.standing(piece.address) === null),
  );

export function documentFile({ url, frozen, served }: FrozenDocument, places: Places): SourceFile {
  const text =
    frozen.isAsServed && isPlain(frozen.pieces, places)
      ? served
      : frozen.pieces.map((piece) => pieceText(piece, places)).join('');
  return { path: places.place(url, 'text/html'), bytes: utf8(text) };
}

/** The encoding that a server says, where it is one that is known. */
function saidEncoding({ charset }: Loaded): string | null {
  try {
    return charset === '' ? null : new TextDecoder(charset).encoding;
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

/** The text of a page or a style sheet: what its server says of its encoding goes before what it says itself (CSS Syntax 3 §3.2). */
export function decodedText(loaded: Loaded): string {
  const encoding = saidEncoding(loaded);
  if (encoding !== null) return new TextDecoder(encoding).decode(loaded.bytes);
  return loaded.type === 'text/css' ? decodeCss(loaded.bytes, 'utf-8') : decodeHtml(loaded.bytes).text;
}

/** A style sheet as it was served, but for addresses that mean something else in the capture. */
function sheetBytes(loaded: Loaded, places: Places): Uint8Array {
  const text = decodedText(loaded);
  const placed = inCss(text, loaded.url.href, places);
  const isAsItSays = (saidEncoding(loaded) ?? 'utf-8') === 'utf-8';
  return placed === text && isAsItSays ? loaded.bytes : utf8(placed);
}

/** Anything else that was loaded. */
export const loadedFile = (loaded: Loaded, places: Places): SourceFile => ({
  path: places.place(loaded.url, loaded.type),
  bytes: loaded.type === 'text/css' ? sheetBytes(loaded, places) : loaded.bytes,
});
