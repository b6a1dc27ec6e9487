/** A page in any browser that speaks W3C WebDriver (WebDriver 2 §6): one that the server starts, or one behind an endpoint. */
import type { WebDriver } from 'selenium-webdriver';
import { NoEngine, type DrivenPage } from './model.ts';

/** A job may take long: who waits for it decides how long. */
const ANSWER_MS = 600_000;

/** Runs a function with one argument and tells what it came to: scripts of WebDriver hear of neither promises nor reasons. */
const caller = (run: unknown): string => `
  const [arg, done] = arguments;
  (async () => (${String(run)})(arg))().then(
    (value) => done(JSON.stringify({ value })),
    (error) => done(JSON.stringify({ error: String((error && error.message) || error) })),
  );`;

/** `endpoint`: of the driver, as http address; `capabilities`: as WebDriver has them. Throws NoEngine. */
export async function openWebDriver(
  endpoint: string,
  capabilities: Record<string, unknown>,
): Promise<DrivenPage & { browserName: string }> {
  // Loaded when it is needed: it is large.
  const { default: selenium } = await import('selenium-webdriver');
  let driver: WebDriver;
  try {
    driver = await new selenium.Builder().usingServer(endpoint).withCapabilities(capabilities).build();
  } catch (error) {
    throw new NoEngine(
      `No browser could be had from ${endpoint}: ${error instanceof Error ? error.message.split('\n')[0] : String(error)}`,
      { cause: error },
    );
  }
  const granted = await driver.getCapabilities();
  await driver.manage().setTimeouts({ script: ANSWER_MS, pageLoad: 60_000 });
  return {
    browserName: granted.getBrowserName() ?? '',
    version: granted.getBrowserVersion() ?? '',
    goto: (address) => driver.get(address),
    addScript: async (script) => {
      await driver.executeScript(script);
    },
    evaluate: async (run, arg) => {
      const text = await driver.executeAsyncScript<string>(caller(run), arg);
      const answer = JSON.parse(text) as { value?: never; error?: string };
      if (answer.error !== undefined) throw new Error(answer.error);
      return answer.value as never;
    },
    close: () => driver.quit(),
  };
}
