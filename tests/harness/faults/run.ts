/** `npm run faults`: faults planted by seed on real pages, one at a time. `SEED=n`, `EACH=n`, `KIND=regex` choose. */
import { openHeadless } from '../../../src/lib/server/engines/headless.ts';
import { draw } from '../conformance/families.ts';
import { corpusPages, demoPages, hasCorpus } from '../../support/corpus.ts';
import { FAULTS } from './kinds.ts';
import { measuredWords } from '../../support/measured.ts';
import { measured, plant, type Result } from './plant.ts';

const SEED = Number(process.env['SEED'] ?? 20261125);
const EACH = Number(process.env['EACH'] ?? 3);
const KIND = new RegExp(process.env['KIND'] ?? '.');

const headless = await openHeadless();
/** The demo's pages have faults of their own, and are taken where there is nothing else. */
const pages = (hasCorpus ? corpusPages() : demoPages()).filter(
  ({ name }) => !/lang_createtable|fileformat2|pragma/.test(name),
);
const all: Result[] = [];
console.log(`seed ${SEED}\nfault              tried  found  first  three   line  mended`);
for (const [n, fault] of FAULTS.entries()) {
  if (!KIND.test(fault.name)) continue;
  const { pick, ...rest } = draw(SEED * 100 + n);
  const own: Result[] = [];
  for (let attempt = 0; attempt < EACH * 6 && own.length < EACH; attempt++) {
    const result = await plant(headless, pick(pages), fault, { pick, ...rest });
    if (result && result.found !== null) own.push(result);
  }
  all.push(...own);
  const count = (test: (result: Result) => boolean) => String(own.filter(test).length).padStart(6);
  console.log(
    `${fault.name.padEnd(18)}${count(() => true)} ${count((r) => r.found === true)} ${count((r) => r.first)} ${count((r) => r.amongThree)} ${count((r) => r.line)} ${count((r) => r.remedied)}`,
  );
  for (const result of own)
    if (!result.found || !result.first || !result.remedied || result.unrelated.length > 0)
      console.log(
        `    ${result.page}: ${result.found ? '' : 'not found; '}${result.first ? '' : 'culprit not first; '}${result.remedied ? '' : 'not mended; '}${result.unrelated.length ? `unrelated: ${result.unrelated.join(' | ')}; ` : ''}${result.told}`.slice(
          0,
          500,
        ),
      );
}
const part = (test: (result: Result) => boolean) =>
  `${((100 * all.filter(test).length) / all.length).toFixed(1)} %`;
console.log(
  `${all.length} faults of ${new Set(all.map(({ fault }) => fault)).size} kinds: found ${part((r) => r.found === true)}, culprit first ${part((r) => r.first)}, among three ${part((r) => r.amongThree)}, line ${part((r) => r.line)}, mended ${part((r) => r.remedied)}, unrelated ${(all.reduce((sum, result) => sum + result.unrelated.length, 0) / all.length).toFixed(2)} a page`,
);
console.log(measuredWords(measured));
await headless.close();
if (all.length === 0) throw new Error('No fault was planted: the run says nothing.');
