/** The pages to measure against: real ones from the corpus, where it is there, and the demo. */
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { filesUnder } from '../../src/lib/server/demo.ts';
import type { StoredFile } from '../../src/lib/server/ingest/files.ts';
import { typeOf } from '../../src/lib/server/ingest/paths.ts';
import { ROOT } from '../../src/lib/server/root.ts';

export const CORPUS = process.env['NORMETRA_CORPUS'] ?? join(ROOT, '..', 'shared', 'corpus');
export const hasCorpus = existsSync(CORPUS);
/** Options of a test that needs it. */
export const withCorpus = { skip: hasCorpus ? false : 'the corpus is not here' };

export interface CorpusPage {
  name: string;
  entry: string;
  files: StoredFile[];
}

const stored = (folder: string): StoredFile[] =>
  filesUnder(folder).map((file) => ({ ...file, type: typeOf(file.path) }));

export function pagesOf(set: string, folder: string): CorpusPage[] {
  const files = stored(folder);
  return files
    .filter(({ type }) => type === 'text/html')
    .map(({ path }) => ({ name: `${set}/${path}`, entry: path, files }));
}

export const demoPages = (): CorpusPage[] => pagesOf('demo', join(ROOT, 'demo'));

export const corpusPages = (): CorpusPage[] =>
  hasCorpus ? [...pagesOf('admin', join(CORPUS, 'admin')), ...pagesOf('manual', join(CORPUS, 'manual'))] : [];
