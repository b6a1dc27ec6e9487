/** Several engines at once. */
import { openHeadless, type Headless } from './headless.ts';

/** In the order of their names. Rejects where one of them cannot be had; the others are closed then. */
export async function openEngines(names: readonly string[]): Promise<Headless[]> {
  const results = await Promise.allSettled(names.map((engine) => openHeadless({ engine })));
  const opened = results.flatMap((result) => (result.status === 'fulfilled' ? [result.value] : []));
  const failed = results.find(({ status }) => status === 'rejected');
  if (!failed) return opened;
  await closeEngines(opened);
  throw (failed as PromiseRejectedResult).reason;
}

export const closeEngines = async (engines: readonly Headless[]): Promise<void> => {
  await Promise.all(engines.map((engine) => engine.close()));
};
