/**
 * `npm run bench`. Every time is printed as a ratio against a baseline measured in this run, on the same page, turn
 * about with it. The baseline is the raw pass: one loop with a rectangle and twenty computed values for each element,
 * twice, and one querySelectorAll for each rule, with nothing kept.
 */
import { performance } from 'node:perf_hooks';
import type { Frame, Page } from 'playwright-core';
import { analyse, readSources, type Sources } from '../../../src/core/analysis.ts';
import { boxAccount } from '../../../src/core/accounts/box.ts';
import { declaredProperties } from '../../../src/core/accounts/property.ts';
import { observeAll } from '../../../src/core/rules/index.ts';
import { FULL, MAX_ELEMENTS, readingSchema, type RawReading } from '../../../src/core/reading/reading.ts';
import { openHeadless, type Headless } from '../../../src/lib/server/engines/headless.ts';
import type { StoredFile } from '../../../src/lib/server/ingest/files.ts';
import { textsOf } from '../../../src/lib/server/database/sources.ts';
import type { Station } from '../../../src/station/page.ts';
import { survey, type Survey } from '../../../src/station/survey.ts';
import { zipSync } from 'fflate';
import { openDesk, ready, type Desk } from '../../support/app.ts';
import { corpusPages, demoPages, hasCorpus } from '../../support/corpus.ts';
import { checkMeasured, measuredWords, type Measured } from '../../support/measured.ts';
import { firstFinding, waits } from './interface.ts';

const SIZE = { width: 1280, height: 800 };
const ROUNDS = 15;
const median = (list: number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1]!;

function line(name: string, ratio: number, limit: number, detail: string): void {
  console.log(
    `${ratio <= limit ? 'ok  ' : 'OVER'}  ${name.padEnd(58)} ${ratio.toFixed(2)} x (at most ${limit})   ${detail}`,
  );
}

/** Runs in the specimen: the raw pass, in ms. */
function rawPass(selectors: string[]): number {
  const properties = (
    'display position width height margin padding border-width font-size line-height color background-color float clear ' +
    'overflow box-sizing vertical-align transform z-index visibility white-space'
  ).split(' ');
  const start = performance.now();
  const elements = document.querySelectorAll('*');
  for (let pass = 0; pass < 2; pass++)
    for (const element of Array.from(elements)) {
      element.getBoundingClientRect();
      const style = getComputedStyle(element);
      for (const property of properties) style.getPropertyValue(property);
    }
  for (const selector of selectors) document.querySelectorAll(selector);
  return performance.now() - start;
}

interface Bared {
  frame: Frame;
  /** The number of its frame in the station. */
  id: number;
  measured: Measured;
  sources: Sources;
  surveyed: Survey;
  selectors: string[];
  close: () => Promise<void>;
}

async function bare(headless: Headless, files: StoredFile[], entry: string): Promise<Bared> {
  const opened = await headless.open(files, entry, SIZE);
  const analysis = await opened.measure();
  const frame = headless.page.frames().find((frame) => frame.url() === opened.address)!;
  await frame.evaluate('globalThis.__name = (f) => f');
  const base = new URL('/', opened.address).href;
  let sources: Sources | undefined;
  const surveyed = await survey(
    opened,
    (described) => (sources = readSources(entry, textsOf(files, entry), described, base)).plan.request,
    () => Promise.resolve({ ask: () => Promise.resolve(analysis.styles.defaults as never) }),
  );
  const valid = (selector: string) =>
    frame.evaluate((text) => {
      try {
        document.querySelector(text);
        return true;
      } catch {
        return false;
      }
    }, selector);
  const rules = sources!.plan.rules.map(({ selectors }) =>
    selectors.map(({ selector }) => selector.query).join(','),
  );
  const unique = [...new Set(rules)];
  const kept = new Set<string>();
  for (const text of unique) if (await valid(text)) kept.add(text);
  return {
    frame,
    id: opened.frame,
    measured: await checkMeasured(opened, analysis, entry),
    sources: sources!,
    surveyed,
    selectors: rules.filter((rule) => kept.has(rule)),
    close: opened.close,
  };
}

/** Runs in the station's page: a full reading asked for over the port and received, in ms. */
const readingTime = (page: Page, id: number): Promise<number> =>
  page.evaluate(
    async ([frame, wanted, limit]) => {
      const { station } = window as unknown as { station: Station };
      const start = performance.now();
      await station.ask(frame, 'read', { depth: 'full', wanted, limit });
      return performance.now() - start;
    },
    [id, FULL, MAX_ELEMENTS] as const,
  );

const rawReading = (page: Page, id: number): Promise<unknown> =>
  page.evaluate(
    ([frame, wanted, limit]) =>
      (window as unknown as { station: Station }).station.ask(frame, 'read', { depth: 'full', wanted, limit }),
    [id, FULL, MAX_ELEMENTS] as const,
  );

const grown = (times: number): StoredFile[] => {
  const { files } = demoPages().find(({ entry }) => entry === 'sailings.html')!;
  return files.map((file) => {
    if (file.path !== 'sailings.html') return file;
    const html = new TextDecoder().decode(file.bytes);
    const board = /<div class="board">([\s\S]*)<\/div>\s*<\/main>/.exec(html)![1]!;
    return { ...file, bytes: new TextEncoder().encode(html.replace(board, board.repeat(times))) };
  });
};

function analysisTime(sources: Sources, surveyed: Survey, raw: unknown): { ms: number; reading: RawReading } {
  const start = performance.now();
  const reading = readingSchema.parse(raw);
  analyse(sources, surveyed.validity, surveyed.defaults, reading);
  return { ms: performance.now() - start, reading };
}

/** Of a reading that nothing was worked out of yet. */
function detectionTime(sources: Sources, surveyed: Survey, reading: RawReading): number {
  const analysis = analyse(sources, surveyed.validity, surveyed.defaults, reading);
  const start = performance.now();
  observeAll(analysis);
  return performance.now() - start;
}

async function main(): Promise<void> {
  if (process.env['ONLY'] === 'edit') {
    const desk = await openDesk({ NORMETRA_DEMO: 'none' });
    const only = corpusPages().find(({ entry }) => entry.endsWith('general_elements.html'))!;
    await editTimes(desk, only.files, only.entry, []);
    return desk.close();
  }
  const headless = await openHeadless();
  const page = hasCorpus
    ? corpusPages().find(({ entry }) => entry.endsWith('general_elements.html'))!
    : demoPages()[0]!;
  if (!hasCorpus)
    console.log('The corpus is not here: the demo is measured, and the figures are not those asked for.');

  const bared = await bare(headless, page.files, page.entry);
  const { id } = bared;
  const raw: number[] = [];
  const readings: number[] = [];
  const analyses: number[] = [];
  const accounts: number[] = [];
  const detections: number[] = [];
  const count = bared.measured.elements;
  for (let round = 0; round < ROUNDS; round++) {
    // A reading leaves the page to be laid out again when it is next asked: that is not to count for the raw pass.
    await bared.frame.evaluate(() => document.documentElement.getBoundingClientRect().width);
    raw.push(await bared.frame.evaluate(rawPass, bared.selectors));
    readings.push(await readingTime(headless.page, id));
    const given = await rawReading(headless.page, id);
    const { ms, reading } = analysisTime(bared.sources, bared.surveyed, given);
    analyses.push(ms);
    if (reading.count !== count)
      throw new Error(`A reading of ${reading.count} elements was timed, and the page has ${count}.`);
    const analysis = analyse(bared.sources, bared.surveyed.validity, bared.surveyed.defaults, reading);
    const start = performance.now();
    boxAccount(analysis, count >> 1);
    declaredProperties(analysis, count >> 1);
    accounts.push(performance.now() - start);
    // The worker looks again after every edit: what counts is code that has run before.
    for (let again = 0; again < 3; again++)
      detections.push(detectionTime(bared.sources, bared.surveyed, reading));
  }
  const base = median(raw);
  console.log(
    `${page.name}: ${measuredWords(bared.measured)}, ${bared.selectors.length} rules; the raw pass takes ${base.toFixed(1)} ms (median of ${ROUNDS})\n`,
  );
  line('full reading, over its port', median(readings) / base, 1.5, `${median(readings).toFixed(1)} ms`);
  line(
    'analysis of the reading',
    median(analyses) / base,
    1,
    `${median(analyses).toFixed(1)} ms; the first time ${analyses[0]!.toFixed(1)} ms`,
  );
  line(
    'findings of the reading',
    median(detections) / base,
    1,
    `${median(detections).toFixed(1)} ms; the first time ${detections[0]!.toFixed(1)} ms`,
  );
  console.log(`      the account of one box takes ${median(accounts).toFixed(2)} ms`);
  await bared.close();

  const sizes: { count: number; ms: number; found: number }[] = [];
  for (const times of [61, 244]) {
    const files = grown(times);
    const opened = await headless.open(files, 'sailings.html', SIZE);
    const analysis = await opened.measure();
    await checkMeasured(opened, analysis, `sailings, ${times} times`);
    const { sources, reading, styles } = analysis;
    const surveyed = { described: null as never, validity: styles.validity, defaults: styles.defaults };
    const list = Array.from({ length: 9 }, () => analysisTime(sources, surveyed, reading).ms);
    const found = median(Array.from({ length: 5 }, () => detectionTime(sources, surveyed, reading)));
    sizes.push({ count: reading.count, ms: median(list), found });
    await opened.close();
  }
  const [small, large] = sizes as [(typeof sizes)[0], (typeof sizes)[0]];
  const perFour = 4 / (large.count / small.count);
  const factor = (large.ms / small.ms) * perFour;
  line(
    `growth of the findings from ${small.count} to ${large.count} elements`,
    (large.found / small.found) * perFour,
    4.8,
    `${small.found.toFixed(1)} ms, ${large.found.toFixed(1)} ms`,
  );
  line(
    `growth of the analysis from ${small.count} to ${large.count} elements`,
    factor,
    4.8,
    `${small.ms.toFixed(1)} ms, ${large.ms.toFixed(1)} ms`,
  );
  await headless.close();
  if (process.env['ONLY'] === 'readings') return;

  const desk = await openDesk({ NORMETRA_DEMO: 'none' });
  if (process.env['ONLY'] === 'interface') {
    await waits(desk);
    await firstFinding(desk, page.files, page.entry);
    return desk.close();
  }
  const { page: bench } = await desk.page();
  await bench.goto(desk.app.url);
  await bench.getByRole('tab', { name: 'Paste' }).click();
  await bench
    .getByLabel('HTML', { exact: false })
    .first()
    .fill(`<div class=all>${'<i></i>'.repeat(5000)}</div>`);
  await bench.getByLabel(/^CSS/).fill('i { display: inline-block; width: 10px; height: 8px; margin: 1px }');
  await bench.getByRole('button', { name: 'Measure it' }).click();
  await bench.waitForURL(/bench/);
  await ready(bench);
  await bench.evaluate('globalThis.__name = (f) => f');
  await bench.evaluate(() => {
    const times: number[] = [];
    const frames: number[] = [];
    let start = 0;
    addEventListener('pointermove', () => (start = performance.now()), true);
    new MutationObserver(() => {
      if (start) times.push(performance.now() - start);
      start = 0;
    }).observe(document.querySelector('[data-overlay]')!, { subtree: true, childList: true, attributes: true });
    let last = 0;
    const tick = (now: number) => {
      if (last) frames.push(now - last);
      last = now;
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
    Object.assign(window, { measured: { times, frames } });
  });
  const glass = (await bench.locator('[data-glass]').boundingBox())!;
  for (let i = 0; i < 150; i++)
    await bench.mouse.move(glass.x + 8 + ((i * 37) % (glass.width - 40)), glass.y + 8 + ((i * 23) % 200));
  const { times, frames } = await bench.evaluate(
    () => (window as unknown as { measured: { times: number[]; frames: number[] } }).measured,
  );
  line(
    `pointer move to overlay on 5,000 elements, against a frame`,
    median(times) / median(frames),
    1,
    `${median(times).toFixed(1)} ms of ${median(frames).toFixed(1)} ms; ${times.length} moves`,
  );
  await bench.close();
  await editTimes(desk, page.files, page.entry, bared.selectors);
  await waits(desk);
  await firstFinding(desk, page.files, page.entry);
  await desk.close();
}

/** An edit in the account to the new account on screen, against a bare style change, layout and the raw pass in the same frame. */
async function editTimes(desk: Desk, files: StoredFile[], entry: string, selectors: string[]): Promise<void> {
  const { page } = await desk.page();
  const zip = zipSync(Object.fromEntries(files.map(({ path, bytes }) => [path, bytes])));
  await page.goto(desk.app.url);
  await page
    .locator('[data-bring=files]')
    .setInputFiles([{ name: 'site.zip', mimeType: 'application/zip', buffer: Buffer.from(zip) }]);
  await page.waitForURL(/bench/);
  await page.goto(`${page.url().split('?')[0]}?page=${encodeURIComponent(entry)}&w=1280&h=800`);
  await ready(page);
  await page.evaluate('globalThis.__name = (f) => f');
  await page.locator('[data-selector]').fill('main .card-body, main section, main p, h1');
  await page.locator('[data-selector]').press('Enter');
  const value = page.locator('[data-declaration] [data-edit]').filter({ hasText: /^\d/ }).first();
  await value.waitFor();
  const property = (await value.getAttribute('data-edit'))!;
  const handle = await page.locator('main iframe').last().elementHandle();
  const frame = (await handle!.contentFrame())!;
  await frame.evaluate('globalThis.__name = (f) => f');
  const edits: number[] = [];
  const bares: number[] = [];
  page.setDefaultTimeout(6000);
  for (let round = 0; round < ROUNDS; round++) {
    await page.locator(`[data-edit="${property}"]`).first().click();
    const input = page.locator('[data-value-edit]');
    await input.press('Home');
    edits.push(
      await page.evaluate(
        () =>
          new Promise<number>((resolve) => {
            const field = document.querySelector<HTMLInputElement>('[data-value-edit]')!;
            const panel = document.querySelector('[data-account-panel] [data-sum=x]')!.parentElement!;
            const was = document.querySelector<HTMLElement>('[data-account-panel]')!.innerText;
            const start = performance.now();
            const observer = new MutationObserver(() => {
              const status = document.querySelector<HTMLElement>('[data-status]')!.dataset['status'];
              if (
                document.querySelector<HTMLElement>('[data-account-panel]')!.innerText === was &&
                status !== 'ready'
              )
                return;
              observer.disconnect();
              resolve(performance.now() - start);
            });
            observer.observe(panel.closest('[data-account-panel]')!, {
              subtree: true,
              childList: true,
              characterData: true,
            });
            field.dispatchEvent(
              new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true, cancelable: true }),
            );
          }),
      ),
    );
    await input.press('Enter');
    await ready(page);
    await page.waitForTimeout(200);
    bares.push(
      await frame.evaluate(() => {
        const start = performance.now();
        const style = document.head.appendChild(document.createElement('style'));
        style.textContent = 'main p { padding-left: 1px }';
        document.documentElement.getBoundingClientRect();
        const passed = performance.now() - start;
        style.remove();
        document.documentElement.getBoundingClientRect();
        return passed;
      }),
    );
    bares[bares.length - 1]! += await frame.evaluate(rawPass, selectors);
  }
  line(
    'an edit to its new account on screen',
    median(edits) / median(bares),
    2,
    `${median(edits).toFixed(1)} ms against ${median(bares).toFixed(1)} ms; ${property}`,
  );
  await page.close();
}

await main();
