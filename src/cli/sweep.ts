/** `normetra sweep`: a page at every width of a range, each change to 1 px. */
import { basename } from 'node:path';
import { across, gradedBands } from '../core/sweep/across.ts';
import { sweepDifferences, sweepDifferencesText } from '../core/reports/sweep-differences.ts';
import { sweepDocument, sweepText, type SweepDocument } from '../core/reports/sweep.ts';
import { askedDefaults } from '../lib/server/engines/atlas.ts';
import type { Headless } from '../lib/server/engines/headless.ts';
import { closeEngines, openEngines } from '../lib/server/engines/several.ts';
import { openPage, type PageSource } from '../lib/server/engines/source.ts';
import { placesOf } from '../lib/server/engines/places.ts';
import { sweepOn } from '../lib/server/engines/sweep.ts';
import { notesOf, print } from './output.ts';
import { readSweepOptions, writableFile, type SweepOptions } from './options.ts';
import { projectOf, type Project } from './project.ts';
import { showProgress } from './progress.ts';

/** Frames in which the page is measured at once. */
const FRAMES = 2;

async function sweepIn(
  headless: Headless,
  source: PageSource,
  { grades, projectPage }: Project,
  { page, from, to, height, scripts, scrollbars, defaults }: SweepOptions,
): Promise<SweepDocument> {
  const other = askedDefaults(defaults);
  const frames = await Promise.all(
    Array.from({ length: FRAMES }, () =>
      headless.openSource(source, { width: to, height }, scripts, other, scrollbars === 'over'),
    ),
  );
  const { tell, end } = showProgress();
  const progress = (done: number, all: number) => tell?.(`${headless.engine}: ${done} of about ${all} widths`);
  const { analysis, looks } = await sweepOn(frames, { from, to, height, progress }).finally(end);
  const places = await placesOf(frames[0]!, grades);
  const swept = across(analysis, looks);
  const bands = gradedBands(swept.bands, grades, projectPage, (place) => places.get(place) ?? new Set());
  for (const note of await notesOf(source, frames[0]!, analysis)) console.error(`normetra: ${note}`);
  return sweepDocument(analysis, { ...swept, bands }, { page: basename(source.entry) || page, defaults });
}

/** What several engines say, as one document or one text. */
function severalText(documents: SweepDocument[], names: string[], isJson: boolean): string {
  const differ = sweepDifferences(documents, names);
  const engines = documents.map(({ engine }) => engine);
  if (isJson)
    return JSON.stringify({ normetra: 'engines/1', page: documents[0]!.page, engines, documents, differ });
  return [
    ...documents.map((document, n) => `${names[n]} ${engines[n]!.version}\n\n${sweepText(document)}`),
    sweepDifferencesText(differ),
  ].join('\n\n');
}

export async function sweep(argv: string[]): Promise<number> {
  const options = readSweepOptions(argv);
  const { page, root, json, out, grades } = options;
  if (out !== null) await writableFile(out);
  const source = await openPage(page, root);
  const project = await projectOf(page, grades, source);
  const engines = await openEngines(options.engine);
  try {
    const documents: SweepDocument[] = [];
    for (const engine of engines) documents.push(await sweepIn(engine, source, project, options));
    const [first] = documents;
    const text =
      documents.length > 1
        ? severalText(documents, options.engine, json)
        : json
          ? JSON.stringify(first)
          : sweepText(first!);
    await print(text, out);
    return 0;
  } finally {
    await closeEngines(engines);
  }
}
