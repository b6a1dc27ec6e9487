/** Parts of pages as they are built every day, on which nothing is wrong, on a desk or on a phone. */

const TEXT =
  'The mail boat leaves the north mole at seven and calls at every landing where a flag is shown. Bicycles go by the forward ramp.';
const BASE = '*{box-sizing:border-box}body{margin:0;font:16px/1.5 sans-serif;color:#222}';

const picture = (width: number, height: number, name = 'pic'): string =>
  `<img class="${name}" alt="A pier" src="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='${width}' height='${height}'%3E%3Crect width='${width}' height='${height}' fill='gray'/%3E%3C/svg%3E">`;

export const componentPage = (css: string, html: string): string =>
  `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>Landings</title><style>${BASE}${css}</style></head><body>${html}</body></html>`;

export const COMPONENTS: [name: string, css: string, html: string][] = [
  [
    'an ellipsis beside a time',
    '.r{display:flex;gap:12px;max-width:420px;border:1px solid}.n{flex:1;min-width:0;overflow:hidden;white-space:nowrap;text-overflow:ellipsis}.t{flex:none}',
    `<div class="r"><div class="n">${TEXT}</div><div class="t">07:00</div></div>`,
  ],
  [
    'ellipsis in a table',
    'table{table-layout:fixed;width:300px}td{overflow:hidden;white-space:nowrap;text-overflow:ellipsis}',
    `<table><tr><td>${TEXT}</td><td>07:00</td></tr></table>`,
  ],
  [
    'line clamp then a button',
    '.c{display:-webkit-box;-webkit-line-clamp:2;-webkit-box-orient:vertical;overflow:hidden;width:200px}',
    `<p class="c">${TEXT}</p><button>More</button>`,
  ],
  [
    'tabs with a line pulled over',
    '.tabs{display:flex;border-bottom:1px solid #999}.tabs a{padding:8px 16px;border:1px solid transparent;margin-bottom:-1px}.tabs .on{border-color:#999 #999 #fff;background:#fff}',
    `<div class="tabs"><a class="on">Fares</a><a>Tides</a></div><p>${TEXT}</p>`,
  ],
  [
    'tabs with a thick line',
    '.tabs{display:flex;border-bottom:3px solid #ccc}.tabs a{padding:8px 16px;border-bottom:3px solid transparent;margin-bottom:-3px}.tabs .on{border-bottom-color:#246}',
    `<div class="tabs"><a class="on">Fares</a><a>Tides</a></div><p>${TEXT}</p>`,
  ],
  [
    'button group with merged borders',
    '.g{display:inline-flex}.g button{border:1px solid #666;padding:6px 12px;background:#fff;margin:0}.g button+button{margin-left:-1px}',
    `<div class="g"><button>Day</button><button>Week</button><button>Month</button></div>`,
  ],
  [
    'a notification dot on a bell',
    '.b{position:relative;display:inline-block;width:32px;height:32px;border:1px solid}.b i{position:absolute;top:-6px;right:-6px;min-width:18px;height:18px;border-radius:9px;background:#c22;color:#fff;font-size:11px;text-align:center;line-height:18px;font-style:normal}',
    `<div style="padding:20px"><button class="b">B<i>3</i></button></div>`,
  ],
  [
    'a hero with centred overlay',
    '.h{position:relative;height:320px;overflow:hidden}.h img{width:100%;height:100%;object-fit:cover;display:block}.h div{position:absolute;inset:0;display:grid;place-items:center;color:#fff}',
    `<div class="h">${picture(1600, 500)}<div><h1>Quillhaven</h1></div></div>`,
  ],
  [
    'a hero that is moved by transform',
    '.h{position:relative;height:320px;background:#246;color:#fff}.h div{position:absolute;top:50%;left:50%;transform:translate(-50%,-50%);text-align:center}',
    `<div class="h"><div><h1>Quillhaven</h1><p>${TEXT}</p></div></div>`,
  ],
  [
    'avatars in a row',
    '.a{display:flex}.a span{width:36px;height:36px;border-radius:50%;border:2px solid #fff;background:#88a;display:grid;place-items:center;font-size:12px}.a span+span{margin-left:-10px}',
    `<div class="a" style="padding:10px"><span>A</span><span>B</span><span>C</span><span>D</span></div>`,
  ],
  [
    'a dropdown that is closed',
    '.m{position:relative;display:inline-block}.m ul{position:absolute;top:100%;left:0;display:none;list-style:none;padding:0;margin:0}',
    `<div class="m"><button>More</button><ul><li>One</li></ul></div><p>${TEXT}</p>`,
  ],
  [
    'a dropdown that is open',
    '.m{position:relative;display:inline-block}.m ul{position:absolute;top:100%;left:0;list-style:none;padding:8px;margin:0;background:#fff;border:1px solid #999;width:180px;z-index:2}',
    `<div class="m"><button>More</button><ul><li>One</li><li>Two</li></ul></div><p>${TEXT}</p>`,
  ],
  [
    'an accordion that is closed',
    '.d{max-height:0;overflow:hidden}',
    `<h3>Tides</h3><div class="d"><p>${TEXT}</p></div><h3>Fares</h3><div class="d"><p>${TEXT}</p></div>`,
  ],
  [
    'details',
    '',
    `<details><summary>Tides</summary><p>${TEXT}</p></details><details open><summary>Tides</summary><p>${TEXT}</p></details>`,
  ],
  [
    'a carousel that snaps',
    '.c{display:flex;overflow-x:auto;gap:12px;scroll-snap-type:x mandatory}.c>div{flex:0 0 80%;background:#eef;padding:20px}',
    `<div class="c">${`<div>${TEXT}</div>`.repeat(4)}</div>`,
  ],
  [
    'a chat column',
    '.app{height:100vh;display:flex;flex-direction:column}.log{flex:1;min-height:0;overflow:auto;padding:12px}.in{flex:none;display:flex;padding:8px;gap:8px}.in input{flex:1;min-width:0}',
    `<div class="app"><div class="log">${`<p>${TEXT}</p>`.repeat(20)}</div><div class="in"><input><button>Send</button></div></div>`,
  ],
  [
    'cards in an auto-fit grid',
    '.g{display:grid;grid-template-columns:repeat(auto-fit,minmax(220px,1fr));gap:16px;padding:16px}.k{border:1px solid #ccc;padding:12px;border-radius:6px}.k h3{margin:0 0 8px}.k p{margin:0}',
    `<div class="g">${[1, 2, 3, 4, 5].map((n) => `<div class="k"><h3>Pier ${n}</h3><p>${TEXT.slice(0, 30 * n)}</p></div>`).join('')}</div>`,
  ],
  [
    'a form in a grid of labels',
    '.f{display:grid;grid-template-columns:120px 1fr;gap:8px 12px;max-width:480px;padding:16px}.f input,.f select,.f textarea{width:100%;padding:6px}',
    `<form class="f"><label>Name</label><input><label>Landing</label><select><option>Mole</option></select><label>Note</label><textarea rows="4"></textarea></form>`,
  ],
  [
    'a switch',
    '.s{position:relative;display:inline-block;width:44px;height:24px}.s input{position:absolute;opacity:0;inset:0;margin:0}.s span{position:absolute;inset:0;background:#999;border-radius:12px}.s span::after{content:"";position:absolute;left:2px;top:2px;width:20px;height:20px;background:#fff;border-radius:50%}',
    `<p><label class="s"><input type="checkbox"><span></span></label> Wake me</p>`,
  ],
  [
    'floating labels',
    '.f{position:relative;width:260px;margin:20px}.f input{width:100%;padding:18px 10px 6px;border:1px solid #888}.f label{position:absolute;left:10px;top:4px;font-size:11px;color:#666}',
    `<div class="f"><input value="Skerrow"><label>Landing</label></div>`,
  ],
  [
    'a legend on a border',
    '.f{border:1px solid #999;padding:12px;position:relative;margin:20px}.f .t{position:absolute;top:-12px;left:10px;background:#fff;padding:0 6px}',
    `<div class="f"><span class="t">Cabin</span><p>${TEXT}</p></div>`,
  ],
  [
    'breadcrumbs with separators',
    '.b{display:flex;list-style:none;padding:0;margin:12px}.b li+li::before{content:"/";padding:0 8px}',
    `<ol class="b"><li>Home</li><li>Fares</li><li>Winter</li></ol>`,
  ],
  [
    'progress bar with label over it',
    '.p{position:relative;height:20px;background:#ddd}.p div{height:100%;width:60%;background:#4a8}.p span{position:absolute;inset:0;text-align:center;font-size:13px}',
    `<div class="p"><div></div><span>60 %</span></div>`,
  ],
  [
    'timeline',
    '.t{list-style:none;padding:0 0 0 24px;margin:16px;border-left:2px solid #ccc}.t li{position:relative;margin-bottom:16px}.t li::before{content:"";position:absolute;left:-31px;top:6px;width:12px;height:12px;border-radius:50%;background:#246}',
    `<ul class="t"><li>07:00 ${TEXT}</li><li>08:00 ${TEXT}</li></ul>`,
  ],
  [
    'pull quote with big mark',
    '.q{position:relative;padding:20px 20px 20px 50px;margin:0;background:#f4f4f4}.q::before{content:"\\201C";position:absolute;left:10px;top:-10px;font-size:80px;line-height:1}',
    `<blockquote class="q"><p>${TEXT}</p></blockquote>`,
  ],
  [
    'full-bleed in a grid',
    '.g{display:grid;grid-template-columns:1fr min(60ch,100% - 32px) 1fr}.g>*{grid-column:2}.g .full{grid-column:1/-1;background:#dde;padding:20px}',
    `<div class="g"><p>${TEXT}</p><div class="full">${TEXT}</div><p>${TEXT}</p></div>`,
  ],
  [
    'full-bleed by negative margins in vw',
    'html{overflow-x:hidden}.w{max-width:600px;margin:0 auto}.full{width:100vw;margin-left:calc(50% - 50vw);background:#dde;padding:20px}',
    `<div class="w"><p>${TEXT}</p><div class="full">${TEXT}</div><p>${TEXT}</p></div>`,
  ],
  [
    'a spinner',
    '.s{width:24px;height:24px;border:3px solid #ccc;border-top-color:#246;border-radius:50%;transform:rotate(45deg);margin:20px}',
    `<div class="s"></div><p>${TEXT}</p>`,
  ],
  [
    'a ribbon in a corner',
    '.k{position:relative;overflow:hidden;width:240px;height:140px;border:1px solid #ccc;padding:12px}.r{position:absolute;top:14px;right:-34px;width:130px;text-align:center;background:#c22;color:#fff;transform:rotate(45deg);font-size:12px}',
    `<div class="k">Noon boat<span class="r">Sale</span></div>`,
  ],
  [
    'an arrow of borders',
    '.t{position:relative;background:#333;color:#fff;padding:8px;display:inline-block;margin:20px}.t::after{content:"";position:absolute;left:50%;top:100%;border:6px solid transparent;border-top-color:#333;margin-left:-6px}',
    `<div class="t">Tides at noon</div><p>${TEXT}</p>`,
  ],
  [
    'pagination',
    '.p{display:flex;list-style:none;padding:0;gap:4px;justify-content:center}.p a{display:block;padding:6px 12px;border:1px solid #ccc}',
    `<ul class="p"><li><a>1</a></li><li><a>2</a></li><li><a>3</a></li></ul>`,
  ],
  [
    'article prose with defaults',
    'main{max-width:640px;margin:0 auto;padding:0 16px}',
    `<main><h1>Guide</h1><p>${TEXT}</p><ul><li>Mail</li><li>Dogs</li></ul><blockquote>${TEXT}</blockquote><h2>More</h2><p>${TEXT}</p><hr><dl><dt>Mole</dt><dd>North</dd></dl><pre>ferry --at 7</pre><figure><img alt="" width="200" height="80" src="data:image/svg+xml,%3Csvg xmlns=%22http://www.w3.org/2000/svg%22/%3E"><figcaption>The mole</figcaption></figure><table><caption>Tides</caption><tr><th>Day<th>High<tr><td>Mon<td>7</table></main>`,
  ],
  ['sup and footnotes', '', `<p>${TEXT}<sup>1</sup> ${TEXT}<sub>2</sub> ${TEXT}</p>`],
  [
    'inputs with addons',
    '.i{display:flex;width:300px}.i span{padding:6px 10px;background:#eee;border:1px solid #999;border-right:0}.i input{flex:1;min-width:0;border:1px solid #999;padding:6px}',
    `<div class="i"><span>£</span><input value="12"></div>`,
  ],
  [
    'a toast',
    '.t{position:fixed;right:16px;bottom:16px;background:#333;color:#fff;padding:10px 16px}',
    `${`<p>${TEXT}</p>`.repeat(3)}<div class="t">Saved</div>`,
  ],
  [
    'a sticky foot bar with room for it',
    'body{padding-bottom:56px}.f{position:fixed;left:0;right:0;bottom:0;height:56px;background:#246;color:#fff;display:flex;justify-content:space-around;align-items:center}',
    `${`<p>${TEXT}</p>`.repeat(30)}<nav class="f"><a>Home</a><a>Fares</a></nav>`,
  ],
  [
    'a fixed head with room for it',
    'body{padding-top:60px}.h{position:fixed;top:0;left:0;width:100%;height:60px;background:#246;color:#fff;padding:0 20px;display:flex;align-items:center}',
    `<header class="h">Quay</header>${`<p>${TEXT}</p>`.repeat(30)}`,
  ],
  [
    'masonry in columns',
    '.c{columns:3;column-gap:16px;padding:16px}.c div{break-inside:avoid;margin-bottom:16px;background:#eef;padding:10px}',
    `<div class="c">${[20, 60, 100, 40, 80, 120].map((n) => `<div>${TEXT.slice(0, n)}</div>`).join('')}</div>`,
  ],
  [
    'a drop cap',
    '.d::first-letter{float:left;font-size:48px;line-height:40px;padding-right:6px}',
    `<p class="d">${TEXT} ${TEXT}</p>`,
  ],
  [
    'a floated picture with text around',
    '.f{float:left;margin:0 12px 8px 0}',
    `<main style="padding:12px;overflow:hidden">${picture(160, 120, 'f')}<p>${TEXT} ${TEXT} ${TEXT}</p><p>${TEXT}</p></main>`,
  ],
  [
    'a clearfix row of floats',
    '.r::after{content:"";display:table;clear:both}.c{float:left;width:33.33%;padding:10px}',
    `<div class="r">${`<div class="c">${TEXT}</div>`.repeat(3)}</div><p>${TEXT}</p>`,
  ],
  [
    'gutters balanced',
    '.w{padding:0 16px;overflow:hidden}.r{display:flex;flex-wrap:wrap;margin:0 -8px}.c{width:50%;padding:8px}',
    `<div class="w"><div class="r">${`<div class="c">${TEXT}</div>`.repeat(4)}</div></div>`,
  ],
  [
    'a table with a sticky head',
    '.s{max-height:200px;overflow:auto;border:1px solid #ccc}th{position:sticky;top:0;background:#eee}table{border-collapse:collapse;width:100%}td,th{padding:6px;border:1px solid #ccc}',
    `<div class="s"><table><thead><tr><th>Day<th>High</thead><tbody>${'<tr><td>Mon<td>7'.repeat(20)}</tbody></table></div>`,
  ],
  [
    'text over an image card with a gradient',
    '.k{position:relative;width:280px}.k img{display:block;width:100%}.k div{position:absolute;left:0;right:0;bottom:0;padding:12px;color:#fff;background:linear-gradient(transparent,#000)}',
    `<div class="k">${picture(280, 180)}<div><h3 style="margin:0">Mole</h3>Daily</div></div>`,
  ],
  [
    'a card whose picture bleeds to its edges',
    '.k{width:280px;padding:16px;border:1px solid #ccc}.k img{display:block;width:calc(100% + 32px);margin:-16px -16px 12px;max-width:none}',
    `<div class="k">${picture(280, 120)}<p style="margin:0">${TEXT}</p></div>`,
  ],
  [
    'radio tiles',
    '.r{display:flex;gap:8px}.r label{border:1px solid #999;padding:10px;cursor:pointer}.r input{position:absolute;opacity:0}',
    `<div class="r" style="padding:10px"><label><input type="radio" name="a">Day</label><label><input type="radio" name="a">Night</label></div>`,
  ],
  [
    'stars',
    '.s{position:relative;display:inline-block;color:#ccc}.s b{position:absolute;left:0;top:0;width:70%;overflow:hidden;white-space:nowrap;color:#c90;font-weight:400}',
    `<span class="s">★★★★★<b>★★★★★</b></span>`,
  ],
  [
    'visually hidden by clip-path',
    '.v{position:absolute;width:1px;height:1px;margin:-1px;padding:0;overflow:hidden;clip-path:inset(50%);white-space:nowrap;border:0}',
    `<a href="#"><span class="v">${TEXT}</span>→</a><p>${TEXT}</p>`,
  ],
  [
    'code in a scrolling box with numbers',
    '.c{display:flex;background:#222;color:#eee;font:13px/1.5 monospace}.c ol{margin:0;padding:8px 8px 8px 30px;flex:none}.c pre{margin:0;padding:8px;overflow-x:auto;flex:1;min-width:0}',
    `<div class="c"><ol><li><li><li></ol><pre>${TEXT}${TEXT}\n${TEXT}\n${TEXT}</pre></div>`,
  ],
  [
    'nav with a centre logo',
    '.n{display:flex;justify-content:space-between;align-items:center;padding:12px 20px;background:#eee}.n ul{display:flex;gap:16px;list-style:none;margin:0;padding:0}',
    `<nav class="n"><ul><li>Fares</li><li>Tides</li></ul><b>QUAY</b><ul><li>Book</li></ul></nav>`,
  ],
  [
    'stacked on phones, side by side at desks',
    '.r{display:flex;flex-wrap:wrap;gap:20px;padding:20px}.r>*{flex:1 1 300px}',
    `<div class="r"><div>${TEXT}</div><div>${TEXT}</div><div>${TEXT}</div></div>`,
  ],
  [
    'equal height cards with a button at the end',
    '.g{display:flex;gap:16px;padding:16px}.k{flex:1;display:flex;flex-direction:column;border:1px solid #ccc;padding:12px}.k button{margin-top:auto;align-self:flex-start}',
    `<div class="g"><div class="k"><p>${TEXT}</p><button>Go</button></div><div class="k"><p>Short.</p><button>Go</button></div><div class="k"><p>${TEXT} ${TEXT}</p><button>Go</button></div></div>`,
  ],
  [
    'a price table with one raised',
    '.g{display:flex;gap:16px;padding:40px 16px;align-items:center}.k{flex:1;border:1px solid #ccc;padding:20px}.k.big{transform:scale(1.05);background:#fff}',
    `<div class="g"><div class="k"><h3>Single</h3><p>8.40</p></div><div class="k big"><h3>Ten</h3><p>62.00</p></div><div class="k"><h3>Year</h3><p>240</p></div></div>`,
  ],
  [
    'definition rows with leaders',
    '.r{display:flex}.r i{flex:1;border-bottom:1px dotted #666;margin:0 6px 5px}',
    `<div class="r" style="width:300px"><span>Single</span><i></i><span>8.40</span></div><div class="r" style="width:300px"><span>Ten</span><i></i><span>62.00</span></div>`,
  ],
  [
    'sprite icon',
    '.i{display:inline-block;width:16px;height:16px;background:#888;text-indent:100%;overflow:hidden;white-space:nowrap;vertical-align:middle}',
    `<p><a class="i" href="#">Print this page</a> Print</p>`,
  ],
  [
    'video in a ratio box',
    '.v{aspect-ratio:16/9;max-width:640px;background:#000}.v iframe{width:100%;height:100%;border:0;display:block}',
    `<div class="v"><iframe title="The crossing"></iframe></div><p>${TEXT}</p>`,
  ],
  [
    'old ratio box',
    '.v{position:relative;padding-top:56.25%;background:#000}.v iframe{position:absolute;inset:0;width:100%;height:100%;border:0}',
    `<div style="max-width:640px"><div class="v"><iframe title="The crossing"></iframe></div></div><p>${TEXT}</p>`,
  ],
  [
    'a card that turns over',
    '.k{position:relative;width:240px;height:120px;margin:20px}.k>div{position:absolute;inset:0;padding:12px;backface-visibility:hidden;background:#def}.k .back{transform:rotateY(180deg)}',
    `<div class="k"><div>${TEXT.slice(0, 40)}</div><div class="back">${TEXT.slice(0, 40)}</div></div><p>${TEXT}</p>`,
  ],
  [
    'a caption that slides up when pointed at',
    '.k{position:relative;overflow:hidden;width:300px;height:180px;background:#cde}.c{position:absolute;left:0;right:0;top:140px;padding:10px;background:#fff;transition:top .3s}.k:hover .c{top:80px}',
    `<div class="k"><div class="c"><b>North mole</b><p>${TEXT.slice(0, 80)}</p></div></div>`,
  ],
  [
    'a card pulled over a picture above it',
    '.h{height:200px;background:#9bd}.k{position:relative;margin:-60px 16px 0;padding:16px;background:#fff;border:1px solid #ccc}',
    `<div class="h"></div><div class="k"><h2>Landings</h2><p>${TEXT}</p></div>`,
  ],
  [
    'an address in lines, and a blank one',
    'p{margin:0 0 12px}',
    `<p>Pier Office<br>North Mole<br><br>Open from six</p><p>${TEXT}</p>`,
  ],
  [
    'text in columns, paragraphs broken over them',
    '.m{columns:2 220px;column-gap:24px;padding:16px}.m p{background:#eef}',
    `<div class="m"><p>${TEXT} ${TEXT}</p><p>${TEXT}</p><p>${TEXT} ${TEXT} ${TEXT}</p></div>`,
  ],
  [
    'an object beside a floated picture',
    '.o{overflow:hidden;padding:10px}.p{float:left;width:90px;height:90px;background:#9bd;margin-right:12px}.b{overflow:hidden}',
    `<div class="o"><div class="p"></div><div class="b"><h3>Skerrow</h3><p>${TEXT}</p></div></div>`,
  ],
  [
    'a picture in text, and a wide table below it',
    '.p{float:right;width:120px;height:60px;background:#9bd;margin:0 0 12px 12px}.t{width:100%;clear:both}',
    `<div class="p"></div><p>${TEXT} ${TEXT}</p><table class="t"><tr><td>Single</td><td>8.40</td></tr></table>`,
  ],
  [
    'a grid that makes columns as it goes',
    '.g{display:grid;grid-auto-flow:column;grid-auto-columns:1fr;gap:8px;padding:8px}.g>*{background:#eef}',
    `<div class="g"><div>Mole</div><div>Pier</div><div>Holm</div><div>Sound</div></div>`,
  ],
  [
    'a wide item in a grid of as many columns as fit',
    '.g{display:grid;grid-template-columns:repeat(auto-fill,minmax(140px,1fr));gap:8px;padding:8px}.g>*{background:#eef}.w{grid-column:1/-1}',
    `<div class="g"><div class="w">All landings</div><div>Mole</div><div>Pier</div><div>Holm</div></div>`,
  ],
  [
    'tiles that keep their ratio',
    '.g{display:grid;grid-template-columns:repeat(3,1fr);gap:8px;padding:8px}.g>*{aspect-ratio:4/3;background:#9bd;display:grid;place-items:center}',
    `<div class="g"><div>A</div><div>B</div><div>C</div></div>`,
  ],
  [
    'a page as tall as the view by percentages all the way',
    'html,body{height:100%;margin:0}.app{min-height:100%;display:flex;flex-direction:column}.app main{flex:1;padding:16px}footer{background:#eee;padding:10px}',
    `<div class="app"><main>${TEXT}</main><footer>Pier office</footer></div>`,
  ],
  [
    'a form with a fieldset as wide as it',
    'form{max-width:420px;padding:16px}fieldset{width:100%;box-sizing:border-box;margin:0}input{width:100%;box-sizing:border-box}',
    `<form><fieldset><legend>Journey</legend><label>From <input></label></fieldset></form>`,
  ],
  [
    'letters set wide in a small heading',
    'h4{letter-spacing:3px;text-transform:uppercase;font-size:12px}',
    `<h4>Landings and fares</h4><p style="text-indent:2em">${TEXT}</p>`,
  ],
  [
    'buttons that can stand in a line or take one each',
    '.b{display:inline-block;vertical-align:middle;padding:6px 12px;border:1px solid}.w{display:block;width:100%}form{padding:16px}',
    `<form><a class="b w">Book</a><hr><a class="b w">Cancel</a></form>`,
  ],
  [
    'a field beside a button, set to the middle in case of lines',
    '.g{display:flex}.g>*{vertical-align:middle;padding:6px 12px;border:1px solid}.g input{flex:1;min-width:0}',
    `<div class="g"><input aria-label="From"><button>Go</button></div>`,
  ],
  [
    'a side list that is fixed where there is room',
    '.s{position:fixed;top:60px;left:20px;width:200px}main{margin-left:240px}@media(max-width:1400px){.s{position:static;width:auto}main{margin:0}}',
    `<div class="s">Fares</div><main>${TEXT}</main>`,
  ],
  [
    'a bar that is fixed on a phone alone, with its place said for all',
    '.s{left:0;bottom:0;right:0;padding:8px}@media(max-width:300px){.s{position:fixed}}',
    `<main>${TEXT}</main><div class="s">Book</div>`,
  ],
  [
    'a menu that is a row where there is room',
    '.n{align-items:center;justify-content:flex-end;column-gap:12px}.n a{display:block;padding:8px}@media(min-width:1400px){.n{display:flex}}',
    `<nav class="n"><a>Fares</a><a>Tides</a></nav><p>${TEXT}</p>`,
  ],
  [
    'paragraphs that clear, in a row without floats',
    '.r{display:flex;gap:16px}.r p{clear:both;flex:1;margin:0}',
    `<div class="r"><p>${TEXT}</p><p>${TEXT}</p></div>`,
  ],
  [
    'values of motion and print that this engine does not take',
    'p{text-decoration-skip:ink edges;color-adjust:exact;animation-timing-function:transform ease,opacity ease}',
    `<p>${TEXT}</p>`,
  ],
  [
    'a row of marks as wide as their words, that nearly fills its line',
    '.r{max-width:385px;padding:0}.r span{display:inline-block;font:14px/1.5 monospace;padding:2px 8px;background:#def}',
    `<div class="r"><span>Mole 0700</span> <span>Pier 0710</span> <span>Holm 0720</span> <span>Lee 070</span></div>`,
  ],
  [
    'a card seen from the side',
    '.s{width:240px;margin:40px;overflow:hidden;border-radius:8px;transform:scale(1) perspective(600px) rotateY(20deg) rotateX(6deg) rotate(-2deg)}.s img{display:block;width:100%}.s p{margin:0;text-align:justify}',
    `<div class="s">${picture(600, 400)}<p>${TEXT}</p></div>`,
  ],
  [
    'two faces, one over the other',
    '.f a{display:inline-flex;width:32px;height:32px;border:2px solid #fff;background:#9bd}.f a+a{margin-left:-12px}.f img{display:block;width:100%;height:100%}',
    `<div class="f"><a href="#">${picture(28, 28)}</a><a href="#">${picture(28, 28)}</a></div>`,
  ],
  [
    'a tall picture in a low frame',
    '.f{height:200px;overflow:hidden}.f img{width:100%}',
    `<div class="f">${picture(1600, 900)}</div><p>${TEXT}</p>`,
  ],
  [
    'a drawer with a list of its own that waits beside the view',
    '.s{position:fixed;top:0;left:0;bottom:0;width:240px;overflow-y:auto;transform:translateX(-100%)}.s div{width:260px;padding:8px}',
    `<div class="s"><div>${TEXT}</div></div><p>${TEXT}</p>`,
  ],
  [
    'a list in groups, each with its heading',
    'ul{list-style:none;margin:0;padding:8px}li{margin-top:2px}.g{margin-top:18px}h6{margin:0}a{display:block;padding:6px}',
    `<ul>${'<li class="i"><a href="#">Mole</a></li>'.repeat(4)}<li class="i g"><h6>Your journeys</h6></li>${'<li class="i"><a href="#">Pier</a></li>'.repeat(3)}</ul>`,
  ],
  [
    'terms beside what they mean, one of them without a term',
    'dl{display:flex;flex-wrap:wrap;margin:0}dt{flex:0 0 33.333333%;max-width:33.333333%}dd{flex:0 0 66.666667%;max-width:66.666667%;margin:0}.o{margin-left:33.333333%}',
    `<dl><dt>Mole</dt><dd>Daily</dd><dd class="o">Not on Sundays</dd><dt>Pier</dt><dd>Hourly</dd></dl>`,
  ],
  [
    'a number in large letters with a tight line, and a word below',
    '.n{font-size:112px;line-height:1}p{margin:0}',
    `<div class="n">404</div><p>No such landing</p>`,
  ],
  [
    'rows of a grid, and cards between them with room below',
    '.r{display:flex;gap:16px}.r>div{flex:1;padding:8px;background:#eef}.k{margin-bottom:16px;padding:8px;background:#def}',
    `<main>${'<div class="r"><div>Mole</div><div>Pier</div></div>'.repeat(4)}<div class="k">Fares</div><div class="k">Tides</div></main>`,
  ],
  [
    'marks with room on both sides between others that have none',
    '.m{display:flex;list-style:none;margin:0;padding:8px}.m li{padding:8px;background:#eef}.x{margin:0 4px}',
    '<ul class="m"><li class="i">Mole</li><li class="i x">1</li><li class="i x">2</li><li class="i">Pier</li></ul>',
  ],
  [
    'a face in the middle of a bar that centres what is in it',
    '.b{display:flex;align-items:center;height:64px;background:#eef;padding:0 12px}.b img{vertical-align:middle;width:32px;height:32px}',
    `<div class="b">${picture(32, 32)}</div>`,
  ],
  [
    'a page whose least height is said beside a height in percent',
    'html,body{height:auto}.w main{height:100%;min-height:calc(100vh - 60px);background:#eef}footer{height:60px;background:#ddd}',
    `<div class="w"><main>${TEXT}</main><footer>Pier office</footer></div>`,
  ],
];
