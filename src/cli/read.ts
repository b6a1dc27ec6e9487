/** `normetra read`: one page measured by a headless engine, without database and server. */
import { basename } from 'node:path';
import { readingDocument, type ReadingDocument } from '../core/reports/reading.ts';
import { boxText, readingSummary } from '../core/reports/text.ts';
import { askedDefaults } from '../lib/server/engines/atlas.ts';
import type { Headless } from '../lib/server/engines/headless.ts';
import { closeEngines, openEngines } from '../lib/server/engines/several.ts';
import { openPage, type PageSource } from '../lib/server/engines/source.ts';
import { elementsOf, notesOf, print } from './output.ts';
import { readPageOptions, writableFile, type PageOptions } from './options.ts';

interface Answer {
  text: string;
  notes: string[];
}

/** What one engine says of the page. */
async function readIn(
  headless: Headless,
  source: PageSource,
  { page, width, height, scripts, scrollbars, defaults, json, select, out }: PageOptions,
): Promise<Answer> {
  const other = askedDefaults(defaults);
  const opened = await headless.openSource(source, { width, height }, scripts, other, scrollbars === 'over');
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
  return { text, notes: await notesOf(source, opened, analysis) };
}

/** What several engines say, as one document or one text. */
function severalText(names: readonly string[], texts: readonly string[], isJson: boolean): string {
  if (!isJson) return texts.map((text, n) => `${names[n]}\n\n${text}`).join('\n\n');
  const documents = texts.map((text) => JSON.parse(text) as ReadingDocument);
  const engines = documents.map(({ engine }) => engine);
  return JSON.stringify({ normetra: 'engines/1', page: documents[0]!.page, engines, documents });
}

export async function read(argv: string[]): Promise<number> {
  const options = readPageOptions('read', argv);
  const { page, root, json, out } = options;
  if (out !== null) await writableFile(out);
  const source = await openPage(page, root);
  const engines = await openEngines(options.engine);
  try {
    const answers: Answer[] = [];
    for (const engine of engines) answers.push(await readIn(engine, source, options));
    for (const note of new Set(answers.flatMap(({ notes }) => notes))) console.error(`normetra: ${note}`);
    const texts = answers.map(({ text }) => text);
    await print(texts.length === 1 ? texts[0]! : severalText(options.engine, texts, json), out);
    return 0;
  } finally {
    await closeEngines(engines);
  }
}
