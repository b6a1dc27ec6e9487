/** Wishes on small pages: the numbers against the engine's own, who is to blame, and remedies measured by the engine. */
import assert from 'node:assert/strict';
import { before, describe, test } from 'node:test';
import { parseWish } from '../../../src/core/wishes/parse.ts';
import type { Headless, Opened } from '../../../src/lib/server/engines/headless.ts';
import { wishOn } from '../../../src/lib/server/engines/wish.ts';
import { openEngine } from '../../support/engine.ts';

const LONG = 'A title that is much longer than the room that it is given here';

interface Row {
  css: string;
  html: string;
  wish: string;
  /** What the engine says by itself: an element as `e`, and what must be true of it once the wish is met. */
  at: string;
  holds: string;
  /** The property that is to blame; '': none. */
  culprit?: string;
  /** What a remedy must be. */
  remedy?: RegExp;
}

const rect = (of: string): string => `${of}.getBoundingClientRect()`;
const near = (a: string, b: string): string => `Math.abs((${a}) - (${b})) < 1`;

const ROWS: Row[] = [
  {
    css: '.a { width: 60px; height: 90px; background: teal }',
    html: '<div class=a></div>',
    wish: '.a: square',
    at: '.a',
    holds: near(`${rect('e')}.width`, `${rect('e')}.height`),
    culprit: 'width',
    remedy: /aspect-ratio: 1/,
  },
  {
    css: '.r { display: flex; gap: 10px; width: 400px } .a, .b { background: #ddd; padding: 4px }',
    html: '<div class=r><div class=a>One</div><div class=b>Many more words</div></div>',
    wish: '.a: as wide as .b',
    at: '.a',
    holds: near(`${rect('e')}.width`, `${rect('e.nextElementSibling')}.width`),
    remedy: /flex: 1 1 0/,
  },
  {
    css: '.r { display: flex; align-items: flex-start } .a, .b { background: #ddd; width: 90px }',
    html: `<div class=r><div class=a>One</div><div class=b>${LONG}</div></div>`,
    wish: '.a: as tall as the next one',
    at: '.a',
    holds: near(`${rect('e')}.height`, `${rect('e.nextElementSibling')}.height`),
    culprit: 'align-items',
    remedy: /stretch/,
  },
  {
    css: '.t { width: 120px; overflow: hidden; white-space: nowrap; text-overflow: ellipsis }',
    html: `<h2 class=t>${LONG}</h2>`,
    wish: '.t: whole text',
    at: '.t',
    holds: 'e.scrollWidth <= e.clientWidth && e.scrollHeight <= e.clientHeight',
    culprit: 'width',
  },
  {
    css: '.t { width: 260px; height: 24px; overflow: hidden; line-height: 24px }',
    html: `<p class=t>${LONG}</p>`,
    wish: '.t: whole text',
    at: '.t',
    holds: `e.scrollHeight <= e.clientHeight || getComputedStyle(e).overflowY === 'visible'`,
    culprit: 'height',
    remedy: /height: auto/,
  },
  {
    css: 'nav { display: flex; width: 240px } nav a { padding: 0 10px }',
    html: '<nav><a class=t href=#>Sailings today</a><a href=#>Timetable</a><a href=#>Fares</a></nav>',
    wish: '.t: one line',
    at: '.t',
    holds: `${rect('e')}.height < 30`,
    remedy: /wrap/,
  },
  {
    css: '.a { margin-bottom: 10px } .b { margin-top: 30px } div { background: #ddd }',
    html: '<div class=a>One</div><div class=b>Two</div>',
    wish: '.b: 16 below .a',
    at: '.b',
    holds: near(`${rect('e')}.top - ${rect('e.previousElementSibling')}.bottom`, '16'),
    culprit: 'margin-top',
    remedy: /margin-top: 16px/,
  },
  {
    css: '.r { display: flex; flex-direction: column; gap: 2rem } div { background: #ddd }',
    html: '<div class=r><div class=a>One</div><div class=b>Two</div></div>',
    wish: '.a: 8 above the next one',
    at: '.a',
    holds: near(`${rect('e.nextElementSibling')}.top - ${rect('e')}.bottom`, '8'),
    culprit: 'gap',
    remedy: /gap: (0\.5rem|8px)/,
  },
  {
    css: '.r { width: 300px; height: 100px; background: #eee } .a { width: 80px; height: 30px; background: teal }',
    html: '<div class=r><div class=a></div></div>',
    wish: '.a: centred in what is around it',
    at: '.a',
    holds: `${near(`${rect('e')}.left - ${rect('e.parentElement')}.left`, '110')} && ${near(`${rect('e')}.top - ${rect('e.parentElement')}.top`, '35')}`,
    remedy: /center/,
  },
  {
    css: '.r { position: relative; width: 300px; height: 100px } .a { position: absolute; left: 50%; top: 50%; width: 80px; height: 30px; background: teal }',
    html: '<div class=r><div class=a></div></div>',
    wish: '.a: centred in .r',
    at: '.a',
    holds: near(`${rect('e')}.left - ${rect('e.parentElement')}.left`, '110'),
    remedy: /translate: -50% -50%/,
  },
  {
    css: '.a { height: 40px; background: #ddd } .b { position: relative; top: -20px; background: #fdd }',
    html: '<div class=a>One</div><div class=b>Two</div>',
    wish: '.b: not over .a',
    at: '.b',
    holds: `${rect('e')}.top >= ${rect('e.previousElementSibling')}.bottom - 0.6`,
    culprit: 'top',
  },
  {
    css: '.r { width: 200px; overflow: auto } .a { width: 260px; background: #ddd }',
    html: '<div class=r><div class=a>One</div></div>',
    wish: '.r: no scroll',
    at: '.r',
    holds: 'e.scrollWidth <= e.clientWidth',
    culprit: 'width',
    remedy: /max-width: 100%/,
  },
  {
    css: 'section { padding: 0 12px } h2 { margin-left: 20px } p { margin: 0 }',
    html: '<section><h2>Title</h2><p>Text</p></section>',
    wish: 'h2: left flush with p',
    at: 'h2',
    holds: near(`${rect('e')}.left`, `${rect('e.nextElementSibling')}.left`),
    culprit: 'margin-left',
    remedy: /margin-left: 0/,
  },
  {
    css: '.r { display: grid; grid-template-columns: auto auto; width: 400px } div div { background: #ddd }',
    html: `<div class=r><div class=a>One</div><div class=b>${LONG}</div></div>`,
    wish: '.a: as wide as the next one',
    at: '.a',
    holds: near(`${rect('e')}.width`, `${rect('e.nextElementSibling')}.width`),
    remedy: /repeat\(2, minmax\(0, 1fr\)\)/,
  },
  {
    css: 'p { width: 200px } a { background: tan; padding: 4px }',
    html: '<p><a class=a href=#>Book</a></p>',
    wish: '.a: 120 wide',
    at: '.a',
    holds: near(`${rect('e')}.width`, '120'),
    remedy: /inline-block/,
  },
  {
    css: '.a { box-sizing: content-box; width: 200px; padding: 20px; background: tan }',
    html: '<div class=a>x</div>',
    wish: '.a: at most 200 wide',
    at: '.a',
    holds: `${rect('e')}.width < 200.6`,
    culprit: 'padding',
  },
  {
    css: '.r { width: 240px; background: tan; height: 60px } .a { margin: 0 }',
    html: '<div class=r><p class=a>Fares</p></div>',
    wish: '.a: centred down in what is around it',
    at: '.a',
    holds: near(
      `${rect('e')}.top + ${rect('e')}.height / 2`,
      `${rect('e.parentElement')}.top + ${rect('e.parentElement')}.height / 2`,
    ),
    remedy: /align-(content|items): center/,
  },
  {
    css: '.r { display: flex; gap: 10px } .a { align-self: flex-end; height: 20px } .b { height: 60px; width: 40px } .a, .b { background: tan }',
    html: '<div class=r><div class=a>One</div><div class=b></div></div>',
    wish: '.a: top flush with .b',
    at: '.a',
    holds: near(`${rect('e')}.top`, `${rect('e.nextElementSibling')}.top`),
    culprit: 'align-self',
    remedy: /flex-start/,
  },
  {
    css: '.v { width: 320px; height: 200px; background: tan }',
    html: '<div class=v></div>',
    wish: '.v: in ratio 16/9',
    at: '.v',
    holds: near(`${rect('e')}.width / ${rect('e')}.height * 90`, '160'),
    culprit: 'height',
    remedy: /aspect-ratio: 1\.778/,
  },
  {
    css: '.r { display: flex; width: 300px } .a { flex: 1 } .b { width: 120px; background: #ddd } .c { white-space: nowrap }',
    html: `<div class=r><div class=a><span class=c>${LONG}</span></div><div class=b>Two</div></div>`,
    wish: '.b: at least 120 wide',
    at: '.b',
    holds: `${rect('e')}.width > 119`,
  },
];

async function opened(headless: Headless, css: string, html: string): Promise<Opened> {
  const page = `<!doctype html><style>${css}</style><body>${html}`;
  const files = [{ path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(page) }];
  return headless.open(files, 'index.html', { width: 800, height: 600 });
}

const ask = (page: Opened, text: string) =>
  wishOn(page, {
    page: 'index.html',
    defaults: 'as-rendered',
    widths: [800, 360],
    height: 600,
    text,
    written: parseWish(text),
    elementsOf: (selector) => page.ask('find', { selector }),
  });

/** The page with a remedy written into its text. */
function mended(css: string, edits: { selector: string; property: string; value: string }[]): string {
  const rules = edits.map(
    ({ selector, property, value }) => `${selector} { ${property}: ${value || 'revert-layer'} !important }`,
  );
  return `${css} ${rules.join(' ')}`;
}

describe('what should be', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });

  for (const { css, html, wish, at, holds, culprit, remedy } of ROWS)
    test(`${wish} (${css.slice(0, 50)})`, async () => {
      const page = await opened(headless, css, html);
      assert.equal(await page.evaluate(at, holds), 0, 'the engine says that it is so already');
      const answer = await ask(page, wish);
      await page.close();
      assert.equal(answer.isMet, false);
      assert.ok(answer.at[0]!.missing > 0);
      const blamed = answer.culprits.map(({ property }) => property);
      if (culprit) assert.ok(blamed.includes(culprit), `blamed: ${blamed.join(', ')}`);
      const [first] = answer.remedies;
      assert.ok(first, `no remedy of ${answer.tried} tried`);
      const texts = answer.remedies.map(({ edits }) =>
        edits.map(({ property, value }) => `${property}: ${value}`).join('; '),
      );
      if (remedy) assert.match(texts.slice(0, 3).join('\n'), remedy);
      // Written by other means, the engine agrees. What is taken out cannot be written as a rule.
      for (const { edits } of answer.remedies) {
        if (edits.some(({ value }) => value === '')) continue;
        const after = await opened(headless, mended(css, edits), html);
        await after.measure();
        assert.equal(await after.evaluate(at, holds), 1, JSON.stringify(edits));
        await after.close();
      }
    });

  test('what is so already is told as that, with nothing tried', async () => {
    const page = await opened(headless, '.a { width: 40px; height: 40px }', '<div class=a></div>');
    const answer = await ask(page, '.a: square');
    assert.deepEqual([answer.isMet, answer.tried, answer.remedies], [true, 0, []]);
    await page.close();
  });

  test('of boxes that lie in each other it cannot be wished that they are not over each other', async () => {
    const page = await opened(headless, '', '<div class=a><p class=b>x</p></div>');
    await assert.rejects(ask(page, '.b: not over .a'), /lie in each other/);
    await page.close();
  });

  test('where nothing does it that is told, with how much was tried', async () => {
    const page = await opened(headless, '.a { width: 300px }', '<p class=a>One<br>Two</p>');
    const answer = await ask(page, '.a: one line');
    assert.deepEqual([answer.isMet, answer.remedies], [false, []]);
    assert.ok(answer.tried > 5, `${answer.tried} tried`);
    assert.equal(answer.at[0]!.now, 2);
    await page.close();
  });

  test('what comes closest is measured as well: its edits leave what it says', async () => {
    const css =
      '.r { display: flex; width: 300px } .a { width: 100px; max-width: 140px !important; background: tan }';
    const page = await opened(headless, css, `<div class=r><div class=a>${LONG}</div></div>`);
    const answer = await ask(page, '.a: 1 line');
    if (answer.closest) {
      const { edits, missing } = answer.closest;
      const after = await opened(headless, mended(css, edits), `<div class=r><div class=a>${LONG}</div></div>`);
      const again = await ask(after, '.a: 1 line');
      assert.equal(again.at.at(-1)!.missing, missing);
      await after.close();
    } else assert.ok(answer.remedies.length > 0, 'there is neither a remedy nor a change that comes closer');
    await page.close();
  });

  test('a box that is off on two axes is put right on both', async () => {
    const css =
      '.r { position: relative; width: 300px; height: 100px } .a { position: absolute; left: 20px; top: 50px; width: 80px; height: 30px; background: tan }';
    const page = await opened(headless, css, '<div class=r><div class=a></div></div>');
    const answer = await ask(page, '.a: centred in .r');
    const of = (property: string) => answer.culprits.find((culprit) => culprit.property === property)?.px;
    // Each of the two numbers is solved by its own declaration, and what is left is the other.
    assert.deepEqual([of('left'), of('top')], [75, undefined]);
    assert.ok(answer.remedies.length > 0);
    await page.close();
  });

  test('every box that the selector matches is held to it, and changed', async () => {
    const css = '.s { width: 40px; height: 52px; background: tan; margin: 4px }';
    const page = await opened(
      headless,
      css,
      '<i class=s style="display:block"></i><i class=s style="display:block"></i>',
    );
    const answer = await ask(page, '.s: square');
    assert.equal(answer.at[0]!.missing, 12);
    assert.ok(answer.remedies.every(({ edits }) => edits.every(({ selector }) => selector === '.s')));
    await page.close();
  });
});
