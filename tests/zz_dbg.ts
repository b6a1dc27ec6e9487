import { flexOf } from '../src/core/accounts/flex.ts';
import { learn, intrinsicBatches } from '../src/core/analysis.ts';
import { elementAt } from '../src/core/boxes/label.ts';
import { openHeadless } from '../src/lib/server/engines/headless.ts';
import { corpusPages, demoPages } from './corpus.ts';
const [,, want, path, W = '1280'] = process.argv;
const h = await openHeadless();
for (const { entry, files, name } of [...demoPages(), ...corpusPages()].filter(({ name }) => name.match(want!)).slice(0,1)) {
  const o = await h.open(files, entry, { width: Number(W), height: 800 });
  const a = await o.measure();
  const el = elementAt(a.reading, path!);
  flexOf(a, el); console.log([...a.wanting]);
  learn(a, await o.ask('intrinsic', { batches: intrinsicBatches(a) })); console.log(a.intrinsic);
  const b = flexOf(a, el); console.log(b.size, JSON.stringify(b.lines, null, 1).slice(0, 4000));
  await o.close();
}
await h.close();
