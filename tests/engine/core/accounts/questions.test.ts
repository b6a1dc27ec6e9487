/** Ten questions that a user asks of the demo, and the words of the answers that the account gives. */
import assert from 'node:assert/strict';
import { join } from 'node:path';
import { after, before, describe, test } from 'node:test';
import { boxAccount, type BoxAccount } from '../../../../src/core/accounts/box.ts';
import { elementAt } from '../../../../src/core/reading/labels.ts';
import type { Headless } from '../../../../src/lib/server/engines/headless.ts';
import { openEngine } from '../../../support/engine.ts';
import { openPage } from '../../../../src/lib/server/engines/source.ts';
import { ROOT } from '../../../../src/lib/server/root.ts';

interface Question {
  ask: string;
  page: string;
  path: string;
  /** What the user reads: a part of the account. */
  read: (box: BoxAccount) => string;
  answer: string;
}

const gap = (where: string) => (box: BoxAccount) => box.gaps.find((gap) => gap.where === where)?.sentence ?? '';
const note = (what: string, axis: 'width' | 'height') => (box: BoxAccount) =>
  box[axis].terms.find((term) => term.what === what)?.note ?? '';

const QUESTIONS: Question[] = [
  {
    ask: 'Why is this card 330 wide when I said 300?',
    page: 'fares.html',
    path: 'body > main > ul > li:nth-child(1)',
    read: ({ width }) => `${width.sentence} ${width.sizing.sentence}`,
    answer:
      '330 wide = 300 content, 10 + 10 padding, 5 + 5 border. width: 300px sets the content box, because box-sizing is content-box by the browser’s default.',
  },
  {
    ask: 'Why is the seat not square?',
    page: 'fares.html',
    path: 'body > main > section:nth-child(4) > ul > li:nth-child(1)',
    read: ({ width, height }) => `${width.sentence} ${height.sentence}`,
    answer: '54 wide = 40 content, 6 + 6 padding, 1 + 1 border. 42 tall = 40 content, 1 + 1 border.',
  },
  {
    ask: 'Why does half the height not work?',
    page: 'fares.html',
    path: 'body > main > section:nth-child(5) > div',
    read: ({ ladder }) => ladder?.sentence ?? '',
    answer:
      'height 50% is ignored: its containing block section.discount has no height of its own: its height is auto.',
  },
  {
    ask: 'What is the white line under the ship?',
    page: 'sailings.html',
    path: 'body > main > div > article:nth-child(1) > div:nth-child(1)',
    read: note('line-below', 'height'),
    answer: 'inline baseline: room for descenders of the line’s 16px font under img',
  },
  {
    ask: 'What is the space above the page?',
    page: 'harbour-guide.html',
    path: 'body',
    read: gap('above'),
    answer:
      '21.44 between the content edge of html and body (above): margins 21.44 and 8 collapse, 21.44 wins; 8 is lost; 21.44 is the margin-top of h1 (the browser’s default): it passes through body, since it has no padding, border or formatting context of its own there.',
  },
  {
    ask: 'How far is the heading from the text, and why?',
    page: 'harbour-guide.html',
    path: 'body > h1',
    read: gap('below'),
    answer: '21.44 between h1 and p (below): margins 21.44 and 16 collapse, 21.44 wins; 16 is lost.',
  },
  {
    ask: 'Why does the stamp lie over the notice?',
    page: 'notices.html',
    path: 'body > main > div > div > p',
    read: gap('above'),
    answer: '−22 between article.notice and p.stamp (above): margins 16 and −38 collapse, −22 is what is left.',
  },
  {
    ask: 'Why does the label not take its width?',
    page: 'booking.html',
    path: 'body > main > form > fieldset:nth-child(1) > label:nth-child(2)',
    read: ({ inert }) => inert.map(({ property, value, why }) => `${property}: ${value}: ${why}`).join('; '),
    answer: 'width: 140px: an inline box takes its width from its text (CSS 2.2 §10.2)',
  },
  {
    ask: 'Why is this column as wide as the others?',
    page: 'timetable.html',
    path: 'body > main > table > tbody > tr:nth-child(2) > td:nth-child(3)',
    read: note('column', 'width'),
    answer: 'column 3 of 6: table-layout: fixed: an equal part of the 1079 that no column claims',
  },
  {
    ask: 'Why does the field stick out of its fieldset?',
    page: 'booking.html',
    path: 'body > main > form > fieldset:nth-child(1) > input',
    read: ({ width }) => `${width.sentence} ${width.terms.find(({ what }) => what === 'content')?.note}`,
    answer:
      '624 wide = 599.63 content, 11.19 + 11.19 padding, 1 + 1 border. 100% = 599.63px: 100 % of 599.63 (width of fieldset)',
  },
];

describe('questions about the demo', () => {
  let headless: Headless;
  before(async () => {
    headless = await openEngine();
  });
  after(() => headless.close());

  for (const { ask, page, path, read, answer } of QUESTIONS)
    test(ask, async () => {
      const source = await openPage(join(ROOT, 'demo', page), null);
      const opened = await headless.openSource(source, { width: 1280, height: 800 });
      const analysis = await opened.measure();
      const element = elementAt(analysis.reading, path);
      assert.ok(element >= 0, path);
      const box = await opened.complete(analysis, () => boxAccount(analysis, element));
      await opened.close();
      assert.equal(read(box), answer);
      for (const { residual, sentence } of [box.width, box.height])
        assert.ok(Math.abs(residual) < 0.05, sentence);
    });
});
