/** The texts of a revision that the core reads: its pages and its style sheets. */
import { decodeCss, decodeHtml } from '../ingest/encoding.ts';
import type { StoredFile } from '../ingest/files.ts';
import { MAX_SCRIPT_BYTES } from '../ingest/limits.ts';
import type { Storage } from './open.ts';
import { entriesOf, withBytes, type Revision } from './specimens.ts';

/** Pages, style sheets, and scripts, of which it is read what they would touch. */
const READ = ['text/html', 'text/css', 'text/javascript'];

function textOf(type: string, bytes: Uint8Array, encoding: string): string {
  if (type === 'text/css') return decodeCss(bytes, encoding);
  return type === 'text/html' ? decodeHtml(bytes).text : new TextDecoder().decode(bytes);
}

/** By path. */
export function textsOf(files: StoredFile[], entry: string): Record<string, string> {
  const first = files.find(({ path }) => path === entry);
  const encoding = first ? decodeHtml(first.bytes).encoding : 'utf-8';
  return Object.fromEntries(
    files
      .filter(({ type }) => READ.includes(type))
      .map(({ path, type, bytes }) => [path, textOf(type, bytes, encoding)]),
  );
}

export async function sourcesOf(storage: Storage, revision: Revision): Promise<Record<string, string>> {
  const entries = (await entriesOf(storage.db, revision.id, READ)).filter(
    ({ type, size }) => type !== 'text/javascript' || size < MAX_SCRIPT_BYTES,
  );
  return textsOf(await Promise.all(entries.map((entry) => withBytes(storage, entry))), revision.entry);
}
