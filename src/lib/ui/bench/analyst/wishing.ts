/** What should be on the page at hand: how a wish stands, who keeps it from being so, and what makes it so. */
import { retryWithSizes, type Analysis } from '$core/analysis.ts';
import type { Validity } from '$core/css/cascade/plan.ts';
import {
  answerWish,
  standingAt,
  whereItStands,
  type WishAnswer,
  type WishAt,
} from '$core/proof/answer-wish.ts';
import type { Edit } from '$core/trials/edit.ts';
import type { Wish } from '$core/wishes/model.ts';
import { COMMON_WIDTHS } from './proving.ts';
import type { Trying } from './trying.ts';
import { asWritten, filesOf, observedOn, pageOf, type WorkerState } from './worker-state.ts';

/** What the main thread does for an answer. */
export interface WishHelp {
  /** Shows the page under more edits where nobody sees it; null: nobody wants to know any more. */
  measure: (edits: Edit[], width?: number) => Promise<{ reading: unknown; validity: Validity } | null>;
  /** The page's minimum and maximum content widths by batches of boxes. */
  sizes: (batches: number[][]) => Promise<number[]>;
  progress: (tried: number, of: number) => void;
}

export const createWishing = (held: WorkerState, trying: Trying) => ({
  /** How a wish stands on the page at hand. Throws a RangeError where its boxes cannot stand in the relation. */
  wishAt: (wish: Wish): WishAt => {
    const analysis = pageOf(held);
    return whereItStands(analysis, standingAt(analysis, wish));
  },
  /** null: nobody wants to know any more. Throws a RangeError where its boxes cannot stand in the relation. */
  answerWish: async (wish: Wish, { measure, sizes, progress }: WishHelp): Promise<WishAnswer | null> => {
    const analysis = pageOf(held);
    let isOver = false;
    const tried = async (edits: readonly Edit[], width?: number): Promise<Analysis | null> => {
      const got = await measure([...edits], width);
      isOver ||= got === null;
      return got && trying.analysed(got.reading, got.validity);
    };
    const views = [
      {
        analysis,
        before: observedOn(analysis),
        measure: tried,
        complete: <T>(run: () => T): Promise<T> => retryWithSizes(analysis, sizes, run),
      },
    ];
    for (const width of COMMON_WIDTHS) {
      if (width === analysis.reading.viewport.width) continue;
      const there = await tried([], width);
      if (!there) return null;
      views.push({
        analysis: there,
        before: observedOn(there),
        measure: (edits: readonly Edit[]) => tried(edits, width),
        complete: <T>(run: () => T): Promise<T> => Promise.resolve(run()),
      });
    }
    const answer = await answerWish({
      wish,
      views,
      files: filesOf(held),
      isStopped: () => isOver,
      progress,
      asWritten: (result) => asWritten(held, result),
    });
    return isOver ? null : answer;
  },
});
