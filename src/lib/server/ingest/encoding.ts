/** Text out of bytes, by the encoding that they declare (HTML §13.2.3.2, CSS Syntax 3 §3.2). */

function byOrderMark(bytes: Uint8Array): string | null {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return 'utf-8';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  return null;
}

const ascii = (bytes: Uint8Array, length: number): string =>
  Buffer.from(bytes.subarray(0, length)).toString('latin1');

function decoder(label: string | undefined): TextDecoder | null {
  if (!label) return null;
  // A declaration that could be read as ASCII cannot be in UTF-16 (HTML §13.2.3.2).
  const name = /^utf-16/i.test(label) ? 'utf-8' : label;
  try {
    return new TextDecoder(name);
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

function decode(
  bytes: Uint8Array,
  declared: string | undefined,
  fallback: string,
): { text: string; encoding: string } {
  const mark = byOrderMark(bytes);
  const chosen = mark ? new TextDecoder(mark) : decoder(declared);
  if (chosen) return { text: chosen.decode(bytes), encoding: chosen.encoding };
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'utf-8' };
  } catch (error) {
    if (!(error instanceof TypeError)) throw error;
    return { text: new TextDecoder(fallback).decode(bytes), encoding: fallback };
  }
}

/** Undeclared and no valid UTF-8: windows-1252, as the standard suggests. */
export function decodeHtml(bytes: Uint8Array): { text: string; encoding: string } {
  const head = ascii(bytes, 4096).replace(/<!--[\s\S]*?-->/g, '');
  const declared = /<meta\b[^>]*?\bcharset\s*=\s*["']?\s*([\w:.-]+)/i.exec(head)?.[1];
  return decode(bytes, declared, 'windows-1252');
}

/** `environment` is the encoding of the document that asks for the sheet. */
export function decodeCss(bytes: Uint8Array, environment: string): string {
  const declared = /^@charset "([^"]*)";/.exec(ascii(bytes, 1024))?.[1] ?? environment;
  return decode(bytes, declared, 'windows-1252').text;
}
