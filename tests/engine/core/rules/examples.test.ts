/** Every rule tells of something on its own example, and the line that it draws has the length of its px. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { RULES } from '../../../../src/core/rules/index.ts';
import type { Rule } from '../../../../src/core/rules/model.ts';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { standingsOf, worstOf } from '../../../../src/core/wishes/quantities.ts';
import { openEngine } from '../../../support/engine.ts';

const SIZE = { width: 800, height: 600 };
/** Its observations are made between two readings. */
const BETWEEN_READINGS = new Set(['defaults/dependence']);

describe('examples of rules', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  const isWhole = (example: string): boolean => example.includes('viewport') || example.includes('<title>');
  const pageOf = (example: string): string =>
    `<!doctype html>${isWhole(example) ? '' : '<meta name=viewport content="width=device-width, initial-scale=1">'}${example}`;

  for (const rule of RULES as readonly Rule[]) {
    if (BETWEEN_READINGS.has(rule.id)) continue;
    test(rule.id, async () => {
      const bytes = new TextEncoder().encode(pageOf(rule.example));
      const opened = await headless.open(
        [{ path: 'index.html', type: 'text/html', bytes }],
        'index.html',
        SIZE,
      );
      const analysis = await opened.measure();
      const found = await opened.complete(analysis, () => rule.observe(analysis));
      await opened.close();
      const [first] = found;
      assert.ok(first, `nothing was told of ${rule.example}`);
      const observation = { ...first, rule: rule.id as never, kind: rule.kind, grade: 'wrong' as const };
      const wish = rule.wish?.(analysis, observation);
      if (wish) {
        const standings = standingsOf(analysis, wish);
        assert.ok(standings && worstOf(standings).missing > 0, 'what is met already would prove any remedy');
      }
      if (!rule.drawn) return;
      const [from, to] = rule.drawn(analysis, observation);
      assert.ok(Math.abs(to - from - first.px) < 1, `${from} to ${to} is drawn for ${first.px} px`);
    });
  }
});
