/** Small pages on which one rule tells of something, and the same with one thing changed, on which it does not. */
import assert from 'node:assert/strict';
import { before, describe, test } from 'node:test';
import type { Observation } from '../../../../src/core/finding.ts';
import { observeAll, type RuleId } from '../../../../src/core/rules/index.ts';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';

const WORDS =
  'The ferries call at six landings on both sides of the sound, and at two of them only when a flag is shown by day.';
const PICTURE =
  "data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='120' height='60'%3E%3Crect width='120' height='60'/%3E%3C/svg%3E";

/** The rule, the style sheet, the body, and the change after which nothing is told: what is taken out, and what is put there. */
type Row = [rule: RuleId, css: string, html: string, from: string, to: string];

const ROWS: Row[] = [
  [
    'overlap/covered',
    '.hero { background: #246; color: #fff; padding: 40px } h1 { position: relative; z-index: -1 }',
    '<div class=hero><h1>Summer boats</h1></div>',
    'z-index: -1',
    'z-index: 1',
  ],
  [
    'overlap/siblings',
    'p { margin: 0 } .a { background: #eef; padding: 12px } .b { margin-top: -30px; background: #fed; height: 80px }',
    `<div class=a><p>${WORDS}</p></div><div class=b></div>`,
    'margin-top: -30px',
    'margin-top: 0',
  ],
  [
    'overlap/covered',
    'label { position: relative; display: block; padding-left: 0 } input { position: absolute; left: 0; top: 0; width: 20px; height: 20px }',
    '<label><input type=checkbox checked> I agree to the terms</label>',
    'padding-left: 0',
    'padding-left: 30px',
  ],
  [
    'overlap/out-of-reach',
    '.veil { position: absolute; inset: 0 }',
    '<div class=veil></div><button>Call</button>',
    'inset: 0',
    'inset: 300px 0 0 0',
  ],
  [
    'overlap/line-ground',
    'h1 { width: 200px; font-size: 34px; line-height: 1.1 } span { background: gold; padding: 8px }',
    '<h1><span>Boats of the northern sound</span></h1>',
    'line-height: 1.1',
    'line-height: 1.8',
  ],
  [
    'clip/control-text',
    'select { width: 80px }',
    '<select><option>Gannet Steps, lower quay</select>',
    'width: 80px',
    'width: auto',
  ],
  [
    'clip/focus-outline',
    'form { overflow: hidden } input { width: 100%; box-sizing: border-box } input:focus { outline: 4px solid teal }',
    '<form><input></form>',
    'overflow: hidden',
    'overflow: visible',
  ],
  [
    'gap/empty-box-margins',
    '.box { display: flex; flex-direction: column; gap: 24px } p { margin: 0 }',
    '<div class=box><p>A</p><div></div><p>B</p></div>',
    'gap: 24px',
    'gap: 0',
  ],
  [
    'gap/added-margins',
    'ul { display: flex; gap: 16px; padding: 0 } li { margin-right: 24px }',
    '<ul><li>One<li>Two<li>Three</ul>',
    'margin-right: 24px',
    'margin-right: 0',
  ],
  [
    'gap/auto-margin',
    'div { display: flex } img { margin: 0 auto } p { margin: 0 }',
    `<div><img alt="" src="${PICTURE}"><p>Name</p></div>`,
    'margin: 0 auto',
    'margin: 0 8px 0 0',
  ],
  [
    'gap/held-open',
    'div { min-height: 400px; background: linen }',
    '<div><p>Two words</p></div>',
    'min-height: 400px',
    'min-height: 60px',
  ],
  [
    'gap/empty-tracks',
    'section { display: grid; grid-template-columns: repeat(auto-fill, minmax(150px, 1fr)) }',
    '<section><p>1</p><p>2</p></section>',
    'auto-fill',
    'auto-fit',
  ],
  [
    'gap/spread-lines',
    'div { display: flex; flex-wrap: wrap; align-items: start; height: 300px; width: 200px; align-content: stretch } p { width: 90px; height: 40px; margin: 0 }',
    '<div><p>1</p><p>2</p><p>3</p></div>',
    'align-content: stretch',
    'align-content: start',
  ],
  [
    'gap/dammed-float',
    'section { width: 330px } div { float: left; width: 100px; height: 60px } .tall { height: 90px }',
    '<section><div class="c tall">1</div><div class=c>2</div><div class=c>3</div><div class=c>4</div></section>',
    'height: 90px',
    'height: 60px',
  ],
  [
    'gap/white-space-parts',
    'div { white-space: normal } a { display: inline-block; padding: 6px 12px; background: tan } a:first-child { border-radius: 9px 0 0 9px }',
    '<div><a>One</a> <a>Two</a></div>',
    'white-space: normal',
    'display: flex',
  ],
  [
    'gap/baseline-dip',
    'div { display: inline-block; width: 80px; height: 120px; background: tan; vertical-align: baseline }',
    '<section><div>one</div><div>one and two and three</div></section>',
    'vertical-align: baseline',
    'vertical-align: top',
  ],
  [
    'gap/off-centre',
    'p { height: 40px; width: 90px; line-height: 1.2; text-align: center; background: gold; margin: 0 }',
    '<p>New</p>',
    'line-height: 1.2',
    'line-height: 40px',
  ],
  [
    'gap/corner-at-centre',
    'div { position: relative; height: 200px } p { position: absolute; left: 50%; top: 50%; margin: 0; transform: none }',
    '<div><p>In the middle</p></div>',
    'transform: none',
    'transform: translate(-50%, -50%)',
  ],
  [
    'gap/corner-at-centre',
    'div { position: relative; height: 200px } p { position: absolute; left: 50%; width: 100px; margin: 0; background: tan }',
    '<div><p>Half</p></div>',
    'width: 100px',
    'width: 50%',
  ],
  [
    'gap/border-spacing',
    'table { border-collapse: separate } td { border-bottom: 1px solid }',
    '<table><tr><td>1<td>2</table>',
    'border-collapse: separate',
    'border-collapse: collapse',
  ],
  [
    'gap/default-margin',
    'div { padding: 20px; background: linen } p { margin-top: 0; }',
    '<div><p>Text</p></div>',
    'margin-top: 0;',
    'margin: 0;',
  ],
  [
    'gap/breaks-in-text',
    'br { display: inline }',
    '<div>Some words<br><br><br><br>and more</div>',
    '<br><br><br><br>',
    '<br><br>',
  ],
  [
    'size/clamped',
    '.box { max-width: 200px } #mine { width: 400px }',
    '<div class=box id=mine>Text</div>',
    'max-width: 200px',
    'max-width: 400px',
  ],
  [
    'size/table-cell',
    'td { width: 60px; padding: 0; overflow-wrap: normal }',
    '<table><tr><td>Gannetstepslowerquay<td>10:25</table>',
    'overflow-wrap: normal',
    'overflow-wrap: anywhere',
  ],
  [
    'size/no-size',
    '.hero { background: url(cliff.jpg) center / cover; min-height: 0 }',
    '<div class=hero></div>',
    'min-height: 0',
    'min-height: 80px',
  ],
  [
    'size/stretched',
    'div { display: flex; flex-direction: column; align-items: normal } span { background: gold; border-radius: 99px }',
    '<div><span>New</span><p>Text</p></div>',
    'align-items: normal',
    'align-items: start',
  ],
  [
    'size/uneven-tracks',
    'section { display: flex; width: 300px } div { flex: 1; min-width: auto }',
    '<section><div>a</div><div>Gannetstepslowerquayandfallow</div></section>',
    'min-width: auto',
    'min-width: 0',
  ],
  [
    'size/uneven-row',
    'section { display: flow-root } div { float: left; width: 100px; background: tan }',
    '<section><div>one</div><div>one and two and three lines of text</div></section>',
    'display: flow-root',
    'display: flex',
  ],
  [
    'size/grown-last-line',
    'section { display: flex; flex-wrap: wrap; width: 700px } div { flex: 1 1 300px }',
    '<section><div>1</div><div>2</div><div>3</div></section>',
    'flex: 1 1 300px',
    'flex: 0 1 300px',
  ],
  [
    'size/unlike-fields',
    'input { width: 400px; display: block } textarea { display: block; width: auto }',
    '<form><input><textarea></textarea></form>',
    'width: auto',
    'width: 400px',
  ],
  [
    'scroll/slight',
    'nav { overflow-x: auto; padding-bottom: 0 } a { display: inline-block; position: relative } a::after { content: ""; position: absolute; left: 0; right: 0; bottom: -6px; height: 6px; background: teal }',
    '<nav><a>One</a></nav>',
    'padding-bottom: 0',
    'padding-bottom: 8px',
  ],
  [
    'scroll/idle-bar',
    'div { overflow-y: scroll; width: 200px }',
    '<div>Short</div>',
    'overflow-y: scroll',
    'overflow-y: auto',
  ],
  [
    'scroll/nested',
    'main { height: calc(100vh - 60px); overflow-y: auto } article { height: 1500px } footer { height: 300px }',
    '<main><article>Text</article></main><footer>Foot</footer>',
    'height: calc(100vh - 60px)',
    'height: auto',
  ],
  [
    'scroll/placed-beyond',
    'body { position: relative; min-height: 900px } .tray { position: absolute; bottom: -200px; height: 200px; left: 0; right: 0; background: tan }',
    '<p>Page</p><div class=tray>Closed</div>',
    'bottom: -200px',
    'bottom: 0',
  ],
  [
    'declaration/unknown-area',
    'section { display: grid; grid-template-areas: "head head" "main side" } p { grid-area: sied }',
    '<section><p>Text</p></section>',
    'grid-area: sied',
    'grid-area: side',
  ],
  [
    'declaration/invalid-variable',
    'div { --w: 20; width: var(--w) }',
    '<div>Text</div>',
    '--w: 20;',
    '--w: 20px;',
  ],
  [
    'declaration/inert',
    '.stack { gap: 20px; display: block } p { margin: 0 }',
    '<div class=stack><p>1</p><p>2</p></div>',
    'display: block',
    'display: grid',
  ],
  [
    'declaration/inert',
    'p { text-overflow: ellipsis; overflow: hidden; width: 90px; white-space: normal }',
    `<p>${WORDS}</p>`,
    'white-space: normal',
    'white-space: nowrap',
  ],
  [
    'overflow/uncontained-float',
    'section { background: #efe; display: block } img { float: left; width: 160px; height: 200px }',
    `<section><img alt="" src="${PICTURE}"><p>Short</p></section><h2>Next</h2>`,
    'display: block',
    'display: flow-root',
  ],
  [
    'overflow/before-page',
    '.w { position: relative; margin-left: 20px } .tip { position: absolute; right: auto; left: -60px; width: 200px }',
    '<div class=w><button>?</button><div class=tip>A tip with some words</div></div>',
    'left: -60px',
    'left: 0',
  ],
  // As a whole, and without being placed there.
  [
    'overflow/before-page',
    'html { margin-top: -30px } body { margin: 0 } header { height: 60px; font: 16px/20px sans-serif }',
    '<header>The name of the harbour</header><p>Some words</p>',
    'margin-top: -30px',
    'margin-top: 0',
  ],
];

describe('small pages', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });

  const toldBy = async (rule: RuleId, css: string, html: string): Promise<Observation[]> => {
    const page = `<!doctype html><meta name=viewport content="width=device-width"><style>body { font: 16px/1.5 sans-serif } ${css}</style>${html}`;
    const files = [{ path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(page) }];
    const opened = await headless.open(files, 'index.html', { width: 1280, height: 800 });
    const analysis = await opened.measure();
    const all = await opened.complete(analysis, () => observeAll(analysis));
    await opened.close();
    return all.filter((observation) => observation.rule === rule && observation.grade !== 'meant');
  };

  for (const [rule, css, html, from, to] of ROWS)
    test(`${rule}: ${from} is told, and not ${to}`, async () => {
      assert.equal(`${css}${html}`.split(from).length, 2, `“${from}” must stand there once`);
      const told = await toldBy(rule, css, html);
      assert.ok(told.length > 0, 'nothing is told');
      for (const { what, evidence } of told) {
        assert.ok(!/NaN|Infinity|undefined|null/.test(what), what);
        for (const { words } of evidence) assert.ok(!/NaN|undefined|null|\.$/.test(words), words);
      }
      const changed = await toldBy(rule, css.replace(from, to), html.replace(from, to));
      assert.deepEqual(
        changed.map(({ what }) => what),
        [],
      );
    });
});
