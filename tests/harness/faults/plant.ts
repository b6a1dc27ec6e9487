/** One fault on one page: planted, seen in the engine, looked for, mended by what is proposed, and looked at again. */
import { pathOf } from '../../../src/core/reading/labels.ts';
import type { FindingDocument, FindingsDocument } from '../../../src/core/reports/findings.ts';
import { editSchema, type Edit } from '../../../src/core/trials/edit.ts';
import { overlay } from '../../../src/core/trials/overlay.ts';
import { findOn } from '../../../src/lib/server/engines/find.ts';
import type { Headless, Opened } from '../../../src/lib/server/engines/headless.ts';
import type { StoredFile } from '../../../src/lib/server/ingest/files.ts';
import type { CorpusPage } from '../../support/corpus.ts';
import type { Draw } from '../conformance/families.ts';
import { addMeasured, checkMeasured, nothing } from '../../support/measured.ts';
import { patchedFiles, textsOfFiles } from '../../support/random-trials.ts';
import { placesFor, type Fault } from './kinds.ts';

const SIZE = { width: 1280, height: 800 };
const ASK = { page: '', defaults: 'as-rendered', widths: [SIZE.width], height: SIZE.height, kinds: null };

export interface Result {
  fault: string;
  page: string;
  /** null: the fault cannot be seen there. */
  found: boolean | null;
  first: boolean;
  amongThree: boolean;
  line: boolean;
  remedied: boolean;
  /** New findings that have nothing to do with the fault. */
  unrelated: string[];
  told: string;
}

const pages = new Map<string, Promise<{ before: FindingsDocument; opened: Opened }>>();

function clean(headless: Headless, page: CorpusPage): Promise<{ before: FindingsDocument; opened: Opened }> {
  const previous =
    pages.get(page.name) ??
    headless.open(page.files, page.entry, SIZE).then(async (opened) => ({
      before: await findOn(opened, { ...ASK, most: 0 }),
      opened,
    }));
  pages.set(page.name, previous);
  return previous;
}

const keyOf = ({ kind, subject, axis }: FindingDocument): string => `${kind} ${axis} ${subject}`;
const evaluate = (opened: Opened, path: string, expression: string): Promise<number> =>
  opened.evaluate(path, expression);

function filesWith(files: readonly StoredFile[], texts: Record<string, string>): StoredFile[] {
  return files.map((file) =>
    texts[file.path] === undefined ? file : { ...file, bytes: new TextEncoder().encode(texts[file.path]) },
  );
}

/** What all pages that faults were planted on have. */
export const measured = nothing();

export async function plant(
  headless: Headless,
  page: CorpusPage,
  fault: Fault,
  draw: Draw,
): Promise<Result | null> {
  const { before, opened: sound } = await clean(headless, page);
  const analysis = await sound.measure();
  addMeasured(measured, await checkMeasured(sound, analysis, page.name));
  const places = placesFor(analysis, fault);
  if (places.length === 0) return null;
  const element = draw.pick(places);
  const path = pathOf(analysis.reading, element);
  const sheet = analysis.sources.plan.sheets.findLast(
    ({ form, file }) => form === 'file' && !file.startsWith('('),
  );
  if (!sheet) return null;
  const texts = await textsOfFiles(page.files);
  const block = `\n${path} {\n${fault
    .css(draw)
    .map((text) => `  ${text};\n`)
    .join('')}}\n`;
  const planted: Record<string, string> = { [sheet.file]: (texts[sheet.file] ?? '') + block };
  const line = (texts[sheet.file] ?? '').split('\n').length + 2;
  const lastLine = line + fault.css(draw).length - 1;
  if (fault.markup !== undefined) {
    const edit: Edit = editSchema.parse({
      id: 'm',
      change: { do: 'markup', file: page.entry, path, markup: fault.markup },
    });
    Object.assign(planted, overlay(texts, [edit], page.entry).texts);
  }
  const files = filesWith(page.files, planted);
  const opened = await headless.open(files, page.entry, SIZE);
  try {
    const px = await evaluate(opened, path, fault.seen);
    const was = /scrollWidth - doc|scrollHeight - doc/.test(fault.seen)
      ? await evaluate(sound, path, fault.seen)
      : 0;
    const result: Result = {
      fault: fault.name,
      page: `${page.name} ${path}`,
      found: null,
      first: false,
      amongThree: false,
      line: false,
      remedied: false,
      unrelated: [],
      told: '',
    };
    if (!(px >= 4) || was >= 4) return result;
    const { findings } = await findOn(opened, { ...ASK, most: 6 });
    const had = new Set(before.findings.map(keyOf));
    const fresh = findings.filter((finding) => finding.grade !== 'meant' && !had.has(keyOf(finding)));
    const isPlanted = (source: { sheet: string; line: number } | null | undefined) =>
      source != null && source.sheet === sheet.file && source.line >= line && source.line <= lastLine;
    const about = (entry: FindingDocument) =>
      fault.as.includes(entry.kind) &&
      (entry.subject.startsWith(path) ||
        entry.other?.startsWith(path) === true ||
        entry.culprits.some(({ source, path: text }) => isPlanted(source) || text.startsWith(path)));
    const found = fresh.find(about);
    result.found = found !== undefined;
    result.told = found?.because ?? fresh.map(({ kind, because }) => `${kind}: ${because}`).join(' | ');
    if (!found) return result;
    // Planted content is to blame by what it is, or by its own style attribute.
    const isCulprit = ({ source, path: text }: FindingDocument['culprits'][number]) =>
      isPlanted(source) ||
      (fault.markup !== undefined && text.startsWith(path) && (source === null || source.sheet === page.entry));
    result.first = found.culprits[0] !== undefined && isCulprit(found.culprits[0]);
    result.amongThree = found.culprits.slice(0, 3).some(isCulprit);
    result.line = isPlanted(found.culprits[0]?.source) || (fault.markup !== undefined && result.first);
    result.unrelated = fresh
      .filter(
        (entry) =>
          !about(entry) &&
          !entry.subject.startsWith(path) &&
          !entry.culprits.some(({ source }) => isPlanted(source)) &&
          entry.px >= 1,
      )
      .map(({ kind, because }) => `${kind}: ${because}`);
    const [remedy] = found.remedies;
    if (!remedy) return result;
    const mended = await headless.open(await patchedFiles(files, remedy.diff), page.entry, SIZE);
    const again = await findOn(mended, { ...ASK, most: 0 });
    await mended.close();
    result.remedied = !again.findings.some(
      (finding) => finding.grade !== 'meant' && keyOf(finding) === keyOf(found),
    );
    return result;
  } finally {
    await opened.close();
  }
}
