/** Mistakes as people make them, each on a small page: what is written, what it takes to be right, and what is to be told. */

export interface Mistake {
  name: string;
  /** Kinds as which it may be told. */
  as: RegExp;
  html: string;
  css: string;
  /** What is wrong in the style sheet, or in the page; and what stands there where it is right. */
  wrong: string;
  right: string;
  /** What the first culprit says: property and value of its declaration, or property and rule where it has none. */
  culprit: RegExp;
  width?: number;
  /** What every page begins with, where this one begins with something else. */
  base?: string;
}

const TEXT =
  'The mail boat leaves the north mole at seven and calls at every landing where a flag is shown. Bicycles go by the forward ramp, dogs on a lead by the after one.';
const BASE =
  'body { margin: 0; font: 16px/1.5 sans-serif; color: #222; background: #fff } main { padding: 16px; max-width: 900px; box-sizing: border-box } h1, h2, p { margin: 0 0 12px }\n';

const page = (html: string): string => `<main><h1>Landings</h1>${html}</main>`;

/** Of a list of what is alike, one has another class beside. */
const cards = (odd: string, count = 5): string =>
  Array.from(
    { length: count },
    (_, i) => `<div class="card${i === 2 ? ` ${odd}` : ''}"><b>Pier ${i + 1}</b> Daily but Sunday</div>`,
  ).join('\n');

export const MISTAKES: Mistake[] = [
  {
    name: 'a label that is too long for its button',
    as: /overflow|clip/,
    html: page(`<p><a class="button">Reserve a cabin for two</a></p><p>${TEXT}</p>`),
    css: '.button { display: inline-block; width: 110px; padding: 6px 10px; background: #246; color: #fff; white-space: nowrap }',
    wrong: 'width: 110px; ',
    right: '',
    culprit: /^(width: 110px|white-space: nowrap)$/,
  },
  {
    name: 'a cell that covers the next',
    as: /overlap|overflow/,
    html: page(
      `<table><tr><th>Landing</th><th>Boat</th><th>Leaves</th></tr><tr><td>Skerrow, the old stone pier behind the kirk</td><td>Morning mail</td><td>07:00</td></tr><tr><td>Mole</td><td>Noon</td><td>12:00</td></tr></table>`,
    ),
    css: 'table { table-layout: fixed; width: 480px } td, th { padding: 4px; text-align: left; white-space: nowrap }',
    wrong: ' white-space: nowrap',
    right: '',
    culprit: /^white-space: nowrap$/,
  },
  {
    name: 'a panel as tall as its frame, and its padding on top',
    as: /overflow|stray-scroll/,
    html: page(`<div class="frame"><div class="panel">${TEXT}</div></div>`),
    css: '.frame { height: 300px; overflow: auto; border: 1px solid #999 } .panel { height: 100%; padding: 12px }',
    wrong: 'padding: 12px',
    right: 'padding: 12px; box-sizing: border-box',
    culprit: /^(height: 100%|padding: 12px)$/,
  },
  {
    name: 'a side bar as tall as the viewport, and its padding on top',
    as: /overflow|stray-scroll/,
    html: `<div class="side"><p>Landings</p><p>Fares</p></div>`,
    css: '.side { height: 100vh; padding: 20px; width: 200px; background: #eee }',
    wrong: 'padding: 20px;',
    right: 'padding: 20px; box-sizing: border-box;',
    culprit: /^(height: 100vh|padding: 20px)$/,
  },
  {
    name: 'as wide as the viewport, beside a scrollbar',
    as: /overflow/,
    html: `<div class="band">Landings</div>${`<p>${TEXT}</p>`.repeat(30)}`,
    css: '.band { width: 100vw; background: #246; color: #fff }',
    wrong: 'width: 100vw; ',
    right: '',
    culprit: /^width: 100vw$/,
  },
  {
    name: 'code in a flex item that may not shrink below it',
    as: /overflow/,
    html: page(
      `<div class="row"><nav>Piers</nav><article><pre>${'north mole, lee pier, '.repeat(12)}</pre></article></div>`,
    ),
    css: '.row { display: flex } nav { width: 120px } article { flex: 1 } pre { overflow-x: auto; background: #eee }',
    wrong: 'article { flex: 1 }',
    right: 'article { flex: 1; min-width: 0 }',
    culprit: /^min-width automatic-minimum$/,
    width: 700,
  },
  {
    name: 'a wide table in a grid of fractions',
    as: /overflow/,
    html: page(
      `<div class="grid"><section><div class="scroll"><table><tr>${'<td>Skerrow&nbsp;landing</td>'.repeat(9)}</tr></table></div></section><section>${TEXT}</section></div>`,
    ),
    css: '.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 16px } .scroll { overflow-x: auto }',
    wrong: '1fr 1fr',
    right: 'minmax(0, 1fr) minmax(0, 1fr)',
    culprit: /^(grid-template-columns: 1fr 1fr|min-width automatic-minimum)$/,
    width: 700,
  },
  {
    name: 'gutters taken over an edge that has none',
    as: /overflow/,
    html: `<div class="wrap"><div class="row"><div class="col">${TEXT}</div><div class="col">${TEXT}</div></div></div>`,
    css: '.row { margin: 0 -15px; display: flex } .col { padding: 0 15px; flex: 1 }',
    wrong: '.row { margin: 0 -15px;',
    right: '.wrap { padding: 0 15px } .row { margin: 0 -15px;',
    culprit: /^margin: 0 -15px$/,
  },
  {
    name: 'the white edge around a band',
    as: /gap|defaults/,
    html: `<header>Quillhaven Ferries</header><main><p>${TEXT}</p></main>`,
    base: 'body { font: 16px/1.5 sans-serif }',
    css: ' header, main { padding: 16px } header { background: #246; color: #fff }',
    wrong: 'sans-serif }',
    right: 'sans-serif; margin: 0 }',
    culprit: /^margin/,
  },
  {
    name: 'a list without marks that keeps their room',
    as: /gap/,
    html: page(`<ul class="menu"><li>Landings</li><li>Fares</li><li>Notices</li></ul><p>${TEXT}</p>`),
    css: '.menu { list-style: none; margin: 0 0 12px }',
    wrong: 'none; margin: 0 0 12px',
    right: 'none; margin: 0 0 12px; padding: 0',
    culprit: /^padding/,
  },
  {
    name: 'one card further from its neighbours',
    as: /gap/,
    html: page(cards('late')),
    css: '.card { margin-bottom: 12px; padding: 8px; border: 1px solid #999 } .late { margin-bottom: 45px }',
    wrong: ' .late { margin-bottom: 45px }',
    right: '',
    culprit: /^margin-bottom: 45px$/,
  },
  {
    name: 'one card of many moved from its place',
    as: /gap/,
    html: page(cards('moved', 10)),
    css: '.card { margin-bottom: 30px; padding: 8px; border: 1px solid #999 } .moved { position: relative; top: 20px }',
    wrong: ' top: 20px',
    right: ' top: 0',
    culprit: /^top: 20px$/,
  },
  {
    name: 'an empty paragraph between two',
    as: /gap/,
    html: page(`<p>${TEXT}</p><p class="spare">&nbsp;</p><p>${TEXT}</p><p>${TEXT}</p>`),
    css: '',
    wrong: '<p class="spare">&nbsp;</p>',
    right: '',
    culprit: /./,
  },
  {
    name: 'what is cleared goes below a float that is not its own',
    as: /gap/,
    html: page(`<div class="aside">Tides</div><p>${TEXT}</p><h2 class="next">Fares</h2><p>${TEXT}</p>`),
    css: '.aside { float: right; width: 200px; height: 420px; background: #def } .next { clear: both }',
    wrong: ' .next { clear: both }',
    right: '',
    culprit: /^clear: both$/,
  },
  {
    name: 'a head that stays over what comes first',
    as: /overlap/,
    html: `<header>Quillhaven Ferries</header>${page(`<p>${TEXT}</p>`.repeat(12))}`,
    css: 'header { position: fixed; top: 0; left: 0; right: 0; height: 64px; background: #246; color: #fff } main { margin-top: 0 }',
    wrong: ' main { margin-top: 0 }',
    right: ' main { margin-top: 64px }',
    culprit: /^position: fixed$/,
  },
  {
    name: 'a foot that stays over what comes last',
    as: /overlap/,
    html: `${page(`<p>${TEXT}</p>`.repeat(20))}<footer>Tickets are sold aboard</footer>`,
    css: 'footer { position: fixed; bottom: 0; left: 0; right: 0; height: 64px; background: #246; color: #fff } body { padding-bottom: 0 }',
    wrong: ' body { padding-bottom: 0 }',
    right: ' body { padding-bottom: 64px }',
    culprit: /^position: fixed$/,
  },
  {
    name: 'floats that hang out of their frame',
    as: /overlap|overflow/,
    html: page(`<div class="frame"><div class="pic"></div><p>Skerrow</p></div><h2>Fares</h2><p>${TEXT}</p>`),
    css: '.frame { border: 1px solid #999; background: #eee } .pic { float: left; width: 120px; height: 160px; background: #246 }',
    wrong: '.frame { border',
    right: '.frame { overflow: hidden; border',
    culprit: /^float: left$/,
  },
  {
    name: 'lines set so close that they touch',
    as: /overlap/,
    html: page(`<h2 class="big">The mail boat leaves the north mole at seven and calls at every landing</h2>`),
    css: '.big { font-size: 40px; line-height: 0.7; width: 500px }',
    wrong: 'line-height: 0.7; ',
    right: 'line-height: 1.1; ',
    culprit: /^line-height: 0.7$/,
  },
  {
    name: 'a scroll container that scrolls further than what is in it',
    as: /stray-scroll/,
    html: page(
      `<div class="log"><p>Flag shown at Skerrow.</p><p>Mole clear.</p><span class="hint">ready</span></div><p>${TEXT}</p>`,
    ),
    css: '.log { position: relative; overflow: auto; height: 160px; border: 1px solid #999 } .hint { position: absolute; top: 700px; opacity: 0 }',
    wrong: ' top: 700px;',
    right: ' top: 0;',
    culprit: /^top: 700px$/,
  },
  {
    name: 'a title pulled off the page on the left',
    as: /overflow|clip/,
    html: page(`<h2 class="pull">Fares and landings</h2><p>${TEXT}</p>`),
    css: '.pull { margin-left: -60px }',
    wrong: 'margin-left: -60px',
    right: 'margin-left: 0',
    culprit: /^margin-left: -60px$/,
  },
  {
    name: 'text that stands below its card',
    as: /overflow|overlap/,
    html: page(`<div class="card">${TEXT} ${TEXT}</div>`),
    css: '.card { width: 240px; height: 120px; padding: 12px; border: 1px solid #999; background: #eee }',
    wrong: 'height: 120px; ',
    right: '',
    culprit: /^height: 120px$/,
  },
  {
    name: 'a field as wide as its form, and its edges on top',
    as: /overflow|size/,
    html: page(`<form><label>Landing<input class="field"></label></form>`),
    css: 'form { width: 260px; border: 1px solid #999 } .field { display: block; width: 100%; padding: 8px; border: 1px solid #666 }',
    wrong: 'padding: 8px;',
    right: 'padding: 8px; box-sizing: border-box;',
    culprit: /^(width: 100%|padding: 8px)$/,
  },
  {
    name: 'a picture without a limit',
    as: /overflow/,
    html: page(
      `<p><img class="pic" alt="A pier" src="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='1400' height='90'%3E%3Crect width='1400' height='90' fill='gray'/%3E%3C/svg%3E"></p>`,
    ),
    css: '.pic { display: block; border: 0 }',
    wrong: 'border: 0',
    right: 'max-width: 100%',
    culprit: /^width replaced$/,
    width: 800,
  },
  {
    name: 'a form whose legend keeps it wide',
    as: /overflow/,
    html: page(
      `<fieldset><legend>Cabin</legend><div class="strip">${'<span>Skerrow</span> '.repeat(30)}</div></fieldset>`,
    ),
    css: '.strip { overflow-x: auto; white-space: nowrap } fieldset { border: 1px solid #999 }',
    wrong: 'fieldset { border',
    right: 'fieldset { min-width: 0; border',
    culprit: /^min-(width|inline-size)/,
    width: 700,
  },
  {
    name: 'columns that add up to more than all',
    as: /overflow|gap/,
    html: page(`<div class="row"><div class="a">${TEXT}</div><div class="b">${TEXT}</div></div>`),
    css: '.row { display: flex } .a, .b { flex: 0 0 50% } .a { margin-right: 24px }',
    wrong: ' .a { margin-right: 24px }',
    right: '',
    culprit: /^(margin-right: 24px|flex: 0 0 50%)$/,
  },
  {
    name: 'a column that falls under the other',
    as: /gap|overflow/,
    html: page(`<div class="row"><div class="a">${TEXT}</div><div class="b">${TEXT}</div></div><p>${TEXT}</p>`),
    css: '.row { overflow: hidden } .a, .b { float: left; width: 50%; padding: 0 10px } ',
    wrong: 'padding: 0 10px',
    right: 'padding: 0 10px; box-sizing: border-box',
    culprit: /^(width: 50%|padding: 0 10px)$/,
  },
  {
    name: 'a third column that falls for a gap',
    as: /gap/,
    html: page(`<div class="row">${`<div class="col">${TEXT}</div>`.repeat(3)}</div>`),
    css: '.row { display: flex; flex-wrap: wrap; gap: 16px } .col { width: calc(100% / 3); flex: none }',
    wrong: '; gap: 16px',
    right: '',
    culprit: /^gap: 16px$/,
  },
  {
    name: 'a side bar and a main column that come to more than all',
    as: /gap|overflow/,
    html: page(
      `<div class="row"><div class="side">${TEXT}</div><div class="main">${TEXT}</div></div><p>${TEXT}</p>`,
    ),
    css: '.row { overflow: hidden } .side { float: left; width: 30% } .main { float: left; width: 75% }',
    wrong: 'width: 75%',
    right: 'width: 70%',
    culprit: /^width: (75|30)%$/,
  },
  {
    name: 'a layer as wide as its card, and its padding on top',
    as: /overflow/,
    html: page(`<div class="card"><div class="over">Skerrow pier</div></div><p>${TEXT}</p>`),
    css: '.card { position: relative; width: 300px; height: 160px; background: #def } .over { position: absolute; left: 0; bottom: 0; width: 100%; padding: 10px; background: #246; color: #fff }',
    wrong: 'padding: 10px;',
    right: 'padding: 10px; box-sizing: border-box;',
    culprit: /^(width: 100%|padding: 10px)$/,
  },
  {
    name: 'a fill as tall as its frame, and a margin above it',
    as: /overflow|overlap/,
    html: page(`<div class="frame"><div class="fill">Tides</div></div>`),
    css: '.frame { height: 200px; border: 2px solid #444; display: flow-root } .fill { height: 100%; margin-top: 24px; background: #9bd }',
    wrong: 'margin-top: 24px; ',
    right: '',
    culprit: /^(margin-top: 24px|height: 100%)$/,
  },
  {
    name: 'a picture out of its own shape',
    as: /size/,
    html: page(
      `<p><img class="pic" alt="A pier" width="800" height="300" src="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='800' height='300'%3E%3Crect width='800' height='300' fill='gray'/%3E%3C/svg%3E"></p>`,
    ),
    css: '.pic { display: block; max-width: 100% }',
    wrong: 'max-width: 100% }',
    right: 'max-width: 100%; height: auto }',
    culprit: /^(height: 300(px)?|max-width: 100%)$/,
    width: 500,
  },
  {
    name: 'a picture stretched by its row',
    as: /size/,
    html: page(
      `<div class="row"><img alt="A pier" src="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='160' height='80'%3E%3Crect width='160' height='80' fill='gray'/%3E%3C/svg%3E"><p>${TEXT.repeat(4)}</p></div>`,
    ),
    css: '.row { display: flex; width: 520px } .row img { flex: none; width: 160px }',
    wrong: 'flex: none; width: 160px',
    right: 'flex: none; width: 160px; align-self: start',
    culprit: /^(align-items|align-self|height|display)/,
  },
  {
    name: 'rows of a grid too low for what is in them',
    as: /overlap|overflow/,
    html: page(`<div class="grid"><div>${TEXT}</div><div>${TEXT}</div></div>`),
    css: '.grid { display: grid; grid-auto-rows: 40px; width: 260px }',
    wrong: 'grid-auto-rows: 40px; ',
    right: '',
    culprit: /^grid-auto-rows: 40px$/,
  },
  {
    name: 'a foot put at the end of the window, over the text',
    as: /overlap/,
    html: `${page(`<p>${TEXT} ${TEXT}</p>`.repeat(16))}<footer>Tickets are sold aboard</footer>`,
    css: 'footer { position: absolute; bottom: 0; left: 0; width: 100%; background: #246; color: #fff }',
    wrong: 'position: absolute; ',
    right: '',
    culprit: /^(position: absolute|bottom: 0)$/,
  },
  {
    name: 'a label put over the text beside it',
    as: /overlap/,
    html: page(
      `<div class="line"><span class="when">07:00 daily</span>Leaves the north mole for Skerrow</div>`,
    ),
    css: '.line { position: relative; padding-left: 40px } .when { position: absolute; left: 0; top: 0 }',
    wrong: 'padding-left: 40px',
    right: 'padding-left: 120px',
    culprit: /^(position: absolute|left: 0|padding-left: 40px)$/,
  },
  {
    name: 'a badge cut off by its card',
    as: /clip/,
    html: page(`<div class="card"><span class="badge">New boat</span><p>${TEXT}</p></div>`),
    css: '.card { position: relative; overflow: hidden; border: 1px solid #999; width: 300px; padding: 20px } .badge { position: absolute; top: -10px; left: 8px; background: #c33; color: #fff }',
    wrong: 'top: -10px;',
    right: 'top: 4px;',
    culprit: /^(overflow: hidden|top: -10px)$/,
  },
  {
    name: 'a button pulled over its neighbour',
    as: /overlap/,
    html: page(`<p><button class="a">Reserve</button> <button class="b">Cancel</button></p>`),
    css: '.b { margin-left: -30px }',
    wrong: 'margin-left: -30px',
    right: 'margin-left: 0',
    culprit: /^margin-left: -30px$/,
  },
  {
    name: 'a heading moved down over what follows',
    as: /overlap/,
    html: page(`<h2 class="low">Fares and landings</h2><p>${TEXT} ${TEXT}</p>`),
    css: '.low { position: relative; top: 44px }',
    wrong: 'top: 44px',
    right: 'top: 0',
    culprit: /^top: 44px$/,
  },
  {
    name: 'a paragraph pulled up over the heading',
    as: /overlap/,
    html: page(`<h2>Fares and landings</h2><p class="up">${TEXT} ${TEXT}</p>`),
    css: '.up { margin-top: -36px }',
    wrong: 'margin-top: -36px',
    right: 'margin-top: 0',
    culprit: /^margin-top: -36px$/,
  },
  {
    name: 'columns of fixed widths beside each other',
    as: /overflow/,
    html: page(`<div class="grid"><div>${TEXT}</div><div>${TEXT}</div><div>${TEXT}</div></div>`),
    css: '.grid { display: grid; grid-template-columns: repeat(3, 280px); gap: 12px }',
    wrong: 'repeat(3, 280px)',
    right: 'repeat(3, minmax(0, 1fr))',
    culprit: /^(grid-template-columns: repeat\(3, 280px\)|gap: 12px)$/,
    width: 760,
  },
  {
    name: 'a page that is never narrower than a desk',
    as: /overflow/,
    html: page(`<p>${TEXT}</p>`),
    css: 'body { min-width: 1200px }',
    wrong: 'min-width: 1200px',
    right: 'min-width: 0',
    culprit: /^min-width: 1200px$/,
    width: 700,
  },
  {
    name: 'a list of tags that may not wrap',
    as: /overflow/,
    html: page(`<div class="tags">${'<span class="tag">Skerrow</span>'.repeat(14)}</div>`),
    css: '.tags { display: flex; gap: 8px } .tag { background: #def; padding: 4px 8px; flex-shrink: 0 }',
    wrong: '.tags { display: flex;',
    right: '.tags { display: flex; flex-wrap: wrap;',
    culprit: /^(flex-wrap one-line|flex-shrink: 0)$/,
    width: 700,
  },
  {
    name: 'one link of a menu further off',
    as: /gap/,
    html: page(`<nav><a>Fares</a><a>Piers</a><a class="odd">Tides</a><a>Boats</a><a>Crew</a></nav>`),
    css: 'nav { display: flex } nav a { padding: 6px; margin-right: 10px; background: #eee } nav .odd { margin-right: 34px }',
    wrong: ' nav .odd { margin-right: 34px }',
    right: '',
    culprit: /^margin-right: 34px$/,
  },
  {
    name: 'a list of parts that slides under the head',
    as: /overlap/,
    html: page(
      `<header class="head">Quillhaven</header><div class="cols"><ul class="parts"><li>Coming in</li><li>Pilotage</li></ul><div>${`<p>${TEXT}</p>`.repeat(40)}</div></div>`,
    ),
    css: '.head { position: sticky; top: 0; height: 60px; background: #123; color: #fff; z-index: 2 } .cols { display: flex; gap: 20px } .parts { position: sticky; top: 0; align-self: flex-start; width: 160px }',
    wrong: '.parts { position: sticky; top: 0;',
    right: '.parts { position: sticky; top: 60px;',
    culprit: /^top: 0$/,
  },
  {
    name: 'a corner cut off by a shape',
    as: /clip/,
    html: page('<div class="flag"><b>All sailings from the North Mole are cancelled</b></div>'),
    css: '.flag { width: 400px; padding: 12px; background: #fc6; clip-path: polygon(0 0, 60% 0, 50% 100%, 0 100%) }',
    wrong: 'polygon(0 0, 60% 0, 50% 100%, 0 100%)',
    right: 'polygon(0 0, 100% 0, 98% 100%, 0 100%)',
    culprit: /^clip-path: polygon/,
  },
  {
    name: 'three columns that are each too wide to leave room for the others',
    as: /overflow/,
    html: page(
      '<div class="frame"><div class="from">Mole</div><div class="over">Skerrow</div><div class="to">Pier</div></div>',
    ),
    css: '.frame { display: flex; width: 400px; border: 1px solid #999 } .from { min-width: 210px } .over { min-width: 220px } .to { min-width: 215px }',
    wrong: '.from { min-width: 210px } .over { min-width: 220px }',
    right: '.from { min-width: 0 } .over { min-width: 0 }',
    culprit: /^(min-width: 2\d\dpx|flex-wrap one-line)$/,
  },
  {
    name: 'a box too low, and what follows pulled over it as well',
    as: /overlap/,
    html: page(`<div class="low">${TEXT}</div><p class="next">${TEXT}</p>`),
    css: '.low { width: 420px; height: 24px } .next { margin-top: -30px; width: 420px }',
    wrong: 'height: 24px } .next { margin-top: -30px;',
    right: 'height: auto } .next { margin-top: 0;',
    culprit: /^(height: 24px|margin-top: -30px)$/,
  },
  {
    name: 'two columns of a table, each with a minimum that leaves no room for the other',
    as: /overflow/,
    html: page(
      '<div class="frame"><table><tr><td class="from">Mole</td><td class="over">Skerrow</td><td class="to">Pier</td></tr></table></div>',
    ),
    css: '.frame { width: 250px; border: 1px solid #999 } table { border-spacing: 0 } .from { min-width: 240px } .to { min-width: 245px }',
    wrong: '.from { min-width: 240px } .to { min-width: 245px }',
    right: '.from { min-width: 40px } .to { min-width: 40px }',
    culprit: /^min-width: 24[05]px$/,
  },
];

/** The page and its style sheet, with the mistake or without. */
export function filesOf(
  { html, css, wrong, right, name, base = BASE }: Mistake,
  isRight: boolean,
): { html: string; css: string } {
  const [markup, sheet] = [html, base + css].map((text) => (isRight ? text.replace(wrong, right) : text)) as [
    string,
    string,
  ];
  if (!`${html}${base}${css}`.includes(wrong)) throw new Error(`What is wrong does not stand in “${name}”.`);
  return {
    html: `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>Landings</title><link rel="stylesheet" href="look.css"></head><body>${markup}</body></html>`,
    css: sheet,
  };
}
