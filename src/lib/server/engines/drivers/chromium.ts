/** The headless Chromium of this machine: Debian's, or the one that NORMETRA_CHROMIUM names. */
import { existsSync } from 'node:fs';
import type { Browser, LaunchOptions } from 'playwright-core';
import { NoEngine, type DrivenPage } from './model.ts';

const PLACES = [
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
  '/snap/bin/chromium',
  '/Applications/Chromium.app/Contents/MacOS/Chromium',
];

const ARGS = [
  // The collector mostly asks the engine: what the last compiler costs it does not save.
  '--js-flags=--no-turbofan',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--no-default-browser-check',
  '--font-render-hinting=none',
  // No packet leaves by WebRTC but through a proxy, and there is none.
  '--force-webrtc-ip-handling-policy=disable_non_proxied_udp',
];

export function chromiumPath(): string {
  const named = process.env['NORMETRA_CHROMIUM'];
  if (named && !existsSync(named))
    throw new NoEngine(`NORMETRA_CHROMIUM names ${named}, and there is no such file. Correct it or unset it.`);
  const found = named ?? PLACES.find((path) => existsSync(path));
  if (!found)
    throw new NoEngine(
      'No Chromium was found. Install it (apt-get install chromium) or name one in NORMETRA_CHROMIUM.',
    );
  return found;
}

/**
 * What the engine is started with. It keeps its own sandbox, which it cannot have as root; what it opens reaches no other host
 * by WebRTC, whatever scripts run.
 */
export const launchOptions = (uid: number | undefined): LaunchOptions => ({
  executablePath: chromiumPath(),
  args: ARGS,
  ignoreDefaultArgs: ['--hide-scrollbars'],
  chromiumSandbox: uid !== 0,
});

export async function launch(): Promise<Browser> {
  // Loaded when it is needed: a server that never starts an engine has no use for it, and it is large.
  const { chromium } = await import('playwright-core');
  try {
    return await chromium.launch(launchOptions(process.getuid?.()));
  } catch (error) {
    if (error instanceof Error && /No usable sandbox/i.test(error.message))
      throw new NoEngine(
        'Chromium found no sandbox that it could use, and is not started without one. Let this user have user namespaces (kernel.unprivileged_userns_clone, or AppArmor), or install its setuid sandbox.',
        { cause: error },
      );
    throw error;
  }
}

export async function openChromium(): Promise<DrivenPage> {
  const browser = await launch();
  const page = await browser.newPage({ viewport: { width: 1400, height: 1000 } });
  return {
    playwright: page,
    version: browser.version(),
    goto: async (address) => {
      await page.goto(address);
    },
    addScript: async (content) => {
      await page.addScriptTag({ content });
    },
    evaluate: (run, arg) => page.evaluate(run as never, arg) as never,
    close: () => browser.close(),
  };
}
