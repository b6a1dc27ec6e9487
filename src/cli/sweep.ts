/** `normetra sweep`: a page at every width of a range, each change to 1 px. */
import { basename } from 'node:path';
import { across, gradedBands } from '../core/sweep/across.ts';
import { sweepDocument, sweepText } from '../core/reports/sweep.ts';
import { askedDefaults } from '../lib/server/engines/atlas.ts';
import { openHeadless } from '../lib/server/engines/headless.ts';
import { openPage } from '../lib/server/engines/source.ts';
import { placesOf } from '../lib/server/engines/places.ts';
import { sweepOn } from '../lib/server/engines/sweep.ts';
import { notesOf, print } from './output.ts';
import { readSweepOptions, writableFile } from './options.ts';
import { projectOf } from './project.ts';
import { showProgress } from './progress.ts';

/** Frames in which the page is measured at once. */
const FRAMES = 2;

export async function sweep(argv: string[]): Promise<number> {
  const {
    page,
    from,
    to,
    height,
    root,
    scripts,
    scrollbars,
    defaults,
    json,
    out,
    grades: file,
  } = readSweepOptions(argv);
  const isOver = scrollbars === 'over';
  if (out !== null) await writableFile(out);
  const source = await openPage(page, root);
  const { grades, projectPage } = await projectOf(page, file, source);
  const other = askedDefaults(defaults);
  const headless = await openHeadless();
  try {
    const frames = await Promise.all(
      Array.from({ length: FRAMES }, () =>
        headless.openSource(source, { width: to, height }, scripts, other, isOver),
      ),
    );
    const { tell, end } = showProgress();
    const progress = (done: number, all: number) => tell?.(`${done} of about ${all} widths`);
    const { analysis, looks } = await sweepOn(frames, { from, to, height, progress }).finally(end);
    const places = await placesOf(frames[0]!, grades);
    const swept = across(analysis, looks);
    const bands = gradedBands(swept.bands, grades, projectPage, (place) => places.get(place) ?? new Set());
    const document = sweepDocument(
      analysis,
      { ...swept, bands },
      {
        page: basename(source.entry) || page,
        defaults,
      },
    );
    const text = json ? JSON.stringify(document) : sweepText(document);
    for (const note of await notesOf(source, frames[0]!, analysis)) console.error(`normetra: ${note}`);
    await print(text, out);
    return 0;
  } finally {
    await headless.close();
  }
}
