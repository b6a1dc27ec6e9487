/** Sweeps: the same as a look at every width, causes of flips, numbers, the command. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { sweepDocument, sweepDocumentSchema, sweepText } from '../../src/core/reports/sweep.ts';
import { across, type Across } from '../../src/core/sweep/across.ts';
import { numbersOf } from '../../src/core/sweep/numbers.ts';
import { openHeadless, type Headless } from '../../src/lib/server/engines/headless.ts';
import type { StoredFile } from '../../src/lib/server/ingest/files.ts';
import { sweepOn } from '../../src/lib/server/engines/sweep.ts';
import { run } from '../support/command.ts';
import { demoPages } from '../support/corpus.ts';
import { held, randomPages } from '../harness/sweep/exhaustive.ts';

const HEAD = '<!doctype html><meta name=viewport content="width=device-width"><body style="margin:0">';

interface Case {
  name: string;
  css: string;
  html: string;
  /** What must be among the flips: the width, what, and the condition or declaration. */
  flips: [number, RegExp, RegExp][];
  check?: (across: Across) => void;
}

const CASES: Case[] = [
  {
    name: 'a fixed width scrolls sideways below it',
    css: '.a { width: 500px }',
    html: '<div class=a>Mole</div>',
    flips: [[500, /no longer scrolls sideways/, /^$/]],
    check: ({ overflow }) => assert.deepEqual(overflow, [{ from: 300, to: 499 }]),
  },
  {
    name: 'an island between two breakpoints',
    css: '.a { width: 100px } @media (min-width: 401px) and (max-width: 405px) { .a { width: 450px } }',
    html: '<div class=a>Mole</div>',
    flips: [
      [401, /The page begins to scroll sideways/, /@media \(min-width: 401px\).*width: 450px/],
      [406, /no longer scrolls/, /@media/],
    ],
    check: ({ overflow }) => assert.deepEqual(overflow, [{ from: 401, to: 405 }]),
  },
  {
    name: 'shown by a media query',
    css: '.m { display: none } @media (min-width: 600px) { .m { display: block } }',
    html: '<nav class=m>Pier</nav>',
    flips: [[600, /nav\.m is shown/, /@media \(min-width: 600px\).*\.m .*display: block/]],
  },
  {
    name: 'flex items wrap as the room asks',
    css: '.f { display: flex; flex-wrap: wrap } .f b { flex: none; width: 200px }',
    html: '<div class=f><b>a</b><b>b</b><b>c</b></div>',
    flips: [
      [400, /div\.f sets its boxes 2\+1, no longer 1\+1\+1/, /flex-wrap: wrap/],
      [600, /div\.f sets its boxes 3, no longer 2\+1/, /flex-wrap: wrap/],
    ],
  },
  {
    name: 'what is less than a px beyond a page that scrolls anyway still sticks out of its box',
    css: '.a { width: 700px } .c { margin: 0 2px } .b { width: 488.66px; background: teal }',
    html: '<div class=a>Mole</div><div class=c><div class=b>Pier</div></div>',
    flips: [[492, /^No more: div\.b sticks out of div\.c by 1\.66 px/, /^/]],
    check: ({ bands }) =>
      assert.deepEqual(
        bands.filter(({ key }) => key.includes('div.b')).map(({ from, to }) => [from, to]),
        [[300, 491]],
      ),
  },
  {
    name: 'an order that is turned round',
    css: '.f { display: flex } @media (min-width: 500px) { .f { flex-direction: row-reverse } }',
    html: '<div class=f><i>a</i><i>b</i></div>',
    flips: [[500, /div\.f sets its boxes 2 \(2 1\), no longer 2/, /flex-direction: row-reverse/]],
  },
  {
    name: 'a heading that breaks',
    css: 'h1 { font: 20px/1 monospace; margin: 0 }',
    html: '<h1>Mole and pier and lee and landing all</h1>',
    flips: [],
    check: ({ flips }) =>
      assert.deepEqual(
        flips.map(({ what }) => what),
        ['h1 takes 1 line, no longer 2'],
      ),
  },
  {
    name: 'a heading that breaks in a part of the page, because of what gives it its room at that width',
    css: 'h1 { font: 20px/1 monospace; margin: 0 } .b { width: 50% } @media (max-width: 520px) { .b { width: 80% } }',
    html: '<div class=b><h1>Mole and pier and landing</h1></div>',
    flips: [
      [377, /h1 takes 1 line, no longer 2/, /\.b .*width: 80%/],
      [521, /h1 takes 2 lines, no longer 1/, /@media \(max-width: 520px\).*width: 80%/],
      [603, /h1 takes 1 line, no longer 2/, /\.b .*width: 50%/],
    ],
  },
  {
    name: 'a limit that the box has not come to has no say',
    css: 'h1 { font: 20px/1 monospace; margin: 0; padding: 0 10% } .b { max-width: 600px } .c { max-width: 900px }',
    html: '<div class=c><div class=b><h1>Mole and pier and landing</h1></div></div>',
    flips: [[377, /h1 takes 1 line, no longer 2/, /^$/]],
  },
  {
    name: 'inline-blocks that go on in another line',
    css: '.i b { display: inline-block; width: 200px }',
    html: '<div class=i><b>a</b><b>b</b></div>',
    flips: [[400, /div\.i sets its boxes 2, no longer 1\+1/, /\.i b .*display: inline-block/]],
  },
  {
    name: 'a container query',
    css: '.c { container-type: inline-size; width: 50% } .x { display: none } @container (min-width: 260px) { .x { display: block } }',
    html: '<div class=c><p class=x>Lee</div>',
    flips: [[520, /p\.x is shown/, /@container \(min-width: 260px\).*display: block/]],
  },
  {
    name: 'a breakpoint that changes nothing and a condition that never holds',
    css: '@media (max-width: 700px) { .a { color: red } } @media (min-width: 3000px) { .a { width: 1px } }',
    html: '<div class=a>Mole</div>',
    flips: [],
    check: ({ breakpoints, never }) => {
      assert.deepEqual(
        breakpoints.map(({ width, isIdle }) => [width, isIdle]),
        [[701, true]],
      );
      assert.deepEqual(never, ['(min-width: 3000px)']);
    },
  },
  {
    name: 'breakpoints at which no rule matches anything are not looked at on both sides, one at which some does is',
    css:
      '@media (min-width: 455px) { .pier { width: 9px } } @media (min-width: 611px) { .a { margin-left: 300px } } ' +
      '@media (max-width: 610px) { .pier { width: 9px } }',
    html: '<div class=a>Mole</div>',
    flips: [],
    check: ({ breakpoints, widths }) => {
      assert.deepEqual(
        breakpoints.map(({ width, text, isIdle }) => [width, text, isIdle]),
        [
          [455, '(min-width: 455px)', true],
          [611, '(min-width: 611px)', false],
          [611, '(max-width: 610px)', false],
        ],
      );
      assert.ok(!widths.includes(454) || !widths.includes(455), widths.join(' '));
      assert.ok(widths.includes(610) && widths.includes(611));
    },
  },
  {
    name: 'conditions that hold at one width alone, told by functions, and by the shape of the viewport',
    css:
      '.a { width: 100px } @media (width: 523px) { .a { width: 600px } } @media (width: calc(40em + 1px)) { .a { width: 700px } } ' +
      '@media (aspect-ratio: 7/8) { .a { width: 800px } }',
    html: '<div class=a>Mole</div>',
    flips: [[523, /begins to scroll sideways/, /@media \(width: 523px\)/]],
    check: ({ overflow }) =>
      assert.deepEqual(
        overflow,
        [523, 525, 641].map((width) => ({ from: width, to: width })),
      ),
  },
  {
    name: 'an animation that goes on for ever changes nothing',
    css: '.s { width: 280px; height: 10px; animation: turn 0.7s linear infinite } @keyframes turn { to { transform: rotate(360deg) } }',
    html: '<div class=s></div>',
    flips: [],
    check: ({ flips }) => assert.deepEqual(flips, []),
  },
  {
    name: 'lengths that depend on the viewport are measured anew',
    css: '.a { width: 10vw; font-size: 2vw; min-width: 60px }',
    html: '<div class=a>M</div>',
    flips: [],
    check: ({ bands }) =>
      assert.deepEqual(
        bands.filter(({ kind }) => kind === 'overflow'),
        [],
      ),
  },
];

describe('a sweep', () => {
  let headless: Headless;
  let plain: Headless;
  before(async () => {
    [headless, plain] = await Promise.all([openHeadless(), openHeadless({ isHeld: false })]);
  });
  after(() => Promise.all([headless.close(), plain.close()]));

  const swept = async (
    css: string,
    html: string,
    { from = 300, to = 900, scripts = 'hold' }: { from?: number; to?: number; scripts?: 'hold' | 'run' } = {},
  ) => {
    const file = (path: string, type: string, text: string): StoredFile => ({
      path,
      type,
      bytes: new TextEncoder().encode(text),
    });
    const files = [
      file('index.html', 'text/html', `${HEAD}<link rel=stylesheet href=look.css>${html}`),
      file('look.css', 'text/css', css),
    ];
    const frames = await Promise.all(
      [0, 1].map(() => headless.open(files, 'index.html', { width: to, height: 600 }, scripts)),
    );
    const { analysis, looks } = await sweepOn(frames, { from, to, height: 600 });
    for (const frame of frames) await frame.close();
    return { analysis, looks, made: across(analysis, looks) };
  };

  for (const { name, css, html, flips, check } of CASES)
    test(name, async () => {
      const { made } = await swept(css, html);
      const reported = made.flips.map(
        ({ width, what, condition, source }) =>
          `${width} ${what} / ${condition ?? ''} ${source ? `${source.selector} { ${source.property}: ${source.value} }` : ''}`,
      );
      for (const [width, what, because] of flips)
        assert.ok(
          made.flips.some((flip) => {
            const cause = [
              flip.condition,
              flip.source && `${flip.source.selector} { ${flip.source.property}: ${flip.source.value} }`,
            ];
            return (
              flip.width === width && what.test(flip.what) && because.test(cause.filter(Boolean).join(' '))
            );
          }),
          `${width} ${what} ${because} in\n${reported.join('\n')}`,
        );
      check?.(made);
    });

  const HEARD: [name: string, script: string][] = [
    ['by an event', "addEventListener('resize', fit)"],
    ['by a condition', "matchMedia('(max-width: 600px)').addEventListener('change', fit)"],
    ['by an observer', 'new ResizeObserver(fit).observe(document.documentElement)'],
  ];
  for (const [name, script] of HEARD)
    test(`scripts that hear of a width ${name} have done what they do`, async () => {
      const { made } = await swept(
        '.a { width: 300px; margin: 0 } .slim .a { width: 700px }',
        `<body><div class=a>Pier</div><script>const fit = () => document.body.classList.toggle('slim', innerWidth < 601); fit(); ${script}</script>`,
        { scripts: 'run' },
      );
      assert.deepEqual(made.overflow, [{ from: 300, to: 600 }]);
      assert.ok(made.flips.some(({ width, what }) => width === 601 && /no longer scrolls sideways/.test(what)));
    });

  test('what is measured at a breakpoint goes before what its rules say, and contents are those of the width', async () => {
    const { made } = await swept(
      '.f { display: flex } .f b { width: 100px; min-width: min-content } @media (min-width: 601px) { .pier { width: 9px } }',
      "<body><div class=f><b>Mole</b></div><script>const say = () => { document.querySelector('b').textContent = innerWidth > 600 ? 'Mole' : 'M'.repeat(60); }; say(); addEventListener('resize', say)</script>",
      { scripts: 'run' },
    );
    assert.deepEqual(
      made.breakpoints.map(({ width, isIdle }) => [width, isIdle]),
      [[601, false]],
    );
    assert.deepEqual(made.overflow, [{ from: 300, to: 600 }]);
  });

  test('numbers at every width that was measured', async () => {
    const { analysis, looks } = await swept(
      '.a { width: 50% } .b { display: none }',
      '<p class=a>a</p><p class=b>b</p>',
    );
    const size = numbersOf(analysis, looks.values(), { of: 'size', path: 'body > p:nth-child(2)', axis: 'x' });
    assert.ok(size.length > 15);
    for (const { value, number } of size)
      assert.ok(Math.abs(number! - value / 2) < 0.05, `${number} at ${value}`);
    const hidden = numbersOf(analysis, looks.values(), {
      of: 'size',
      path: 'body > p:nth-child(3)',
      axis: 'x',
    });
    assert.ok(hidden.every(({ number }) => number === null));
  });

  for (const name of ['fares', 'notices'])
    test(`of the demo’s ${name} sees what a look at every width sees`, async () => {
      const page = demoPages().find(({ entry }) => entry === `${name}.html`)!;
      const range = { from: 330, to: 470, bare: false, sample: 0 };
      const { missed, flips, readings, scanned } = await held({ headless, plain }, page, range);
      assert.deepEqual(missed, []);
      assert.equal(scanned, 141);
      assert.ok(flips > 2 && readings < 80, `${flips} flips, ${readings} readings`);
    });

  // `SEED=n` has other pages.
  for (const page of randomPages(Number(process.env['SEED'] ?? 20261130), 4))
    test(`of a page made at random (${page.name}) sees what looks at widths at random see`, async () => {
      const range = { from: 240, to: 1920, bare: false, sample: 60 };
      const { missed, flips, readings, scanned } = await held({ headless, plain }, page, range);
      assert.deepEqual(missed, []);
      assert.ok(scanned > 60 && flips > 0 && readings < 420, `${scanned}, ${flips}, ${readings}`);
    });

  test('as a document and in words', async () => {
    const { analysis, made } = await swept(CASES[0]!.css, CASES[0]!.html);
    const document = sweepDocument(analysis, made, { page: 'index.html', defaults: 'as-rendered' });
    assert.deepEqual(sweepDocumentSchema.parse(JSON.parse(JSON.stringify(document))), document);
    const text = sweepText(document);
    assert.match(text, /Scrolls sideways at 300–499 px/);
    assert.match(text, /300–499 {2}overflow: The page is 200 px wider than its viewport/);
    assert.match(text, /500 {2}The page no longer scrolls sideways/);
  });
});

describe('normetra sweep and atlas', () => {
  test('a range of a demo page', async () => {
    const { code, out } = await run('sweep', 'demo/timetable.html', '--widths', '660-740', '--json');
    assert.equal(code, 0);
    const { overflow, flips, readings } = sweepDocumentSchema.parse(JSON.parse(out));
    assert.deepEqual(overflow, [{ from: 660, to: 688 }]);
    assert.ok(flips.some(({ width, path }) => width === 689 && path === null));
    assert.ok(readings < 40);
  });

  test('the same with scrollbars over what they scroll', async () => {
    const { out } = await run(
      'sweep',
      'demo/timetable.html',
      '--widths',
      '660-740',
      '--json',
      '--scrollbars',
      'over',
    );
    assert.deepEqual(sweepDocumentSchema.parse(JSON.parse(out)).overflow, [{ from: 660, to: 673 }]);
    const read = await run(
      'read',
      'demo/timetable.html',
      '--width',
      '700',
      '--select',
      'body',
      '--scrollbars',
      'over',
    );
    assert.match(read.out, /700 {2}wide|^700 wide/m);
  });

  test('under other defaults', async () => {
    const { out } = await run('read', 'demo/harbour-guide.html', '--defaults', 'nothing', '--select', 'h1');
    assert.match(out, /18 tall = 18 lines/);
  });

  test('where two profiles differ', async () => {
    const { code, out } = await run('atlas', '--against', 'html-standard');
    assert.equal(code, 0);
    assert.match(out, /against HTML standard, suggested rendering, standards mode: \d+ differences/);
  });

  const REFUSED: [string, string[], RegExp][] = [
    [
      'a range that ends before it begins',
      ['sweep', 'demo/fares.html', '--from', '900', '--to', '300'],
      /--from must be less than --to/,
    ],
    [
      'a range that ends before it begins, as widths',
      ['sweep', 'demo/fares.html', '--widths', '900-300'],
      /ends before it begins/,
    ],
    [
      'two ranges',
      ['sweep', 'demo/fares.html', '--widths', '300-900', '--to', '700'],
      /leave out --from and --to/,
    ],
    ['a list of widths', ['sweep', 'demo/fares.html', '--widths', '300,900'], /is one range, like 320-1280/],
    ['widths too small', ['sweep', 'demo/fares.html', '--widths', '50-900'], /from 100 to 7680/],
    [
      'a range too long',
      ['sweep', 'demo/fares.html', '--from', '100', '--to', '7000'],
      /at most 4000 px apart/,
    ],
    [
      'defaults that are not there',
      ['sweep', 'demo/fares.html', '--defaults', 'nosuch'],
      /There is no file nosuch/,
    ],
    [
      'scrollbars of another kind',
      ['sweep', 'demo/fares.html', '--scrollbars', 'thin'],
      /--scrollbars is beside or over/,
    ],
    ['a page where none is taken', ['atlas', 'demo/fares.html'], /takes no page/],
    [
      'an engine that is not known',
      ['atlas', '--engine', 'lynx'],
      /--engine is chromium, firefox, webkit or webdriver:NAME/,
    ],
  ];
  for (const [name, args, pattern] of REFUSED)
    test(`refused: ${name}`, async () => {
      const { code, err } = await run(...args);
      assert.equal(code, 2);
      assert.match(err, pattern);
      assert.equal(err.trim().split('\n').length, 1);
    });
});
