/** The headless engine that all test files of one process share. */
import { after } from 'node:test';
import { openHeadless, type Headless } from '../../src/lib/server/engines/headless.ts';

let shared: Promise<Headless> | null = null;

/** Closing it closes nothing: the engine ends with the last test of the process. */
export async function openEngine(): Promise<Headless> {
  shared ??= openHeadless();
  const engine = await shared;
  // Its members stay as they are, and among them are some that are worked out when asked for.
  return Object.create(engine, { close: { value: () => Promise.resolve() } }) as Headless;
}

after(async () => {
  await (await shared)?.close();
});
