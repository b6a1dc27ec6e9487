/** Answers of the analyst for which content widths must be asked of the page first. */
import type { Remote } from 'comlink';
import type { Analyst } from '../analyst.worker.ts';

/** How often an answer can want more: what it learns can lead to other boxes. */
const ROUNDS = 3;

export interface SizeRetryInput {
  analyst: Remote<Analyst>;
  /** The page's minimum and maximum content widths by batches of boxes; null: there is no page to ask. */
  measure: (batches: number[][]) => Promise<number[]> | null;
}

export type SizeRetry = ReturnType<typeof createSizeRetry>;

export function createSizeRetry({ analyst, measure }: SizeRetryInput) {
  /** Asks the page for content widths. False: nothing was asked. */
  async function learn(batches: number[][]): Promise<boolean> {
    const asked = batches.length > 0 ? measure(batches) : null;
    if (!asked) return false;
    await analyst.learn(await asked);
    return true;
  }

  async function whole<T extends { wanting: number[][] } | null>(
    ask: () => Promise<T>,
    first: Promise<T>,
  ): Promise<T> {
    let result = await first;
    for (let round = 0; round < ROUNDS && result && (await learn(result.wanting)); round++)
      result = await ask();
    return result;
  }

  return {
    /**
     * Tells what an answer comes to, and tells it again where content widths that were taken over from the last reading are
     * others by now. `tell` false: nobody wants to know any more. `early`: where it has been asked for already.
     */
    tell: async <T extends { wanting: number[][] } | null>(
      ask: () => Promise<T>,
      tell: (result: T) => boolean,
      early?: Promise<T>,
    ): Promise<void> => {
      if (!tell(await whole(ask, early ?? ask()))) return;
      if (await learn(await analyst.doubt())) tell(await whole(ask, ask()));
    },
    /** The answer after what was taken over has been asked again. */
    sure: async <T>(ask: () => Promise<T>): Promise<T> => {
      const result = await ask();
      return (await learn(await analyst.doubt())) ? ask() : result;
    },
  };
}
