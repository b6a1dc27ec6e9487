/** What encoding a file is in (HTML §13.2.3.2, CSS Syntax 3 §3.2). */
import sniff from 'html-encoding-sniffer';

const NONE_DECLARED = 'none';

/** A mark or a declaration decides; else valid UTF-8 is UTF-8, and anything else is in `fallback`. */
function decode(bytes: Uint8Array, declared: string, fallback: string): { text: string; encoding: string } {
  if (declared !== NONE_DECLARED) {
    const decoder = new TextDecoder(declared);
    return { text: decoder.decode(bytes), encoding: decoder.encoding };
  }
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'utf-8' };
  } catch (error) {
    if (!(error instanceof TypeError)) throw error;
    return { text: new TextDecoder(fallback).decode(bytes), encoding: fallback };
  }
}

/** The encoding that a label names; null: it is none that is known. */
function labelled(label: string): string | null {
  try {
    return new TextDecoder(label).encoding;
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

/** Undeclared and no valid UTF-8: windows-1252, as the standard suggests. */
export function decodeHtml(bytes: Uint8Array): { text: string; encoding: string } {
  const sniffed = sniff(bytes, { defaultEncoding: NONE_DECLARED });
  return decode(bytes, labelled(sniffed) ?? NONE_DECLARED, 'windows-1252');
}

function byOrderMark([first, second, third]: Uint8Array): string | null {
  if (first === 0xef && second === 0xbb && third === 0xbf) return 'utf-8';
  if (first === 0xfe && second === 0xff) return 'utf-16be';
  return first === 0xff && second === 0xfe ? 'utf-16le' : null;
}

/** `environment` is the encoding of the document that asks for the sheet. */
export function decodeCss(bytes: Uint8Array, environment: string): string {
  const head = Buffer.from(bytes.subarray(0, 1024)).toString('latin1');
  const declared = /^@charset "([^"]*)";/.exec(head)?.[1];
  // A declaration that could be read as ASCII cannot be in UTF-16 (CSS Syntax 3 §3.2).
  const named = (declared === undefined ? null : labelled(declared))?.replace(/^utf-16.*/, 'utf-8');
  const text = byOrderMark(bytes) ?? named ?? labelled(environment) ?? NONE_DECLARED;
  return decode(bytes, text, 'windows-1252').text;
}
