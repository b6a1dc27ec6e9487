import { openHeadless } from '../src/lib/server/engines/headless.ts';
import { familyPage } from './conformance/families.ts';
import { columnOf } from '../src/core/accounts/margins.ts';
import { elementAt, pathOf } from '../src/core/boxes/label.ts';
const [,, fam, seed, path] = process.argv;
const h = await openHeadless();
const bytes = new TextEncoder().encode(familyPage(fam!, Number(seed)));
const o = await h.open([{ path: 'index.html', type: 'text/html', bytes }], 'index.html', { width: 800, height: 600 });
const a = await o.measure();
const el = elementAt(a.reading, path!);
const f = h.page.frames().find((x) => x.url() === o.address)!;
await f.evaluate('globalThis.__name = (f) => f');
console.log((await f.evaluate((p) => document.querySelector(p)!.outerHTML, path!)).replace(/style="([^"]*)"/g, (m) => m).replace(/;+/g, ';').replace(/<(\w+)/g, '\n<$1'));
const c = columnOf(a, el); console.log('stops', c.startStop, c.endStop, c.through);
for (const b of c.betweens) { const it = c.items[b.after]; console.log(b.before, b.after, b.px.toFixed(2), JSON.stringify(b.margins), b.clearance, b.escapes, it?.what, it?.what === 'block' ? [...a.reading.rects.subarray(it.element*4, it.element*4+4)].join(' ') + ' ' + pathOf(a.reading, it.element).slice(-20) : c.lines[b.after]?.map(l => [l.start, l.end]).join(' | ')); }
await h.close();
