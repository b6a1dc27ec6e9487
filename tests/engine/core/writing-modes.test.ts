/** Which way the main axis of a flex container goes, asked of the engine: a flex basis is measured along it (Flexbox 1 §5.1, §7.2). */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { isMainAxisVertical, isSingleLineRow } from '../../../src/core/boxes/formatting-contexts.ts';
import { rectOf } from '../../../src/core/boxes/tree.ts';
import type { Headless } from '../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../support/engine.ts';
import { classed, measureHtml } from '../../support/measure.ts';

describe('the main axis', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (const mode of ['horizontal-tb', 'vertical-rl', 'vertical-lr', 'sideways-lr'])
    for (const direction of ['row', 'row-reverse', 'column', 'column-reverse'])
      test(`${direction} in ${mode}`, async () => {
        const analysis = await measureHtml(
          headless,
          `<!doctype html><div class=c style="writing-mode:${mode};display:flex;flex-direction:${direction};width:300px;height:300px"><p class=t style="margin:0;flex:0 0 123px;min-width:0;min-height:0"></p></div>`,
        );
        const { width, height } = rectOf(analysis.reading, classed(analysis, 't'));
        assert.equal([width, height].filter((size) => size === 123).length, 1, 'the basis is one of its sizes');
        const container = classed(analysis, 'c');
        assert.equal(isMainAxisVertical(analysis.tree, container), height === 123);
        assert.equal(isSingleLineRow(analysis.tree, container), width === 123);
      });
});
