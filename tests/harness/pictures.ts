/**
 * `npm run pictures`: takes the pictures in `docs/screenshots` from the demo data. Names may be given to take those alone, and
 * `PICTURES` names another folder: some are there to be looked at only.
 */
import { cpSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { ROOT } from '../../src/lib/server/root.ts';
import { openBench, openDesk, pickBySelector, ready, temporaryFolder } from '../support/app.ts';

const folder = process.env['PICTURES'] ?? join(ROOT, 'docs/screenshots');
const names = process.argv.slice(2);
const desk = await openDesk();
const { url } = desk.app;

/** The overlay and the account follow a moment after the measurement, the causes of findings some seconds later. */
async function settle(page: Page): Promise<void> {
  await page.waitForTimeout(700);
  await page.locator('[data-proving]').waitFor({ state: 'detached' });
}

async function setValue(page: Page, property: string, value: string): Promise<void> {
  await page.locator(`[data-edit=${property}]`).first().click();
  await page.locator('[data-value-edit]').fill(value);
  await page.locator('[data-value-edit]').press('Enter');
  await settle(page);
  await ready(page);
}

async function nameTrial(page: Page, words: string): Promise<void> {
  await page.getByRole('button', { name: 'Rename' }).click();
  await page.getByLabel('Name of the trial').fill(words);
  await page.getByLabel('Name of the trial').press('Enter');
  await settle(page);
}

async function pickFinding(page: Page, words: string | RegExp): Promise<void> {
  await page.locator('[data-finding] button').filter({ hasText: words }).first().click();
  await settle(page);
}

/** A copy of the demo, as somebody's folder of work. */
const workFolder = join(temporaryFolder(), 'ferries');

async function openWorkFolder(page: Page, query: string): Promise<void> {
  rmSync(workFolder, { recursive: true, force: true });
  cpSync(join(ROOT, 'demo'), workFolder, { recursive: true });
  await page.goto(url);
  await page.getByRole('tab', { name: 'Live page' }).click();
  await page.locator('[data-place]').fill(join(workFolder, 'sailings.html'));
  await page.locator('[data-place]').press('Enter');
  await ready(page);
  await page.goto(`${page.url().replace(/\?.*/, '')}${query}&page=sailings.html`);
  await ready(page);
}

const PICTURES: Record<string, (page: Page) => Promise<void>> = {
  shelf: async (page) => {
    await page.goto(url);
    await page
      .locator('[data-specimen]')
      .nth(5)
      .locator('svg path, svg rect')
      .nth(20)
      .waitFor({ state: 'attached' });
  },
  bench: async (page) => {
    await openBench(page, url, 'Fares', '?w=1100');
    await pickBySelector(page, 'li.fare');
  },
  findings: async (page) => {
    await openBench(page, url, 'sailings', '?w=1280');
    await pickFinding(page, 'overflow: p.ticker');
    await page.locator('[data-remedy]').first().waitFor();
  },
  folder: async (page) => {
    await openWorkFolder(page, '?w=1280');
    await pickBySelector(page, 'p.ticker');
    const sheet = join(workFolder, 'css/board.css');
    writeFileSync(sheet, readFileSync(sheet, 'utf8').replace('white-space: nowrap', 'white-space: normal'));
    await page.locator('[data-since]').waitFor();
    await ready(page);
    await settle(page);
  },
  write: async (page) => {
    await openWorkFolder(page, '?w=1280');
    await pickFinding(page, 'overflow: p.ticker');
    await page.locator('[data-remedy] button').first().click();
    await page.locator('[data-edit-row]').waitFor();
    await ready(page);
    await page.locator('[data-part=home]').click();
    await page.locator('[data-write]').waitFor();
    await settle(page);
  },
  wish: async (page) => {
    await openBench(page, url, 'Fares', '?w=1100');
    await pickBySelector(page, 'li.fare');
    await page.getByLabel('Should be').fill('square');
    await page.getByLabel('Should be').press('Enter');
    await page.locator('[data-wish-answer] [data-remedy]').first().waitFor({ timeout: 60_000 });
    await settle(page);
  },
  spot: async (page) => {
    await openBench(page, url, 'sailings', '?w=1280');
    await page.locator('[data-ask-spot]').click();
    await page.getByRole('textbox', { name: 'Spot' }).fill('480, 560, 170, 30');
    await page.getByRole('textbox', { name: 'Spot' }).press('Enter');
    await page.locator('[data-spot-answer]').waitFor();
    await settle(page);
  },
  grades: async (page) => {
    await openBench(page, url, 'harbour', '?w=360');
    await page.locator('[data-doubtful]').waitFor();
    await page.locator('[data-doubtful] + ul [data-finding] button').first().click();
    await settle(page);
    await page.locator('[data-weigh]').first().click();
  },
  keys: async (page) => {
    await openBench(page, url, 'Fares', '?w=1100');
    await page.keyboard.press('?');
  },
  matrix: async (page) => {
    await openBench(page, url, 'booking', '?w=1280');
    await page.getByRole('link', { name: 'Matrix' }).click();
    await page.locator('[data-status=done]').waitFor({ timeout: 120_000 });
    await page.locator('[data-against=webkit]').click();
    await page.locator('[data-cause] table button').first().click();
  },
  sweep: async (page) => {
    await openBench(page, url, 'Timetable', '?w=1280');
    await page.getByRole('link', { name: 'Sweep' }).click();
    await page.locator('[data-flips]').waitFor();
    await page.locator('[data-status=done]').waitFor();
  },
  failure: async (page) => {
    const response = await page.request.post(`${url}/api/specimens`, {
      data: {
        html: '<title>Tides</title><p>x<script>setTimeout(() => { location = "x.html" }, 2500)</script>',
        css: '',
      },
      headers: { origin: url },
    });
    await page.goto(`${url}/bench/${((await response.json()) as { id: string }).id}`);
    await ready(page);
    await page.locator('[data-scripts]').click();
    await page.locator('[data-failure]').waitFor();
  },
  closed: async (page) => {
    await PICTURES['failure']!(page);
    await page.locator('[data-close-failure]').click();
  },
  atlas: async (page) => {
    await page.goto(`${url}/atlas`);
    await page.locator('[data-differences]').waitFor();
  },
  declarations: async (page) => {
    await openBench(page, url, 'Fares', '?w=1280');
    await pickBySelector(page, 'li.fare h2');
    const margin = page
      .locator('[data-declaration]')
      .filter({ hasText: /margin/ })
      .first();
    await margin.locator('button').first().click();
    await margin.locator('[data-source]').first().click();
    await page.locator('[data-source-sheet]').waitFor();
    await margin.scrollIntoViewIfNeeded();
  },
  margins: async (page) => {
    await openBench(page, url, 'Harbour', '?w=1000');
    await pickBySelector(page, 'h2');
    await page.getByText('The sum of these 19.91').click();
    await page.locator('[data-collapse]').first().scrollIntoViewIfNeeded();
  },
  rules: async (page) => {
    await openBench(page, url, 'Fares', '?w=1280');
    await pickBySelector(page, 'div.fill');
    await page.locator('[data-rules] summary').click();
    await page.locator('[data-rule-group]').first().waitFor();
    await page.locator('[data-rules]').evaluate((element) => element.scrollIntoView());
  },
  ladder: async (page) => {
    await openBench(page, url, 'Fares', '?w=1280');
    await pickBySelector(page, 'div.fill');
    await page.locator('[data-ladder]').scrollIntoViewIfNeeded();
    await page.locator('[data-stage]').press('b');
  },
  night: async (page) => {
    await page.emulateMedia({ colorScheme: 'dark' });
    await openBench(page, url, 'sailings', '?w=768');
    await pickFinding(page, 'overflow: p.ticker');
  },
  device: async (page) => {
    await openBench(page, url, 'Harbour', '?w=1280');
    const sizes = page.getByRole('combobox', { name: /size/i }).first();
    const phone = await sizes.locator('optgroup[label*=evice] option').first().getAttribute('value');
    await sizes.selectOption(phone);
    await page.locator('[data-device]').waitFor();
  },
  defaults: async (page) => {
    await openBench(page, url, 'Crew', '?w=1280');
    await page.locator('[data-defaults]').selectOption({ label: 'Nothing at all' });
    await page.locator('[data-rests]').waitFor();
    await settle(page);
    await pickFinding(page, 'defaults');
    await page.locator('[data-remedy]').first().waitFor();
  },
  trial: async (page) => {
    await openBench(page, url, 'Fares', '?w=1100');
    await pickBySelector(page, 'li.fare');
    await setValue(page, 'width', '250px');
    await setValue(page, 'padding', '16px');
    await page.locator('[data-part=moved]').click();
    await page.locator('[data-moved]').first().waitFor();
    await settle(page);
  },
  seek: async (page) => {
    await openBench(page, url, 'Fares', '?w=1100');
    await pickBySelector(page, 'li.fare');
    await page.locator('[data-trial]').click();
    await page.locator('[data-part=seek]').click();
    await page.locator('[data-quantity]').selectOption({ label: 'height of the page' });
    await page.locator('[data-seek-to]').fill('400');
    await page.locator('[data-seek-run]').click();
    await page.locator('[data-seek-answer]').waitFor();
  },
  isolate: async (page) => {
    await openBench(page, url, 'sailings', '?w=1280');
    await page.locator('[data-finding] button').first().click();
    await page.locator('[data-trial]').click();
    await page.locator('[data-part=isolate]').click();
    await page.locator('[data-isolate-over]').selectOption('declarations');
    await page.locator('[data-isolate-run]').click();
    await page.locator('[data-isolate-answer]').waitFor();
  },
  compare: async (page) => {
    await openBench(page, url, 'Fares', '?w=1100');
    await pickBySelector(page, 'li.fare');
    await setValue(page, 'width', '250px');
    await nameTrial(page, 'narrower cards');
    await page.getByRole('button', { name: 'Fork' }).click();
    await nameTrial(page, 'less padding');
    await setValue(page, 'padding', '4px');
    await setValue(page, 'width', '300px');
    await page.locator('[data-part=compare]').click();
    for (const words of ['narrower cards', 'less padding'])
      await page.locator('[data-compare]').getByLabel(words).check();
    await page.locator('[data-compare] [data-quantity]').selectOption({ label: 'height of the page' });
    await page.locator('[data-compare-run]').click();
    await page.locator('[data-compared-row]').nth(7).waitFor();
    await page.locator('[data-compare-run]').waitFor();
  },
  empty: async (page) => {
    const response = await page.request.post(`${url}/api/specimens`, {
      data: { html: '<title>Berths</title><div id=app></div><script src=app.js></script>', css: '' },
      headers: { origin: url },
    });
    const { id } = (await response.json()) as { id: string };
    await page.goto(`${url}/bench/${id}`);
    await ready(page);
    await page.locator('[data-empty]').waitFor();
  },
  error: async (page) => {
    await page.goto(`${url}/bench/00000000-0000-0000-0000-000000000000`);
  },
};

/** Taken only when they are named. */
const UNPUBLISHED = ['keys', 'failure', 'closed', 'empty', 'error', 'grades', 'isolate', 'ladder'];
for (const [name, take] of Object.entries(PICTURES)) {
  if (names.length > 0 ? !names.includes(name) : UNPUBLISHED.includes(name)) continue;
  const { page } = await desk.page();
  page.setDefaultTimeout(30_000);
  try {
    await take(page);
    await settle(page);
    console.log(name);
  } catch (error) {
    console.log(name, String(error).slice(0, 300));
  }
  await page.screenshot({ path: join(folder, `${name}.png`) });
  await page.context().close();
}
await desk.close();
