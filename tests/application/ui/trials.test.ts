/** Trying changes on the Bench: edited, measured, undone, kept over a reload, searched with, and taken home. */
import assert from 'node:assert/strict';
import { after, afterEach, before, describe, test } from 'node:test';
import type { Frame, Page } from 'playwright-core';
import { openBench, openDesk, pickBySelector, ready, until, type Desk } from '../../support/app.ts';

/** The page as the user sees it; others of the same address are measured where nobody sees them. */
async function seen(page: Page): Promise<Frame> {
  for (;;) {
    const handle = await page.locator('main iframe').last().elementHandle();
    const frame = await handle?.contentFrame();
    if (frame) return frame;
    // It is being opened anew.
    await page.waitForTimeout(50);
  }
}

const rectIn = async (page: Page, selector: string): Promise<{ width: number; height: number }> =>
  (await seen(page)).evaluate((wanted) => {
    const { width, height } = document.querySelector(wanted)!.getBoundingClientRect();
    return { width, height };
  }, selector);

/** The specimen by itself, with nothing of ours around it: what an answer is checked against. */
async function bareOf(page: Page, { browser }: Desk, width: number): Promise<Page> {
  const bare = await browser.newPage({ viewport: { width, height: 800 } });
  await bare.goto((await seen(page)).url());
  return bare;
}

const styled = (page: Page, css: string) =>
  page.evaluate((text) => {
    const style =
      document.querySelector('style[data-own]') ??
      document.documentElement.appendChild(document.createElement('style'));
    style.setAttribute('data-own', '');
    style.textContent = text;
    return Array.from(document.querySelectorAll('*'), (element) => {
      const { x, y, width, height } = element.getBoundingClientRect();
      return { x, y, width, height };
    });
  }, css);

/** Waits until something is as it should be, then asserts it. */
async function comesTo<T>(read: () => Promise<T>, wanted: T): Promise<void> {
  // While the page is opened anew there is nothing to read.
  const attempt = () => read().catch((error: unknown) => String(error));
  assert.equal(await until(attempt, (found) => found === wanted), wanted);
}

describe('trials', () => {
  let desk: Desk;
  before(async () => {
    desk = await openDesk();
  });
  afterEach(() => desk.clear());
  after(() => desk.close());

  test('a value is stepped, muted, undone and redone; the page, the account and what moved follow', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Fares', '?w=1100');
    await pickBySelector(page, 'li.fare');
    await page.locator('[data-edit=width]').click();
    const input = page.locator('[data-value-edit]');
    await input.press('ArrowDown');
    await input.press('Shift+ArrowDown');
    await input.press('Enter');
    await comesTo(async () => (await rectIn(page, 'li.fare')).width, 319);
    await page.getByText('319 wide = 289 content', { exact: false }).first().waitFor();
    assert.equal(await page.locator('[data-edit-row]').count(), 1);
    assert.match(
      await page.locator('[data-edits]').innerText(),
      /in css\/fares\.css, line 12, rule \.fare: width 300px becomes 289px/,
    );
    await page.locator('[data-part=moved]').click();
    assert.match(await page.locator('[data-moved]').innerText(), /li\.fare\s+−?-?11 wide/);
    assert.ok((await page.locator('[data-ghost]').count()) > 0);

    await page.locator('[data-edit=padding]').focus();
    await page.keyboard.press('x');
    await comesTo(async () => (await rectIn(page, 'li.fare')).width, 299);
    await page.getByRole('button', { name: 'Undo' }).click();
    await comesTo(async () => (await rectIn(page, 'li.fare')).width, 319);
    await page.getByRole('button', { name: 'Redo' }).click();
    await comesTo(async () => (await rectIn(page, 'li.fare')).width, 299);

    await page.locator('[data-part=edits]').click();
    await page.getByLabel('Edit 2 is laid over the page').uncheck();
    await comesTo(async () => (await rectIn(page, 'li.fare')).width, 319);

    // It is there again after a reload, and the files are as they were.
    await page.reload();
    await ready(page);
    assert.equal((await rectIn(page, 'li.fare')).width, 319);
    await page.locator('[data-trials]').selectOption({ label: 'no trial: the page as it is' });
    await comesTo(async () => (await rectIn(page, 'li.fare')).width, 330);
    assert.deepEqual(errors, []);
  });

  test('a declaration is added, an element taken out and brought back, a state forced', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Fares', '?w=1100');
    await pickBySelector(page, 'h1');
    await page.locator('[data-add]').fill('widht: 3px');
    await page.locator('[data-add]').press('Enter');
    assert.match(await page.getByRole('alert').innerText(), /“widht: 3px” does nothing/);
    await page.locator('[data-add]').fill('padding: 3px 7px; height: 90px');
    await page.locator('[data-add]').press('Enter');
    await comesTo(async () => (await rectIn(page, 'h1')).height, 96);
    await page.locator('[data-edit=height]').click();
    await page.locator('[data-value-edit]').fill('50px');
    await page.locator('[data-value-edit]').press('Enter');
    await comesTo(async () => (await rectIn(page, 'h1')).height, 56);
    assert.equal(await page.locator('[data-edit-row]').count(), 2);

    await pickBySelector(page, 'li.fare.best');
    await page.keyboard.press('Escape');
    await pickBySelector(page, 'li.fare.best');
    await page.locator('[data-selector]').evaluate((node) => (node as HTMLElement).blur());
    await page.keyboard.press('Delete');
    const count = async (selector: string) => (await seen(page)).locator(selector).count();
    await page.waitForFunction(() => document.querySelectorAll('[data-edit-row=remove]').length === 1);
    await comesTo(() => count('li.fare.best'), 0);
    await comesTo(async () => (await rectIn(page, 'h1')).height, 56);
    await page.getByRole('button', { name: 'Undo' }).click();
    await comesTo(() => count('li.fare.best'), 1);

    await pickBySelector(page, 'nav a');
    await page.getByLabel(':hover').check();
    await comesTo(() => count('nav a[data-normetra-state~=hover]'), 1);
    assert.deepEqual(errors, []);
  });

  test('box sides are stepped and dragged on the bars, one or all, and written as short as can be', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Fares', '?w=1100');
    await pickBySelector(page, 'li.fare');
    const grip = page.locator('[data-grip="padding left"]');
    await grip.press('ArrowUp');
    await comesTo(async () => (await rectIn(page, 'li.fare')).width, 331);
    const edits = () => page.locator('[data-edits]').innerText();
    assert.match(await edits(), /padding 10px becomes 10px 10px 10px 11px/);
    await page.locator('[data-together]').selectOption('all');
    await page.locator('[data-grip="padding top"]').press('Shift+ArrowUp');
    await comesTo(async () => (await rectIn(page, 'li.fare')).width, 350);
    assert.match(await edits(), /padding 10px becomes 20px/);
    assert.equal(await page.locator('[data-edit-row]').count(), 1);

    await page.locator('[data-together]').selectOption('axis');
    const right = page.locator('[data-grip="padding right"]');
    await right.scrollIntoViewIfNeeded();
    const margin = (await right.boundingBox())!;
    await page.mouse.move(margin.x + margin.width / 2, margin.y + margin.height / 2);
    await page.mouse.down();
    for (let step = 1; step <= 5; step++)
      await page.mouse.move(margin.x - 2 * step + margin.width / 2, margin.y + 4);
    await page.mouse.up();
    await comesTo(async () => (await rectIn(page, 'li.fare')).width, 370);
    assert.match(await edits(), /padding 10px becomes 20px 30px/);
    // All moves of the pointer are one step.
    await page.getByRole('button', { name: 'Undo' }).click();
    await comesTo(async () => (await rectIn(page, 'li.fare')).width, 350);

    // What moved says why; held against another width, it tells what is different from there.
    await page.locator('[data-part=moved]').click();
    await page
      .locator('[data-moved] li', { hasText: /^\s*li\.fare/ })
      .locator('[data-why]')
      .first()
      .click();
    assert.match(
      await page.locator('[data-reason]').innerText(),
      /Its width is 350, it was 330[\s\S]*\+10\s+padding-left\s+10 → 20[\s\S]*padding: 10px → 20px/,
    );
    await page.locator('[data-against]').selectOption('width');
    await page.getByLabel('Width to hold against, in px').fill('700');
    await page.getByLabel('Width to hold against, in px').press('Enter');
    await page.getByText(/it was 6\d\d ×/).waitFor();
    assert.deepEqual(errors, []);
  });

  test('edits stand under a name; those that a new revision has nothing for are told', async () => {
    const { page, errors } = await desk.page();
    await page.goto(desk.app.url);
    const html = (rule: string) =>
      `<!doctype html><style>${rule} p { margin: 5px }</style><div class=a>one</div><p>two`;
    const file = (rule: string) => ({
      name: 'index.html',
      mimeType: 'text/html',
      buffer: Buffer.from(html(rule)),
    });
    await page.locator('[data-specimen]').first().waitFor();
    await page.locator('[data-bring=files]').setInputFiles([file('.a { width: 90px }')]);
    await page.waitForURL(/bench/);
    await ready(page);
    await pickBySelector(page, '.a');
    await page.locator('[data-edit=width]').click();
    await page.locator('[data-value-edit]').fill('70px');
    await page.locator('[data-value-edit]').press('Enter');
    await comesTo(async () => (await rectIn(page, '.a')).width, 70);
    await pickBySelector(page, 'p');
    await page.locator('[data-edit=margin]').click();
    await page.locator('[data-value-edit]').fill('25px');
    await page.locator('[data-value-edit]').press('Enter');
    await comesTo(() => page.locator('[data-edit-row]').count(), 2);
    for (const row of [0, 1]) {
      await page.locator('[data-group-edit]').nth(row).click();
      await page.getByLabel('Name of the group').fill('narrower');
      await page.getByLabel('Name of the group').press('Enter');
    }
    await page.locator('[data-group=narrower] input').uncheck();
    await comesTo(async () => (await rectIn(page, '.a')).width, 90);
    await page.locator('[data-group=narrower] input').check();
    await comesTo(async () => (await rectIn(page, '.a')).width, 70);

    await page.locator('[data-replace]').setInputFiles([file('.b { width: 90px }')]);
    await page.locator('[data-lost-edits]').waitFor();
    assert.match(
      await page.locator('[data-lost-edits]').innerText(),
      /One edit finds nothing to change in revision 2[\s\S]*no rule \.a/,
    );
    await page.getByRole('button', { name: 'Drop it' }).click();
    await comesTo(() => page.locator('[data-edit-row]').count(), 1);
    await page.locator('[data-part=moved]').click();
    await page.locator('[data-against]').selectOption({ label: 'revision 1 of the files' });
    await page.getByText('the largest change is', { exact: false }).waitFor();
    assert.deepEqual(errors, []);
  });

  test('the value at which something happens is found, as a scan finds it', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Fares', '?w=1100');
    await pickBySelector(page, 'li.fare');
    await page.locator('[data-trial]').click();
    await page.locator('[data-part=seek]').click();
    await page.locator('[data-quantity]').selectOption({ label: 'height of the page' });
    await page.locator('[data-seek-to]').fill('400');
    await page.locator('[data-seek-run]').click();
    const answer = page.locator('[data-seek-answer]');
    await answer.waitFor();
    // Measured by hand: the style of every value in a bare page.
    const bare = await bareOf(page, desk, 1100);
    const heights = await bare.evaluate(() => {
      const style = document.head.appendChild(document.createElement('style'));
      return Array.from({ length: 401 }, (_, value) => {
        style.textContent = `.fare { width: ${value}px !important }`;
        return document.documentElement.scrollHeight;
      });
    });
    await bare.close();
    const other = heights.flatMap((height, value) => (height === heights[300] ? [] : [value]));
    const starts = other.filter((value) => !other.includes(value - 1));
    for (const start of starts) {
      let end = start;
      while (other.includes(end + 1)) end++;
      assert.match(await answer.innerText(), new RegExp(`from ${start}px to ${end}px`));
    }
    assert.ok(starts.length > 0);
    await page.locator('[data-chart] svg').waitFor();
    assert.deepEqual(errors, []);
  });

  test('what a scrollbar needs is found among elements and among declarations, and taken home', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'sailings', '?w=1280');
    await page.locator('[data-trial]').click();
    await page.locator('[data-part=isolate]').click();
    await page.locator('[data-isolate-run]').click();
    const answer = page.locator('[data-isolate-answer]');
    await answer.waitFor();
    assert.match(await page.locator('[data-isolate]').innerText(), /p\.ticker \(body > p\)/);
    assert.match(await answer.innerText(), /\d+\s+with\s+this,\s+0\s+without/);
    assert.equal(await page.getByText('Hidden, it takes it away').count(), 0);
    await page.locator('[data-isolate-over]').selectOption('declarations');
    await page.locator('[data-isolate-run]').click();
    await page.getByText('.ticker { white-space: nowrap }').first().waitFor();
    await page.getByRole('button', { name: 'Try without it' }).click();
    await page.locator('[data-part=home]').click();
    const diff = page.locator('[data-diff]');
    await diff.waitFor();
    assert.match(await diff.innerText(), /--- a\/css\/board\.css[\s\S]*\n-\s+white-space: nowrap;/);
    assert.match(
      await page.locator('[data-note]').innerText(),
      /rule \.ticker: white-space: nowrap is taken out/,
    );
    assert.deepEqual(errors, []);
  });

  test('names, keywords, the page’s own variables and units in use are offered, and what is taken is measured', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Fares', '?w=1100');
    await pickBySelector(page, '.plan');
    const added = page.locator('[data-add]');
    const offered = (input: typeof added) =>
      input.evaluate((node) =>
        Array.from((node as HTMLInputElement).list?.options ?? [], ({ value, label }) => ({ value, label })),
      );
    const rows = [
      { typed: 'padd', has: 'padding-left: ', not: 'margin-left: ' },
      { typed: 'display: fl', has: 'display: flex', not: 'display: grid' },
      { typed: 'color: red; box-sizing: b', has: 'color: red; box-sizing: border-box', not: 'color: red' },
      { typed: 'width: 12', has: 'width: 12rem', not: 'width: 12vmax' },
      { typed: 'background: var(', has: 'background: var(--rope)', not: 'background: var(--none)' },
    ];
    for (const { typed, has, not } of rows) {
      await added.fill(typed);
      const values = (await offered(added)).map(({ value }) => value);
      assert.ok(values.includes(has), `${typed} is offered ${has}: ${values.join(' | ')}`);
      assert.ok(!values.includes(not), `${typed} is not offered ${not}`);
    }
    const rope = (await offered(added)).find(({ value }) => value === 'background: var(--rope)')!;
    const bare = await bareOf(page, desk, 1100);
    assert.equal(
      rope.label,
      await bare.evaluate(() => getComputedStyle(document.documentElement).getPropertyValue('--rope').trim()),
    );

    await added.fill('padding-left: 12rem');
    await added.press('Enter');
    const plan = (await styled(bare, '.plan { padding-left: 12rem }'))[
      await bare.evaluate(() =>
        [...document.querySelectorAll('*')].findIndex((element) => element.matches('.plan .text')),
      )
    ]!;
    await comesTo(async () => (await rectIn(page, '.plan .text')).width, plan.width);
    await page.locator('[data-edit=display]').first().click();
    const value = page.locator('[data-value-edit]');
    await value.fill('gri');
    assert.deepEqual(
      (await offered(value)).map((entry) => entry.value),
      ['grid'],
    );
    await bare.close();
    assert.deepEqual(errors, []);
  });

  test('the padding at which two edges meet is found to the step asked for', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Fares', '?w=1280');
    const from = async (selector: string) => {
      await pickBySelector(page, selector);
      await page.locator('[data-take-edge]').click();
    };
    await from('.plan h2');
    await from('li.fare h2');
    await page.locator('[data-pinned]').getByText('4.19', { exact: true }).waitFor();
    await pickBySelector(page, 'li.fare');
    await page.locator('[data-trial]').click();
    await page.locator('[data-part=seek]').click();
    await page.locator('[data-seek-declaration]').selectOption({ label: 'padding: 10px' });
    await page.getByLabel('Step').fill('0.1');
    await page.locator('[data-quantity]').selectOption({ label: 'the distance measured last' });
    await page.locator('[data-target]').selectOption('equal');
    await page.locator('[data-target-value]').fill('0');
    await page.locator('[data-seek-run]').click();
    const answer = page.locator('[data-seek-answer]');
    await answer.waitFor();

    const bare = await bareOf(page, desk, 1280);
    const left = (index: number, value: string) =>
      styled(bare, `.fare { padding: ${value} !important }`).then((rects) => rects[index]!.x);
    const [card, plan] = await bare.evaluate(() => {
      const all = [...document.querySelectorAll('*')];
      return ['li.fare h2', '.plan h2'].map((text) => all.indexOf(document.querySelector(text)!));
    });
    const meeting: string[] = [];
    for (let tenth = 0; tenth <= 200; tenth++) {
      const value = `${tenth / 10}px`;
      if (Math.abs((await left(card!, value)) - (await left(plan!, value))) < 0.05) meeting.push(value);
    }
    await bare.close();
    assert.deepEqual(meeting, ['14.2px']);
    assert.match(await answer.innerText(), /with padding at 14\.2px\./);
    await page.getByRole('button', { name: 'Try padding: 14.2px' }).click();
    await page.locator('[data-pinned]').getByText('0', { exact: true }).waitFor();
    assert.deepEqual(errors, []);
  });

  test('two trials are compared by a number and by what else they move, at four widths, and drawn over the page', async () => {
    const { page, errors } = await desk.page();
    await openBench(page, desk.app.url, 'Fares', '?w=1100');
    await pickBySelector(page, 'li.fare');
    const set = async (property: string, value: string, width: number) => {
      await page.locator(`[data-edit=${property}]`).click();
      await page.locator('[data-value-edit]').fill(value);
      await page.locator('[data-value-edit]').press('Enter');
      await comesTo(async () => (await rectIn(page, 'li.fare')).width, width);
    };
    const name = async (words: string) => {
      await page.getByRole('button', { name: 'Rename' }).click();
      await page.getByLabel('Name of the trial').fill(words);
      await page.getByLabel('Name of the trial').press('Enter');
    };
    await set('width', '250px', 280);
    await name('narrow');
    await page.getByRole('button', { name: 'Fork' }).click();
    await name('roomy');
    await set('padding', '30px', 320);
    await page.locator('[data-part=compare]').click();
    for (const words of ['narrow', 'roomy']) await page.locator('[data-compare]').getByLabel(words).check();
    await page.locator('[data-compare] [data-quantity]').selectOption({ label: 'height of the page' });
    await page.locator('[data-compare-run]').click();
    await page.locator('[data-compared-row]').nth(7).waitFor();

    const css = ['.fare { width: 250px }', '.fare { width: 250px; padding: 30px }'];
    for (const width of [1100, 360, 768, 1280]) {
      const bare = await bareOf(page, desk, width);
      const plain = await styled(bare, '.fare { width: 300px; padding: 10px }');
      const height = () => bare.evaluate(() => document.documentElement.scrollHeight);
      const without = await height();
      const rows = page.locator(`[data-compared-row="${width}"]`);
      assert.equal(await rows.count(), 2);
      for (const [at, text] of css.entries()) {
        const under = await styled(bare, text);
        const cells = (await rows.nth(at).locator('td').allInnerTexts()).map((innerText) => innerText.trim());
        const other = under.filter((rect, i) =>
          (['x', 'y', 'width', 'height'] as const).some(
            (side) => Math.abs(rect[side] - plain[i]![side]) > 0.05,
          ),
        );
        assert.match(cells[0]!, at === 0 ? /^A\s*narrow$/ : /^B\s*roomy$/);
        assert.deepEqual(
          [cells[1], cells[2], Number(cells[3]) + Number(cells[4]), cells[6]],
          [String(await height()), String(without), other.length, '3'],
          `${text} at ${width}`,
        );
      }
      await bare.close();
    }
    for (const letter of ['A', 'B'])
      assert.ok((await page.locator(`[data-compared-outline=${letter}]`).count()) >= 1);
    assert.equal(await page.locator('[data-ghost]').count(), 0);
    await page.locator('[data-part=edits]').click();
    assert.equal(await page.locator('[data-compared-outline]').count(), 0);
    assert.deepEqual(errors, []);
  });
});
