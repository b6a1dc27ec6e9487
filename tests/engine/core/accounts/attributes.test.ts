/** Attributes that say how something looks (HTML §15): what the cascade takes of them is what the engine takes. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { declaredProperties } from '../../../../src/core/accounts/property.ts';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';
import { compareCascade } from '../../../harness/conformance/cascade.ts';
import { classed } from '../../../support/measure.ts';

const table = (attributes: string, cell = '') =>
  `<table ${attributes}><tr><td ${cell}>Mole</td><td>Pier</td></tr></table>`;

/** Markup whose subject has the class `t`, and properties that come from which of its attributes; `!`: from none. */
const ROWS: [html: string, expected: Record<string, string>][] = [
  ['<img class=t width=40 height=30>', { width: 'width', height: 'height', 'aspect-ratio': 'width' }],
  ['<img class=t width="50%" height=30>', { width: 'width', height: 'height' }],
  ['<img class=t width="+40" height=" 30.5x">', { width: '!', height: 'height', 'aspect-ratio': '!' }],
  ['<img class=t width="px" height="-3">', { width: '!', height: '!' }],
  ['<img class=t width=0 height=0>', { width: 'width', height: 'height' }],
  ['<img class=t hspace=7 vspace=5>', { 'margin-left': 'hspace', 'margin-bottom': 'vspace' }],
  ['<img class=t border=3>', { 'border-left-width': 'border', 'border-left-style': 'border' }],
  ['<img class=t border=0>', { 'border-left-width': 'border' }],
  ['<img class=t align=left>', { float: 'align', 'vertical-align': 'align' }],
  ['<img class=t align=absmiddle>', { 'vertical-align': 'align', float: '!' }],
  ['<img class=t align=texttop>', { 'vertical-align': 'align' }],
  ['<img class=t align=middle>', { 'vertical-align': 'align' }],
  ['<input class=t type=image width=40 height=30 hspace=2>', { width: 'width', 'margin-left': 'hspace' }],
  ['<input class=t type=text width=40 hspace=2>', { width: '!', 'margin-left': 'hspace' }],
  ['<canvas class=t width=40 height=30></canvas>', { 'aspect-ratio': 'width' }],
  ['<video class=t width=40 height=30></video>', { width: 'width', 'aspect-ratio': 'width' }],
  [
    '<iframe class=t width=90 height=40 frameborder=0></iframe>',
    { width: 'width', 'border-left-width': 'frameborder' },
  ],
  ['<iframe class=t frameborder=no></iframe>', { 'border-left-width': 'frameborder' }],
  ['<iframe class=t frameborder=1></iframe>', { 'border-left-width': '!' }],
  ['<img class=t border=x>', { 'border-left-style': 'border' }],
  ['<canvas class=t width="50%" height=3.5></canvas>', { 'aspect-ratio': 'width' }],
  ['<iframe class=t align=right></iframe>', { float: 'align' }],
  [
    '<object class=t width=40 height=30 hspace=3 border=2></object>',
    { width: 'width', 'border-left-width': 'border' },
  ],
  ['<embed class=t width=40 height=30 vspace=3>', { width: 'width', 'margin-top': 'vspace' }],
  ['<marquee class=t width=120 height=30 hspace=3>Mole</marquee>', { width: 'width', 'margin-left': 'hspace' }],
  [table('class=t width=300 height=90'), { width: 'width', height: 'height' }],
  [table('class=t width="80%"'), { width: 'width' }],
  [table('class=t width=0'), { width: '!' }],
  [table('class=t border'), { 'border-left-width': 'border', 'border-left-style': 'border' }],
  [table('class=t border=4'), { 'border-left-width': 'border' }],
  [table('class=t border=0'), { 'border-left-width': 'border' }],
  [table('class=t cellspacing=6'), { 'border-spacing': 'cellspacing' }],
  [table('class=t cellspacing=0 cellpadding=0'), { 'border-spacing': 'cellspacing' }],
  [table('class=t align=center'), { 'margin-left': 'align', 'margin-right': 'align' }],
  [table('class=t align=right'), { float: 'align' }],
  [table('class=t rules=rows'), { 'border-collapse': 'rules' }],
  [table('class=t rules=all border=2'), { 'border-collapse': 'rules' }],
  [table('class=t rules=groups'), { 'border-collapse': 'rules' }],
  [table('class=t frame=void border=3'), { 'border-left-width': 'border' }],
  [table('class=t frame=hsides'), {}],
  [table('class=t frame=box'), {}],
  [table('cellpadding=9', 'class=t'), { 'padding-left': 'cellpadding' }],
  [table('border=5', 'class=t'), { 'border-left-width': 'border' }],
  [table('class=t frame=box border=3'), { 'border-left-width': 'border', 'border-left-style': 'frame' }],
  [table('class=t frame=lhs rules=rows'), { 'border-left-width': 'frame', 'border-top-style': 'frame' }],
  [table('class=t frame=nonsense'), { 'border-left-width': '!' }],
  [table('class=t border=-2'), { 'border-left-width': 'border' }],
  [table('class=t border=2 bordercolor=teal'), { 'border-left-style': 'border' }],
  [table('class=t bordercolor=teal'), { 'border-left-style': '!' }],
  [table('class=t rules=none border=2'), { 'border-left-style': 'border' }],
  [table('class=t cellspacing=4.7'), { 'border-spacing': 'cellspacing' }],
  [table('class=t cellspacing=-4'), { 'border-spacing': '!' }],
  [table('cellpadding=x', 'class=t'), { 'padding-left': 'cellpadding' }],
  [table('cellpadding=""', 'class=t'), { 'padding-left': '!' }],
  [table('rules=rows border=2', 'class=t'), { 'border-top-style': 'rules', 'border-left-style': '!' }],
  [table('rules=none border=2', 'class=t'), { 'border-top-style': '!' }],
  [table('rules=cols', 'class=t'), { 'border-left-style': 'rules', 'border-top-style': '!' }],
  [
    '<table rules=groups><colgroup class=t><col><col></colgroup><tr><td>Mole</td><td>Pier</td></tr></table>',
    { 'border-left-style': 'rules' },
  ],
  [
    '<table rules=groups><thead class=t><tr><th>Mole</th></tr></thead><tr><td>Pier</td></tr></table>',
    { 'border-top-style': 'rules' },
  ],
  [
    '<table rules=all><tr><td class=t><table><tr><td>Mole</td></tr></table></td></tr></table>',
    { 'border-left-style': 'rules' },
  ],
  [table('rules=all', 'class=t'), {}],
  [table('', 'class=t width=90 height=40'), { width: 'width', height: 'height' }],
  [table('', 'class=t width=0'), { width: '!' }],
  [table('', 'class=t nowrap'), { 'white-space': 'nowrap' }],
  [table('', 'class=t align=right valign=bottom'), { 'text-align': 'align', 'vertical-align': 'valign' }],
  [table('', 'class=t align=center'), { 'text-align': 'align' }],
  [
    '<table><tr class=t align=right valign=top height=40><td>Mole</td></tr></table>',
    { height: 'height', 'text-align': 'align' },
  ],
  [
    '<table><tbody class=t valign=baseline><tr><td>Mole</td></tr></tbody></table>',
    { 'vertical-align': 'valign' },
  ],
  ['<table><col class=t width=70><tr><td>Mole</td></tr></table>', { width: 'width' }],
  [
    '<table><caption class=t align=bottom>Lee</caption><tr><td>Mole</td></tr></table>',
    { 'caption-side': 'align' },
  ],
  ['<div class=t align=center><p>Mole</p></div>', { 'text-align': 'align' }],
  ['<div class=t align=justify>Mole</div>', { 'text-align': 'align' }],
  ['<h2 class=t align=center>Mole</h2>', { 'text-align': 'align' }],
  ['<p class=t align=right>Mole</p>', { 'text-align': 'align' }],
  ['<center class=t><p>Mole</p></center>', {}],
  ['<hr class=t width=200 size=9>', { width: 'width', height: 'size' }],
  ['<hr class=t width="60%" align=left>', { width: 'width', 'margin-left': 'align' }],
  ['<hr class=t align=right noshade size=6>', { 'margin-left': 'align', 'border-left-style': 'noshade' }],
  ['<hr class=t size=1>', { 'border-bottom-width': 'size' }],
  ['<hr class=t size=thick>', { 'border-bottom-width': 'size' }],
  ['<hr class=t color=teal size=0>', { 'border-left-style': 'color' }],
  [
    '<font class=t size=5 face=monospace color=teal>Mole</font>',
    { 'font-size': 'size', 'font-family': 'face' },
  ],
  ['<font class=t size="+2">Mole</font>', { 'font-size': 'size' }],
  ['<font class=t size="-9">Mole</font>', { 'font-size': 'size' }],
  ['<font class=t size=wide>Mole</font>', { 'font-size': '!' }],
  ['Mole<br class=t clear=all>Pier', { clear: 'clear' }],
  ['Mole<br class=t clear=right>Pier', { clear: 'clear' }],
  ['<ol><li class=t type=a>Mole</ol>', { 'list-style-type': 'type' }],
  ['<ul class=t type=square><li>Mole</ul>', { 'list-style-type': 'type' }],
  ['<pre class=t wrap>Mole</pre>', { 'white-space': 'wrap' }],
  ['<textarea class=t wrap=off cols=9 rows=3>Mole</textarea>', { 'white-space': 'wrap' }],
  ['<textarea class=t wrap=hard>Mole</textarea>', { 'white-space': 'wrap' }],
  ['<input class=t size=9>', {}],
  ['<p class=t dir=rtl>Mole</p>', { direction: 'dir' }],
  ['<p class=t dir=LTR>Mole</p>', { direction: 'dir' }],
  ['<p class=t hidden>Mole</p>', { display: 'hidden' }],
  [
    '<svg class=t width=40 height=3em><text font-size=9 y=9>Mole</text></svg>',
    { width: 'width', height: 'height' },
  ],
  ['<svg><rect class=t width=20 height=10 opacity=.5 /></svg>', { width: 'width', opacity: 'opacity' }],
  [
    '<svg><text class=t font-size=30 letter-spacing=2>Mole</text></svg>',
    { 'font-size': 'font-size', 'letter-spacing': 'letter-spacing' },
  ],
  ['<svg class=t overflow=visible></svg>', { 'overflow-x': 'overflow' }],
];

/** The same where a rule of the page says otherwise: it goes before any attribute, and `revert` takes them away. */
const BEATEN: [css: string, html: string, property: string][] = [
  ['* { width: 11px }', '<img class=t width=40>', 'width'],
  ['td { padding: 2px }', table('cellpadding=9', 'class=t'), 'padding-left'],
  [':where(img) { margin: 1px }', '<img class=t hspace=9>', 'margin-left'],
  ['hr { width: revert }', '<hr class=t width=200>', 'width'],
  ['@layer low { h2 { text-align: left } }', '<h2 class=t align=center>Mole</h2>', 'text-align'],
];

describe('attributes', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  /** Everything that the cascade and the engine say differently, and by which attributes the subject has what it has. */
  async function told(css: string, html: string, doctype = '<!doctype html>') {
    const text = `${doctype}<title>t</title><style>${css}</style><div>${html}</div>`;
    const files = [{ path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(text) }];
    const opened = await headless.open(files, 'index.html', { width: 600, height: 400 });
    const analysis = await opened.measure();
    const { disagreements } = await compareCascade(headless.page, opened.address, analysis);
    await opened.close();
    const properties = declaredProperties(analysis, classed(analysis, 't'));
    const by = new Map<string, string>();
    for (const { property, winner } of properties)
      if (winner?.source.origin === 'attribute')
        by.set(property, /\[(.*)\]/.exec(winner.source.selector)?.[1] ?? '');
    return { disagreements: disagreements.map((disagreement) => JSON.stringify(disagreement)), by };
  }

  for (const [html, expected] of ROWS)
    test(html, async () => {
      const { disagreements, by } = await told('', html);
      assert.deepEqual(disagreements, []);
      for (const [property, attribute] of Object.entries(expected))
        assert.equal(by.get(property) ?? '!', attribute, property);
    });

  for (const [css, html, property] of BEATEN)
    test(`${html} under ${css}`, async () => {
      const { disagreements, by } = await told(css, html);
      assert.deepEqual(disagreements, []);
      assert.equal(by.has(property), false);
    });

  test('attributes of the body, in both modes', async () => {
    for (const doctype of ['<!doctype html>', ''])
      for (const body of [
        'marginwidth=3 marginheight=4',
        'leftmargin=7 topmargin=0',
        'text=teal bgcolor=white',
      ]) {
        const { disagreements } = await told('', `</div><body class=t ${body}><div>Mole`, doctype);
        assert.deepEqual(disagreements, [], `${doctype} ${body}`);
      }
  });
});
