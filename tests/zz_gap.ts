import { gapsOf } from '../src/core/accounts/gap.ts';
import { pathOf } from '../src/core/boxes/label.ts';
import { openHeadless } from '../src/lib/server/engines/headless.ts';
import { corpusPages, demoPages } from './corpus.ts';
const want = process.argv[2] ?? 'demo'; const W = Number(process.argv[3] ?? 1280);
const h = await openHeadless(); let n = 0, bad = 0; const shown: string[] = [];
for (const { entry, files, name } of [...demoPages(), ...corpusPages()].filter(({ name }) => name.match(want))) {
  const o = await h.open(files, entry, { width: W, height: 800 });
  const a = await o.measure(); let m = 0, b = 0;
  for (let i = 0; i < a.reading.count; i++) for (const g of gapsOf(a, i)) { m++; if (!(Math.abs(g.residual) < 0.05)) { b++; if (b < 6) shown.push(`${name} ${pathOf(a.reading, i)} [${a.tree.kinds[i]}] ${g.before === null ? 'start' : pathOf(a.reading, g.before).slice(-30)} -> ${g.after === null ? 'end' : pathOf(a.reading, g.after).slice(-30)}: ${g.used.toFixed(2)} res ${g.residual.toFixed(2)} = ${g.terms.map(t => `${t.px.toFixed(2)} ${t.what}/${t.rule} (${t.note.slice(0,40)})`).join(' + ')}`); } }
  n += m; bad += b; console.log(name, m, b); await o.close();
}
console.log(n, bad, (100 - 100 * bad / n).toFixed(3)); for (const s of shown) console.log(s.slice(0, 420));
await h.close();
