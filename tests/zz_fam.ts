import { openHeadless } from '../src/lib/server/engines/headless.ts';
import { FAMILY_NAMES, familyPage, draw } from './conformance/families.ts';
import { complete, counterfactuals, newResult, residuals } from './conformance/accounts.ts';
const want = process.argv[2] ?? '.'; const seeds = Number(process.argv[3] ?? 4); const show = Number(process.argv[4] ?? 4); const tries = Number(process.argv[5] ?? 12); const first = Number(process.argv[6] ?? 1);
const h = await openHeadless();
const p = (s: { all: number; open: number }) => `${(100 - 100 * s.open / (s.all || 1)).toFixed(2)}% of ${s.all}`;
for (const name of FAMILY_NAMES.filter((n) => n.match(want))) {
  const r = newResult();
  for (let s = first; s < first + seeds; s++) {
    const bytes = new TextEncoder().encode(familyPage(name, s));
    const o = await h.open([{ path: 'index.html', type: 'text/html', bytes }], 'index.html', { width: 800, height: 600 });
    try { const a = await o.measure(); await complete(o, a); residuals(a, `seed ${s}`, r); await counterfactuals(h.page, o, a, `seed ${s}`, draw(s), tries, r); } catch (e) { console.log(name, s, (e as Error).stack); }
    await o.close();
  }
  console.log(name.padEnd(28), 'w', p(r.widths), 'h', p(r.heights), 'd', p(r.distances), 'cf', p(r.counterfactual), 'c', p(r.causes));
  const kinds = [/\] x: [\d.]+,/, /\] y: [\d.]+,/, / gap /, /^counterf/, /^cause/];
  for (const k of kinds) for (const x of r.seen.filter((x) => k.test(x) && (k.source[0] === '^' || !/^c/.test(x))).slice(0, show)) console.log('   ', x.slice(0, 520));
}
await h.close();
