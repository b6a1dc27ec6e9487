import { sizeAccount } from '../src/core/accounts/size.ts';
import { contentOf } from '../src/core/accounts/content.ts';
import { columnOf } from '../src/core/accounts/margins.ts';
import { learn, intrinsicBatches } from '../src/core/analysis.ts';
import { pathOf, elementAt } from '../src/core/boxes/label.ts';
import { openHeadless } from '../src/lib/server/engines/headless.ts';
import { corpusPages, demoPages } from './corpus.ts';
const [,, want, path, W = '1280'] = process.argv;
const h = await openHeadless();
for (const { entry, files, name } of [...demoPages(), ...corpusPages()].filter(({ name }) => name.match(want!)).slice(0,1)) {
  const o = await h.open(files, entry, { width: Number(W), height: 800 });
  const a = await o.measure();
  const el = elementAt(a.reading, path!);
  for (const x of ['x','y'] as const) sizeAccount(a, el, x);
  if (a.wanting.size) learn(a, await o.ask('intrinsic', { batches: intrinsicBatches(a) }));
  for (const x of ['x','y'] as const) { const s = sizeAccount(a, el, x); console.log(x, s.used, 'res', s.residual); for (const t of s.terms) console.log('   ', t.px.toFixed(2), t.what, t.rule, t.note); for (const l of s.lost) console.log('   lost', l.property, l.px, l.why); }
  console.log(a.tree.kinds[el], a.reading.rects.subarray(el*4, el*4+4));
  const c = columnOf(a, el);
  for (const b of c.betweens) { const it = c.items[b.after]; const r = it?.what === 'block' ? a.reading.rects.subarray(it.element*4, it.element*4+4) : c.lines[b.after]?.map(l => [l.start, l.end, l.baseline, l.above.what, l.below.what]); console.log(b.before, b.after, b.px.toFixed(2), b.clearance, b.escapes, it?.what, it?.what === 'block' ? pathOf(a.reading, it.element) : '', r); }
  await o.close();
}
await h.close();
