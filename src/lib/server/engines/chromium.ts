/** The headless engine of this machine: Debian's Chromium, or the one that NORMETRA_CHROMIUM names. */
import { existsSync } from 'node:fs';
import { chromium, type Browser } from 'playwright-core';

const PLACES = [
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
  '/snap/bin/chromium',
  '/Applications/Chromium.app/Contents/MacOS/Chromium',
];

const ARGS = [
  '--no-sandbox',
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
];

export class NoEngine extends Error {
  override name = 'NoEngine';
}

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

export function launch(): Promise<Browser> {
  return chromium.launch({
    executablePath: chromiumPath(),
    args: ARGS,
    ignoreDefaultArgs: ['--hide-scrollbars'],
  });
}
