/** Patterns that are meant: nothing is found on them, or only as what is probably meant. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { observeAll } from '../../../../src/core/rules/index.ts';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';
import { COMPONENTS, componentPage } from '../../../harness/faults/components.ts';
import { measureHtml } from '../../../support/measure.ts';

const LOREM =
  'The mail boat leaves the north mole at seven and calls at every landing where a flag is shown. Bicycles go by the forward ramp.';

const PATTERNS: [name: string, css: string, html: string][] = [
  [
    'a dialog over the page',
    '.d{position:fixed;inset:0;background:#fff}',
    `<p>${LOREM}</p><div class="d"><p>Are you sure?</p></div>`,
  ],
  [
    'text in a cell that has an ellipsis, in a list that scrolls down',
    'ul{width:200px;height:90px;overflow-y:auto;margin:0;padding:0}li{display:grid;grid-template-columns:30px minmax(0,1fr);overflow:hidden}span{overflow:hidden;white-space:nowrap;text-overflow:ellipsis}',
    `<ul>${`<li><b>1</b><span title="${LOREM}">${LOREM}</span></li>`.repeat(9)}</ul>`,
  ],
  [
    'an underline that is generated below a heading',
    'h2{position:relative;padding-bottom:8px}h2::after{content:"";position:absolute;left:0;bottom:0;width:60px;height:3px;background:teal}',
    `<h2>Landings</h2><p>${LOREM}</p>`,
  ],
  [
    'cells of numbers in the middle of their row',
    'td{width:120px;padding:4px}',
    `<table><tr><td>12<td>${LOREM}<td>14</table>`,
  ],
  [
    'a hidden label for those who hear the page',
    '.vh{position:absolute;width:1px;height:1px;overflow:hidden;clip:rect(0 0 0 0);white-space:nowrap}',
    `<p>Fares</p><span class="vh">${LOREM}</span>`,
  ],
  [
    'a skip link above the page',
    '.skip{position:absolute;left:0;top:-40px}',
    '<a class="skip" href="#m">To the sailings</a><p id="m">Sailings</p>',
  ],
  [
    'a menu that waits off the canvas',
    '.menu{position:fixed;top:0;left:0;width:300px;height:100%;transform:translateX(-100%)}',
    `<nav class="menu"><a href="#">Fares</a></nav><p>${LOREM}</p>`,
  ],
  [
    'a drawer that waits at the right',
    '.menu{position:fixed;top:0;right:-320px;width:300px;height:100%}',
    `<nav class="menu"><a href="#">Fares</a></nav><p>${LOREM}</p>`,
  ],
  ['code that scrolls', 'pre{overflow-x:auto;background:#eee;padding:8px}', `<pre>${LOREM.repeat(4)}</pre>`],
  [
    'a table that scrolls in its frame',
    '.f{overflow-x:auto}table{width:2400px}',
    '<div class="f"><table><tr><td>Mole<td>Pier</table></div>',
  ],
  [
    'cards of fixed widths that come to the width of the view by chance',
    'body{margin:0}.r{display:flex;flex-wrap:wrap;gap:8px}.c{flex:none;width:320px;background:#eee}',
    `<div class="r">${`<div class="c">${LOREM}</div>`.repeat(4)}</div>`,
  ],
  [
    'an ellipsis',
    '.e{width:120px;overflow:hidden;white-space:nowrap;text-overflow:ellipsis}',
    `<p class="e">${LOREM}</p>`,
  ],
  [
    'a line clamp',
    '.c{display:-webkit-box;-webkit-line-clamp:2;-webkit-box-orient:vertical;overflow:hidden;width:200px}',
    `<p class="c">${LOREM}</p>`,
  ],
  [
    'a badge on a card',
    '.k{position:relative;padding:12px;border:1px solid}.b{position:absolute;top:4px;left:4px;background:#c33;color:#fff}',
    `<div class="k"><span class="b">New</span><p>${LOREM}</p></div>`,
  ],
  [
    'a sticky header',
    'header{position:sticky;top:0;background:#fff}',
    `<header>Quillhaven</header>${`<p>${LOREM}</p>`.repeat(12)}`,
  ],
  [
    'headings of a list that stick one after another',
    'dt{position:sticky;top:0;background:#eee}',
    `<dl>${`<dt>A</dt>${`<dd>${LOREM}</dd>`.repeat(6)}`.repeat(6)}</dl>`,
  ],
  [
    'a side bar that sticks below the head',
    'body{margin:0}header{position:sticky;top:0;height:60px;background:#ccd}main{display:flex}aside{position:sticky;top:60px;align-self:flex-start;flex:none;width:200px}',
    `<header>Quillhaven</header><main><aside>Parts</aside><div>${`<p>${LOREM}</p>`.repeat(40)}</div></main>`,
  ],
  [
    'a dialog over a page whose head sticks',
    'body{margin:0}header{position:sticky;top:0;background:#ccd}.d{position:fixed;inset:0;background:#eee}',
    `<header>Quillhaven</header>${`<p>${LOREM}</p>`.repeat(40)}<div class="d">Really?</div>`,
  ],
  [
    'a picture in a shape',
    '.p{width:200px;height:200px;background:#468;clip-path:circle(50%)}',
    '<div class="p"></div>',
  ],
  [
    'a panel closed by its shape',
    '.p{clip-path:inset(0 0 100% 0);width:300px}',
    `<p>Fares</p><div class="p">${LOREM}</div>`,
  ],
  [
    'faces in a pile',
    '.a{display:inline-block;width:40px;height:40px;border:2px solid #fff;background:#456;margin-left:-12px}',
    '<div style="padding-left:20px"><i class="a"></i><i class="a"></i><i class="a"></i></div>',
  ],
  ['a closed panel', '.p{max-height:0;overflow:hidden}', `<div class="p"><p>${LOREM}</p></div><p>Open</p>`],
  [
    'a closed panel in a grid',
    '.g{display:grid;grid-template-rows:0fr}.g>div{overflow:hidden;min-height:0}',
    `<div class="g"><div><p>${LOREM}</p></div></div><p>Open</p>`,
  ],
  [
    'slides',
    '.s{overflow:hidden;width:300px}.t{display:flex}.t>div{flex:none;width:300px}',
    '<div class="s"><div class="t"><div>One</div><div>Two</div><div>Three</div></div></div>',
  ],
  [
    'an icon in a field',
    '.f{position:relative;width:240px}.f input{width:100%;box-sizing:border-box;padding-left:30px}.f svg{position:absolute;left:8px;top:4px}',
    '<div class="f"><svg width="14" height="14"><circle r="6" cx="7" cy="7"/></svg><input value="Skerrow"></div>',
  ],
  [
    'a picture beyond the column',
    '.w{max-width:600px;margin:auto;padding:0 20px}.w .x{margin:0 -20px;background:#dde}',
    `<div class="w"><p>${LOREM}</p><div class="x">Chart of the harbour</div></div>`,
  ],
  [
    'text over a picture',
    '.h{position:relative}.h img{display:block;width:300px;height:80px}.h b{position:absolute;left:8px;bottom:8px}',
    '<div class="h"><img alt="" src="data:image/svg+xml,%3Csvg xmlns=%22http://www.w3.org/2000/svg%22/%3E"><b>North mole</b></div>',
  ],
  [
    'layers in one grid area',
    '.g{display:grid}.g>*{grid-area:1/1}',
    `<div class="g"><div style="background:#def;height:60px"></div><p>${LOREM}</p></div>`,
  ],
  ['close lines in a heading', 'h1{line-height:1;width:300px}', `<h1>${LOREM}</h1>`],
  [
    'a text indent that hides',
    '.l{text-indent:-9999px;overflow:hidden;width:80px;height:30px;background:#048}',
    '<a class="l" href="#" style="display:block">Home</a>',
  ],
  [
    'border-box everywhere',
    '*{box-sizing:border-box}.b{width:200px;padding:20px;border:5px solid}',
    `<div class="b">${LOREM}</div>`,
  ],
  [
    'an icon beside text',
    'p img{width:16px;height:16px;vertical-align:middle}',
    '<p><img alt="" src="data:image/svg+xml,%3Csvg xmlns=%22http://www.w3.org/2000/svg%22/%3E"> By boat</p>',
  ],
  [
    'a fallback for older engines',
    '.g{display:-ms-grid;display:grid;width:-webkit-fill-available;width:100%;*zoom:1}',
    '<div class="g"><p>Fares</p></div>',
  ],
  [
    'a full height page',
    'html,body{height:100%;margin:0}.a{min-height:100%;display:flow-root}',
    `<div class="a"><p>${LOREM}</p></div>`,
  ],
  ['margins between paragraphs', 'p{margin:16px 0}', `<p>${LOREM}</p><p>${LOREM}</p><p>${LOREM}</p>`],
  [
    'a tooltip that waits',
    '.t{position:absolute;opacity:0;left:40px;top:20px;width:200px}',
    `<p>${LOREM}</p><div class="t">Tide</div>`,
  ],
];

describe('what is meant', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  const isQuiet = async (text: string, width: number): Promise<void> => {
    const found = observeAll(await measureHtml(headless, text, { width, height: 800 }));
    assert.deepEqual(
      found.filter(({ grade }) => grade === 'wrong').map(({ kind, what }) => `${kind}: ${what}`),
      [],
    );
  };
  for (const [name, css, html] of PATTERNS)
    test(name, () =>
      isQuiet(
        `<!doctype html><html><head><meta name="viewport" content="width=device-width"><style>${css}</style></head><body>${html}</body></html>`,
        1280,
      ),
    );
  for (const [name, css, html] of COMPONENTS)
    for (const width of [1280, 360])
      test(`${name}, ${width} px wide`, () => isQuiet(componentPage(css, html), width));
});
