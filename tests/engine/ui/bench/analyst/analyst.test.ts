/** What the Bench asks its worker, asked of a page in a headless engine. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { savedBodySchema } from '../../../../../src/core/reading/saved.ts';
import { editSchema, type Edit } from '../../../../../src/core/trials/edit.ts';
import type { Headless, Opened } from '../../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../../support/engine.ts';
import { createAccounts } from '../../../../../src/lib/ui/bench/analyst/accounts.ts';
import { createBeside } from '../../../../../src/lib/ui/bench/analyst/beside.ts';
import { createFinding } from '../../../../../src/lib/ui/bench/analyst/finding.ts';
import { createHeld } from '../../../../../src/lib/ui/bench/analyst/worker-state.ts';
import { createPage } from '../../../../../src/lib/ui/bench/analyst/page.ts';
import { createTrying } from '../../../../../src/lib/ui/bench/analyst/trying.ts';
import { survey, takeReading } from '../../../../../src/station/survey.ts';

const PAGE = 'index.html';
const SIZE = { width: 600, height: 400 };
const CSS = `body { margin: 0 }
.quay { width: 500px; padding: 0 20px }
.pier { width: 700px; height: 40px }
.slip { margin-left: 30px }`;
const HTML = `<!doctype html><html><head><meta name="viewport" content="width=device-width"><link rel="stylesheet" href="quay.css"></head>
<body><div class="quay"><p class="pier">Pier</p><p class="slip" style="height: 20px">Slip</p></div></body></html>`;
const TEXTS = { [PAGE]: HTML, 'quay.css': CSS };

const rule = (prelude: string) => ({
  kind: 'rule' as const,
  file: 'quay.css',
  style: -1,
  prelude,
  conditions: [],
  nth: 0,
});
let nextEdit = 1;
const edit = (change: unknown): Edit => editSchema.parse({ id: `edit-${nextEdit++}`, change });
const pier = (value: string): Edit =>
  edit({ do: 'change', at: rule('.pier'), nth: 0, was: '700px', property: 'width', value });

describe('the analyst of a Bench', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  /** A page that has been measured, and everything that can be asked of it. */
  async function bench(texts: Record<string, string> = TEXTS) {
    const held = createHeld();
    const beside = createBeside(held);
    const trying = createTrying(held);
    const page = createPage(held);
    const files = Object.entries(texts).map(([path, text]) => ({
      path,
      type: path.endsWith('.css') ? 'text/css' : 'text/html',
      bytes: new TextEncoder().encode(text),
    }));
    const open = (): Promise<Opened> => headless.open(files, PAGE, SIZE);
    const opened = await open();
    const baseOf = ({ address }: Opened) => address.slice(0, -PAGE.length);
    const readOf = async (opened: Opened) => (await takeReading({ ask: opened.ask }, SIZE, 'full')).reading;
    page.hold(texts);
    const { validity, defaults } = await survey(
      { ask: opened.ask },
      (described) => page.plan(0, PAGE, texts, described, baseOf(opened)),
      (mode) => headless.bare(mode),
    );
    const facts = page.settle(0, validity, defaults);
    const read = () => readOf(opened);
    const taken = page.take(await read(), []);
    const lay = async (edits: Edit[]): Promise<void> => {
      const patch = (isWhole: boolean) =>
        opened.ask('applyPatch', trying.verbs.lay(PAGE, {}, edits, isWhole).patch!);
      assert.ok((await patch(false)) || (await patch(true)));
      const { request, unknown } = trying.verbs.replan();
      if (request) page.settle(0, await opened.ask('plan', request), defaults);
      else
        trying.verbs.learnTaken(
          unknown,
          unknown.map(() => true),
        );
      page.take(await read(), []);
    };
    return {
      held,
      facts,
      taken,
      page,
      open,
      baseOf,
      readOf,
      read,
      lay,
      accounts: createAccounts(held),
      trying: trying.verbs,
      beside: beside.verbs,
      finding: createFinding(held, beside, trying),
      at: (path: string) => page.elementAt(path),
      close: () => opened.close(),
    };
  }

  const PIER = 'body > div > p:nth-child(1)';
  const SLIP = 'body > div > p:nth-child(2)';

  test('nothing is told before something was measured', () => {
    const held = createHeld();
    const page = createPage(held);
    assert.throws(() => createAccounts(held).account(0), /Nothing has been measured yet/);
    assert.throws(() => page.settle(0, { supports: [], declarations: [] }, {}), /not described yet/);
    assert.throws(() => page.take({}, []), /reading/i);
    const { keepBeside } = createBeside(held).verbs;
    assert.throws(() => keepBeside('base', {}, { supports: [], declarations: [] }, {}), /not described yet/);
  });

  test('what a page is made of, and where it is pointed at', async () => {
    const { facts, taken, page, at, close } = await bench();
    assert.deepEqual(
      facts.sheets.map(({ file, form, rules, declarations }) => [file, form, rules, declarations]),
      [['quay.css', 'file', 4, 6]],
    );
    assert.deepEqual(facts.missing, []);
    assert.equal(facts.queriesContainers, false);
    assert.equal(taken.whole, null);
    assert.ok(taken.owners.includes(at(PIER)) && taken.index !== null);
    assert.deepEqual(page.viewports(), ['width=device-width']);
    assert.deepEqual(
      page.childrenOf([at('body > div')]).map(({ label }) => label),
      ['p.pier', 'p.slip'],
    );
    assert.deepEqual(
      page.childrenOf([-1]).map(({ label }) => label),
      ['div.quay'],
    );
    assert.equal(page.elementPath(at(PIER)), PIER);
    assert.equal(at('body > table'), -1);
    assert.equal(page.look({ of: 'size', path: PIER, axis: 'x' }), 700);
    await close();
  });

  test('accounts, by element and by name, and what a declaration reaches', async () => {
    const { accounts, at, close } = await bench();
    const { box, properties } = accounts.account(at(PIER));
    assert.equal(box.areas.rect.width, 700);
    const width = properties.find(({ property }) => property === 'width')!;
    assert.equal(width.computed, '700px');
    const { source } = width.winner!;
    assert.ok(source.origin === 'author' && source.sheet === 'quay.css' && source.line === 3);
    assert.deepEqual(accounts.reach(at(PIER), source), [at(PIER)]);
    assert.equal(accounts.byName(at(SLIP), 'margin-left')[0]?.winner?.value, '30px');
    const left = { element: at('body > div'), area: 'border', side: 'left' } as const;
    const distance = accounts.distance(left, { element: at(SLIP), area: 'border', side: 'left' });
    assert.equal(distance?.account.used, 50);
    assert.equal(accounts.distance(left, { element: at(SLIP), area: 'border', side: 'top' }), null);
    assert.equal(accounts.areas([at('body > div')])[0]?.padding.left, 20);
    await close();
  });

  const EDITS: { name: string; edit: Edit; isPatched: boolean; words: RegExp; diff: RegExp }[] = [
    {
      name: 'another value',
      edit: pier('300px'),
      isPatched: true,
      words: /\.pier: width 700px becomes 300px/,
      diff: /-\.pier \{ width: 700px.*\n\+\.pier \{ width: 300px/,
    },
    {
      name: 'a declaration switched off',
      edit: edit({ do: 'mute', at: rule('.slip'), nth: 0, was: '30px', property: 'margin-left' }),
      isPatched: true,
      words: /margin-left: 30px/,
      diff: /-\.slip \{ margin-left: 30px/,
    },
    {
      name: 'a rule at the end of a sheet',
      edit: edit({
        do: 'rule',
        at: { kind: 'sheet', file: 'quay.css', style: -1 },
        selector: '.slip',
        declarations: [{ property: 'width', value: '10px' }],
      }),
      isPatched: true,
      words: /\.slip/,
      diff: /\+\.slip \{/,
    },
    {
      name: 'an element taken out',
      edit: edit({ do: 'remove', file: PAGE, path: PIER }),
      isPatched: false,
      words: /p\.pier|Pier|taken out|removed/i,
      diff: /-<body>.*<p class="pier">/,
    },
  ];
  for (const { name, edit: edit, isPatched, words, diff } of EDITS)
    test(`an edit in a frame, in words and as a patch: ${name}`, async () => {
      const { trying, close } = await bench();
      const { patch, failed } = trying.lay(PAGE, {}, [edit]);
      assert.equal(patch !== null, isPatched);
      assert.deepEqual(failed, []);
      assert.equal(Object.keys(trying.structural(PAGE, [edit])).length, isPatched ? 0 : 1);
      const written = trying.written([edit], PAGE);
      assert.match(written.words.join('\n'), words);
      assert.match(written.diff, diff);
      assert.deepEqual(trying.words([edit]), written.words);
      await close();
    });

  test('an edit that finds nothing to change is told, and the page is as it was', async () => {
    const { trying, close } = await bench();
    const nowhere = edit({ do: 'add', at: rule('.mole'), property: 'width', value: '1px' });
    const { failed, texts } = trying.lay(PAGE, {}, [nowhere]);
    assert.deepEqual(
      failed.map(({ edit: index }) => index),
      [0],
    );
    assert.equal(texts['quay.css'] ?? CSS, CSS);
    await close();
  });

  test('sources are told at their places in the files as they are, whatever is laid over them', async () => {
    const { accounts, trying, lay, at, close } = await bench();
    await lay([edit({ do: 'add', at: rule('body'), property: 'padding', value: '3px' }), pier('640px')]);
    const { box, properties } = accounts.account(at(SLIP));
    assert.equal(box.areas.rect.x, 53);
    const margin = properties.find(({ property }) => property === 'margin-left')!;
    const { source } = margin.winner!;
    assert.ok(source.origin === 'author' && source.line === 4);
    assert.deepEqual(trying.target(at(SLIP), source), { at: rule('.slip'), nth: 0 });
    const inline = properties.find(({ property }) => property === 'height')!.winner!.source;
    assert.deepEqual(trying.target(at(SLIP), inline), {
      at: { kind: 'inline', file: PAGE, path: SLIP },
      nth: 0,
    });
    await close();
  });

  test('what is different from the page as it was, why, and what is wrong in one of both alone', async () => {
    const { beside, lay, close } = await bench();
    assert.equal(beside.moved(), null);
    assert.equal(beside.findingsMoved(), null);
    beside.keepOwn();
    await lay([pier('300px')]);
    const moved = beside.moved()!;
    assert.equal(moved.counts.resized, 1);
    assert.equal(moved.largest, 400);
    const reason = beside.why(0)!;
    assert.deepEqual([reason.number, reason.from, reason.to, reason.residual], ['width', 700, 300, 0]);
    assert.equal(beside.why(99), null);
    const { gone, fresh } = beside.findingsMoved()!;
    assert.ok(gone.length > 0 && gone.every((what) => /wider|sticks out|scroll/i.test(what)), gone.join());
    assert.deepEqual(fresh, []);
    await close();
  });

  test('two readings compared by a number and by where they put what they move', async () => {
    const { beside, lay, open, readOf, page, close } = await bench();
    const plain = await open();
    const without = await readOf(plain);
    await plain.close();
    await lay([pier('300px')]);
    const after = await open();
    const same = beside.compare(without, await readOf(after), { of: 'size', path: PIER, axis: 'x' });
    await after.close();
    assert.deepEqual([same.plain, same.number, same.largest], [700, 700, 0]);
    assert.deepEqual(same.outlines, []);
    assert.equal(page.look({ of: 'size', path: PIER, axis: 'x' }), 300);
    assert.equal(page.look({ of: 'size', path: PIER, axis: 'x' }, without), 700);
    await close();
  });

  test('findings follow what is laid over the page, and stop for another reading', async () => {
    const { finding, lay, read, page, close } = await bench();
    const found = (await finding.findings())!;
    const over = found.findIndex(({ kind, axis }) => kind === 'overflow' && axis === 'x');
    assert.ok(over >= 0, found.map(({ what }) => what).join('\n'));
    assert.match(found[over]!.label, /p\.pier|html|body/);
    const another = await read();
    const stopped = finding.findings();
    page.take(another, []);
    assert.equal(await stopped, null);
    await lay([pier('300px')]);
    const after = (await finding.findings())!;
    assert.ok(!after.some(({ kind, axis }) => kind === 'overflow' && axis === 'x'));
    await close();
  });

  test('who is to blame, and what helps, measured in a frame that nobody sees', async () => {
    const { finding, trying, open, baseOf, readOf, close } = await bench();
    const found = (await finding.findings())!;
    const hidden = await open();
    let looks = 0;
    const measure = async (edits: Edit[]) => {
      looks++;
      const frame = { number: 1, base: baseOf(hidden) };
      const patch = (isWhole: boolean) =>
        hidden.ask('applyPatch', trying.probe(frame, PAGE, {}, edits, [], isWhole)!);
      assert.ok((await patch(false)) || (await patch(true)));
      const { request } = trying.planProbe(edits, null);
      return { validity: await hidden.ask('plan', request!), reading: await readOf(hidden) };
    };
    await readOf(hidden);
    const over = found.findIndex(({ kind, axis }) => kind === 'overflow' && axis === 'x');
    const blame = (await finding.blame(over, measure))!;
    await hidden.close();
    assert.ok(looks > 1);
    const [first] = blame.culprits;
    assert.ok(first && JSON.stringify(first).includes('"line":3'), JSON.stringify(blame.culprits));
    assert.ok(blame.remedies.length > 0);
    assert.equal(await finding.blame(99, measure), null);
    await close();
  });

  test('elements are hidden in a frame that nobody sees, with the styles that they have of their own', async () => {
    const { trying, at, close } = await bench();
    const patch = trying.probe({ number: 2, base: 'http://x.test/' }, PAGE, {}, [], [at(SLIP), at(PIER)])!;
    assert.deepEqual(
      patch.attributes.map(({ element, value }) => [element, value]),
      [
        [at(SLIP), 'height: 20px;display:none!important'],
        [at(PIER), 'display:none!important'],
      ],
    );
    await close();
  });

  test('a saved reading is told as it was', async () => {
    const { page, accounts, at, close } = await bench();
    const before = accounts.account(at(SLIP)).box;
    const body = savedBodySchema.parse(JSON.parse(JSON.stringify(page.toStored())));
    await close();
    const held = createHeld();
    const other = createPage(held);
    const { reading } = other.open(PAGE, TEXTS, body);
    assert.equal(reading.viewport.width, SIZE.width);
    assert.deepEqual(createAccounts(held).account(other.elementAt(SLIP)).box, before);
    assert.deepEqual(other.drawing(), page.drawing());
  });
});
