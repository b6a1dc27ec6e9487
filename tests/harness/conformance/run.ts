/**
 * `npm run conformance`: the core held against the engine. The cascade on every page; accounts on generated pages of each
 * family and on every page of the corpus and the demo at three widths. `SEED=n`, `PAGES=n` and `FAMILY=pattern` choose
 * the generated pages, `SHOWN=n` how many disagreements of each are printed. `ENGINE=firefox` and `ENGINE=webkit` count the
 * residuals there.
 */
import { z } from 'zod';
import { ENGINE_NAMES } from '../../../src/lib/server/engines/drivers/model.ts';
import { openHeadless, type Headless } from '../../../src/lib/server/engines/headless.ts';
import { corpusPages, demoPages, type CorpusPage } from '../../support/corpus.ts';
import { complete, counterfactuals, newResult, residuals, type Result, type Share } from './accounts.ts';
import { compareCascade, type Disagreement } from './cascade.ts';
import { addMeasured, checkMeasured, measuredWords, nothing } from '../../support/measured.ts';
import { draw, FAMILY_NAMES, familyPage } from './families.ts';

const SEED = Number(process.env['SEED'] ?? 20261125);
const PAGES = Number(process.env['PAGES'] ?? 20);
const TRIES = 12;
const ENGINE = z.enum(ENGINE_NAMES).parse(process.env['ENGINE'] ?? 'chromium');
/** Pages are changed, and asked what became of them, through a driver that only one engine has. */
const isChangeable = ENGINE === 'chromium';
const WIDTHS = [360, 800, 1280];
const measured = nothing();
const SHOWN = Number(process.env['SHOWN'] ?? 2);

const share = ({ all, open }: Share): string =>
  all === 0 ? '–'.padStart(9) : `${(100 - (100 * open) / all).toFixed(2)} %`.padStart(9);

function line(name: string, { widths, heights, distances, counterfactual, causes }: Result): void {
  const all = [widths, heights, distances, counterfactual, causes].map(share).join(' ');
  console.log(`${name.padEnd(44)} ${all}   ${String(widths.all).padStart(6)} boxes`);
}

function addTo(total: Result, part: Result): void {
  for (const key of ['widths', 'heights', 'distances', 'counterfactual', 'causes'] as const) {
    total[key].all += part[key].all;
    total[key].open += part[key].open;
  }
  total.bent += part.bent;
  for (const [kind, share] of part.byKind) {
    const previous = total.byKind.get(kind) ?? { all: 0, open: 0 };
    total.byKind.set(kind, { all: previous.all + share.all, open: previous.open + share.open });
  }
}

const head = (title: string) =>
  console.log(
    `\n${title.padEnd(44)} ${['widths', 'heights', 'distances', 'counterf.', 'causes'].map((text) => text.padStart(9)).join(' ')}`,
  );

async function families(headless: Headless): Promise<Result> {
  const total = newResult();
  head(`Generated pages, ${PAGES} a family from seed ${SEED}`);
  for (const name of FAMILY_NAMES.filter((text) => new RegExp(process.env['FAMILY'] ?? '').test(text))) {
    const result = newResult();
    for (let seed = SEED; seed < SEED + PAGES; seed++) {
      const bytes = new TextEncoder().encode(familyPage(name, seed));
      const opened = await headless.open([{ path: 'index.html', type: 'text/html', bytes }], 'index.html', {
        width: 800,
        height: 600,
      });
      const analysis = await opened.measure();
      addMeasured(measured, await checkMeasured(opened, analysis, `${name}, seed ${seed}`));
      await complete(opened, analysis);
      residuals(analysis, `seed ${seed}`, result);
      if (isChangeable)
        await counterfactuals(headless.page, opened, analysis, `seed ${seed}`, draw(seed), TRIES, result);
      await opened.close();
    }
    line(name, result);
    for (const text of result.seen.slice(0, SHOWN)) console.log(`    ${text.slice(0, 300)}`);
    addTo(total, result);
  }
  line('all families', total);
  return total;
}

async function realPages(headless: Headless, pages: CorpusPage[]): Promise<Result> {
  const total = newResult();
  head(`Real pages at ${WIDTHS.join(', ')}`);
  for (const { entry, files, name } of pages) {
    const result = newResult();
    for (const width of WIDTHS) {
      const opened = await headless.open(files, entry, { width, height: 800 });
      const analysis = await opened.measure();
      addMeasured(measured, await checkMeasured(opened, analysis, `${name} at ${width}`));
      await complete(opened, analysis);
      residuals(analysis, `${name} at ${width}`, result);
      if (isChangeable && analysis.reading.count < 1200)
        await counterfactuals(
          headless.page,
          opened,
          analysis,
          `${name} at ${width}`,
          draw(SEED + width),
          4,
          result,
        );
      await opened.close();
    }
    line(name, result);
    for (const text of result.seen.slice(0, SHOWN)) console.log(`    ${text.slice(0, 300)}`);
    addTo(total, result);
  }
  line('all real pages', total);
  return total;
}

async function cascade(headless: Headless, pages: CorpusPage[]): Promise<void> {
  console.log("\nCascade: the core's answer against the computed value");
  const kinds = new Map<string, { count: number; first: Disagreement; page: string }>();
  let compared = 0;
  let agreed = 0;
  for (const { entry, files, name } of pages) {
    const opened = await headless.open(files, entry, { width: 1280, height: 800 });
    const analysis = await opened.measure();
    addMeasured(measured, await checkMeasured(opened, analysis, name));
    const result = await compareCascade(headless.page, opened.address, analysis);
    if (result.compared === 0) throw new Error(`${name}: no value was compared.`);
    compared += result.compared;
    agreed += result.agreed;
    console.log(
      `${name.padEnd(44)} ${String(analysis.reading.count).padStart(6)} elements  ${((100 * result.agreed) / result.compared).toFixed(3)} %`,
    );
    for (const disagreement of result.disagreements) {
      const key = `${disagreement.property} ${disagreement.from} on ${disagreement.element.split(/[.#]/)[0]}`;
      const cached = kinds.get(key);
      if (cached) cached.count++;
      else kinds.set(key, { count: 1, first: disagreement, page: name });
    }
    await opened.close();
  }
  console.log(`all pages: ${((100 * agreed) / compared).toFixed(4)} % of ${compared} values`);
  for (const [key, { count, first, page }] of [...kinds].sort((a, b) => b[1].count - a[1].count).slice(0, 40))
    console.log(
      `${String(count).padStart(6)}  ${key}: ${first.answer} → ${first.after}, computed ${first.before} (${first.element}, ${first.place}, ${page})`,
    );
}

const [wanted = ''] = process.argv.slice(2);
const headless = await openHeadless({ engine: ENGINE });
const pages = [...demoPages(), ...corpusPages()];
const total = newResult();
if (!wanted || wanted === 'families') addTo(total, await families(headless));
if (!wanted || wanted === 'pages') addTo(total, await realPages(headless, pages));
if (total.widths.all > 0) {
  console.log('\nSums without residual by kind of box, both axes');
  for (const [kind, ownShare] of [...total.byKind].sort((a, b) => b[1].all - a[1].all))
    console.log(`${kind.padEnd(20)} ${share(ownShare)}  of ${ownShare.all}`);
  head('Everything');
  line('', total);
  console.log(
    `${total.bent} numbers did not answer a change in a straight line and were held at its shortest step`,
  );
}
if (isChangeable && (!wanted || wanted === 'cascade')) await cascade(headless, pages);
await headless.close();
console.log(`\n${measuredWords(measured)}`);
if (measured.elements === 0 || (wanted !== 'cascade' && total.widths.all === 0))
  throw new Error('Nothing was measured: the run says nothing.');
