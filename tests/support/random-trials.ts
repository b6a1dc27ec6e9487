/** Random trials over real pages: laid over, taken off, written out, patched in by other means, measured again. */
import { execFile } from 'node:child_process';
import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { promisify } from 'node:util';
import type { Analysis } from '../../src/core/analysis.ts';
import { pathOf } from '../../src/core/reading/labels.ts';
import type { RawReading } from '../../src/core/reading/reading.ts';
import { hasBox } from '../../src/core/boxes/tree.ts';
import { editSchema, type Change, type Edit } from '../../src/core/trials/edit.ts';
import { declarationIn, readFiles, targetOf } from '../../src/core/trials/targets.ts';
import { unifiedDiff } from '../../src/core/trials/write.ts';
import type { Headless, Opened } from '../../src/lib/server/engines/headless.ts';
import type { StoredFile } from '../../src/lib/server/ingest/files.ts';
import type { CorpusPage } from './corpus.ts';
import type { Draw } from '../harness/conformance/families.ts';

const run = promisify(execFile);

/** A reading as far as two of them must be the same to the last bit; when it was taken and where from is not in it. */
export function essence({
  rects,
  count,
  strings,
  tag,
  classes,
  texts,

  used,
  document,
}: RawReading): string {
  const values = Object.entries(used)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([property, column]) => [
      property,
      // Of a property that few elements use, those that do not are not always asked.
      Array.from(column, (index) => strings[index] ?? '').map((value) => (value === 'none' ? '' : value)),
    ]);
  return JSON.stringify({
    count,
    rects: Array.from(rects),
    tags: Array.from(tag, (index) => strings[index]),
    classes: Array.from(classes, (index) => strings[index]),
    texts,
    // Addresses differ from frame to frame; what no element uses is not asked for every time.
    values: values.filter(
      ([property, list]) =>
        !/image|content|filter|mask|cursor/.test(property as string) &&
        !(list as string[]).every((text) => text === '' || text === 'none'),
    ),
    size: [document.scrollWidth, document.scrollHeight],
  });
}

const VALUES: Record<string, string[]> = {
  width: ['50%', '200px', 'auto', 'max-content'],
  height: ['100px', 'auto', '3em'],
  margin: ['0', '8px 4px', '1rem auto'],
  padding: ['0', '12px', '1ex 2em'],
  display: ['block', 'inline-block', 'flex', 'none'],
  'font-size': ['12px', '1.2em', '110%'],
  'line-height': ['1', '1.8'],
  position: ['relative', 'absolute', 'static'],
  'box-sizing': ['border-box', 'content-box'],
  'border-width': ['3px'],
};

/** One random edit that fits the page. */
function randomEdit(
  analysis: Analysis,
  texts: Record<string, string>,
  page: string,
  draw: Draw,
  id: string,
): Edit {
  const { reading, tree, sources } = analysis;
  const files = readFiles(texts);
  const boxes = Array.from({ length: reading.count }, (_, i) => i).filter(
    (i) => i > 2 && hasBox(tree, i) && analysis.styles.sources[i]?.range && !pathOf(reading, i).includes('>>>'),
  );
  const element = { file: page, path: pathOf(reading, draw.pick(boxes)) };
  const property = draw.pick(Object.keys(VALUES));
  const value = draw.pick(VALUES[property]!);
  const sheets = sources.plan.sheets.filter(({ rules, form }) => rules.length > 0 && form !== 'attribute');
  const sheet = sheets.length > 0 ? draw.pick(sheets) : null;
  const placed =
    sheet &&
    (sheet.form === 'file'
      ? files.sheet(sheet.file, -1)
      : files.sheet(page, sources.plan.sheets.filter(({ form }) => form === 'element').indexOf(sheet)));
  const rules =
    placed?.sheet.rules.filter(
      ({ declarations, parents }) => declarations.length > 0 && parents.length === 0,
    ) ?? [];
  const make = (change: Change): Edit => editSchema.parse({ id, change });
  const kind = draw.pick([
    'change',
    'change',
    'mute',
    'add',
    'rule',
    'inline',
    'remove',
    'duplicate',
    'text',
    'attribute',
    'move',
    'viewport',
  ]);
  if (placed && rules.length > 0 && /^(change|mute|add|rule)$/.test(kind)) {
    const rule = draw.pick(rules);
    const target = targetOf(placed, rule);
    const declaration = draw.pick(rule.declarations);
    const alike = rule.declarations.filter((entry) => entry.property === declaration.property);
    const nth = alike.indexOf(declaration);
    const was = declarationIn(
      { rule } as Parameters<typeof declarationIn>[0],
      declaration.property,
      nth,
    )!.value;
    if (kind === 'change')
      return make({
        do: 'change',
        at: target,
        nth,
        was,
        property: declaration.property,
        value: VALUES[declaration.property]
          ? draw.pick(VALUES[declaration.property]!)
          : was.replace(/\d+/, (n) => String(Number(n) + 3)),
        important: declaration.important,
      });
    if (kind === 'mute') return make({ do: 'mute', at: target, nth, was, property: declaration.property });
    if (kind === 'add') return make({ do: 'add', at: target, property, value, important: draw.chance(0.2) });
    const { file, style } = placed;
    return make({
      do: 'rule',
      at: { kind: 'sheet', file, style },
      selector: pathOf(reading, draw.pick(boxes)),
      declarations: [{ property, value, important: false }],
    });
  }
  switch (kind) {
    case 'remove':
    case 'duplicate':
      return make({ do: kind, ...element });
    case 'text':
      return make({ do: 'text', ...element, text: 'Tide & <mast>' });
    case 'attribute':
      return make({ do: 'attribute', ...element, name: 'title', value: draw.chance(0.5) ? 'x "y" & z' : null });
    case 'move':
      return make({
        do: 'move',
        ...element,
        to: pathOf(reading, draw.pick(boxes)),
        where: draw.pick(['before', 'after', 'start', 'end'] as const),
      });
    case 'viewport':
      return make({ do: 'viewport', file: page, content: draw.chance(0.5) ? 'width=600' : null });
    default:
      return make({ do: 'add', at: { kind: 'inline', ...element }, property, value, important: false });
  }
}

export interface TrialResult {
  edits: Edit[];
  failed: number;
  /** What did not come out as it should. */
  wrong: string[];
}

export async function textsOfFiles(files: readonly StoredFile[]): Promise<Record<string, string>> {
  return Object.fromEntries(
    files
      .filter(({ path }) => /\.(html?|css)$/i.test(path))
      .map(({ path, bytes }) => [path, new TextDecoder().decode(bytes)]),
  );
}

/** One random trial on an opened page. `plain`: the page's reading without any. */
export async function tryOnce(
  headless: Headless,
  opened: Opened,
  { files, entry }: Pick<CorpusPage, 'files' | 'entry'>,
  plain: Analysis,
  draw: Draw,
  size: { width: number; height: number },
): Promise<TrialResult> {
  const texts = await textsOfFiles(files);
  const edits = Array.from({ length: 1 + draw.int(0, 4) }, (_, i) =>
    randomEdit(plain, texts, entry, draw, `e${i}`),
  );
  const wrong: string[] = [];
  const laid = await opened.lay(edits);
  const during = essence((await opened.measure()).reading);
  const result = edits.filter((_, i) => !laid.failed.some(({ edit }) => edit === i));
  const patched = await patchedFiles(files, unifiedDiff(texts, result, entry));
  const other = await headless.open(patched, entry, size);
  if (essence((await other.measure()).reading) !== during) wrong.push('the patched files measure otherwise');
  await other.close();
  await opened.lay([]);
  if (essence((await opened.measure()).reading) !== essence(plain.reading))
    wrong.push('taken off, the page is not as it was');
  return { edits, failed: laid.failed.length, wrong };
}

/** The files with a diff applied to them by `patch`. */
export async function patchedFiles(files: readonly StoredFile[], diff: string): Promise<StoredFile[]> {
  if (diff === '') return [...files];
  const folder = await mkdtemp(join(tmpdir(), 'normetra-patch-'));
  try {
    const named = new Set([...diff.matchAll(/^\+\+\+ b\/(.*)$/gm)].map(([, file]) => file!));
    for (const { path, bytes } of files) {
      if (!named.has(path)) continue;
      await mkdir(dirname(join(folder, path)), { recursive: true });
      await writeFile(join(folder, path), bytes);
    }
    await writeFile(join(folder, 'trial.diff'), diff);
    await run('git', ['apply', '--whitespace=nowarn', 'trial.diff'], { cwd: folder });
    return await Promise.all(
      files.map(async (file) =>
        named.has(file.path) ? { ...file, bytes: await readFile(join(folder, file.path)) } : file,
      ),
    );
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
