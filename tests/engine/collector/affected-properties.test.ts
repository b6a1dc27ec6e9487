/** A reading taken anew in what an edit can have changed alone is the one that is taken anew as a whole. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { FULL, MAX_ELEMENTS, type RawReading } from '../../../src/core/reading/reading.ts';
import {
  analyse,
  readAgain,
  readSources,
  shareIntrinsicSizes,
  type Analysis,
  type ContentWidths,
} from '../../../src/core/analysis.ts';
import { candidates } from '../../../src/core/css/cascade/candidates.ts';
import { observeAll } from '../../../src/core/rules/index.ts';
import { movingBoxes, varying } from '../../../src/core/sweep/width-dependent.ts';
import { documentPatch, makePatcher } from '../../../src/core/trials/document-patch.ts';
import { editSchema, type Edit } from '../../../src/core/trials/edit.ts';
import { affectedProperties } from '../../../src/core/trials/affected-properties.ts';
import { overlay } from '../../../src/core/trials/overlay.ts';
import { readFiles, targetOf } from '../../../src/core/trials/targets.ts';
import type { Headless } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';
import { draw } from '../../harness/conformance/families.ts';
import { corpusPages, demoPages, withCorpus } from '../../support/corpus.ts';
import { textsOfFiles } from '../../support/random-trials.ts';

const SIZE = { width: 1100, height: 800 };
const SEED = Number(process.env['SEED'] ?? 7);
const VALUES: Record<string, string[]> = {
  margin: ['3px', '1em auto', '5%'],
  'margin-left': ['auto', '-4px'],
  padding: ['0', '2ex 1%'],
  width: ['50%', '18em', 'auto'],
  'max-width': ['40ch', 'none'],
  height: ['auto', '77px', '50%'],
  'border-top': ['5px solid', 'none'],
  gap: ['9px', '2%'],
  flex: ['1', 'none'],
  'box-sizing': ['border-box', 'content-box'],
  'text-align': ['center', 'right'],
  'white-space': ['nowrap', 'normal'],
  'vertical-align': ['top', '4px'],
  transform: ['translateX(50%)', 'none'],
  overflow: ['hidden', 'visible'],
  'grid-template-columns': ['1fr 2fr', 'none'],
  'align-items': ['center', 'start'],
};

/** All values of a reading as texts, so that readings with other numbers for the same texts are alike. */
function asTexts({
  strings,
  used,
  computed,
  rects,
  fragments,
  scrolls,
  texts,
  matches,
  attributes,
  pseudos,
  fonts,
  natural,
}: RawReading): unknown {
  const columns = (group: Record<string, Int32Array>) =>
    Object.fromEntries(
      Object.entries(group)
        .map(([name, column]): [string, string[]] => [name, Array.from(column, (at) => strings[at] ?? '')])
        .filter(([, list]) => list.some((text) => text !== ''))
        .sort(([a], [b]) => (a < b ? -1 : 1)),
    );
  return {
    used: columns(used),
    computed: columns(computed),
    rects: Array.from(rects),
    fragments: Array.from(fragments),
    scrolls: Array.from(scrolls),
    texts: Array.from(texts),
    matches: matches.map((list) => list && Array.from(list)),
    attributes: attributes.length,
    pseudos,
    // Measures of a font stand under the number of its name.
    fonts: Array.from(fonts, (font, i) => (i % 7 === 0 ? strings[font] : font)),
    natural: Array.from(natural),
  };
}

/** The number of elements that are displayed. */
function shownOf({ count, parent, used, strings }: RawReading): number {
  const isShown: boolean[] = [];
  for (let i = 0; i < count; i++)
    isShown[i] = strings[used['display']![i]!] !== 'none' && (isShown[parent[i]!] ?? true);
  return isShown.filter(Boolean).length;
}

/** Small pages, each with something in it that is read in a way of its own. */
const PAGES: { name: string; html: string; elements?: 'some' | 'all'; between?: string }[] = [
  {
    name: 'widths by the viewport, taken over by what is in them',
    html: '<style>.a { width: 50vw; padding: 1px } .b { width: inherit; height: 20px } p { margin: 3% }</style><div class=a><div class=b>Pier</div></div><p>Mole</p>',
    elements: 'some',
  },
  {
    name: 'a width by the viewport beside one that a style attribute takes over',
    html: '<style>.a { max-width: 30vw; margin-left: 10vw }</style><div class=a><div style="max-width: inherit">Pier and mole</div></div>',
    elements: 'some',
  },
  {
    name: 'letters by the viewport',
    html: '<style>.a { letter-spacing: 1vw }</style><div class=a>Pier <b>mole</b></div>',
    elements: 'all',
  },
  {
    name: 'what is not displayed, with values by the viewport',
    html: '<style>.h { display: none } .h p { width: 20vw; margin: 5%; flex: 1 } .f { display: flex }</style><div class=h><p class=f><b>a</b></p><img width=3 alt=""></div><p>Mole</p>',
  },
  {
    name: 'columns',
    html: '<style>.c { columns: 2 } .c p { margin: 0 }</style><div class=c><p>Mole pier lee and landing all the way along the quay</p><p>Buoy</p></div><div style="column-count: 3"><p>one two three four five six</p></div>',
  },
  {
    name: 'generated boxes in percent and by the viewport',
    html: '<style>p::before { content: "x"; display: inline-block; width: 20%; margin: 0 3vw } p::after { content: none }</style><p>Mole</p><p>Pier</p>',
  },
  {
    name: 'texts beside each other, blank ones among them',
    html: '<p>Mole <b>pier</b> <i>lee</i>\n</p>\n<p> </p><div style="display:flex"> <span>a</span> <span>b</span></div><pre>one\n two</pre>',
  },
  {
    name: 'texts that a script puts in the place of others',
    html: '<p id=a>Mole</p><p id=b>Pier and <b>lee</b></p>',
    between:
      'document.getElementById("a").textContent = "Mole " + e.id; document.getElementById("b").firstChild.data = " "',
  },
  {
    name: 'a shadow tree',
    html: '<div><template shadowrootmode=open><style>p { padding: 2% }</style><p>Lee <slot></slot></p></template>Mole</div>',
  },
  {
    name: 'a table, a scrolling box, a picture without a size, a list',
    html: '<table><tr><td>a<td style="width:30%">b</table><div style="overflow:auto;height:30px;margin:1% auto;width:40%"><p style="width:900px;height:90px">x</p></div><ul><li>a<li>b</ul><select><option>c</select>',
  },
];

/**
 * Boxes of one size at all widths, in which not all is as it was: by what is farther around (`moves` false), or by nothing, so
 * that what is in them is not asked for again.
 */
const BOXES: { name: string; html: string; moves?: false; quirks?: true }[] = [
  {
    name: 'drawings in what stays and in what moves',
    html:
      '<style>svg { width: 33.3px; height: 21.7px } .b svg { display: block } i { float: right; width: 90.5px }</style>' +
      [
        '<main style="width:300px">',
        '<aside style="width:120px;margin-left:auto">',
        '<section style="width:90px;margin:0 auto">',
      ]
        .map(
          (open) =>
            `${open}<p>Chart <svg viewBox="0 0 9 9"><g><rect x=1 y=1 width=3.3 height=3 /><path d="M1 2L7 8.5"/></g><text x=2 y=5 font-size=3>Rocks</text></svg> of the sound<p class=b><svg viewBox="0 0 50 40"><circle r=7 cx=9.5 cy=9 /><foreignObject x=1 y=20 width=30 height=15><b>Shoal</b></foreignObject></svg></p></${open.slice(1, open.indexOf(' '))}>`,
        )
        .join('<i>beside</i>'),
  },
  {
    name: 'lines, pieces, lists and pictures in a block that is centred',
    html: '<main style="width:300px;margin:0 auto"><p>Mole <b>pier and <i>lee and landing all along</i></b> the quay<ul><li>a<li>b</ul><svg width=20 viewBox="0 0 9 9"><rect x=1 y=1 width=3 height=3 /></svg><img width=3 height=4 alt=""></main>',
  },
  {
    name: 'generated boxes and boxes that scroll',
    html: '<style>p::before { content: "x"; display: inline-block; width: 20% } p::after { content: "y"; position: absolute; left: 50% }</style><main style="width:300px;margin:0 auto"><p>Mole</p><div style="overflow:hidden;height:30px"><b style="display:block;height:90px">b</b></div></main>',
  },
  {
    name: 'items of a row, and rows of one',
    html: '<style>.f { display: flex; justify-content: space-between } .f > div { width: 90px; display: flex; flex-wrap: wrap; gap: 4px } .f i { width: 40% }</style><div class=f><div><i>a</i><i>b</i><i>c</i></div><div><i>d</i></div></div>',
  },
  {
    name: 'a table, a closed box, a list to choose from, what has no box of its own',
    html: '<main style="width:300px;float:right"><table><tr><td>a<td style="width:30%">b</table><details><summary>Lee</summary><p>Pier</p></details><select><option>c</select><div style="display:contents"><p>Mole</p></div><p style="display:none"><b>no</b></p></main>',
  },
  {
    name: 'a block beside a float that takes room from its lines',
    html: '<style>.s { float: left; width: 20%; height: 70px } .r { width: 300px; height: 90px }</style><div class=s></div><div class=r><p>Mole and pier and lee and landing and quay</p></div>',
    moves: false,
  },
  {
    name: 'a block after a box whose float hangs out of it',
    html: '<style>.s { float: left; width: 20%; height: 70px } .r { width: 300px; height: 90px } .b { height: 10px }</style><div class=b><i class=s></i></div><div class=r><p>Mole and pier and lee and landing and quay</p></div>',
    moves: false,
  },
  {
    name: 'a block after a first letter that floats',
    html: '<style>.b::first-letter { float: left; width: 20%; font-size: 5em } .b { height: 20px } .r { width: 300px; height: 90px }</style><div class=b>Mole</div><div class=r><p>Mole and pier and lee and landing and quay</p></div>',
    moves: false,
  },
  {
    name: 'a block after a generated box that floats',
    html: '<style>.b::before { content: ""; float: left; width: 20%; height: 60px } .b { height: 20px } .r { width: 300px; height: 90px }</style><div class=b>Mole</div><div class=r><p>Mole and pier and lee and landing and quay</p></div>',
    moves: false,
  },
  {
    name: 'a block that sticks beside a float',
    html: '<style>.s { float: left; width: 20%; height: 70px } .r { position: sticky; top: 0; width: 300px; height: 90px }</style><div class=s></div><div class=r><p>Mole and pier and lee and landing and quay</p></div>',
    moves: false,
  },
  {
    name: 'boxes that keep floats out, beside one',
    html: '<style>.s { float: left; width: 20%; height: 70px } .r { overflow: hidden; width: 120px; height: 90px }</style><div class=s></div><div class=r><p>Mole and <i>pier</i> and lee</p></div>',
  },
  {
    name: 'what is positioned by the viewport',
    html: '<div style="width:300px;height:60px"><b style="position:absolute;left:50%;width:10%"><i>a</i></b><b style="position:fixed;right:0">b</b></div>',
    moves: false,
  },
  {
    name: 'what is positioned by a box around',
    html: '<div style="position:relative;padding:1px"><div style="width:300px;height:60px"><b style="position:absolute;right:0;width:10%">a</b></div></div>',
    moves: false,
  },
  {
    name: 'what is positioned by its own box',
    html: '<div style="position:relative;width:300px;height:60px;margin:0 10%"><b style="position:absolute;right:10%;width:10%"><i>a</i></b><em style="position:relative;left:20%;top:10%">b</em></div>',
  },
  {
    name: 'paddings in percent within a width that includes them',
    html: '<div style="box-sizing:border-box;width:300px;height:90px;padding:0 4%"><p>Mole and pier and lee and landing</p></div>',
    moves: false,
  },
  {
    name: 'a width by the viewport within a fixed one',
    html: '<style>.v { width: 20vw }</style><div style="width:300px;height:50px"><p class=v>Mole and pier and lee and landing</p></div>',
    moves: false,
  },
  {
    name: 'what is moved, scaled and turned',
    html: '<div style="width:300px;margin:0 auto"><p style="transform:translateX(50%)">a <b>b</b></p><p style="transform:scale(.5)">c <b>d</b></p></div><div style="width:40%;transform:rotate(4deg)"><div style="width:100px"><b>e</b></div></div>',
    moves: false,
  },
  {
    name: 'a scale of its own property',
    html: '<style>.z { scale: .5; width: 60% } .r { width: 80px }</style><div class=z><div class=r><b>e</b></div></div>',
    moves: false,
  },
  {
    name: 'larger units',
    html: '<style>.z { zoom: 2 }</style><div style="width:300px;margin:0 auto"><p class=z><b>e</b></p></div>',
    moves: false,
  },
  {
    name: 'tracks of the grid around',
    html: '<style>.g { display: grid; grid-template-columns: 1fr 50px 50px } .r { grid-column: 1 / 4; display: grid; grid-template-columns: subgrid; width: 300px; height: 30px }</style><div class=g><div class=r><b>a</b><b>b</b><b>c</b></div></div>',
    moves: false,
  },
  {
    name: 'heights in percent without a document type',
    html: '<div style="width:60%;height:0;padding-top:10%"></div><div style="height:auto"><div style="width:300px"><p style="height:50%">Mole</p></div></div>',
    moves: false,
    quirks: true,
  },
  {
    name: 'upright lines',
    html: '<div style="width:300px;height:100px;writing-mode:vertical-rl"><p style="writing-mode:horizontal-tb">Mole and pier and lee</p></div>',
    moves: false,
  },
  {
    name: 'margins that touch through boxes without a height',
    html: '<div style="margin:4% 0"></div><div style="width:300px"><p style="margin:5% 0"></p></div><div style="width:300px"><div style="height:0"><p style="margin:20px 0">a</p></div></div>',
    moves: false,
  },
  {
    name: 'what sticks while something scrolls',
    html: '<div style="width:300px"><p style="position:sticky;top:0">a <b>b</b></p><p>c</p></div>',
  },
];

/** What boxes are, and what rules say of them. */
const reasonedOf = ({ tree, order, styles }: Analysis) => ({
  boxes: [...tree.kinds.entries()].map(([i, kind]) => [kind, tree.containingBlock[i], order[i]]),
  rules: tree.kinds.map((_, i) =>
    [...candidates(styles, i)].map(([property, list]) => [
      property,
      list.map(({ value, layerName }) => [value, layerName]),
    ]),
  ),
});

/** What changes with the conditions of `CONDITIONS` that hold from 600 px on: see `Changed`. */
const CONDITIONS: { name: string; css: string; media: (string[] | null)[] }[] = [
  { name: 'a rule that matches nothing', css: '.pier { width: 40px; font-size: 3em }', media: [[]] },
  { name: 'a rule that is refused', css: '.b, .a:nothing { width: 40px }', media: [[]] },
  { name: 'a size', css: '.b { max-width: 90px }', media: [['max-width']] },
  {
    name: 'several properties',
    css: '.b { padding: 5px 9% } .c { gap: 7px }',
    media: [['padding', 'row-gap', 'column-gap']],
  },
  {
    name: 'what parts letters of a line',
    css: 'i { padding: 0 4px; margin-left: 2px }',
    media: [['padding', 'margin']],
  },
  { name: 'spaces between letters', css: '.d { letter-spacing: 4px }', media: [null] },
  { name: 'sizes of letters', css: 'html { font-size: 22px }', media: [null] },
  { name: 'what is shown', css: '.d { display: none }', media: [null] },
  { name: 'a generated box', css: '.b::before { content: "Gangway"; width: 80px }', media: [null] },
  { name: 'a custom property', css: 'body { --w: 33% }', media: [null] },
  { name: 'the steps of an animation', css: '@keyframes slide { to { margin-left: 30px } }', media: [null] },
  {
    name: 'a face of letters',
    css: '@font-face { font-family: Quay; src: local("DejaVu Sans Mono") }',
    media: [null],
  },
  { name: 'the order of layers', css: '@layer late, early;', media: [null] },
  {
    name: 'one condition of nothing and one of something',
    css: '.pier { width: 9px } } @media (min-width: 600px) and (min-height: 1px) { .b { margin: 3px auto }',
    media: [[], ['margin']],
  },
  {
    name: 'columns of a grid',
    css: '.g { grid-template-columns: 1fr 2fr }',
    media: [['grid-template-columns']],
  },
  { name: 'a transform', css: '.b { transform: translateX(5px) }', media: [['transform']] },
  {
    name: 'where the page scrolls',
    css: 'body { overflow: hidden; width: 1500px }',
    media: [['overflow', 'width']],
  },
];

const HARBOUR =
  '<div class=b>Slipway at <i>low</i> water<p class=d>Fenders, lines and a heaving line lie ready</div>' +
  '<div class=c><b>one</b><b>two</b></div><div class=g><span>three</span><span>four</span></div><p class=e>Cast off';
const MOORED =
  '.b { width: var(--w, 50%) } .c { display: flex } .g { display: grid } .e { animation: slide 1s forwards; font-family: Quay, serif } @layer early { .e { padding: 3px } } @layer late { .e { padding: 8px } }';

describe('a narrow reading', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (const [number, page] of [...demoPages(), ...corpusPages().slice(0, 4)].entries())
    test(`of ${page.name} (seed ${SEED})`, async () => {
      const { int, pick } = draw(SEED * 100 + number);
      const opened = await headless.open(page.files, page.entry, SIZE);
      const analysis = await opened.measure();
      const texts = await textsOfFiles(page.files);
      const files = readFiles(texts);
      const ask = { depth: 'full' as const, wanted: FULL, limit: MAX_ELEMENTS };
      const { plan } = analysis.sources;
      const sheets = plan.sheets.filter(({ form, rules }) => form === 'file' && rules.length > 0);
      if (sheets.length === 0) return;
      const described = await opened.ask('describe', null);
      const frameBase = opened.address.slice(0, opened.address.length - page.entry.length);
      const loaded = { page: page.entry, texts, described, frameBase, sources: analysis.styles.sources };
      const patcher = makePatcher(described);
      let last: Edit[] = [];
      for (let n = 0; n < 6; n++) {
        const placed = files.sheet(pick(sheets).file, -1)!;
        const edits = Array.from({ length: int(1, 3) }, (_, i) => {
          const rule = pick(placed.sheet.rules.filter(({ parents }) => parents.length === 0));
          const property = pick(Object.keys(VALUES));
          const value = pick(VALUES[property]!);
          return editSchema.parse({
            id: `${n}-${i}`,
            change: { do: 'add', at: targetOf(placed, rule), property, value },
          });
        });
        const wanted = overlay(texts, edits, page.entry, files).texts;
        const result = documentPatch(loaded, wanted)!;
        if (!(await opened.ask('applyPatch', patcher(result, false))))
          await opened.ask('applyPatch', patcher(result, true));
        const changed = affectedProperties(last, edits);
        assert.ok(changed);
        const narrow = asTexts(await opened.ask('read', { ...ask, changed }));
        assert.deepEqual(narrow, asTexts(await opened.ask('read', ask)), JSON.stringify(edits));
        last = edits;

        const laid = { ...texts, ...wanted };
        const again = readAgain(analysis.sources, analysis.sources.html, laid, described, frameBase);
        const anew = readSources(page.entry, laid, described, frameBase);
        const reported = ({ plan: { rules } }: typeof anew) =>
          rules.map(({ rule, selectors, order }) => [
            order,
            selectors.length,
            rule.start,
            rule.declarations.map(({ property, value, start }) => `${property} ${value} ${start}`),
          ]);
        assert.deepEqual(reported(again), reported(anew));
      }
      await opened.close();
    });

  for (const { name, html, elements, between } of PAGES)
    test(`of ${name}`, async () => {
      const bytes = new TextEncoder().encode(`<!doctype html><body id=top>${html}`);
      const files = [{ path: 'index.html', type: 'text/html', bytes }];
      const opened = await headless.open(files, 'index.html', SIZE);
      const changed = varying(await opened.measure());
      assert.ok(changed, 'something is told of the page');
      if (elements) assert.equal(changed.elements === null, elements === 'all');
      for (const width of [360, 700, 1400, 360]) {
        if (between) await opened.evaluate('body', between.replace(/; /g, ', '));
        const narrow = await opened.measureAt({ width, height: SIZE.height }, changed);
        const reported = asTexts(narrow.reading);
        assert.deepEqual(reported, asTexts((await opened.measure()).reading), `${width} px`);
      }
      await opened.close();
    });

  for (const { name, html, moves = true, quirks } of BOXES)
    test(`in boxes of one size: ${name}`, async () => {
      const text = `${quirks ? '' : '<!doctype html>'}<body>${html}<p>Landing</p>`;
      const files = [{ path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(text) }];
      const opened = await headless.open(files, 'index.html', SIZE);
      const changed = varying(await opened.measure());
      assert.ok(changed, 'something is told of the page');
      for (const width of [1099, 700, 701, 360]) {
        await opened.evaluate(
          'body',
          '(window.asked = 0, window.ask ??= Element.prototype.getBoundingClientRect, Element.prototype.getBoundingClientRect = function () { window.asked++; return window.ask.call(this); }, 0)',
        );
        const narrow = await opened.measureAt({ width, height: SIZE.height }, changed);
        const asked = await opened.evaluate('body', 'window.asked');
        const reported = asTexts(narrow.reading);
        assert.deepEqual(reported, asTexts((await opened.measure()).reading), `${width} px`);
        const shown = shownOf(narrow.reading);
        assert.equal(asked < shown, moves, `${asked} of ${shown} asked`);
      }
      await opened.close();
    });

  for (const { name, css, media } of CONDITIONS)
    test(`under another condition: ${name}`, async () => {
      const style = `<style>@media (min-width: 600px) { ${css} } ${MOORED}</style>`;
      const bytes = new TextEncoder().encode(`<!doctype html>${style}<body>${HARBOUR}`);
      const opened = await headless.open(
        [{ path: 'index.html', type: 'text/html', bytes }],
        'index.html',
        SIZE,
      );
      const changed = varying(await opened.measure());
      assert.deepEqual(changed?.media, media);
      for (const width of [1000, 599, 600, 360, 700]) {
        const narrow = await opened.measureAt({ width, height: SIZE.height }, changed);
        const reported = asTexts(narrow.reading);
        const { boxes, rules } = reasonedOf(narrow);
        const whole = await opened.measure();
        assert.deepEqual(reported, asTexts(whole.reading), `${width} px`);
        const { validity, defaults } = whole.styles;
        // Nothing of what was worked out before is taken over here.
        const anew = analyse({ ...whole.sources }, { ...validity }, defaults, whole.reading);
        assert.deepEqual({ boxes, rules }, reasonedOf(anew), `${width} px`);
      }
      await opened.close();
    });

  for (const page of [
    ...demoPages(),
    ...corpusPages().filter(({ entry }, i) => i % 5 === 0 || entry.endsWith('general_elements.html')),
  ])
    test(`of ${page.name} at other widths, and what is found of it`, async () => {
      const opened = await headless.open(page.files, page.entry, SIZE);
      const first = await opened.measure();
      const [changed, moving] = [varying(first), movingBoxes(first)];
      const pool: ContentWidths = new Map();
      const found = async (analysis: Analysis) =>
        (await opened.complete(analysis, () => observeAll(analysis))).map(({ kind, px, subject, what }) => ({
          kind,
          px,
          subject,
          what,
        }));
      if (changed)
        for (const width of [360, 700, 701, 1400]) {
          const analysis = await opened.measureAt({ width, height: SIZE.height }, changed);
          if (moving) shareIntrinsicSizes(pool, analysis, moving);
          const narrow = asTexts(analysis.reading);
          const reported = await found(analysis);
          const whole = await opened.measure();
          assert.deepEqual(narrow, asTexts(whole.reading), `${width} px`);
          // Nothing of what was worked out before is taken over here.
          const { validity, defaults } = whole.styles;
          const anew = analyse(whole.sources, { ...validity }, defaults, whole.reading);
          assert.deepEqual(reported, await found(anew), `${width} px`);
        }
      await opened.close();
    });

  test('takes over what is said of elements where nothing but lengths is another', withCorpus, async () => {
    const { files, entry } = corpusPages().find(({ name }) => name.includes('general_elements'))!;
    const opened = await headless.open(files, entry, { width: 1190, height: SIZE.height });
    const changed = varying(await opened.measure());
    const [analysis, other, phone] = [
      await opened.measureAt({ width: 1180, height: SIZE.height }, changed),
      await opened.measureAt({ width: 1171, height: SIZE.height }, changed),
      await opened.measureAt({ width: 400, height: SIZE.height }, changed),
    ];
    assert.notDeepEqual(analysis.reading.strings, other.reading.strings);
    assert.equal(analysis.styles.cache, other.styles.cache);
    assert.notEqual(phone.styles.cache, other.styles.cache, 'other conditions hold');
    await opened.close();
  });
});
