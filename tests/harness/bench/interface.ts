/** Figures of the interface: how long its thread is held up, what its memory comes to, and how soon there is a first answer. */
import { zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import type { CDPSession, Page } from 'playwright-core';
import type { StoredFile } from '../../../src/lib/server/ingest/files.ts';
import { ready, type Desk } from '../../support/app.ts';
import { elementsIn } from '../../support/measured.ts';

const ELEMENTS = 10_000;
const EDITS = 100;
const SWEEP_MS = 8000;

const say = (name: string, figure: string): void => console.log(`      ${name.padEnd(58)} ${figure}`);

/** Begins to watch how late a clock of the page's thread is; the answer ends it, with the longest wait in ms. */
async function watch(page: Page): Promise<() => Promise<number>> {
  await page.evaluate(`(() => {
    let last = performance.now();
    window.longestWait = 0;
    window.waitClock = setInterval(() => {
      const now = performance.now();
      window.longestWait = Math.max(window.longestWait, now - last - 5);
      last = now;
    }, 5);
  })()`);
  return async () => Number(await page.evaluate('clearInterval(window.waitClock), window.longestWait'));
}

async function heap(client: CDPSession): Promise<{ megabytes: number; nodes: number }> {
  await client.send('HeapProfiler.collectGarbage');
  const { metrics } = await client.send('Performance.getMetrics');
  const of = (name: string) => metrics.find((metric) => metric.name === name)?.value ?? 0;
  return { megabytes: of('JSHeapUsedSize') / 1024 / 1024, nodes: of('Nodes') };
}

interface Memory {
  megabytes: number;
  nodes: number;
  /** What all the processes of the tab hold: its own, that of the page's frame, the workers in them. */
  resident: number;
}

async function memory(client: CDPSession, desk: Desk): Promise<Memory> {
  const found = await heap(client);
  const browser = await desk.browser.newBrowserCDPSession();
  const { processInfo } = await browser.send('SystemInfo.getProcessInfo');
  await browser.detach();
  const kilobytes = processInfo
    .filter(({ type }) => type === 'renderer')
    .map(({ id }) => Number(/^VmRSS:\s+(\d+)/m.exec(readFileSync(`/proc/${id}/status`, 'utf8'))![1]));
  return { ...found, resident: kilobytes.reduce((sum, each) => sum + each, 0) / 1024 };
}

const measuredElements = (page: Page): Promise<number> => {
  const frame = page.frames().find((frame) => /^http:\/\/[0-9a-f]{32}\.localhost/.test(frame.url()))!;
  return elementsIn(async (expression) => Number(await frame.evaluate(expression)));
};

/** The longest waits of the main thread on a large page, and its memory after many edits. */
export async function waits(desk: Desk): Promise<void> {
  const { page } = await desk.page();
  const client = await page.context().newCDPSession(page);
  await client.send('Performance.enable');
  await page.goto(desk.app.url);
  await page.getByRole('tab', { name: 'Paste' }).click();
  const rows = Array.from(
    { length: ELEMENTS / 4 },
    (_, i) => `<div class=row><b>${i}</b><i>x</i><u>y</u></div>`,
  );
  await page.locator('textarea').first().fill(rows.join('\n'));
  await page.getByLabel(/^CSS/).fill('.row { padding: 2px; margin: 1px 4px } b { margin-right: 6px }');
  await page.getByRole('button', { name: 'Measure it' }).click();
  await page.waitForURL(/bench/);
  await ready(page);
  // Opened again, with the clock running from the first moment.
  await page.reload();
  const opening = await watch(page);
  await ready(page);
  await page.locator('[data-finding], [data-none]').first().waitFor();
  const elements = await measuredElements(page);
  if (elements < ELEMENTS) throw new Error(`The page of ${ELEMENTS} elements has ${elements} in its frame.`);
  console.log(`\n${elements} elements on the Bench`);
  say('longest wait of the main thread while it is opened', `${(await opening()).toFixed(0)} ms`);

  await page.locator('[data-selector]').fill('.row');
  await page.locator('[data-selector]').press('Enter');
  await page.locator('[data-account]').waitFor();
  const edit = async (steps: number): Promise<void> => {
    await page.locator('[data-edit^=padding]').first().click();
    const input = page.locator('[data-value-edit]');
    await input.press('Home');
    for (let i = 0; i < steps; i++) await input.press(i % 2 ? 'ArrowDown' : 'ArrowUp');
    await input.press('Enter');
    await ready(page);
  };
  await edit(3);
  const before = await memory(client, desk);
  const editing = await watch(page);
  await edit(EDITS);
  say(`longest wait while it is edited ${EDITS} times`, `${(await editing()).toFixed(0)} ms`);
  const after = await memory(client, desk);
  say(
    `heap of the tab's own document after ${EDITS} edits, against 3`,
    `${(after.megabytes / before.megabytes).toFixed(2)} x (${before.megabytes.toFixed(1)} MB, ${after.megabytes.toFixed(1)} MB; ${before.nodes} nodes, ${after.nodes})`,
  );
  say(
    `resident memory of all its processes after ${EDITS} edits`,
    `${(after.resident / before.resident).toFixed(2)} x (${before.resident.toFixed(0)} MB, ${after.resident.toFixed(0)} MB)`,
  );
  const sweeping = await watch(page);
  await page.keyboard.press('Escape');
  await page.locator('[data-sweep-now]').click();
  await page.waitForTimeout(SWEEP_MS);
  say(`longest wait in ${SWEEP_MS / 1000} s of a sweep`, `${(await sweeping()).toFixed(0)} ms`);
  await page.close();
}

/** From a drop of files to the first finding, against the time in which the engine loads the same files. */
export async function firstFinding(desk: Desk, files: StoredFile[], entry: string): Promise<void> {
  const zip = Buffer.from(
    zipSync(Object.fromEntries(files.map(({ path, bytes }) => [path, bytes])), { level: 0 }),
  );
  const times: number[] = [];
  const loads: number[] = [];
  for (let round = 0; round < 3; round++) {
    const { page } = await desk.page();
    await page.goto(desk.app.url);
    const start = performance.now();
    await page
      .locator('[data-bring=files]')
      .setInputFiles([{ name: `site${round}.zip`, mimeType: 'application/zip', buffer: zip }]);
    await page.waitForURL(/bench/);
    await page.locator('[data-finding], [data-none]').first().waitFor();
    times.push(performance.now() - start);
    const elements = await measuredElements(page);
    if (elements < 10) throw new Error(`The page that was dropped has ${elements} elements in its frame.`);
    const address = page
      .frames()
      .find((frame) => /^http:\/\/[0-9a-f]{32}\.localhost/.test(frame.url()))!
      .url();
    await page.close();
    const plain = await desk.browser.newPage({ viewport: { width: 1280, height: 800 } });
    const began = performance.now();
    await plain.goto(address, { waitUntil: 'load' });
    await plain.evaluate('document.documentElement.getBoundingClientRect().width');
    loads.push(performance.now() - began);
    await plain.close();
  }
  const least = (list: number[]): number => Math.min(...list);
  say(
    `from the drop of ${entry} to its first finding`,
    `${(least(times) / least(loads)).toFixed(1)} x the engine's load (${least(times).toFixed(0)} ms, ${least(loads).toFixed(0)} ms; best of 3)`,
  );
}
