import { elementAt, labelOf } from '../src/core/boxes/label.ts';
import { usedText, childrenOf } from '../src/core/boxes/tree.ts';
import { flowOf } from '../src/core/boxes/flow.ts';
import { linesOf } from '../src/core/boxes/lines.ts';
import { openHeadless } from '../src/lib/server/engines/headless.ts';
import { corpusPages, demoPages } from './corpus.ts';
const [,, want, path, W = '1280'] = process.argv;
const h = await openHeadless();
for (const { entry, files, name } of [...demoPages(), ...corpusPages()].filter(({ name }) => name.match(want!)).slice(0,1)) {
  const o = await h.open(files, entry, { width: Number(W), height: 800 });
  const a = await o.measure();
  const el = elementAt(a.reading, path!);
  const show = (i: number) => console.log(labelOf(a.reading, i), a.tree.kinds[i], [...a.reading.rects.subarray(i*4, i*4+4)], ['display','position','vertical-align','line-height','font-size','overflow','margin','padding','width','height','aspect-ratio','align-self','align-items'].map((p) => `${p}:${usedText(a.reading, p, i)}`).join('; '));
  show(el); for (const c of childrenOf(a.tree, el)) show(c);
  const f = flowOf(a.tree, el); console.log(JSON.stringify(f.items).slice(0,800));
  for (const it of f.items) if (it.what === 'lines') console.log(JSON.stringify(linesOf(a.tree, el, it.nodes)));
  await o.close();
}
await h.close();
