/** The texts of a revision that the core reads: its pages and its style sheets. */
import { decodeCss, decodeHtml } from '../ingest/encoding.ts';
import type { StoredFile } from '../ingest/files.ts';
import type { Storage } from './open.ts';
import { entriesOf, withBytes, type Revision } from './specimens.ts';

/** By path. */
export function textsOf(files: StoredFile[], entry: string): Record<string, string> {
  const first = files.find(({ path }) => path === entry);
  const encoding = first ? decodeHtml(first.bytes).encoding : 'utf-8';
  return Object.fromEntries(
    files
      .filter(({ type }) => type === 'text/html' || type === 'text/css')
      .map(({ path, type, bytes }) => [
        path,
        type === 'text/css' ? decodeCss(bytes, encoding) : decodeHtml(bytes).text,
      ]),
  );
}

export async function sourcesOf(storage: Storage, revision: Revision): Promise<Record<string, string>> {
  const entries = await entriesOf(storage.db, revision.id, ['text/html', 'text/css']);
  return textsOf(await Promise.all(entries.map((entry) => withBytes(storage, entry))), revision.entry);
}
