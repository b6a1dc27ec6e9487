/** Breakpoints as the sheets have them, held against the engine's own answer at every width (Media Queries 4 §2.4, §4, §5). */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Described } from '../../../src/core/reading/reading.ts';
import { breakpointsOf } from '../../../src/core/css/media/breakpoints.ts';
import { parseDocument } from '../../../src/core/html/document.ts';
import { makePlan, type Plan } from '../../../src/core/css/cascade/plan.ts';
import type { Headless } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';

const [FROM, TO, HEIGHT] = [240, 1920, 800];

/** Conditions, and how many widths there are at which each turns. */
const CONDITIONS: [condition: string, turns: number][] = [
  ['(min-width: 600px)', 1],
  ['(max-width: 600px)', 1],
  ['(max-width: 599.98px)', 1],
  ['(MIN-WIDTH: 600PX)', 1],
  ['(width: 600px)', 2],
  ['(min-width: 37.5em)', 1],
  ['(max-width: 40rem)', 1],
  ['(min-width: 12cm)', 1],
  ['(min-width: 150mm)', 1],
  ['(min-width: 800q)', 1],
  ['(min-width: 60pc)', 1],
  ['(min-width: 7.25in)', 1],
  ['(min-width: calc(40em + 1px))', 1],
  ['(min-width: calc((10px + 2em) * 20))', 1],
  ['(max-width: max(500px, 30em))', 1],
  ['(width >= 600px)', 1],
  ['(width < 600px)', 1],
  ['(600px <= width)', 1],
  ['(width = 700px)', 2],
  ['(400px < width <= 700px)', 2],
  ['(1000px > width > 37.5em)', 2],
  ['(width > calc(300px + 10em))', 1],
  ['screen and (min-width: 500px) and (max-width: 900px)', 2],
  ['(min-width: 500px) and (max-width: 499px)', 0],
  ['not all and (min-width: 500px)', 1],
  ['not (width < 500px)', 1],
  ['((min-width: 500px) and (not (width > 800px))) or (width >= 1200px)', 3],
  ['(max-width: 400px), (min-width: 1000px)', 2],
  ['print and (min-width: 500px)', 0],
  ['screen and (min-width: 40em) and (max-width: 63.99em)', 2],
  ['(400px < width <= 700.5px)', 2],
  ['(width < 300px)', 1],
  ['(min-device-aspect-ratio: 1/1)', 0],
  ['(orientation: portrait)', 1],
  ['(orientation: landscape)', 1],
  ['(min-aspect-ratio: 4/3)', 1],
  ['(max-aspect-ratio: 1.5)', 1],
  ['(aspect-ratio: 16 / 10)', 2],
  ['(3/4 < aspect-ratio <= 2/1)', 2],
  ['(width)', 0],
  ['(height > 500px)', 0],
  ['(hover: hover) and (min-width: 700px)', -1],
  ['(min-width: 0)', 0],
  ['(min-width: -20px)', 0],
];

function planOf(css: string): Plan {
  const described: Described = {
    url: '',
    mode: 'standards',
    engine: { name: 'x', version: '' },
    roots: 1,
    defaultKeys: [],
    sheets: [{ root: 0, owner: 0, form: 'style', address: '', media: '', text: css }],
  };
  const document = parseDocument('index.html', `<style>${css}</style>`);
  return makePlan({ described, document, textOf: () => null, pathOf: () => null });
}

describe('breakpoints', () => {
  let headless: Headless;
  /** By condition, the widths at which the engine's answer is another one than at one px less. */
  let turns: number[][] = [];
  before(async () => {
    headless = await openEngine();
    turns = await headless.page.evaluate(
      ({ conditions, from, to, height }) => {
        const frame = document.body.appendChild(document.createElement('iframe'));
        frame.style.cssText = `border: 0; width: ${from}px; height: ${height}px`;
        const queries = conditions.map((text) => frame.contentWindow!.matchMedia(text));
        const out: number[][] = conditions.map(() => []);
        let last = queries.map(({ matches }) => matches);
        for (let width = from + 1; width <= to; width++) {
          frame.style.width = `${width}px`;
          void frame.contentDocument!.documentElement.clientWidth;
          const now = queries.map(({ matches }) => matches);
          now.forEach((matches, i) => matches !== last[i] && out[i]!.push(width));
          last = now;
        }
        frame.remove();
        return out;
      },
      { conditions: CONDITIONS.map(([text]) => text), from: FROM, to: TO, height: HEIGHT },
    );
  });
  after(() => headless.close());

  for (const [i, [condition, count]] of CONDITIONS.entries())
    test(`of ${condition}`, () => {
      const plan = planOf(`@media ${condition} { p { top: 0 } }`);
      const seen = new Set(breakpointsOf(plan, HEIGHT).map(({ width }) => width));
      const missing = turns[i]!.filter((width) => !seen.has(width));
      assert.deepEqual(missing, [], `the engine turns at ${turns[i]!.join()}; told ${[...seen].join()}`);
      if (count >= 0) assert.equal(turns[i]!.length, count);
      // Of one feature alone, nothing is told at which nothing turns.
      if (!/ and | or |,|not|print/.test(condition))
        assert.deepEqual(
          [...seen].filter((width) => width > FROM && width <= TO).sort((a, b) => a - b),
          turns[i],
        );
    });

  test('without a height, ratios are left out', () => {
    const plan = planOf('@media (min-aspect-ratio: 4/3) { p { top: 0 } }');
    assert.deepEqual(breakpointsOf(plan), []);
  });
});
