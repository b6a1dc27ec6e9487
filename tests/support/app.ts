/** The built application in a process of its own, and a browser to use it with. */
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, BrowserContext, Page } from 'playwright-core';
import { launch } from '../../src/lib/server/engines/drivers/chromium.ts';
import { ROOT } from '../../src/lib/server/root.ts';

export interface App {
  url: string;
  folder: string;
  child: ChildProcess;
  /** What it has printed. */
  said: () => string;
  stop: (signal?: NodeJS.Signals) => Promise<void>;
}

export const temporaryFolder = (): string => mkdtempSync(join(tmpdir(), 'normetra-'));

export async function startApp(
  folder = temporaryFolder(),
  env: Record<string, string> = {},
  args: readonly string[] = [],
): Promise<App> {
  const child = spawn(
    process.execPath,
    [join(ROOT, 'bin/normetra.mjs'), 'serve', '--port', '0', '--data', folder, ...args],
    {
      cwd: ROOT,
      env: { ...process.env, NORMETRA_ROOT: ROOT, ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
    },
  );
  let text = '';
  const url = await new Promise<string>((resolve, reject) => {
    const hear = (chunk: Buffer) => {
      text += chunk.toString();
      const found = /http:\/\/127\.0\.0\.1:\d+/.exec(text);
      if (found) resolve(found[0]);
    };
    child.stdout.on('data', hear);
    child.stderr.on('data', hear);
    child.once('exit', (code) => reject(new Error(`The application ended with ${code}:\n${text}`)));
  });
  const stop: App['stop'] = (signal = 'SIGTERM') =>
    new Promise((resolve) => {
      if (child.exitCode !== null || child.signalCode !== null) return resolve();
      child.once('exit', () => resolve());
      child.kill(signal);
    });
  return { url, folder, child, said: () => text, stop };
}

/** How long a page may take for what it is asked: machines that do much else besides take several times as long as others. */
const WAIT_MS = 120_000;

export interface Desk {
  app: App;
  browser: Browser;
  /** A new page; what it writes to its console as an error is in `errors`. */
  page: () => Promise<{ page: Page; errors: string[]; context: BrowserContext }>;
  /** Closes all pages: one that is left open goes on looking, and takes its time from those after it. */
  clear: () => Promise<void>;
  close: () => Promise<void>;
}

export async function openDesk(env: Record<string, string> = {}): Promise<Desk> {
  const launching = launch();
  const app = await startApp(undefined, env).catch(async (error: unknown) => {
    // A browser that is left open keeps the process of the tests from ending.
    await (await launching).close();
    throw error;
  });
  const browser = await launching;
  const desk: Desk = {
    app,
    browser,
    page: async () => {
      const context = await browser.newContext({
        viewport: { width: 1280, height: 800 },
        acceptDownloads: true,
      });
      const page = await context.newPage();
      page.setDefaultTimeout(WAIT_MS);
      const errors: string[] = [];
      page.on('pageerror', (error) => errors.push(error.message));
      return { page, errors, context };
    },
    clear: async () => {
      await Promise.all(browser.contexts().map((context) => context.close()));
    },
    close: async () => {
      await browser.close();
      await desk.app.stop();
      rmSync(app.folder, { recursive: true, force: true });
    },
  };
  return desk;
}

/** Waits until a page has been measured. Throws with what the Bench says where it cannot be. */
export async function ready(page: Page): Promise<void> {
  await page.locator('[data-status=ready], [data-status=failed]').waitFor({ state: 'attached' });
  const failure = page.locator('[data-failure]');
  if (await failure.count()) throw new Error(`The Bench says: ${await failure.innerText()}`);
}

/** What `read` comes to in the end: the first that `holds`, or the last there is time for. */
export async function until<T>(read: () => Promise<T>, holds: (found: T) => boolean): Promise<T> {
  for (const end = Date.now() + WAIT_MS; ;) {
    const found = await read();
    if (holds(found) || Date.now() > end) return found;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}

/** Opens a specimen of the Shelf by a part of its name, at what `query` says. */
export async function openBench(page: Page, url: string, name: string, query = ''): Promise<void> {
  await page.goto(url);
  const href = await page.locator('[data-specimen] h2 a', { hasText: name }).first().getAttribute('href');
  await page.goto(`${url}${href}${query}`);
  await ready(page);
}

export async function pickBySelector(page: Page, selector: string): Promise<void> {
  await page.locator('[data-selector]').fill(selector);
  await page.locator('[data-selector]').press('Enter');
  await page.locator('form[aria-busy=false] [data-selector]').waitFor();
  await page.locator('[data-account]').waitFor();
}
