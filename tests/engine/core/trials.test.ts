/** Random trials on real pages: applied, taken off, and written out. `TRIALS=n` and `SEED=n` choose how many and which. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { elementAt, labelOf, pathOf } from '../../../src/core/reading/labels.ts';
import { hasBox } from '../../../src/core/boxes/tree.ts';
import { isolate } from '../../../src/core/search/isolate.ts';
import { measureQuantity, type Quantity } from '../../../src/core/search/measured-quantity.ts';
import { editSchema, type Edit } from '../../../src/core/trials/edit.ts';
import type { Headless } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';
import { withText } from '../../../src/lib/server/ingest/files.ts';
import { draw } from '../../harness/conformance/families.ts';
import { corpusPages, demoPages } from '../../support/corpus.ts';
import { essence, textsOfFiles, tryOnce } from '../../support/random-trials.ts';

const TRIALS = Number(process.env['TRIALS'] ?? 24);
const SEED = Number(process.env['SEED'] ?? 4);
const SIZE = { width: 1280, height: 800 };

describe('random trials', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  const pages = [...demoPages(), ...corpusPages()];
  const used = pages.slice(0, Math.min(pages.length, Math.max(1, Math.floor(TRIALS / 4))));
  for (const [number, page] of used.entries())
    test(`on ${page.name} (seed ${SEED})`, async (t) => {
      const opened = await headless.open(page.files, page.entry, SIZE);
      const plain = await opened.measure();
      await new Promise((resolve) => setTimeout(resolve, 300));
      if (essence((await opened.measure()).reading) !== essence(plain.reading)) {
        t.diagnostic('something on it moves by itself, so no two readings are the same');
        return;
      }
      let refused = 0;
      const own = Math.ceil((TRIALS - number) / used.length);
      for (let n = 0; n < own; n++) {
        const seed = SEED * 1000 + number * 100 + n;
        const { edits, failed, wrong } = await tryOnce(headless, opened, page, plain, draw(seed), SIZE);
        refused += failed;
        assert.deepEqual(wrong, [], `seed ${seed}: ${JSON.stringify(edits.map(({ change }) => change))}`);
      }
      await opened.close();
      t.diagnostic(`${own} trials, ${refused} edits with nothing to change`);
    });
});

describe('a page whose rules ask for the size of a container', () => {
  test('is read in full: an edit of one size changes what other boxes have', async () => {
    const headless = await openEngine();
    const html = `<!doctype html><style>
.card { container-type: inline-size; width: 200px }
.in { letter-spacing: 0; padding: 2px }
@container (min-width: 300px) { .in { padding: 20px; text-align: right } }
</style><div class=card><div class=in>words</div></div>`;
    const bytes = new TextEncoder().encode(html);
    const page = (text: Uint8Array) => [{ path: 'index.html', type: 'text/html', bytes: text }];
    const opened = await headless.open(page(bytes), 'index.html', SIZE);
    await opened.measure();
    const at = { kind: 'rule', file: 'index.html', style: 0, prelude: '.card', nth: 0, conditions: [] };
    const change = {
      do: 'change',
      at,
      property: 'width',
      nth: 0,
      was: '200px',
      value: '400px',
      important: false,
    };
    const { failed } = await opened.lay([editSchema.parse({ id: 'wide', change })]);
    assert.deepEqual(failed, []);
    const laid = await opened.measure();
    const wide = new TextEncoder().encode(html.replace('width: 200px', 'width: 400px'));
    const fresh = await (await headless.open(page(wide), 'index.html', SIZE)).measure();
    assert.equal(essence(laid.reading), essence(fresh.reading));
    await headless.close();
  });
});

describe('a stray element among real pages', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  const STRAYS = Number(process.env['STRAYS'] ?? 3);
  const stray = '<div class="stray" style="position:absolute;left:5000px;width:9px;height:9px"></div>';
  const wide: Quantity = { of: 'overflow', axis: 'x' };
  for (const page of [...corpusPages(), ...demoPages()].slice(0, STRAYS))
    test(`is found on ${page.name}`, async (t) => {
      const texts = await textsOfFiles(page.files);
      const html = texts[page.entry]!;
      // Behind some end tag in the body, as far in as the seed says.
      const ends = [...html.matchAll(/<\/(?:p|div|section|ul|nav)>/g)];
      const body = html.indexOf('<body');
      const at = ends.filter(({ index }) => index > body)[Math.floor(ends.length * 0.6)] ?? ends.at(-1)!;
      const planted = html.slice(0, at.index) + stray + html.slice(at.index);
      const files = page.files.map((file) => (file.path === page.entry ? withText(file, planted) : file));
      const opened = await headless.open(files, page.entry, SIZE);
      const first = await opened.measure();
      const { reading, tree } = first;
      const number = measureQuantity(tree, wide)!;
      if (number < 3000) {
        t.diagnostic('what it lies in hides it: the page does not scroll');
        await opened.close();
        return;
      }
      let measured = 0;
      const hide = (elements: readonly number[]): Edit[] =>
        elements.map((element) =>
          editSchema.parse({
            id: `hide ${element}`,
            change: {
              do: 'add',
              at: { kind: 'inline', file: page.entry, path: pathOf(reading, element) },
              property: 'display',
              value: 'none',
              important: true,
            },
          }),
        );
      const children = (parents: readonly number[]) =>
        Array.from({ length: reading.count }, (_, i) => i).filter(
          (i) => parents.includes(reading.parent[i]!) && hasBox(tree, i),
        );
      let level = children([elementAt(reading, 'body')]);
      let hidden: number[] = [];
      let last: number[] = [];
      let among = 0;
      while (level.length > 0) {
        among += level.length;
        const [now, kept] = [level, hidden];
        const found = await isolate(now, {
          name: String,
          isThere: async (left) => {
            measured++;
            await opened.lay(hide([...kept, ...now.filter((value) => !left.includes(value))]));
            return measureQuantity((await opened.measure()).tree, wide)! > 3000;
          },
        });
        if (found.needs.length === 0) break;
        last = found.needs;
        hidden = [...kept, ...now.filter((value) => !last.includes(value))];
        level = children(last);
      }
      assert.deepEqual(
        last.map((element) => labelOf(reading, element)),
        ['div.stray'],
      );
      t.diagnostic(`${measured} measurements among ${among} elements looked at, ${reading.count} on the page`);
      await opened.close();
    });
});
