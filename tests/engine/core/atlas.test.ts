/** Profiles of default styles: laid under a page in another engine they give what they say, and the page keeps its say. */
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, before, describe, test } from 'node:test';
import { z } from 'zod';
import { pathOf } from '../../../src/core/reading/labels.ts';
import { GEOMETRY } from '../../../src/core/css/cascade/properties.ts';
import { observeAll } from '../../../src/core/rules/index.ts';
import { dependence } from '../../../src/core/rules/defaults/dependence.ts';
import { ATLAS_KEYS, keyName } from '../../../src/core/css/defaults/keys.ts';
import { findingsDocumentSchema, findingsText } from '../../../src/core/reports/findings.ts';
import {
  differencesOf,
  entryOf,
  folded,
  unfolded,
  type Profile,
} from '../../../src/core/css/defaults/profile.ts';
import { layeredBoth, selectorOfKey, underlays } from '../../../src/core/css/defaults/underlay.ts';
import { measureProfile, profileNames, readProfile } from '../../../src/lib/server/engines/atlas.ts';
import { firefoxPath } from '../../../src/lib/server/engines/drivers/firefox.ts';
import { findOn } from '../../../src/lib/server/engines/find.ts';
import { measureEngine, type Headless, type OtherDefaults } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';
import type { StoredFile } from '../../../src/lib/server/ingest/files.ts';
import { ROOT } from '../../../src/lib/server/root.ts';
import { demoPages } from '../../support/corpus.ts';

const PAIRS = ATLAS_KEYS.length * GEOMETRY.length;
const MODES = ['standards', 'quirks'] as const;
const SIZE = { width: 800, height: 600 };

const pageOf = (html: string, css = ''): StoredFile[] => [
  { path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(html) },
  { path: 'look.css', type: 'text/css', bytes: new TextEncoder().encode(css) },
];

const hasFirefox = (() => {
  try {
    return firefoxPath() !== '';
  } catch {
    return false;
  }
})();

describe('default styles', () => {
  let headless: Headless;
  let own: Profile;
  before(async () => {
    headless = await openEngine();
    own = await headless.profile();
  });
  after(() => headless.close());

  /** The share of elements and properties that are as a profile says, in per cent. */
  const agreement = (result: Profile, wanted: Profile, mode: (typeof MODES)[number]): number =>
    100 * (1 - differencesOf(result, wanted, mode, () => true).length / PAIRS);

  test('the profiles that come with the application', () => {
    assert.deepEqual(profileNames(), ['chromium', 'firefox', 'html-standard', 'nothing']);
    for (const name of profileNames())
      for (const mode of MODES)
        assert.equal(Object.keys(readProfile(name)[mode].elements).length, ATLAS_KEYS.length);
    assert.equal(entryOf(readProfile('firefox'), 'standards', 'h1', 'margin-top')?.em, 0.67);
    assert.equal(entryOf(readProfile('nothing'), 'standards', 'p', 'margin-top')?.value, '0px');
  });

  test('folding loses nothing', () => {
    const { standards } = readProfile('chromium');
    const profile = readProfile('chromium');
    assert.deepEqual(folded(unfolded(profile, 'standards')), standards);
  });

  for (const name of ['firefox', 'html-standard', 'nothing'])
    test(`${name} laid under empty documents gives what it says`, async () => {
      const wanted = readProfile(name);
      const under = underlays(own, wanted);
      const profile = await measureProfile(
        async (mode, ask) => (await headless.bare(mode, under)).ask('defaults', ask),
        {
          name,
          title: name,
        },
      );
      for (const mode of MODES) {
        const before = agreement(own, wanted, mode);
        const share = agreement(profile, wanted, mode);
        assert.ok(share >= 99, `${mode}: ${share.toFixed(2)} %`);
        assert.ok(share > before, `${mode}: ${share.toFixed(2)} % after ${before.toFixed(2)} %`);
      }
    });

  test('and the other way round', { skip: hasFirefox ? false : 'there is no Firefox here' }, async () => {
    const firefox = await measureEngine(
      'firefox',
      { name: 'x', title: 'x' },
      underlays(readProfile('firefox'), readProfile('chromium')),
    );
    for (const mode of MODES) {
      const share = agreement(firefox, readProfile('chromium'), mode);
      assert.ok(share >= 99, `${mode}: ${share.toFixed(2)} %`);
    }
  });

  const KEPT: [string, string, string, number][] = [
    ['a rule of its own', '<p id=e>a', 'p { margin-top: 7px }', 7],
    ['a rule in a layer of its own', '<p id=e>a', '@layer x { p { margin-top: 7px } }', 7],
    ['a rule of no weight', '<p id=e>a', ':where(p) { margin-top: 7px }', 7],
    ['nothing of its own', '<p id=e>a', '', 0],
  ];
  for (const [name, html, css, px] of KEPT)
    test(`a page keeps its say: ${name}`, async () => {
      const files = pageOf(`<!doctype html><link rel=stylesheet href=look.css>${html}`, css);
      const opened = await headless.open(files, 'index.html', SIZE, 'hold', readProfile('nothing'));
      assert.equal(await opened.evaluate('#e', 'parseFloat(getComputedStyle(e).marginTop)'), px);
      await opened.close();
    });

  test('presentational attributes keep theirs', async () => {
    const files = pageOf('<!doctype html><table cellpadding=9 border=3><tr><td id=e>a</table>');
    const opened = await headless.open(files, 'index.html', SIZE, 'hold', readProfile('nothing'));
    assert.equal(await opened.evaluate('#e', 'parseFloat(getComputedStyle(e).paddingLeft)'), 9);
    assert.equal(await opened.evaluate('table', 'parseFloat(getComputedStyle(e).borderLeftWidth)'), 3);
    await opened.close();
  });

  test('what lies under a page is none of its elements or sheets, and its accounts speak of defaults', async () => {
    const files = pageOf('<!doctype html><title>t</title><style>b { color: red }</style><h1>a</h1>');
    const [plain, under] = await Promise.all(
      [null, readProfile('nothing')].map((otherDefaults: OtherDefaults | null) =>
        headless.open(files, 'index.html', SIZE, 'hold', otherDefaults),
      ),
    );
    const [a, b] = [await plain!.measure(), await under!.measure()];
    assert.equal(b.reading.count, a.reading.count);
    assert.equal(b.sources.plan.sheets.length, a.sources.plan.sheets.length);
    const h1 = b.reading.count - 1;
    assert.ok(b.reading.rects[h1 * 4 + 3]! < a.reading.rects[h1 * 4 + 3]!);
    await plain!.close();
    await under!.close();
  });

  test('a style sheet of somebody’s own', async () => {
    const profile = await measureProfile(
      async (mode, ask) =>
        (await headless.bare(mode, layeredBoth('h1 { margin: 0 } li { padding-left: 3px }'))).ask(
          'defaults',
          ask,
        ),
      { name: 'x', title: 'x' },
    );
    const found = differencesOf(own, profile, 'standards').map(({ key, property }) => `${key} ${property}`);
    assert.deepEqual(found, ['h1 margin-top', 'h1 margin-bottom', 'li padding-left']);
  });

  test('selectors tell kinds of elements apart', () => {
    assert.equal(selectorOfKey('input[type=text]'), 'input:is([type="text" i], :not([type]))');
    assert.equal(selectorOfKey('details'), 'details');
    assert.match(selectorOfKey('ul/1'), /^:is\(ul, ol, menu, dir\) ul:not\(/);
  });

  const NAMES: [key: string, name: string][] = [
    ['h1', 'h1'],
    ['input[type=color]', 'input[type=color]'],
    ['ul/0', 'ul'],
    ['ul/1', 'ul ul'],
    ['ol/2', 'ul ul ol'],
    ['summary/1', 'details[open] summary'],
    ['option/1', 'select[multiple] option'],
  ];
  for (const [key, name] of NAMES)
    test(`elements are named as a selector says where they stand: ${key}`, () =>
      assert.equal(keyName(key), name));

  test('no two elements have one name', () =>
    assert.equal(new Set(ATLAS_KEYS.map(keyName)).size, ATLAS_KEYS.length));

  test('what a page rests on is told by element and property, with what a reset of somebody’s own would change', async () => {
    const css = '* { margin: 0; border-width: 0 }';
    const html =
      '<!doctype html><meta name=viewport content="width=device-width"><link rel=stylesheet href=look.css><body><h2>Mole</h2><p>Pier</p><p class=own>Lee</p><blockquote>Holm</blockquote><textarea></textarea>';
    const files = pageOf(html, 'body { margin: 0 } h2 { margin: 4px 0 } .own { margin: 7px 0 }');
    const plain = await headless.open(files, 'index.html', SIZE);
    const under = await headless.open(files, 'index.html', SIZE, 'hold', { css });
    const other = await headless.profileOf(css, 'reset.css');
    const document = await findOn(under, {
      page: 'index.html',
      defaults: 'reset.css',
      widths: [SIZE.width],
      height: SIZE.height,
      kinds: ['defaults'],
      beneath: { plain, own, other },
    });
    const { dependence: rests } = findingsDocumentSchema.parse(document);
    const row = (selector: string, property: string) =>
      rests?.defaults.find((entry) => entry.selector === selector && entry.property === property);
    for (const [selector, property, boxes, px] of [
      ['p', 'margin-top', 1, 16],
      ['p', 'margin-bottom', 1, 16],
      ['blockquote', 'margin-left', 1, 40],
      ['blockquote', 'margin-top', 1, 16],
      // All four sides are alike.
      ['textarea', 'border-width', 1, 1],
    ] as const)
      assert.deepEqual(
        [row(selector, property)?.boxes, row(selector, property)?.px],
        [boxes, px],
        `${selector} ${property}`,
      );
    assert.equal(row('textarea', 'border-top-width'), undefined);
    // What the page says itself rests on nothing.
    for (const selector of ['h2', 'body']) assert.equal(row(selector, 'margin-top'), undefined, selector);
    const quote = rests?.boxes.find(({ path }) => path === 'body > blockquote');
    const at = async (page: typeof plain, side: string) =>
      page.evaluate('body > blockquote', `e.getBoundingClientRect().${side}`);
    assert.deepEqual(
      [quote?.dx, quote?.dy, quote?.dw],
      await Promise.all(
        ['x', 'y', 'width'].map(async (side) => (await at(under, side)) - (await at(plain, side))),
      ),
    );
    assert.equal(rests?.largest, 80);
    const text = findingsText(document);
    assert.match(text, /It rests on \d+ defaults that no rule pins down and that reset\.css gives otherwise/);
    assert.match(text, /1 × blockquote \{ margin-left: 40px \}, there 0px \(40 px\)/);
    assert.match(text, /There, at 800 px, .*resized.*; at most 80 px/);
    await Promise.all([plain.close(), under.close()]);
  });

  const SAID = 'h2 { margin: 4px 0; font-size: 20px; font-weight: 400 }\np { margin: 0 }\n';
  /** Where a page says what it says, and the file and the line behind which it is pinned down. */
  const SHEETS: [name: string, head: string, css: string, diff: RegExp][] = [
    ['its sheet', '<link rel=stylesheet href=look.css>', SAID, /\+\+\+ b\/look\.css[^]* p \{ margin: 0 \}\n\+/],
    [
      'its style element',
      `<style>\n${SAID}</style>`,
      '',
      /\+\+\+ b\/index\.html[^]* p \{ margin: 0 \}\n\+[^]*\+\}\n <\/style>/,
    ],
    [
      'the style element that is not for paper',
      `<style>\n${SAID}</style><style media=print>p { margin: 0 }</style>`,
      '',
      /\+\+\+ b\/index\.html[^]* p \{ margin: 0 \}\n\+/,
    ],
    [
      'its style element, where its sheet lies in a layer',
      '<style>@import url(look.css) layer(base);</style>',
      SAID,
      /\+\+\+ b\/index\.html/,
    ],
    [
      'its style element, where its sheet speaks of another namespace',
      `<link rel=stylesheet href=look.css><style>\n${SAID}</style>`,
      '@namespace url(http://www.w3.org/2000/svg);\nrect { fill: teal }\n',
      /\+\+\+ b\/index\.html[^]* p \{ margin: 0 \}\n\+/,
    ],
  ];
  for (const [name, head, css, diff] of SHEETS)
    test(`what depends on defaults is found, with the rule that pins it at the end of ${name}`, async () => {
      const html = `<!doctype html><meta name=viewport content="width=device-width">${head}<h2>Mole</h2><p>Pier</p><blockquote>Lee</blockquote>`;
      const files = pageOf(html, css);
      const nothing = readProfile('nothing');
      const plain = await headless.open(files, 'index.html', SIZE);
      const under = await headless.open(files, 'index.html', SIZE, 'hold', nothing);
      const keys = dependence(await plain.measure(), own, nothing).map(({ key }) => key);
      assert.ok(keys.includes('blockquote') && keys.includes('body') && !keys.includes('p'), keys.join());
      const { findings } = await findOn(under, {
        page: 'index.html',
        defaults: 'nothing',
        widths: [800],
        height: 600,
        kinds: ['defaults'],
        beneath: { plain, own, other: nothing },
      });
      assert.deepEqual(
        findings.map(({ subject, px }) => [subject, px]),
        [
          ['body > blockquote', 40],
          ['body', 8],
        ],
      );
      for (const { remedies, culprits } of findings) {
        assert.equal(culprits[0]?.source?.origin, 'browser');
        assert.equal(remedies[0]?.proved, true);
        assert.match(remedies[0]!.diff, diff);
      }
      await plain.close();
      await under.close();
    });

  /** Faults of the demo that show at some widths, for a device, or under other defaults alone. */
  const elsewhere = z
    .object({
      elsewhere: z.array(
        z.object({
          id: z.string(),
          page: z.string(),
          kind: z.string(),
          width: z.number(),
          defaults: z.string(),
          px: z.number(),
          subject: z.string(),
        }),
      ),
    })
    .parse(JSON.parse(readFileSync(join(ROOT, 'demo/answers.json'), 'utf8'))).elsewhere;
  for (const { id, page, kind, width, defaults, px, subject } of elsewhere)
    test(`of the demo: ${id}`, async () => {
      const { files, entry } = demoPages().find((demoPage) => demoPage.entry === page)!;
      const found = async (at: number, under: string) => {
        const other = under === 'as-rendered' ? null : readProfile(under);
        const opened = await headless.open(files, entry, { width: at, height: 800 }, 'hold', other);
        const analysis = await opened.measure();
        const list = await opened.complete(analysis, () => observeAll(analysis, [kind]));
        await opened.close();
        return list.find((observation) => pathOf(analysis.reading, observation.subject) === subject);
      };
      const candidate = await found(width, defaults);
      assert.ok(candidate && candidate.grade === 'wrong', `${kind} of ${subject}`);
      assert.ok(Math.abs(candidate.px - px) < 0.5, `${candidate.px} px`);
      // It is not there as the page is usually looked at.
      if (defaults !== 'as-rendered') assert.equal(await found(width, 'as-rendered'), undefined);
      else if (width !== 1280) assert.equal(await found(1280, defaults), undefined);
    });
});
