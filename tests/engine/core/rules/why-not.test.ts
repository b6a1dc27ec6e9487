/** Every rule says of a box either what it tells, or what stopped it; a page that differs in that one thing alone is told of. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { observeAll, RULES } from '../../../../src/core/rules/index.ts';
import { groupedAnswers, whyNot, type RuleAnswer } from '../../../../src/core/rules/why-not.ts';
import type { Headless, Opened } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';
import type { Analysis } from '../../../../src/core/analysis.ts';

const HEAD = '<!doctype html><meta name=viewport content="width=device-width, initial-scale=1">';

/** A page on which a rule is stopped at a box, by what, and the same page with a change after which it is not. */
const CASES: [rule: string, selector: string, page: string, stop: RegExp, from: string, to: string][] = [
  [
    'gap/empty-box',
    '.hint',
    '<style>.hint { min-height: 3px }</style><section><p>a</p><div class=hint></div><p>b</p></section>',
    /^visibility: it takes less than 4 px/,
    '3px',
    '40px',
  ],
  [
    'gap/list-padding',
    'ul',
    '<ul><li>a<li>b</ul>',
    /^geometry: it has no items, or they show their marks/,
    '<ul>',
    '<ul style="list-style: none">',
  ],
  [
    'size/declared',
    '.card',
    '<style>.card { width: 300px; padding: 3px }</style><div class=card>a</div>',
    /^evidence: padding and border come on top of its width/,
    '3px',
    '20px',
  ],
  [
    'overflow/own-text',
    'p',
    '<style>p { width: 80px; white-space: nowrap; color: navy }</style><p>A line that may not wrap at all</p>',
    /^visibility: it has no background or border/,
    'color: navy',
    'background: linen',
  ],
  [
    'overlap/siblings',
    '.b',
    '<style>div { height: 60px; background: linen } .b { margin-top: -20px; rotate: 1deg }</style><section><div>one</div><div class=b>two</div></section>',
    /^evidence: a transform moves one of the two/,
    'rotate: 1deg',
    '',
  ],
  [
    'size/percent-height',
    '.fill',
    '<style>.card { min-height: 200px; background: linen } .fill { height: 100%; min-height: 20px }</style><div class=card><div class=fill>a</div></div>',
    /^evidence: min-height: 20px beside it says/,
    'min-height: 20px',
    '',
  ],
];

describe('why rules say nothing', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  async function open(html: string): Promise<{ opened: Opened; analysis: Analysis }> {
    const bytes = new TextEncoder().encode(HEAD + html);
    const files = [{ path: 'index.html', type: 'text/html', bytes }];
    const opened = await headless.open(files, 'index.html', { width: 800, height: 600 });
    return { opened, analysis: await opened.measure() };
  }

  async function answersOf(html: string, selector: string): Promise<RuleAnswer[]> {
    const { opened, analysis } = await open(html);
    const [element] = await opened.ask('find', { selector });
    const answers = await opened.complete(analysis, () => whyNot(analysis, element!));
    await opened.close();
    return answers;
  }

  for (const [rule, selector, page, stop, from, to] of CASES)
    test(`${rule}: ${stop.source}`, async () => {
      const answer = (await answersOf(page, selector)).find((entry) => entry.rule === rule)!;
      assert.equal(answer.outcome, 'stopped', JSON.stringify(answer));
      const { sort, why } = answer.stops[0]!;
      assert.match(`${sort}: ${why}`, stop);
      const changed = await answersOf(page.replace(from, to), selector);
      assert.match(changed.find((entry) => entry.rule === rule)!.outcome, /^(told|doubtful)$/);
    });

  test('what is told is what is found, and each rule answers once for every box', async () => {
    for (const { id, example } of RULES) {
      const { opened, analysis } = await open(example);
      await opened.complete(analysis, () => {
        const found = observeAll(analysis);
        for (let element = 0; element < analysis.tree.count; element++) {
          const answers = whyNot(analysis, element);
          assert.deepEqual(answers.map(({ rule }) => rule).sort(), RULES.map((rule) => rule.id).sort());
          const told = answers.filter(({ outcome }) => /told|doubtful|meant/.test(outcome));
          const about = found.filter(({ subject, other, places }) =>
            [subject, other, ...places].includes(element),
          );
          assert.deepEqual(
            told.map(({ rule }) => rule).sort(),
            [...new Set(about.map(({ rule }) => rule))].sort(),
            id,
          );
          const { groups, others } = groupedAnswers(answers);
          assert.equal(
            groups.reduce((sum, group) => sum + group.answers.length, others),
            RULES.length,
          );
        }
        assert.equal(analysis.stops, null, 'nothing is kept where nobody asks');
      });
      await opened.close();
    }
  });
});
