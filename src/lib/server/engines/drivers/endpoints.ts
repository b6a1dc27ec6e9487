/** Browsers behind W3C WebDriver endpoints that the environment names: `NORMETRA_WEBDRIVER=URL[,NAME=URL]`. */
import { reachOf } from '../addresses.ts';
import { NoEngine, type DrivenPage } from './model.ts';
import { openWebDriver } from './webdriver.ts';

export interface Endpoint {
  /** `webdriver:NAME`; where it has no name its number, from 1. */
  name: string;
  url: string;
  /** As WebDriver has them (WebDriver 2 §7). */
  capabilities: Record<string, unknown>;
}

/** `NORMETRA_WEBDRIVER_CAPABILITIES`: what is asked of all of them, as JSON. Throws NoEngine where one of both is not written so. */
export function endpointsOf(environment: Readonly<Record<string, string | undefined>>): Endpoint[] {
  const list = (environment['NORMETRA_WEBDRIVER'] ?? '').split(',').map((entry) => entry.trim());
  const capabilities = capabilitiesOf(environment['NORMETRA_WEBDRIVER_CAPABILITIES']);
  return list.filter(Boolean).map((entry, n) => {
    const [, name = String(n + 1), url = entry] = /^([\w-]+)=(.+)$/.exec(entry) ?? [];
    if (!/^https?:\/\//.test(url) || !URL.canParse(url))
      throw new NoEngine(
        `NORMETRA_WEBDRIVER names “${entry}”, which is no address of a WebDriver. Write it like http://127.0.0.1:4444 or grid=http://127.0.0.1:4444.`,
      );
    return { name: `webdriver:${name}`, url: url.replace(/\/$/, ''), capabilities };
  });
}

function capabilitiesOf(text: string | undefined): Record<string, unknown> {
  if (!text) return {};
  const refused = (): NoEngine =>
    new NoEngine(
      'NORMETRA_WEBDRIVER_CAPABILITIES is no JSON object. Write it like {"browserName":"safari"}, or unset it.',
    );
  try {
    const value: unknown = JSON.parse(text);
    if (typeof value === 'object' && value !== null && !Array.isArray(value))
      return value as Record<string, unknown>;
  } catch {
    throw refused();
  }
  throw refused();
}

/** Rejects with NoEngine: also where its browser is on another machine, from which pages that are served here cannot be reached. */
export function openEndpoint({ name, url, capabilities }: Endpoint): Promise<DrivenPage> {
  const host = new URL(url).hostname.replace(/^\[|\]$/g, '');
  if (host !== 'localhost' && reachOf(host) !== 'loopback')
    return Promise.reject(
      new NoEngine(
        `${name} is at ${url}, on another machine, and pages are served to browsers of this one alone. Start its driver on this machine, and name it as 127.0.0.1.`,
      ),
    );
  return openWebDriver(url, capabilities);
}
