/** The Matrix: a page in every engine that there is, in the real interface. */
import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { presentEngines } from '../../../src/lib/server/engines/drivers/index.ts';
import { openBench, openDesk, type Desk } from '../../support/app.ts';

const present = presentEngines();
const others = present.filter((name) => name !== 'chromium');
const MEASURED_MS = 120_000;

describe('the Matrix', { skip: others.length === 0 ? 'there is one engine alone here' : false }, () => {
  let desk: Desk;
  let page: Page;
  before(async () => {
    desk = await openDesk();
    ({ page } = await desk.page());
  });
  after(() => desk.close());

  test('a page in all engines, each cause with its numbers and the two sums', async () => {
    const { app } = desk;
    await openBench(page, app.url, 'booking', '?w=1280');
    await page.getByRole('link', { name: 'Matrix' }).click();
    await page.locator('[data-status=running]').waitFor();
    await page.locator('[data-status=done]').waitFor({ timeout: MEASURED_MS });
    assert.equal(await page.locator('[data-against]').count(), others.length);
    const causes = page.locator('[data-cause]');
    assert.ok((await causes.count()) > 1, 'there are causes');
    assert.equal(await page.locator('[data-cause=unexplained]').count(), 0);
    const px = await causes
      .locator('.num')
      .evaluateAll((list) => list.map((one) => Number.parseFloat(one.textContent)));
    assert.ok(px.length > 1, 'they have numbers');

    await page.locator('[data-cause] table button').first().click();
    assert.ok((await page.locator('[data-terms] tbody tr').count()) > 0, 'the two sums are shown');

    // One engine's outlines, and the other's.
    const sides = () =>
      page.locator('[data-side]').evaluateAll((list) => list.map((g) => g.getAttribute('data-side')));
    assert.deepEqual(await sides(), ['first', 'second']);
    await page.keyboard.press('b');
    assert.deepEqual(await sides(), ['first']);
    await page.keyboard.press('b');
    assert.deepEqual(await sides(), ['second']);
    await page.keyboard.press('Escape');
    assert.deepEqual(await sides(), ['first', 'second']);
    assert.ok((await page.locator('[data-matrix-findings] tbody tr').count()) > 0, 'there are findings');
  });

  test('fewer columns, and what is on screen then', async () => {
    const again = page.getByRole('button', { name: 'Measure again' });
    for (const title of ['Firefox ESR', 'WebKitGTK']) {
      const box = page.getByRole('checkbox', { name: title });
      if (await box.isEnabled()) await box.uncheck();
    }
    assert.equal(await again.isDisabled(), true);
    await page.getByRole('checkbox', { name: 'nothing' }).check();
    await again.click();
    await page.locator('[data-status=running]').waitFor();
    await page.locator('[data-status=done]').waitFor({ timeout: MEASURED_MS });
    assert.equal(await page.getByRole('heading', { name: 'nothing defaults against chromium' }).count(), 1);
    assert.ok((await page.locator('[data-cause=default]').count()) > 0, 'other defaults are causes');
  });

  test('it can be stopped', async () => {
    await page.getByRole('button', { name: 'Measure again' }).click();
    await page.getByRole('button', { name: 'Stop' }).click();
    await page.locator('[data-status=done]').waitFor();
  });

  test('the server says which engines there are, and refuses what cannot be', async () => {
    const { app } = desk;
    const list = (await (await page.request.get(`${app.url}/api/engines`)).json()) as {
      name: string;
      why: string | null;
    }[];
    assert.deepEqual(
      list.filter(({ why }) => why === null).map(({ name }) => name),
      present,
    );
    const id = /matrix\/(\w+)/.exec(page.url())![1]!;
    const ask = (more: object) =>
      page.request.post(`${app.url}/api/specimens/${id}/matrix`, {
        headers: { origin: app.url },
        data: { revision: 1, page: 'booking.html', width: 800, height: 600, engines: ['chromium'], ...more },
      });
    for (const [more, status, words] of [
      [{}, 400, /names only one thing/],
      [{ engines: ['chromium', 'a b'] }, 400, /is the name of an engine/],
      [{ engines: ['chromium', 'firefox'], page: 'none.html' }, 404, /no such page/],
      [{ engines: ['chromium', 'firefox'], width: 20 }, 400, /width/],
    ] as const) {
      const response = await ask(more);
      assert.equal(response.status(), status);
      assert.match(((await response.json()) as { error: string }).error, words);
    }
    const unknown = await ask({ engines: ['chromium', 'opera'] });
    assert.match(await unknown.text(), /event: problem\ndata: .*--engine is chromium, firefox, webkit/);
  });
});
