/** The spot of the page that a user asks about: dragged over on the stage, or written as numbers. */
import type { Rect } from '$core/geometry/rect.ts';
import type { Remote } from 'comlink';
import type { Analyst } from '../bench/analyst.worker.ts';
import type { SpotAnswer } from '../bench/analyst/spots.ts';
import type { SizeRetry } from '../bench/state/retry-with-sizes.ts';

export type Spots = ReturnType<typeof createSpots>;

export function createSpots({ analyst, knowing }: { analyst: Remote<Analyst>; knowing: SizeRetry }) {
  let isAsking = $state(false);
  let rect = $state.raw<Rect | null>(null);
  let answer = $state.raw<SpotAnswer | null>(null);
  let failure = $state('');

  async function ask(next: Rect): Promise<void> {
    rect = next;
    failure = '';
    try {
      await knowing.tell(
        () => analyst.spot(next),
        (result) => {
          if (rect !== next) return false;
          answer = result;
          return true;
        },
      );
    } catch (error) {
      if (rect !== next) return;
      answer = null;
      failure = error instanceof Error ? error.message : String(error);
    }
  }

  return {
    /** Whether the stage takes a spot instead of a box. */
    get isAsking() {
      return isAsking;
    },
    set isAsking(next: boolean) {
      isAsking = next;
      if (!next) rect = answer = null;
      failure = '';
    },
    /** What is asked about, in CSS px of the document; while it is dragged over there is no answer yet. */
    get rect() {
      return rect;
    },
    get answer() {
      return answer;
    },
    get failure() {
      return failure;
    },
    ask,
    drag: (next: Rect): void => {
      rect = next;
      answer = null;
    },
    /** Asks again about the same spot, of another reading. */
    lookAgain: async (): Promise<void> => {
      if (rect) await ask(rect);
    },
  };
}
