import { sizeAccount } from '../src/core/accounts/size.ts';
import { learn, intrinsicBatches } from '../src/core/analysis.ts';
import { pathOf } from '../src/core/boxes/label.ts';
import { openHeadless } from '../src/lib/server/engines/headless.ts';
import { corpusPages, demoPages } from './corpus.ts';
const want = process.argv[2] ?? 'demo';
const W = Number(process.argv[3] ?? 1280);
const kindFilter = process.argv[4];
const h = await openHeadless();
const tally = new Map<string, [number, number]>();
const seen = new Map<string, string[]>();
for (const { entry, files, name } of [...demoPages(), ...corpusPages()].filter(({ name }) => name.match(want))) {
  const o = await h.open(files, entry, { width: W, height: 800 });
  const a = await o.measure();
  const t0 = performance.now();
  const all = () => { for (let i = 0; i < a.reading.count; i++) { if (['none','contents'].includes(a.tree.kinds[i]!)) continue; for (const x of ['x','y'] as const) { try { sizeAccount(a, i, x); } catch (e) { console.log(name, pathOf(a.reading, i), x, (e as Error).stack?.split('\n').slice(0,4).join(' ')); } } } };
  all();
  const t1 = performance.now();
  const w = [...a.wanting];
  if (w.length) { learn(a, await o.ask('intrinsic', { batches: intrinsicBatches(a) })); const t2 = performance.now(); all(); console.log(name, a.reading.count, (t1-t0).toFixed(0), w.length, (t2-t1).toFixed(0), (performance.now()-t2).toFixed(0)); }
  let bad = 0, n = 0;
  for (let i = 0; i < a.reading.count; i++) {
    const k = a.tree.kinds[i]!;
    if (['none','contents'].includes(k)) continue;
    for (const x of ['x','y'] as const) {
      let s; try { s = sizeAccount(a, i, x); } catch { continue; }
      const key = `${k} ${x}`;
      const t = tally.get(key) ?? [0,0]; t[0]++; n++;
      if (!(Math.abs(s.residual) < 0.05)) { t[1]++; bad++;
        const l = seen.get(key) ?? []; if (l.length < (kindFilter === key ? 40 : 3)) l.push(`${name} ${pathOf(a.reading, i)}: ${s.used.toFixed(2)} res ${s.residual.toFixed(2)} = ${s.terms.map(t => `${t.px.toFixed(2)} ${t.what}/${t.rule} (${t.note.slice(0,60)})`).join(' + ')}`); seen.set(key, l); }
      tally.set(key, t);
    }
  }
  console.log(name, n, 'bad', bad, (100-100*bad/n).toFixed(2)+'%');
  await o.close();
}
for (const [k, [n, b]] of [...tally].sort()) { if (!kindFilter || kindFilter === k) { console.log(k.padEnd(24), n, b, (100-100*b/n).toFixed(2)+'%'); for (const s of seen.get(k) ?? []) console.log('     ', s.slice(0, 420)); } }
await h.close();
