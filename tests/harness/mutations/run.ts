/**
 * `npm run mutations`: declarations of sound pages are changed at random; where the engine says that the page is visibly harmed
 * by it, what is found is held against the harm. `SEED=n`, `COUNT=n`; `NORMETRA_CASES` names folders of labelled pages, of
 * which the twins are taken. `JSON=path` writes all of it down.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { FindingDocument } from '../../../src/core/reports/findings.ts';
import { findOn } from '../../../src/lib/server/engines/find.ts';
import { openHeadless, type Opened } from '../../../src/lib/server/engines/headless.ts';
import type { StoredFile } from '../../../src/lib/server/ingest/files.ts';
import { corpusPages, demoPages, type CorpusPage } from '../../support/corpus.ts';
import { patchedFiles } from '../../support/random-trials.ts';
import { draw } from '../conformance/families.ts';
import { readSets } from '../grades/labelled.ts';
import { freshHarms, HARM, PATH_OF, type Harm } from './harm.ts';
import { mutate } from './mutate.ts';

const SEED = Number(process.env['SEED'] ?? 20261202);
const COUNT = Number(process.env['COUNT'] ?? 40);
const WIDTHS = [360, 768, 1280];
const HEIGHT = 800;

const folders = (process.env['NORMETRA_CASES'] ?? '').split(':').filter(Boolean);
const twins: CorpusPage[] = [];
for (const { pages, pairs } of readSets(folders))
  for (const { twin } of pairs) {
    const bytes = readFileSync(join(pages, twin));
    twins.push({ name: twin, entry: twin, files: [{ path: twin, type: 'text/html', bytes }] });
  }
const large = corpusPages().filter(({ name }) => !/lang_createtable|fileformat2|pragma/.test(name));
const sound = [...twins, ...(large.length > 0 ? large : demoPages())];

const decode = new TextDecoder();
const encode = new TextEncoder();

/** The page's own sheets: files, and style elements of the page itself. */
const sheetsOf = ({ files, entry }: CorpusPage): { file: string; from: number; to: number }[] =>
  files.flatMap((file) => {
    const text = decode.decode(file.bytes);
    if (file.path === entry)
      return [...text.matchAll(/<style[^>]*>([\s\S]*?)<\/style>/g)].map((match) => {
        const from = match.index + match[0].indexOf('>') + 1;
        return { file: file.path, from, to: from + match[1]!.length };
      });
    // What others have written whole is no page's own sheet.
    return file.path.endsWith('.css') && text.length < 200_000 && !/\.min\.|bootstrap|vendors/.test(file.path)
      ? [{ file: file.path, from: 0, to: text.length }]
      : [];
  });

const headless = await openHeadless();

const frameOf = ({ address }: Opened) => headless.page.frames().find((frame) => frame.url() === address)!;

async function harmsOf(opened: Opened): Promise<Harm[][]> {
  const out: Harm[][] = [];
  for (const width of WIDTHS) {
    await opened.resize({ width, height: HEIGHT });
    await opened.measure();
    out.push(JSON.parse(await frameOf(opened).evaluate<string>(HARM)) as Harm[]);
  }
  return out;
}

const open = (page: CorpusPage, files: StoredFile[]): Promise<Opened> =>
  headless.open(files, page.entry, { width: WIDTHS[0]!, height: HEIGHT });

const ask = (opened: Opened, name: string, most: number) =>
  findOn(opened, { page: name, defaults: 'as-rendered', widths: WIDTHS, height: HEIGHT, kinds: null, most });

interface Clean {
  harms: Harm[][];
  told: Set<string>;
}
const cleans = new Map<string, Clean>();
const keyOf = ({ kind, subject, axis }: FindingDocument): string => `${kind} ${axis} ${subject}`;

async function cleanOf(page: CorpusPage): Promise<Clean> {
  const previous = cleans.get(page.name);
  if (previous) return previous;
  const opened = await open(page, page.files);
  const harms = await harmsOf(opened);
  const { findings } = await ask(opened, page.name, 0);
  await opened.close();
  const clean = { harms, told: new Set(findings.filter(({ grade }) => grade !== 'meant').map(keyOf)) };
  cleans.set(page.name, clean);
  return clean;
}

/** Of each path of a finding the one from the root. */
async function fullPaths(opened: Opened, findings: readonly FindingDocument[]): Promise<Map<string, string>> {
  const paths = findings.flatMap(({ subject, other }) => (other ? [subject, other] : [subject]));
  const full = await frameOf(opened).evaluate<string[]>(
    `(() => {
      ${PATH_OF}
      return ${JSON.stringify(paths)}.map((path) => {
        const e = document.querySelector(path.replace(/::[a-z-]+$/, ''));
        return e ? pathOf(e) : '';
      });
    })()`,
  );
  return new Map(paths.map((path, n) => [path, full[n]!]));
}

/** Whether one of two paths leads to the other; the whole page leads to everything, and says nothing. */
const isNear = (a: string, b: string): boolean =>
  a === b ||
  ([a, b].every((path) => path.split(' > ').length > 2) && (a.startsWith(`${b} >`) || b.startsWith(`${a} >`)));

/** Which kinds may tell a harm. */
const KINDS_OF: Record<Harm['kind'], readonly string[]> = {
  scroll: ['overflow', 'scroll'],
  cut: ['clip', 'overflow', 'overlap', 'size', 'percent-height'],
  covered: ['overlap', 'clip', 'overflow', 'percent-height'],
  letters: ['overlap', 'overflow', 'clip', 'size', 'percent-height'],
  outside: ['overflow', 'overlap', 'size', 'clip', 'percent-height'],
  off: ['clip', 'overflow', 'overlap'],
  unreachable: ['overlap', 'clip', 'overflow'],
  ratio: ['size'],
  'inner-scroll': ['scroll', 'overflow', 'clip', 'size'],
};

const draws = draw(SEED);
const rows: Record<string, unknown>[] = [];
const tally = { faults: 0, found: 0, wrong: 0, first: 0, culprit: 0, mended: 0, unrelated: 0, tried: 0 };
const byHarm = new Map<string, [number, number]>();
while (tally.faults < COUNT && tally.tried < COUNT * 30) {
  tally.tried++;
  const page = draws.pick(sound);
  const sheets = sheetsOf(page);
  if (sheets.length === 0) continue;
  const sheet = draws.pick(sheets);
  const file = page.files.find(({ path }) => path === sheet.file)!;
  const text = decode.decode(file.bytes);
  const mutation = mutate(text.slice(sheet.from, sheet.to), draws);
  if (!mutation) continue;
  const clean = await cleanOf(page);
  const bytes = encode.encode(text.slice(0, sheet.from) + mutation.css + text.slice(sheet.to));
  const files = page.files.map((each) => (each === file ? { ...each, bytes } : each));
  const line = text.slice(0, sheet.from).split('\n').length - 1 + mutation.line;
  const opened = await open(page, files);
  const harms = (await harmsOf(opened)).map((list, n) => freshHarms(clean.harms[n]!, list));
  // What is told of everywhere is a page taken apart, and what a hair's breadth is harmed is none.
  if (harms.flat().length === 0 || harms.flat().length > 60) {
    await opened.close();
    continue;
  }
  tally.faults++;
  const { findings } = await ask(opened, page.name, 12);
  const pathTo = await fullPaths(opened, findings);
  await opened.close();
  const all = findings.filter(({ grade }) => grade !== 'meant');
  const fresh = all.filter((finding) => !clean.told.has(keyOf(finding)));
  const isPlanted = (finding: FindingDocument): boolean =>
    finding.culprits.some(({ source }) => source?.sheet === sheet.file && source.line === line);
  const flat = harms.flatMap((list, n) => list.map((harm) => ({ ...harm, width: WIDTHS[n]! })));
  const tells = (finding: FindingDocument, harm: Harm & { width: number }): boolean =>
    KINDS_OF[harm.kind].includes(finding.kind) &&
    finding.at.some(({ from, to }) => from <= harm.width && harm.width <= to) &&
    (isPlanted(finding) ||
      harm.kind === 'scroll' ||
      [finding.subject, finding.other].some(
        (path) => path != null && isNear(pathTo.get(path) ?? '', harm.path),
      ));
  const telling = fresh.filter((finding) => flat.some((harm) => tells(finding, harm)));
  const best = telling.find(({ grade }) => grade === 'wrong') ?? telling[0];
  const first = best !== undefined && all[0] === best;
  const culprit = best?.culprits[0]?.source;
  const isCulprit = culprit?.sheet === sheet.file && culprit.line === line;
  for (const harm of flat) {
    const [told, of] = byHarm.get(harm.kind) ?? [0, 0];
    byHarm.set(harm.kind, [told + (telling.some((finding) => tells(finding, harm)) ? 1 : 0), of + 1]);
  }
  let mended = false;
  const remedy = best?.remedies[0];
  if (remedy?.diff) {
    const again = await open(page, await patchedFiles(files, remedy.diff));
    const left = (await harmsOf(again)).map((list, n) => freshHarms(clean.harms[n]!, list));
    await again.close();
    const asked = flat.filter((harm) => tells(best!, harm));
    mended = asked.every(
      (harm) =>
        !left.some(
          (list, n) =>
            WIDTHS[n] === harm.width && list.some(({ kind, path }) => kind === harm.kind && path === harm.path),
        ),
    );
  }
  const unrelated = fresh.filter(
    (finding) =>
      finding.grade === 'wrong' &&
      !telling.includes(finding) &&
      !isPlanted(finding) &&
      finding.kind !== 'inert',
  );
  tally.found += best ? 1 : 0;
  tally.wrong += best?.grade === 'wrong' ? 1 : 0;
  tally.first += first ? 1 : 0;
  tally.culprit += isCulprit ? 1 : 0;
  tally.mended += mended ? 1 : 0;
  tally.unrelated += unrelated.length;
  const worst = [...flat].sort((a, b) => b.px - a.px)[0]!;
  const row = {
    page: page.name,
    name: mutation.name,
    selector: mutation.selector,
    was: mutation.was,
    becomes: mutation.becomes,
    line,
    harms: flat,
    found: best !== undefined,
    grade: best?.grade,
    first,
    isCulprit,
    mended,
    told: best?.because,
    rule: best?.rule,
    culprit: best?.culprits[0],
    remedy: remedy?.what,
    others: fresh.map(({ grade, rule, because }) => `${grade} ${rule}: ${because}`),
    unrelated: unrelated.map(({ rule, because }) => `${rule}: ${because}`),
  };
  rows.push(row);
  console.log(
    `${tally.faults}. ${page.name} ${mutation.selector} { ${mutation.was} → ${mutation.becomes} } line ${line}\n   ${worst.kind} ${worst.px} px at ${worst.width} of ${worst.path.split(' > ').slice(-3).join(' > ')} (${flat.length} harms: ${[...new Set(flat.map(({ kind, width }) => `${kind}@${width}`))].join(' ')})\n   ${best ? `${best.grade}${first ? ', first' : ''}${isCulprit ? ', culprit' : ''}${mended ? ', mended' : ''}: ${best.rule} ${best.because} [${best.culprits[0]?.property ?? ''} ${best.culprits[0]?.source?.line ?? ''}] {${remedy?.what ?? 'no remedy'}}` : `MISSED; told: ${fresh.map(({ grade, rule, because }) => `${grade} ${rule}: ${because}`).join(' || ') || 'nothing'}`}`,
  );
  for (const finding of unrelated) console.log(`   unrelated: ${finding.rule} ${finding.because}`);
}
await headless.close();
const share = (n: number): string => `${n} (${((100 * n) / tally.faults).toFixed(0)} %)`;
console.log(
  `\nseed ${SEED}: ${tally.tried} changes tried, ${tally.faults} harm the page: found ${share(tally.found)}, as wrong ${share(tally.wrong)}, first ${share(tally.first)}, culprit ${share(tally.culprit)}, mended ${share(tally.mended)}, unrelated graded wrong ${(tally.unrelated / tally.faults).toFixed(2)} a page`,
);
for (const [kind, [told, of]] of byHarm) console.log(`  ${kind.padEnd(14)} ${told} of ${of} harms told`);
if (process.env['JSON']) writeFileSync(process.env['JSON'], JSON.stringify(rows, null, 1));
if (tally.faults === 0) throw new Error('No change harmed a page: the run says nothing.');
