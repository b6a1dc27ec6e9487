/** Every view, by day and by night, has nothing that axe-core finds wrong (WCAG 2.2 A and AA, and its best practices). */
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { after, afterEach, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { openBench, openDesk, pickBySelector, type Desk } from '../../support/app.ts';

const SOURCE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

interface Violation {
  id: string;
  help: string;
  nodes: { html: string; failureSummary?: string }[];
}

async function violations(page: Page): Promise<string[]> {
  const found = (await page.evaluate(`(async () => {
    const module = undefined, exports = undefined;
    ${SOURCE};
    const { violations } = await axe.run(document, { iframes: false, resultTypes: ['violations'] });
    return violations;
  })()`)) as Violation[];
  return found.map(
    ({ id, help, nodes }) =>
      `${id}: ${help}: ${nodes.length} times, ${nodes
        .slice(0, 3)
        .map(
          ({ html, failureSummary }) =>
            `${html.slice(0, 160)} (${failureSummary?.split('\n').at(1)?.trim() ?? ''})`,
        )
        .join('; ')}`,
  );
}

describe('accessibility', () => {
  let desk: Desk;
  before(async () => {
    desk = await openDesk();
  });
  afterEach(() => desk.clear());
  after(() => desk.close());

  const VIEWS: [string, (page: Page) => Promise<unknown>][] = [
    [
      'the Matrix',
      async (page) => {
        await openBench(page, desk.app.url, 'booking');
        await page.getByRole('link', { name: 'Matrix' }).click();
        await page.locator('[data-status=done]').waitFor({ timeout: 120_000 });
        await page.locator('[data-cause] table button').first().click();
      },
    ],
    ['the Shelf', async (page) => page.goto(desk.app.url)],
    [
      'the Bench',
      async (page) => {
        await openBench(page, desk.app.url, 'sailings');
        await page.locator('[data-finding]').first().waitFor();
      },
    ],
    [
      'the Bench with a pick and a finding',
      async (page) => {
        await openBench(page, desk.app.url, 'Fares');
        await page.locator('[data-finding] button').first().click();
        await page.locator('[data-blame]').first().waitFor();
        await pickBySelector(page, 'main p');
      },
    ],
    ...['edits', 'moved', 'seek', 'isolate', 'compare', 'home'].map(
      (part): [string, (page: Page) => Promise<void>] => [
        `the trial, part ${part}`,
        async (page) => {
          await openBench(page, desk.app.url, 'Fares');
          await pickBySelector(page, 'main p');
          await page.locator('[data-trial]').click();
          await page.locator(`[data-part=${part}]`).click();
        },
      ],
    ),
    [
      'the keys',
      async (page) => {
        await openBench(page, desk.app.url, 'Fares');
        await page.keyboard.press('?');
        await page.getByRole('dialog').waitFor();
      },
    ],
    [
      'the Sweep',
      async (page) => {
        await page.goto(desk.app.url);
        const href = await page.locator('[data-specimen] h2 a').first().getAttribute('href');
        await page.goto(`${desk.app.url}${href!.replace('bench', 'sweep')}`);
        await page.locator('[data-status=done]').waitFor({ state: 'attached' });
      },
    ],
    [
      'the Atlas',
      async (page) => {
        await page.goto(`${desk.app.url}/atlas`);
        await page.waitForTimeout(1500);
      },
    ],
    ['an address that is none', async (page) => page.goto(`${desk.app.url}/bench/none`)],
  ];
  for (const [name, open] of VIEWS)
    test(`${name} by day and by night`, async () => {
      const { page } = await desk.page();
      await page.addInitScript(`localStorage.theme ??= 'day'`);
      await open(page);
      await page.locator('h1').first().waitFor();
      for (const theme of ['day', 'night']) {
        const isWorn = () => page.evaluate(() => document.documentElement.dataset['theme']);
        // By script: behind a dialog it is out of the pointer's reach.
        if ((await isWorn()) !== theme)
          await page.locator('[aria-label^="Change to the"]').evaluate((button: HTMLElement) => button.click());
        // Colours fade into one another.
        await page.evaluate(() => Promise.all(document.getAnimations().map(({ finished }) => finished)));
        assert.equal(await isWorn(), theme);
        assert.deepEqual(await violations(page), [], theme);
      }
    });
});
