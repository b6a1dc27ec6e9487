/** `npm run conformance`: the core held against the engine on every page of the corpus and the demo. */
import { openHeadless } from '../../src/lib/server/engines/headless.ts';
import { corpusPages, demoPages, hasCorpus } from '../corpus.ts';
import { compareCascade, type Disagreement } from './cascade.ts';

const only = process.argv[2];
const headless = await openHeadless();
const kinds = new Map<string, { count: number; first: Disagreement; page: string }>();
let compared = 0;
let agreed = 0;
if (!hasCorpus) console.log('The corpus is not here; the demo alone is measured.');
for (const { name, entry, files } of [...demoPages(), ...corpusPages()]) {
  if (only && !name.includes(only)) continue;
  const opened = await headless.open(files, entry, { width: 1280, height: 800 });
  const analysis = await opened.measure();
  const result = await compareCascade(headless.page, opened.address, analysis);
  compared += result.compared;
  agreed += result.agreed;
  console.log(
    `${name.padEnd(44)} ${String(analysis.reading.count).padStart(6)} elements  ${((100 * result.agreed) / result.compared).toFixed(3)} %`,
  );
  for (const one of result.disagreements) {
    const key = `${one.property} ${one.from} on ${one.element.split(/[.#]/)[0]}`;
    const known = kinds.get(key);
    if (known) known.count++;
    else kinds.set(key, { count: 1, first: one, page: name });
  }
  await opened.close();
}
await headless.close();
console.log(
  `\nCascade: the core's answer is the computed value in ${((100 * agreed) / compared).toFixed(4)} % of ${compared} values.`,
);
for (const [key, { count, first, page }] of [...kinds].sort((a, b) => b[1].count - a[1].count).slice(0, 40))
  console.log(
    `${String(count).padStart(6)}  ${key}: ${first.answer} → ${first.after}, computed ${first.before} (${first.element}, ${first.place}, ${page})`,
  );
