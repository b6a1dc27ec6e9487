/** Every engine that the server can start or reach, by name: how it is opened, and how it is found. */
import { chromiumPath, openChromium } from './chromium.ts';
import { endpointsOf, openEndpoint, type Endpoint } from './endpoints.ts';
import { firefoxPath, openFirefox } from './firefox.ts';
import { ENGINE_NAMES, NoEngine, type DrivenPage, type EngineName } from './model.ts';
import { openWebKit, webkitPath } from './webkit.ts';

export interface Driver {
  name: string;
  title: string;
  open: () => Promise<DrivenPage>;
  /** Where it is: a program, or an address. Throws NoEngine where there is none. */
  place: () => string;
  /** The line that installs it on Debian; '': it is not installed here. */
  install: string;
}

const LOCAL: Record<EngineName, Driver> = {
  chromium: {
    name: 'chromium',
    title: 'Chromium',
    open: openChromium,
    place: chromiumPath,
    install: 'apt-get install chromium',
  },
  firefox: {
    name: 'firefox',
    title: 'Firefox ESR',
    open: openFirefox,
    place: firefoxPath,
    install: 'apt-get install firefox-esr',
  },
  webkit: {
    name: 'webkit',
    title: 'WebKitGTK',
    open: openWebKit,
    place: webkitPath,
    install: 'apt-get install webkit2gtk-driver xvfb',
  },
};

const remote = (endpoint: Endpoint): Driver => ({
  name: endpoint.name,
  title: `WebDriver at ${endpoint.url}`,
  open: () => openEndpoint(endpoint),
  place: () => endpoint.url,
  install: '',
});

/** All that may be there: the three that the server starts, and every endpoint that the environment names. */
export const drivers = (): Driver[] => [...Object.values(LOCAL), ...endpointsOf(process.env).map(remote)];

/** Names of those that are there. */
export const presentEngines = (): string[] =>
  drivers()
    .filter(({ place }) => {
      try {
        return place() !== '';
      } catch (error) {
        if (error instanceof NoEngine) return false;
        throw error;
      }
    })
    .map(({ name }) => name);

/** Throws NoEngine where there is none of that name. */
export function driverOf(name: string): Driver {
  const all = drivers();
  const found = all.find((driver) => driver.name === name);
  if (found) return found;
  const names = all.map((driver) => driver.name).join(', ');
  throw new NoEngine(
    `There is no engine ${name}. There are ${names}${all.length === ENGINE_NAMES.length ? ', and endpoints that NORMETRA_WEBDRIVER names' : ''}.`,
  );
}
