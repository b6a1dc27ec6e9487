/** The texts of a revision that the core reads: its pages and its style sheets. */
import { decodeCss, decodeHtml } from '../ingest/encoding.ts';
import type { StoredFile } from '../ingest/files.ts';
import type { Database } from './open.ts';
import { filesOf, type Revision } from './specimens.ts';

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

export async function sourcesOf(db: Database, revision: Revision): Promise<Record<string, string>> {
  return textsOf(await filesOf(db, revision.id, ['text/html', 'text/css']), revision.entry);
}
