/**
 * `npm run golden -- FOLDER [set …]`: writes down all that is said of a list of pages, a file for each: findings, accounts,
 * sweeps, as JSON and as text. Two such folders, from before and after a change, are compared with `diff -r`.
 * Sets: demo, corpus, families, cascade, and further folders of pages that `NORMETRA_PAGES` names (separated by colons).
 */
import { mkdirSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { findingsText } from '../../../src/core/reports/findings.ts';
import { readingDocument } from '../../../src/core/reports/reading.ts';
import { sweepDocument, sweepText } from '../../../src/core/reports/sweep.ts';
import { boxText, readingSummary } from '../../../src/core/reports/text.ts';
import { across } from '../../../src/core/sweep/across.ts';
import { findOn } from '../../../src/lib/server/engines/find.ts';
import { openHeadless, type Headless } from '../../../src/lib/server/engines/headless.ts';
import { sweepOn } from '../../../src/lib/server/engines/sweep.ts';
import { familyPage, FAMILY_NAMES } from '../conformance/families.ts';
import { corpusPages, demoPages, pagesOf, type CorpusPage } from '../../support/corpus.ts';
import { page as cascadePage } from '../../support/generate.ts';

const WIDTHS = [1280, 360];
const SIZE = { width: WIDTHS[0]!, height: 800 };
const SEEDS = [101, 202, 303];
/** Boxes of a page of which the sentences are written down too. */
const SPELLED = 40;

interface GoldenPage extends CorpusPage {
  isSwept?: boolean;
}

const written = (name: string, html: string): GoldenPage => ({
  name,
  entry: 'index.html',
  files: [{ path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(html) }],
});

const SETS: Record<string, () => GoldenPage[]> = {
  demo: () => demoPages().map((page) => ({ ...page, isSwept: true })),
  corpus: corpusPages,
  families: () =>
    FAMILY_NAMES.flatMap((name) =>
      SEEDS.map((seed) => written(`families/${name} ${seed}`, familyPage(name, seed))),
    ),
  cascade: () => Array.from({ length: 12 }, (_, seed) => written(`cascade/${seed + 1}`, cascadePage(seed + 1))),
  pages: () =>
    (process.env['NORMETRA_PAGES'] ?? '')
      .split(':')
      .filter((folder) => folder !== '')
      .flatMap((folder) => pagesOf(`pages/${basename(dirname(folder))}`, folder)),
};

/** One entry a line, so that a difference shows what it is in. */
const lines = (list: readonly unknown[]): string => list.map((entry) => JSON.stringify(entry)).join('\n');

async function said(headless: Headless, { entry, files, isSwept }: GoldenPage): Promise<string> {
  const opened = await headless.open(files, entry, SIZE);
  const analysis = await opened.measure();
  const parts = await opened.complete(analysis, () => {
    const { boxes, gaps, ...rest } = readingDocument(analysis, { page: entry, defaults: 'as rendered' });
    return [
      JSON.stringify(rest, null, 1),
      lines(boxes),
      lines(gaps),
      readingSummary(analysis, false),
      ...boxes.slice(0, SPELLED).map(({ id }) => boxText(analysis, id)),
    ];
  });
  const found = await findOn(opened, {
    page: entry,
    defaults: 'as rendered',
    widths: WIDTHS,
    height: SIZE.height,
    kinds: null,
  });
  await opened.close();
  parts.push(lines(found.findings), findingsText(found));
  if (isSwept) {
    const frames = [await headless.open(files, entry, SIZE)];
    const { analysis: swept, looks } = await sweepOn(frames, { from: 320, to: 1280, height: SIZE.height });
    const document = sweepDocument(swept, across(swept, looks), { page: entry, defaults: 'as rendered' });
    parts.push(JSON.stringify(document, null, 1), sweepText(document));
    await frames[0]!.close();
  }
  return parts.join('\n\n');
}

const [folder, ...sets] = process.argv.slice(2);
if (!folder) throw new Error('Name a folder to write into: npm run golden -- /tmp/before');
const pages = Object.entries(SETS)
  .filter(([set]) => sets.length === 0 || sets.includes(set))
  .flatMap(([, list]) => list());
const headless = await openHeadless();
let number = 0;
for (const page of pages) {
  const text = await said(headless, page).catch((error: unknown) => `FAILED: ${String(error)}`);
  const file = join(folder, `${page.name}.txt`);
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, text);
  number++;
  if (number % 25 === 0) console.log(`${number} of ${pages.length}`);
}
console.log(`${number} pages written down in ${folder}`);
await headless.close();
