/** WebKitGTK, driven over W3C WebDriver by its own driver, under a display of its own where there is none. */
import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { NoEngine, type DrivenPage } from './model.ts';
import { openWebDriver } from './webdriver.ts';

const DRIVERS = ['/usr/bin/WebKitWebDriver', '/usr/local/bin/WebKitWebDriver'];
const XVFB = ['/usr/bin/Xvfb', '/usr/local/bin/Xvfb'];
const START_MS = 30_000;
const INSTALL = 'apt-get install webkit2gtk-driver xvfb';

/** Throws NoEngine where there is none. */
export function webkitPath(): string {
  const named = process.env['NORMETRA_WEBKIT'];
  if (named && !existsSync(named))
    throw new NoEngine(`NORMETRA_WEBKIT names ${named}, and there is no such file. Correct it or unset it.`);
  const found = named ?? DRIVERS.find((path) => existsSync(path));
  if (!found)
    throw new NoEngine(
      `No WebKitGTK was found. Install its driver (${INSTALL}) or name it in NORMETRA_WEBKIT.`,
    );
  return found;
}

/** Starts a program and waits until it says what `isReady` looks for, or throws NoEngine. */
function started(
  command: string,
  args: string[],
  options: { env?: NodeJS.ProcessEnv; fd?: number },
  isReady: (said: string) => string | null,
): Promise<{ child: ChildProcess; said: string }> {
  return new Promise((resolve, reject) => {
    const stdio = ['ignore', 'ignore', 'ignore', 'pipe'] as const;
    const child = spawn(command, args, { stdio: [...stdio], env: options.env ?? process.env });
    let text = '';
    const timer = setTimeout(() => {
      child.kill('SIGKILL');
      reject(new NoEngine(`${command} did not start in ${START_MS / 1000} s.`));
    }, START_MS);
    const fail = (why: string): void => {
      clearTimeout(timer);
      reject(new NoEngine(`${command} ${why}.`));
    };
    child.on('error', (error) => fail(`could not be started: ${error.message}`));
    child.on('exit', (code) => fail(`ended by itself (${code})`));
    child.stdio[3]!.on('data', (data: Buffer) => {
      text += data.toString();
      const said = isReady(text);
      if (said === null) return;
      clearTimeout(timer);
      resolve({ child, said });
    });
  });
}

/** A display without a screen. Xvfb chooses the number of it and tells it (`-displayfd`). */
async function openDisplay(): Promise<{ display: string; close: () => void }> {
  const path = XVFB.find((file) => existsSync(file));
  if (!path) throw new NoEngine(`WebKitGTK needs a display, and there is no Xvfb. Install it (${INSTALL}).`);
  const { child, said } = await started(
    path,
    ['-displayfd', '3', '-screen', '0', '1600x1200x24', '-nolisten', 'tcp'],
    {},
    (text) => /^(\d+)\n/.exec(text)?.[1] ?? null,
  );
  return { display: `:${said}`, close: () => child.kill('SIGKILL') };
}

/** A port that nobody listens at now. */
async function freePort(): Promise<number> {
  const server = createServer();
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  await new Promise((resolve) => server.close(resolve));
  return port;
}

/** Waits until a driver says that it takes sessions (WebDriver 2 §8.3). */
async function untilReady(endpoint: string, ended: () => boolean): Promise<void> {
  const end = performance.now() + START_MS;
  while (performance.now() < end && !ended()) {
    const answer = await fetch(`${endpoint}/status`).catch(() => null);
    if (answer?.ok) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new NoEngine(`WebKitWebDriver did not start in ${START_MS / 1000} s.`);
}

/** A folder of settings in which scrollbars take room, as they do in the other engines. */
function gtkSettings(): string {
  const folder = mkdtempSync(join(tmpdir(), 'normetra-webkit-'));
  for (const version of ['gtk-3.0', 'gtk-4.0']) {
    mkdirSync(join(folder, version));
    writeFileSync(join(folder, version, 'settings.ini'), '[Settings]\ngtk-overlay-scrolling=false\n');
  }
  return folder;
}

export async function openWebKit(): Promise<DrivenPage> {
  const path = webkitPath();
  const display = process.env['DISPLAY'] || process.env['WAYLAND_DISPLAY'] ? null : await openDisplay();
  const port = await freePort();
  const config = gtkSettings();
  const env = {
    ...process.env,
    ...(display && { DISPLAY: display.display, GDK_BACKEND: 'x11' }),
    XDG_CONFIG_HOME: config,
    LIBGL_ALWAYS_SOFTWARE: '1',
    // Nothing is painted that anybody sees.
    WEBKIT_DISABLE_COMPOSITING_MODE: '1',
  };
  const child = spawn(path, [`--port=${port}`, '--host=127.0.0.1'], {
    stdio: 'ignore',
    env,
  });
  let isEnded = false;
  child.once('exit', () => (isEnded = true));
  child.once('error', () => (isEnded = true));
  const end = (): void => {
    process.off('exit', end);
    process.off('SIGTERM', stop);
    child.kill('SIGKILL');
    display?.close();
    rmSync(config, { recursive: true, force: true, maxRetries: 3 });
  };
  // Nothing is left running where this process ends by itself.
  process.once('exit', end);
  const stop = (): void => process.exit(143);
  process.once('SIGTERM', stop);
  const endpoint = `http://127.0.0.1:${port}`;
  try {
    await untilReady(endpoint, () => isEnded);
    const page = await openWebDriver(endpoint, { browserName: 'MiniBrowser' });
    return {
      ...page,
      close: async () => {
        await page.close().catch(() => undefined);
        end();
      },
    };
  } catch (error) {
    end();
    throw error;
  }
}
