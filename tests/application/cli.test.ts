/** The commands `normetra read` and `normetra find`, run as a user runs them. */
import assert from 'node:assert/strict';
import { execFile } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, before, describe, test } from 'node:test';
import { zipSync } from 'fflate';
import { findingsDocumentSchema } from '../../src/core/reports/findings.ts';
import { readingDocumentSchema } from '../../src/core/reports/reading.ts';
import { sweepDocumentSchema } from '../../src/core/reports/sweep.ts';
import { spotDocumentSchema } from '../../src/core/reports/spots.ts';
import { whyNotDocumentSchema } from '../../src/core/reports/why-not.ts';
import { wishDocumentSchema } from '../../src/core/reports/wishes.ts';
import { doctorDocumentSchema } from '../../src/core/reports/doctor.ts';
import { matrixDocumentSchema } from '../../src/core/reports/matrix.ts';
import { onlyDocumentSchema } from '../../src/core/reports/only.ts';
import { presentEngines } from '../../src/lib/server/engines/drivers/index.ts';
import { ROOT } from '../../src/lib/server/root.ts';
import { run, type Ran } from '../support/command.ts';
import { isSarif } from '../support/schemas/sarif.ts';

const folder = (files: Record<string, string>): string => {
  const path = mkdtempSync(join(tmpdir(), 'normetra-cli-'));
  for (const [name, text] of Object.entries(files)) writeFileSync(join(path, name), text);
  return path;
};

const PAGE = '<!doctype html><link rel=stylesheet href=/look.css><body style="margin: 0"><p class=t>a</p>';
const LOOK = '.t { width: 300px; padding: 4px; margin: 7px 0 }';

describe('normetra read', () => {
  test('a table of boxes', async () => {
    const { code, out } = await run('read', 'demo/fares.html');
    assert.equal(code, 0);
    assert.match(out, /^box +kind +width +height +x +y\n/);
    assert.match(out, /li\.fare +\S+ +330 +190\.8/);
  });

  test('one box with its sum spelled out', async () => {
    const { code, out } = await run('read', 'demo/fares.html', '--select', 'li.fare');
    assert.equal(code, 0);
    assert.match(out, /330 wide = 300 content, 10 \+ 10 padding, 5 \+ 5 border\./);
    assert.match(out, /width: 300px {2}\.fare, css\/fares\.css:12:3/);
  });

  test('a document that is what its schema says, at the width asked for', async () => {
    const { code, out } = await run(
      'read',
      'demo/harbour-guide.html',
      '--json',
      '--width',
      '600',
      '--height',
      '500',
    );
    assert.equal(code, 0);
    const document = readingDocumentSchema.parse(JSON.parse(out));
    assert.equal(document.viewport.width, 600);
    const body = document.boxes.find(({ path }) => path === 'body')!;
    const gap = document.gaps.find(({ after }) => after === body.id)!;
    assert.deepEqual([gap.before, gap.distance, gap.axis], [null, 21.4375, 'y']);
    assert.deepEqual(
      gap.terms.map(({ px, rule }) => [px, rule]),
      [
        [0, 'margin-collapsed'],
        [21.4375, 'margin-collapsed'],
      ],
    );
    for (const { path, width, height } of document.boxes)
      for (const { used, terms, residual } of [width, height])
        assert.ok(Math.abs(used - residual - terms.reduce((sum, { px }) => sum + px, 0)) < 1e-3, path);
  });

  test('a folder, whose root is where root-relative addresses start; an archive; an address', async () => {
    const path = folder({ 'index.html': PAGE, 'look.css': LOOK });
    const zip = join(folder({}), 'page.zip');
    const encode = (text: string) => new TextEncoder().encode(text);
    writeFileSync(zip, zipSync({ 'index.html': encode(PAGE), 'look.css': encode(LOOK) }));
    const server = createServer((req, res) => {
      const css = req.url === '/look.css';
      if (req.url === '/away') return res.writeHead(302, { location: 'http://169.254.1.1/' }).end();
      return res.writeHead(200, { 'content-type': css ? 'text/css' : 'text/html' }).end(css ? LOOK : PAGE);
    });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    for (const page of [path, zip, `${address}/some/page.html`]) {
      const { code, out, err } = await run('read', page, '--select', '.t');
      assert.equal(code, 0, err);
      assert.match(out, /308 wide = 300 content, 4 \+ 4 padding\./, page);
    }
    const away = await run('read', `${address}/away`);
    assert.equal(away.code, 2);
    assert.match(away.err, /169\.254\.1\.1, a link-local or special address/);
    server.close();
  });

  const REFUSED: [name: string, args: string[], says: RegExp][] = [
    [
      'a folder that is not there, for the answer',
      ['read', 'demo/fares.html', '--out', '/none/x.json'],
      /cannot be written: there is no folder/,
    ],
    [
      'a folder in the place of a file',
      ['read', 'demo/fares.html', '--out', '/'],
      /cannot be written: it is a folder/,
    ],
    ['a root that is not there', ['read', 'demo/fares.html', '--root', '/none'], /--root \/none is no folder/],
    ['a number with a dash before it', ['read', 'demo/fares.html', '--width', '-5'], /--width is at least 100/],
    ['no page', ['read'], /needs a page: an HTML file/],
    ['a page that is not there', ['read', 'nowhere.html'], /There is no page at nowhere\.html/],
    ['a width that is none', ['read', 'demo/fares.html', '--width', 'wide'], /--width is a number of px/],
    ['an option that is none', ['read', 'demo/fares.html', '--wdith', '3'], /--wdith/],
    [
      'a selector that matches nothing',
      ['read', 'demo/fares.html', '--select', '.nothing'],
      /Nothing on the page matches \.nothing/,
    ],
    ['--why that is to fail', ['find', 'demo/fares.html', '--why', 'p', '--fail-on', '1'], /--why fails on/],
    ['a selector that is none', ['read', 'demo/fares.html', '--select', '>>'], /is not a selector/],
    [
      'a selector of --why that matches nothing',
      ['find', 'demo/fares.html', '--why', 'b'],
      /Nothing .* matches b/,
    ],
    [
      '--why in another format',
      ['find', 'demo/fares.html', '--why', 'p', '--format', 'sarif'],
      /--why is told as/,
    ],
    ['a scheme that is not fetched', ['read', 'ftp://127.0.0.1/'], /not fetched/],
    ['a root that does not hold the page', ['read', 'demo/fares.html', '--root', 'src'], /does not hold/],
    ['a command that is none', ['raed'], /there is no command “raed”/],
  ];
  for (const [name, args, says] of REFUSED)
    test(`refused with 2: ${name}`, async () => {
      const { code, err, out } = await run(...args);
      assert.equal(code, 2);
      assert.match(err, says);
      assert.equal(err.trim().split('\n').length, 1, err);
      assert.equal(out, '');
    });

  test('what each rule says of a box, as text and as a document', async () => {
    const { code, out } = await run('find', 'demo/fares.html', '--why', 'div.fill');
    assert.equal(code, 0);
    assert.match(out, /^div\.fill at 1280 px\n {2}Told\n {4}size\/percent-height +div\.fill is 49\.59 px tall/);
    assert.match(
      out,
      /Nothing wrong would be seen of it\n {4}overlap\/ink +it has no text, picture or control/,
    );
    assert.match(out, /\d+ more rules are about other kinds of boxes/);
    const args = ['find', 'demo/fares.html', '--why', 'div.fill', '--json', '--widths', '360,1280', '--kinds'];
    const json = await run(...args, 'percent-height,gap');
    const document = whyNotDocumentSchema.parse(JSON.parse(json.out));
    assert.deepEqual(
      document.boxes.map(({ width }) => width),
      [360, 1280],
    );
    assert.equal(document.boxes[1]!.rules[0]!.outcome, 'told');
    assert.ok(document.boxes[1]!.rules.every(({ kind }) => kind === 'percent-height' || kind === 'gap'));
  });

  test('3 where the engine cannot be had', async () => {
    const { code, err } = await new Promise<Ran>((resolve) => {
      execFile(
        process.execPath,
        [join(ROOT, 'bin/normetra.mjs'), 'read', 'demo/fares.html'],
        { cwd: ROOT, env: { ...process.env, NORMETRA_CHROMIUM: '/nowhere/chromium' } },
        (error, out, text) => resolve({ code: error ? Number(error.code) : 0, out, err: text }),
      );
    });
    assert.equal(code, 3);
    assert.match(err, /NORMETRA_CHROMIUM names \/nowhere\/chromium/);
  });
});

const HEAD = '<!doctype html><meta name=viewport content="width=device-width"><body>';
const WIDE = `${HEAD}<style>\n.bar { width: 900px }\n</style><p class=bar>Mole</p>`;

describe('normetra find', () => {
  test('a sentence, a place, and the change that was proved, at the widths where it is wrong', async () => {
    const path = folder({ 'index.html': WIDE });
    const { code, out } = await run('find', path, '--widths', '600,1280');
    assert.equal(code, 0);
    assert.match(out, /1 finding at 600, 1280 px/);
    assert.match(out, /p\.bar is set to 900px \(width: 900px, index\.html:2\)/);
    assert.match(out, /overflow, \d+(\.\d+)? px, at 600 px wide\n {3}index\.html:2:8 {2}body > p/);
    assert.match(out, /Remedy: limit it to its container \(proved;/);
  });

  test('a document that is what its schema says; the edits are such that anyone can make them', async () => {
    const path = folder({ 'index.html': WIDE });
    const { out } = await run('find', path, '--widths', '600', '--json');
    const { findings } = findingsDocumentSchema.parse(JSON.parse(out));
    assert.deepEqual(
      findings.map(({ kind, subject, at }) => [kind, subject, at]),
      [['overflow', 'body > p', [{ from: 600, to: 600 }]]],
    );
    const [first] = findings[0]!.culprits;
    assert.deepEqual(
      [first?.source?.line, first?.source?.property, first?.source?.value],
      [2, 'width', '900px'],
    );
    assert.deepEqual(findings[0]!.remedies[0]?.edits, [
      { selector: '.bar', property: 'max-width', value: '100%', was: '' },
    ]);
  });

  const RANGES: [widths: string, said: RegExp][] = [
    ['600-640', /at 600, 640 px/],
    ['600-690', /at 600, 640, 680, 690 px/],
    ['600-700/50,1280', /at 600, 650, 700, 1280 px/],
    ['640,600-640/20', /at 640, 600, 620 px/],
  ];
  for (const [widths, pattern] of RANGES)
    test(`widths are given as ranges: ${widths}`, async () => {
      const { code, out } = await run('find', folder({ 'index.html': WIDE }), '--widths', widths);
      assert.equal(code, 0);
      assert.match(out, pattern);
    });

  const NO_RANGES: [widths: string, said: RegExp][] = [
    ['640-600', /ends before it begins/],
    ['600-', /like 320,768-1280/],
    ['600-700/0', /like 320,768-1280/],
    ['320-1920/10', /40 at most/],
    ['100-9000/1000', /at most 7680/],
  ];
  for (const [widths, pattern] of NO_RANGES)
    test(`refused: widths ${widths}`, async () => {
      const { code, err } = await run('find', folder({ 'index.html': WIDE }), '--widths', widths);
      assert.equal(code, 2);
      assert.match(err, pattern);
    });

  test('exit code 1 where something is wrong by so much, 0 where it is not', async () => {
    const path = folder({ 'index.html': WIDE });
    const codes = await Promise.all(
      [
        ['--widths', '600', '--fail-on', '50'],
        ['--widths', '600', '--fail-on', '5000'],
        ['--widths', '1280', '--fail-on', '1'],
        ['--widths', '600', '--kinds', 'gap,clip', '--fail-on', '1'],
      ].map(async (options) => (await run('find', path, ...options)).code),
    );
    assert.deepEqual(codes, [1, 0, 0, 0]);
  });

  test('a remedy is not held against what was there before, whatever kinds are asked for', async () => {
    const over = '.low { height: 20px } .low, .next { width: 160px }';
    const text = 'Mole and pier and lee and landing and mate and bosun';
    const page = `${HEAD}<style>\n.bar { width: 900px }\n${over}</style><p class=bar>Mole</p><p class=low>${text}</p><p class=next>Pier</p>`;
    const path = folder({ 'index.html': page });
    const { out } = await run('find', path, '--widths', '600', '--kinds', 'overflow', '--json');
    const { findings } = findingsDocumentSchema.parse(JSON.parse(out));
    assert.deepEqual(
      findings.map(({ kind, remedies }) => [kind, remedies.length > 0]),
      [['overflow', true]],
    );
    const all = findingsDocumentSchema.parse(
      JSON.parse((await run('find', path, '--widths', '600', '--json')).out),
    );
    assert.deepEqual(all.findings.map(({ kind }) => kind).sort(), ['overflow', 'overlap']);
  });

  test('what is probably meant is told only when it is asked for; a document has all grades', async () => {
    const css = '.s { width: 90px; overflow-x: auto; white-space: nowrap }';
    const path = folder({
      'index.html': `${HEAD}<style>${css}</style><p class=s>The mail boat leaves the north mole`,
    });
    const { findings } = findingsDocumentSchema.parse(JSON.parse((await run('find', path, '--json')).out));
    assert.deepEqual(
      findings.map(({ kind, grade }) => [kind, grade]),
      [['overflow', 'meant']],
    );
    assert.match((await run('find', path)).out, /nothing found at 1280 px. 1 more is probably meant/);
    assert.match(
      (await run('find', path, '--meant')).out,
      /Probably meant: overflow-x: auto says that it may scroll/,
    );
  });

  test('what is doubtful is a line with its reason, and has its evidence on demand', async () => {
    const css = '.e { width: 90px; overflow: hidden; white-space: nowrap; text-overflow: ellipsis }';
    const path = folder({
      'index.html': `${HEAD}<style>${css}</style><p class=e>The mail boat leaves the north mole`,
    });
    const plain = (await run('find', path)).out;
    assert.match(
      plain,
      /0 findings, 1 doubtful at 1280 px\n\nDoubtful:\n1\. .*text-overflow: ellipsis says so\./,
    );
    assert.ok(!plain.includes('+ '));
    const { out } = await run('find', path, '--evidence');
    assert.match(out, /\n {3}− text-overflow: ellipsis says so\n {3}\+ \d+ px beside it are free/);
    assert.equal((await run('find', path, '--fail-on', '1')).code, 0);
    assert.match((await run('find', path, '--prove', 'none')).err, /--prove is wrong, likely or all/);
  });

  test('a wish is answered as text and as a document, and a wrong one is refused with what can be written', async () => {
    const path = folder({
      'index.html': `${HEAD}<style>.a { width: 60px; height: 90px; background: teal }</style><div class=a></div>`,
    });
    const text = await run('find', path, '--wish', '.a: square', '--widths', '360,1280');
    assert.equal(text.code, 0, text.err);
    assert.match(text.out, /at 360 px: 60, should be 90: 30 off/);
    assert.match(text.out, /Because div\.a has width: 60px .*: 30 of it/);
    assert.match(text.out, /1\. at 360, 1280 px: give it the ratio/);
    const { out, code } = await run('find', path, '--wish', '.a: square', '--json', '--fail-on', '1');
    assert.equal(code, 1, 'what is not as wished fails');
    const document = wishDocumentSchema.parse(JSON.parse(out));
    assert.deepEqual(
      [document.isMet, document.at[0]!.missing, document.culprits[0]!.property],
      [false, 30, 'width'],
    );
    assert.match(document.remedies[0]!.diff, /\+.*aspect-ratio: 1/);
    for (const [wish, why] of [
      ['.a: squarish', /no relation that can be wished for.*square/],
      ['square', /names no box/],
      ['.b: square', /Nothing on the page matches \.b/],
      ['.a: as wide as .a', /the same box/],
    ] as const) {
      const refused = await run('find', path, '--wish', wish);
      assert.equal(refused.code, 2);
      assert.match(refused.err, why);
    }
  });

  test('a spot of the page is told as text and as a document', async () => {
    const path = folder({
      'index.html': `${HEAD}<style>body { margin: 0 } h1 { margin: 0 } p { background: tan }</style><h1>A</h1><p>B</p>`,
    });
    assert.match(
      (await run('find', path, '--at', '20,45')).out,
      /the margin of p at the top: 16 px, which is the browser’s default/,
    );
    const { out } = await run('find', path, '--at', '5,55,40,12', '--json', '--widths', '360,800');
    const document = spotDocumentSchema.parse(JSON.parse(out));
    assert.deepEqual(
      document.at.map(({ width, layers }) => [width, layers.map(({ label }) => label).join()]),
      [
        [360, 'p'],
        [800, 'p'],
      ],
    );
    const beyond = await run('find', path, '--at', '5,9000');
    assert.deepEqual([beyond.code, /is not on the page, which is/.test(beyond.err)], [2, true]);
    assert.match((await run('find', path, '--at', '5')).err, /--at is a spot of the page in CSS px/);
  });

  test('what a project says of its findings goes before the evidence', async () => {
    const html = `${HEAD}<style>.s { width: 40px; height: 52px; background: tan } p { width: 900px }</style><div class=s></div><p>x`;
    const path = folder({ 'index.html': html });
    const found = async (...more: string[]) =>
      findingsDocumentSchema
        .parse(JSON.parse((await run('find', path, '--widths', '600', '--json', ...more)).out))
        .findings.filter(({ kind }) => kind === 'overflow');
    const [plain] = await found();
    assert.deepEqual([plain!.grade, plain!.said], ['wrong', undefined]);
    const say = (grades: object[]) =>
      writeFileSync(join(path, 'normetra.json'), JSON.stringify({ normetra: 'project/1', grades }));
    say([{ rule: 'overflow', place: 'p', page: 'index.html', grade: 'meant', why: 'A ruler is that long' }]);
    const [graded] = await found();
    assert.deepEqual([graded!.grade, graded!.meant], ['meant', 'A ruler is that long']);
    assert.deepEqual(graded!.said, { was: 'wrong', why: 'A ruler is that long' });
    assert.equal((await run('find', path, '--widths', '600', '--fail-on', '1')).code, 0);
    assert.equal((await run('find', path, '--widths', '600', '--fail-on', '1', '--grades', 'none')).code, 1);
    say([{ rule: 'overflow', page: 'other.html', grade: 'meant', why: 'Elsewhere' }]);
    assert.equal((await found())[0]!.grade, 'wrong');
    say([{ rule: 'overflows', grade: 'meant', why: 'x' }]);
    const refused = await run('find', path);
    assert.equal(refused.code, 2);
    assert.match(refused.err, /normetra\.json: grades\[0\]\.rule must be the id of a rule/);
  });

  test('bands of a sweep have grades, and those of the project go before the evidence', async () => {
    const path = folder({ 'index.html': `${HEAD}<style>p { width: 320px }</style><p class=t>x` });
    const bands = async () =>
      sweepDocumentSchema
        .parse(JSON.parse((await run('sweep', path, '--widths', '300-340', '--json')).out))
        .bands.filter(({ kind }) => kind === 'overflow');
    assert.deepEqual(
      (await bands()).map(({ grade, from }) => [grade, from]),
      [['wrong', 300]],
    );
    const grades = [{ rule: 'overflow/page', place: '.t', grade: 'meant', why: 'A ruler' }];
    writeFileSync(join(path, 'normetra.json'), JSON.stringify({ normetra: 'project/1', grades }));
    const [band] = await bands();
    assert.deepEqual([band!.grade, band!.said], ['meant', { was: 'wrong', why: 'A ruler' }]);
    assert.match(
      (await run('sweep', path, '--widths', '300-340')).out,
      /What is meant, as you say\n.*overflow: .*\. A ruler/,
    );
    grades[0]!.place = 'p >';
    writeFileSync(join(path, 'normetra.json'), JSON.stringify({ normetra: 'project/1', grades }));
    const refused = await run('find', path, '--widths', '320');
    assert.deepEqual([refused.code, /normetra\.json: p > is not a selector/.test(refused.err)], [2, true]);
  });

  test('SARIF and JUnit', async () => {
    const path = folder({ 'index.html': WIDE });
    const [sarif, junit] = await Promise.all([
      run('find', path, '--widths', '600', '--format', 'sarif'),
      run('find', path, '--widths', '600', '--format', 'junit'),
    ]);
    const log: unknown = JSON.parse(sarif.out);
    assert.equal(isSarif(log), true, JSON.stringify(isSarif.errors, null, 1));
    const { runs } = log as { runs: { results: { ruleId: string }[] }[] };
    assert.deepEqual(
      runs[0]?.results.map(({ ruleId }) => ruleId),
      ['overflow/page'],
    );
    assert.match(junit.out, /<testsuite name="index\.html" tests="1" failures="1">/);
  });

  for (const [name, options, words] of [
    ['a width that is none', ['--widths', '320,wide'], /--widths is a list of whole numbers of px/],
    ['a kind that is none', ['--kinds', 'ugly'], /--kinds is a list of overflow/],
    ['a bound that is none', ['--fail-on', 'much'], /--fail-on is a number of px/],
    ['a format that is none', ['--format', 'pdf'], /--format is text, json, sarif or junit/],
  ] as const)
    test(`refused with 2: ${name}`, async () => {
      const { code, err } = await run('find', 'demo/fares.html', ...options);
      assert.equal(code, 2);
      assert.match(err, words);
      assert.equal(err.trim().split('\n').length, 1);
    });
});

describe('find --write', () => {
  let folder: string;
  before(() => {
    folder = mkdtempSync(join(tmpdir(), 'normetra-write-'));
    cpSync(join(ROOT, 'demo'), folder, { recursive: true });
  });
  after(() => rmSync(folder, { recursive: true, force: true }));

  test('changes the lines that are at fault, and nothing is left to be found', async () => {
    const page = join(folder, 'sailings.html');
    const sheet = join(folder, 'css/board.css');
    const before = readFileSync(sheet, 'utf8');
    const { code, out, err } = await run('find', page, '--write', '--yes');
    assert.equal(code, 0, err);
    assert.match(out, /3 changes written/);
    const after = readFileSync(sheet, 'utf8');
    const lost = before.split('\n').filter((line) => !after.split('\n').includes(line));
    assert.deepEqual(lost, ['  white-space: nowrap;', '  height: 3rem;']);
    assert.match((await run('find', page)).out, /nothing found/);
  });

  test('is refused where nobody can be asked, or there are no files', async () => {
    for (const [args, why] of [
      [[join(folder, 'fares.html'), '--write'], /nobody can answer here. Add --yes/],
      [[join(folder, 'fares.html'), '--yes'], /add --write/],
      [[join(folder, 'fares.html'), '--write', '--yes', '--json'], /leave out --format, --json and --out/],
      [[join(folder, 'fares.html'), '--write', '--yes', '--at', '1,1'], /leave out --wish, --why and --at/],
    ] as const) {
      const { code, err } = await run('find', ...args);
      assert.equal(code, 2);
      assert.match(err, why);
    }
  });
});

const several = presentEngines().filter((name) => name !== 'webkit');

describe('several engines', { skip: several.length < 2 ? 'there is one engine alone here' : false }, () => {
  test('matrix: what differs, as text and as a document', async () => {
    const text = await run(
      'matrix',
      'demo/booking.html',
      '--engine',
      'chromium,firefox',
      '--defaults',
      'nothing',
    );
    assert.equal(text.code, 0);
    assert.match(text.out, /^booking\.html in chromium \(.+\), firefox \(.+\), nothing defaults/);
    assert.match(text.out, /firefox against chromium, at 1280 px: \d+ of \d+ boxes differ/);
    const { out } = await run('matrix', 'demo/booking.html', '--engine', 'chromium,firefox', '--json');
    const document = matrixDocumentSchema.parse(JSON.parse(out));
    const [comparison] = document.comparisons;
    assert.equal(comparison?.column, 'firefox');
    assert.ok(comparison.unexplained <= comparison.px * 0.05, `${comparison.unexplained} of ${comparison.px}`);
    const told = comparison.causes.reduce((sum, { px }) => sum + px, 0);
    assert.ok(Math.abs(told - comparison.px) < 1, `${told} of ${comparison.px} are told`);
  });

  test('find: findings say in which engines', async () => {
    const { code, out } = await run('find', 'demo/booking.html', '--engine', 'chromium,firefox', '--json');
    assert.equal(code, 0);
    const { engines, findings } = findingsDocumentSchema.parse(JSON.parse(out));
    assert.deepEqual(
      engines?.map(({ name }) => name),
      ['chromium', 'firefox'],
    );
    assert.ok(findings.length > 0, 'there are findings');
    assert.ok(
      findings.every((finding) => finding.engines!.length > 0),
      'each is in an engine',
    );
  });

  test('read: a document for each engine', async () => {
    const { out } = await run('read', 'demo/fares.html', '--engine', 'chromium,firefox', '--json');
    const { normetra, documents } = JSON.parse(out) as { normetra: string; documents: unknown[] };
    assert.equal(normetra, 'engines/1');
    assert.deepEqual(
      documents.map((document) => readingDocumentSchema.parse(document).engine.name),
      ['chromium', 'firefox'],
    );
  });

  test('doctor says what is there', async () => {
    const { code, out } = await run('doctor', '--json');
    assert.equal(code, 0);
    const { engines, fonts } = doctorDocumentSchema.parse(JSON.parse(out));
    for (const name of several) assert.equal(engines.find((engine) => engine.name === name)?.why, null);
    assert.ok(fonts.length > 3, 'fonts are told');
  });
});

describe('one engine alone', { skip: several.length < 2 ? 'there is one engine alone here' : false }, () => {
  test('only: conditions, the rule under the first, and what it does in each', async () => {
    const { code, out } = await run(
      'only',
      'firefox',
      'demo/booking.html',
      ...['--against', 'chromium', '--put', '.booking .wide { padding: 12px }', '--json'],
    );
    assert.equal(code, 0);
    const { css, effects, conditions } = onlyDocumentSchema.parse(JSON.parse(out));
    assert.ok(css.startsWith(`@supports ${conditions[0]!.condition} {`), css);
    assert.deepEqual(
      effects.map(({ engine, boxes }) => [engine, boxes > 0]),
      [
        ['firefox', true],
        ['chromium', false],
      ],
    );
  });
});

const WRONG_ENGINES: [string, string[], number, RegExp][] = [
  [
    'an unknown one',
    ['find', 'demo/fares.html', '--engine', 'opera'],
    2,
    /--engine is chromium, firefox, webkit/,
  ],
  [
    'an endpoint that is not named',
    ['find', 'demo/fares.html', '--engine', 'webdriver:x'],
    3,
    /There is no engine webdriver:x/,
  ],
  [
    'a matrix of one',
    ['matrix', 'demo/fares.html', '--engine', 'chromium'],
    2,
    /There is only chromium to look at/,
  ],
  ['only without an engine', ['only'], 2, /normetra only names an engine/],
  ['only without a rule', ['only', 'firefox', 'demo/fares.html'], 2, /There is no rule to try on the page/],
  ['only without a page', ['only', 'firefox', '--put', 'p { margin: 0 }'], 2, /--put is tried on a page/],
  [
    'only with half a rule',
    ['only', 'firefox', 'demo/fares.html', '--put', 'margin: 0'],
    2,
    /--put is one rule, like/,
  ],
  ['only against itself', ['only', 'firefox', '--against', 'firefox'], 2, /no other engine than firefox/],
  [
    'a question for several',
    ['find', 'demo/fares.html', '--engine', 'chromium,firefox', '--why', 'p'],
    2,
    /--why, --at and --wish ask one engine/,
  ],
];
for (const [name, args, code, words] of WRONG_ENGINES)
  test(`engines: ${name}`, async () => {
    const ran = await run(...args);
    assert.equal(ran.code, code);
    assert.match(ran.err, words);
  });
