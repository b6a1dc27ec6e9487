/** `normetra read`: one page measured by a headless engine, without database and server. */
import { basename } from 'node:path';
import { readingDocument } from '../core/reports/reading.ts';
import { boxText, readingSummary } from '../core/reports/text.ts';
import { askedDefaults } from '../lib/server/engines/atlas.ts';
import { openHeadless } from '../lib/server/engines/headless.ts';
import { openPage } from '../lib/server/engines/source.ts';
import { elementsOf, notesOf, print } from './output.ts';
import { readPageOptions, writableFile } from './options.ts';

export async function read(argv: string[]): Promise<number> {
  const options = readPageOptions('read', argv);
  const { page, width, height, root, scripts, scrollbars, defaults, json, select, out } = options;
  if (out !== null) await writableFile(out);
  const source = await openPage(page, root);
  const other = askedDefaults(defaults);
  const headless = await openHeadless();
  try {
    const isOver = scrollbars === 'over';
    const opened = await headless.openSource(source, { width, height }, scripts, other, isOver);
    const analysis = await opened.measure();
    const found = select === null ? null : await elementsOf(opened, select);
    const result = () => {
      if (json) {
        const document = readingDocument(analysis, { page: basename(source.entry) || page, defaults });
        if (!found) return JSON.stringify(document);
        const ids = new Set(found);
        return JSON.stringify({
          ...document,
          boxes: document.boxes.filter(({ id }) => ids.has(id)),
          gaps: document.gaps.filter(({ container, before, after }) =>
            [container, before, after].some((id) => id !== null && ids.has(id)),
          ),
        });
      }
      return found
        ? found.map((element) => boxText(analysis, element)).join('\n\n')
        : readingSummary(analysis, out !== null);
    };
    // A table of boxes needs no sums, and so nothing more from the engine.
    const text = json || found ? await opened.complete(analysis, result) : result();
    for (const note of await notesOf(source, opened, analysis)) console.error(`normetra: ${note}`);
    await print(text, out);
    return 0;
  } finally {
    await headless.close();
  }
}
