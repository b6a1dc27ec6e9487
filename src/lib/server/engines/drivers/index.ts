/** Every engine that the server can start, by name: how it is opened, and how it is found. */
import { chromiumPath, openChromium } from './chromium.ts';
import { firefoxPath, openFirefox } from './firefox.ts';
import type { DrivenPage, EngineName } from './model.ts';
import { openWebKit, webkitPath } from './webkit.ts';

interface Driver {
  title: string;
  open: () => Promise<DrivenPage>;
  /** The program that it is. Throws NoEngine where there is none. */
  path: () => string;
  /** The line that installs it on Debian. */
  install: string;
}

export const DRIVERS: Record<EngineName, Driver> = {
  chromium: {
    title: 'Chromium',
    open: openChromium,
    path: chromiumPath,
    install: 'apt-get install chromium',
  },
  firefox: {
    title: 'Firefox ESR',
    open: openFirefox,
    path: firefoxPath,
    install: 'apt-get install firefox-esr',
  },
  webkit: {
    title: 'WebKitGTK',
    open: openWebKit,
    path: webkitPath,
    install: 'apt-get install webkit2gtk-driver xvfb',
  },
};
