/** What moves on a page does not show in its measures: animations stand still, and transitions are at their end. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Headless } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';
import { measureHtml } from '../../support/measure.ts';

const MOVING = '@keyframes turn { to { transform: rotate(360deg); margin-left: 40px } }';

/** Rows with content widths that an account asks for; each is the same with `transition: all` on its items. */
const ROWS: [name: string, css: string, html: string][] = [
  [
    'items that shrink to their words',
    '.r { display: flex; width: 120px } .r > * { flex: 0 1 200px; min-width: auto; max-width: 260px }',
    '<div class=r><div>Quayside</div><div>Departures</div></div>',
  ],
  [
    'cells',
    'table { width: 200px } td { padding: 4px; min-width: 20px; max-width: 90px }',
    '<table><tr><td>Quayside</td><td>Departures and fares</td></tr></table>',
  ],
];

describe('what moves', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (const [name, css, html] of ROWS)
    test(`content widths of ${name} with a transition on everything`, async () => {
      const widths = async (more: string) => {
        const page = `<!doctype html><style>${css} ${more}</style>${html}`;
        return [...(await measureHtml(headless, page)).intrinsic];
      };
      const plain = await widths('');
      assert.ok(plain.length > 0, 'no content width was asked for');
      assert.deepEqual(await widths('* { transition: all 5s }'), plain);
    });

  // Scripts that run may do so by what moves: there it is held for each reading, and no sooner.
  const HELD: [after: 'a measure' | 'the page said what it is', scripts: 'hold' | 'run', running: number][] = [
    ['a measure', 'hold', 0],
    ['a measure', 'run', 0],
    ['the page said what it is', 'hold', 0],
    ['the page said what it is', 'run', 1],
  ];
  for (const [after, scripts, left] of HELD)
    test(`an endless animation ${left > 0 ? 'goes on' : 'does not go on'} after ${after}, scripts: ${scripts}`, async () => {
      const html = `<!doctype html><style>${MOVING} .s { animation: turn 1s linear infinite }</style><div class=s>Mole</div>`;
      const files = [{ path: 'index.html', type: 'text/html', bytes: new TextEncoder().encode(html) }];
      const opened = await headless.open(files, 'index.html', { width: 400, height: 300 }, scripts);
      const running = () =>
        opened.evaluate('html', "document.getAnimations().filter((one) => one.playState === 'running').length");
      assert.equal(await running(), 1);
      await (after === 'a measure' ? opened.measure() : opened.ask('describe', null));
      assert.equal(await running(), left);
      await opened.close();
    });
});
