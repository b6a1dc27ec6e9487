/** The Bench by keyboard, folded, on small screens, beside another client, and on pages that are odd. */
import assert from 'node:assert/strict';
import { after, afterEach, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { openBench, openDesk, pickBySelector, ready, until, type Desk } from '../../support/app.ts';
import { clientOf } from '../../support/client.ts';

const focused = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const at = document.activeElement;
    if (!at || at === document.body) return 'body';
    return at.hasAttribute('data-stage') ? 'stage' : Object.keys((at as HTMLElement).dataset).join(' ');
  });

describe('the Bench', () => {
  let desk: Desk;
  before(async () => {
    desk = await openDesk();
  });
  afterEach(() => desk.clear());
  after(() => desk.close());

  const bring = async (page: Page, html: string, css = ''): Promise<string> => {
    const id = await clientOf(desk.app).make(html, css);
    await page.goto(`${desk.app.url}/bench/${id}`);
    return id;
  };

  test('the selector field gives the page the focus, where arrow keys walk', async () => {
    const { page } = await desk.page();
    await openBench(page, desk.app.url, 'Fares');
    await page.keyboard.press('/');
    await page.locator('[data-selector]').fill('main p');
    await page.keyboard.press('Escape');
    assert.equal(await focused(page), 'stage');
    await pickBySelector(page, 'main p');
    await until(
      () => focused(page),
      (at) => at === 'stage',
    );
    const first = await page.locator('[data-account]').getAttribute('data-account');
    await page.keyboard.press('ArrowUp');
    await until(
      () => page.locator('[data-account]').getAttribute('data-account'),
      (now) => now !== first,
    );
    assert.notEqual(await page.locator('[data-account]').getAttribute('data-account'), first);
  });

  test('the list of keys opens from everywhere but a text field', async () => {
    const { page } = await desk.page();
    await openBench(page, desk.app.url, 'Fares');
    await page.locator('[data-outline]').focus();
    await page.keyboard.press('?');
    await page.getByRole('dialog').waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await page.locator('[data-selector]').focus();
    await page.keyboard.type('?w');
    assert.equal(await page.locator('[data-selector]').inputValue(), '?w');
    assert.equal(await page.getByRole('dialog').count(), 0);
  });

  test('the focus stays after a value was changed, and after a reading was saved', async () => {
    const { page } = await desk.page();
    await bring(page, '<title>F</title><p class=box>x', '.box { padding: 4px }');
    await ready(page);
    await pickBySelector(page, '.box');
    await page.locator('[data-edit=padding]').click();
    await page.locator('[data-value-edit]').fill('9px');
    await page.keyboard.press('Enter');
    await page.locator('[data-edit=padding]', { hasText: '9px' }).waitFor();
    await ready(page);
    assert.equal(
      await until(
        () => focused(page),
        (at) => at === 'edit',
      ),
      'edit',
    );
    await page.locator('[data-save]').click();
    await page.keyboard.press('Enter');
    assert.equal(
      await until(
        () => focused(page),
        (at) => at === 'save',
      ),
      'save',
    );
  });

  test('a key opens the Sweep, and the same goes back', async () => {
    const { page } = await desk.page();
    await openBench(page, desk.app.url, 'Fares');
    await page.keyboard.press('v');
    await page.waitForURL(/\/sweep\//);
    await page.locator('[data-status]').waitFor({ state: 'attached' });
    await page.keyboard.press('v');
    await page.waitForURL(/\/bench\//);
  });

  test('both sides fold, and stay so; the page has the room', async () => {
    const { page } = await desk.page();
    await openBench(page, desk.app.url, 'Fares');
    await page.keyboard.press('{');
    await page.keyboard.press('}');
    const zoom = () => page.locator('[data-zoom]').innerText();
    const shown = await until(zoom, (text) => Number.parseInt(text, 10) >= 75);
    assert.ok(Number.parseInt(shown, 10) >= 75, `at 1280 x 800 it is shown at ${shown}`);
    await page.reload();
    await ready(page);
    assert.equal(await page.locator('[data-account-panel]').isVisible(), false);
    await page.locator('[data-fold=right]').click();
    assert.equal(await page.locator('[data-account-panel]').isVisible(), true);
  });

  for (const [width, height] of [
    [800, 700],
    [640, 400],
  ] as const)
    test(`everything can be reached at ${width} x ${height}`, async () => {
      const { page } = await desk.page();
      await page.setViewportSize({ width, height });
      await openBench(page, desk.app.url, 'Fares');
      await pickBySelector(page, 'main p');
      const beyond = await page.evaluate(
        () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
      );
      assert.ok(beyond <= 0, `it scrolls sideways by ${beyond} px`);
      for (const part of [
        '[data-findings]',
        '[data-account-panel]',
        '[data-stage]',
        '[data-trial]',
        '[data-save]',
        '[data-scripts]',
      ]) {
        await page.locator(part).first().scrollIntoViewIfNeeded();
        const box = (await page.locator(part).first().boundingBox())!;
        assert.ok(box.width > 10 && box.x >= 0 && box.x < width, `${part} is at ${box.x}, ${box.width} wide`);
      }
    });

  test('searches begin with the picked finding', async () => {
    const { page } = await desk.page();
    await bring(
      page,
      '<title>W</title><meta name=viewport content="width=device-width"><p class=a>some text</p><div class=wide>too wide</div>',
      '.wide { width: 3000px; padding: 3px } .a { margin: 7px }',
    );
    await ready(page);
    await page.locator('[data-finding=overflow] button').first().click();
    await page.locator('[data-blame] [data-remedy], [data-blame] p').first().waitFor();
    await page.locator('[data-trial]').click();
    await page.locator('[data-part=isolate]').click();
    assert.match(
      await page.locator('[data-quantity] option').first().innerText(),
      /number of overflow: div\.wide/,
    );
    assert.equal(await page.locator('[data-target]').inputValue(), 'at-most');
    await page.locator('[data-part=seek]').click();
    await until(
      () => page.locator('[data-seek-declaration]').inputValue(),
      (value) => /width/.test(value),
    );
    assert.match(
      await page.locator('[data-seek-declaration] option:checked').innerText(),
      /^width: 3000px/,
      'the culprit is the declaration',
    );
  });

  /** A trial with one edit, to which another client has added one since. */
  async function changedElsewhere() {
    const { page } = await desk.page();
    const client = clientOf(desk.app);
    const id = await bring(page, '<title>T</title><p class=box>x<p class=b>y', '.box { padding: 4px }');
    await ready(page);
    await pickBySelector(page, '.box');
    const edit = async (value: string) => {
      await page.locator('[data-edit=padding]').click();
      await page.locator('[data-value-edit]').fill(value);
      await page.keyboard.press('Enter');
      await ready(page);
    };
    await edit('5px');
    const trials = async () =>
      (await client.ask('GET', `/api/specimens/${id}/trials`)).json<
        { id: string; name: string; version: number; edits: { id: string }[] }[]
      >();
    const [trial] = await until(trials, ([first]) => first?.edits.length === 1);
    const theirs = {
      id: 'theirs',
      change: { do: 'remove', file: 'index.html', path: 'body > p:nth-of-type(2)' },
    };
    const changed = await client.ask('PATCH', `/api/trials/${trial!.id}`, {
      version: trial!.version,
      edits: [...trial!.edits, theirs],
    });
    assert.equal(changed.status, 200, changed.text);
    return { page, edit, trials };
  }

  test('a trial that another client changed: both are shown, and both can be taken', async () => {
    const { page, edit, trials } = await changedElsewhere();
    await edit('6px');
    const dialog = page.locator('[data-conflict]');
    await dialog.waitFor();
    assert.match(await dialog.innerText(), /was changed elsewhere[\s\S]*Nothing was overwritten/);
    for (let i = 0; i < 3; i++) await page.keyboard.press('Escape');
    assert.ok(await dialog.isVisible(), 'a question is answered, not left');
    await dialog.locator('[data-take=both]').click();
    const merged = await until(trials, ([first]) => (first?.edits.length ?? 0) >= 3);
    const text = JSON.stringify(merged[0]!.edits);
    assert.ok(text.includes('theirs') && text.includes('6px'), text);
  });

  test('a trial that another client changed is renamed, and its edits stay', async () => {
    const { page, edit, trials } = await changedElsewhere();
    const renaming = page.locator('[data-trial-sheet] button', { hasText: 'Rename' });
    await renaming.click();
    await page.keyboard.insertText('Mine');
    await page.keyboard.press('Enter');
    await until(
      () => renaming.evaluate((button) => document.activeElement === button),
      (isFocused) => isFocused,
    );
    await until(trials, ([first]) => /Mine/.test(first?.name ?? ''));
    await ready(page);
    await edit('6px');
    const [kept] = await until(trials, ([first]) => JSON.stringify(first?.edits).includes('6px'));
    assert.ok(JSON.stringify(kept!.edits).includes('theirs'), JSON.stringify(kept!.edits));
    assert.match(kept!.name, /Mine/);
  });

  const ODD =
    '.a { position: absolute; left: -9999px } .b { position: absolute; left: -999em } .c { position: absolute; left: -999119px; top: -99999px }';
  test('helpers that lie far outside are measured like anything else', async () => {
    const { page, errors } = await desk.page();
    const id = await bring(page, '<title>Far</title><p class=box>x<p class=a>a<p class=b>b<p class=c>c', ODD);
    await page.goto(`${desk.app.url}/bench/${id}?w=360`);
    await ready(page);
    await page.waitForTimeout(500);
    assert.equal(await page.locator('[data-failure], [data-notice=wrong]').count(), 0);
    assert.deepEqual(errors, []);
    await pickBySelector(page, '.a');
  });

  test('a page that is empty without its scripts says so, and offers to run them', async () => {
    const { page } = await desk.page();
    await bring(
      page,
      '<title>E</title><div id=app></div><script>app.textContent = "made"; throw new Error("at the end")</script>',
    );
    await ready(page);
    await page.locator('[data-empty]').waitFor();
    await page.locator('[data-empty] button').click();
    await page.locator('[data-empty]').waitFor({ state: 'detached' });
    await page.locator('[data-script-failures]').waitFor();
    assert.match(
      await page.locator('[data-script-failures]').innerText(),
      /1 failure of scripts[\s\S]*at the end/i,
    );
  });

  test('what went wrong can be closed, and says what still works', async () => {
    const { page } = await desk.page();
    await bring(
      page,
      '<title>G</title><p>x<script>setTimeout(() => { location = "other.html" }, 1500)</script>',
    );
    await ready(page);
    await page.locator('[data-scripts]').click();
    const failure = page.locator('[data-failure]');
    await failure.waitFor();
    assert.match(await failure.innerText(), /files, trials and saved readings are as they were/);
    await page.locator('[data-close-failure]').click();
    await failure.waitFor({ state: 'detached' });
    await page.locator('body').press('r');
    await ready(page);
    await failure.waitFor();
  });
});
