/** What a file is that is no HTML, by its first bytes (MIME Sniffing §7) and by what is said of it. */
import { decodeHtml } from './encoding.ts';

const MAGIC: [string, string][] = [
  ['%PDF-', 'a PDF document'],
  ['\x89PNG', 'a picture (PNG)'],
  ['\xff\xd8\xff', 'a picture (JPEG)'],
  ['GIF8', 'a picture (GIF)'],
  ['PK\x03\x04', 'a zip archive, or an office document'],
  ['\x1f\x8b', 'a compressed file (gzip)'],
  ['wOF', 'a font'],
  ['\x7fELF', 'a program'],
];

const TYPES: [RegExp, string][] = [
  [/^application\/pdf$/, 'a PDF document'],
  [/[/+]json$/, 'JSON'],
  [/^(multipart\/related|message\/rfc822|application\/x-mimearchive)$/, 'a saved page in MHTML'],
  [/^image\/svg\+xml$/, 'a drawing (SVG)'],
  [/^image\//, 'a picture'],
  [/^(audio|video|font)\//, 'a media file or a font'],
  [/^text\/(css|plain|csv|markdown)$/, 'a text that is no HTML'],
  [/javascript$/, 'a script'],
  [/^application\/(octet-stream|zip|gzip)$/, 'a file of bytes'],
];

const isHtmlType = (type: string): boolean => /^(text\/html|application\/xhtml\+xml)$/.test(type);

/** Control characters that no text has. */
// eslint-disable-next-line no-control-regex
const CONTROLS = /[\x00-\x08\x0e-\x1a\x1c-\x1f]/;

function isJson(text: string): boolean {
  if (!/^\s*[[{]/.test(text)) return false;
  try {
    JSON.parse(text);
    return true;
  } catch (error) {
    if (error instanceof SyntaxError) return false;
    throw error;
  }
}

/**
 * What `bytes` are, in words, where they are no HTML; null: they may be. `type`: the media type that a server says, '' for none.
 */
export function otherThanHtml(bytes: Uint8Array, type = ''): string | null {
  const head = Buffer.from(bytes.subarray(0, 16)).toString('latin1');
  const magic = MAGIC.find(([start]) => head.startsWith(start));
  if (magic) return magic[1];
  const { text } = decodeHtml(bytes.subarray(0, 65_536));
  if (CONTROLS.test(text)) return 'a file of bytes that are no text';
  if (
    /^(MIME-Version|Content-Type|From|Subject|Snapshot-Content-Location):/im.test(text.slice(0, 2000)) &&
    /multipart\/related/i.test(text.slice(0, 4000))
  )
    return 'a saved page in MHTML';
  const start = text.search(/<[a-z!?]/i);
  if (/^\s*<\?xml/.test(text) && !/<html[\s>]/i.test(text.slice(0, 20_000))) return 'XML';
  if (!isHtmlType(type)) {
    const reported = TYPES.find(([pattern]) => pattern.test(type));
    if (reported && !(type === 'text/plain' && start >= 0)) return reported[1];
    if (type && /[/+]xml$/.test(type)) return 'XML';
  }
  if (isJson(text)) return 'JSON';
  return null;
}
