/** A headless Firefox, driven over WebDriver BiDi. */
import { existsSync } from 'node:fs';
import { NoEngine, type DrivenPage } from './model.ts';

const PLACES = ['/usr/bin/firefox-esr', '/usr/bin/firefox', '/Applications/Firefox.app/Contents/MacOS/firefox'];
const START_MS = 60_000;
/** A job may take long: who waits for it decides how long. */
const ANSWER_MS = 600_000;

/** What Firefox would do on the network by itself, and what would hold a start up. */
const PREFERENCES = {
  'app.update.auto': false,
  'browser.aboutwelcome.enabled': false,
  'browser.region.network.url': '',
  'browser.safebrowsing.downloads.remote.enabled': false,
  'browser.search.update': false,
  'browser.shell.checkDefaultBrowser': false,
  'datareporting.policy.dataSubmissionEnabled': false,
  'extensions.update.enabled': false,
  'media.peerconnection.enabled': false,
  'network.captive-portal-service.enabled': false,
  'network.connectivity-service.enabled': false,
  'network.dns.disablePrefetch': true,
  'network.prefetch-next': false,
  'services.settings.server': '',
  'toolkit.telemetry.enabled': false,
  // Scrollbars take room, as they do by default in the other engines; pages can be measured with them laid over, too.
  'ui.useOverlayScrollbars': 0,
  'widget.gtk.overlay-scrollbars.enabled': false,
};

/** Throws NoEngine where there is none. */
export function firefoxPath(): string {
  const named = process.env['NORMETRA_FIREFOX'];
  if (named && !existsSync(named))
    throw new NoEngine(`NORMETRA_FIREFOX names ${named}, and there is no such file. Correct it or unset it.`);
  const found = named ?? PLACES.find((path) => existsSync(path));
  if (!found)
    throw new NoEngine(
      'No Firefox was found. Install it (apt-get install firefox-esr) or name one in NORMETRA_FIREFOX.',
    );
  return found;
}

export async function openFirefox(): Promise<DrivenPage> {
  const executablePath = firefoxPath();
  // Loaded when it is needed: it is large.
  const { default: puppeteer } = await import('puppeteer-core');
  const browser = await puppeteer
    .launch({
      browser: 'firefox',
      executablePath,
      headless: true,
      timeout: START_MS,
      protocolTimeout: ANSWER_MS,
      defaultViewport: null,
      args: ['--width=1400', '--height=1000'],
      extraPrefsFirefox: PREFERENCES,
    })
    .catch((error: unknown) => {
      throw new NoEngine(
        `Firefox could not be started: ${error instanceof Error ? error.message.split('\n')[0] : String(error)}`,
        { cause: error },
      );
    });
  const page = (await browser.pages())[0] ?? (await browser.newPage());
  return {
    version: (await browser.version()).replace(/^\D*/, ''),
    goto: async (address) => {
      await page.goto(address, { waitUntil: 'load' });
    },
    addScript: async (content) => {
      await page.addScriptTag({ content });
    },
    evaluate: (run, arg) => page.evaluate(run as never, arg) as never,
    close: () => browser.close(),
  };
}
