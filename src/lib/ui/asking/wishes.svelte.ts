/** What a user says should be of a box: asked of the page where nobody sees it, and held against every later reading. */
import type { WishAnswer, WishAt } from '$core/proof/answer-wish.ts';
import type { RawReading } from '$core/reading/reading.ts';
import { isNeighbour, otherOf, type Relation, type Wish } from '$core/wishes/model.ts';
import * as Comlink from 'comlink';
import type { Remote } from 'comlink';
import { pathOf } from '$core/reading/labels.ts';
import type { Analyst } from '../bench/analyst.worker.ts';
import type { Finder } from '../bench/finder.svelte.ts';
import type { HiddenFrames } from '../bench/state/hidden-frames.ts';

export interface WishesInput {
  analyst: Remote<Analyst>;
  openProving: HiddenFrames['openProving'];
  finder: Finder;
  sizes: (batches: number[][]) => Promise<number[]>;
  find: (selector: string) => Promise<number[]>;
  reading: () => RawReading | null;
}

/** A wish with what came of it. */
export interface AskedWish {
  /** The box that was picked, by its path, and what was written. */
  path: string;
  text: string;
  wish: Wish;
  answer: WishAnswer | null;
  /** How it stands on the page at hand. */
  now: WishAt | null;
}

/** A box by its path, with what it is called. */
export interface PickedBox {
  path: string;
  label: string;
}

export type Wishes = ReturnType<typeof createWishes>;

export function createWishes({ analyst, openProving, finder, sizes, find, reading }: WishesInput) {
  let asked = $state.raw<AskedWish | null>(null);
  let progress = $state.raw<{ tried: number; of: number } | null>(null);
  let failure = $state('');
  let round = 0;

  function stop(): void {
    round++;
    if (progress) finder.resume();
    progress = null;
  }

  /** `element`: the box that it is about; of a relation to another box its selector is looked up on the page. */
  async function ask(element: number, text: string, relation: Relation): Promise<void> {
    stop();
    const ownRound = round;
    const isCurrent = (): boolean => ownRound === round;
    failure = '';
    asked = null;
    progress = { tried: 0, of: 0 };
    try {
      await finder.pause();
      const wish = await wishOf(element, relation);
      const now = await analyst.wishAt(wish);
      if (!isCurrent()) return;
      asked = { path: wish.paths[0]!, text, wish, answer: null, now };
      const lab = await openProving();
      try {
        const answer = await analyst.answerWish(
          wish,
          Comlink.proxy({
            measure: async (edits, width) => (isCurrent() ? lab.measure(edits, width, isCurrent) : null),
            sizes,
            progress: (tried, of) => {
              if (isCurrent()) progress = { tried, of };
            },
          }),
        );
        if (isCurrent() && answer) asked = { ...asked, answer };
      } finally {
        lab.close();
      }
    } catch (error) {
      if (isCurrent()) failure = error instanceof Error ? error.message : String(error);
    } finally {
      if (isCurrent()) {
        progress = null;
        finder.resume();
      }
    }
  }

  async function wishOf(element: number, relation: Relation): Promise<Wish> {
    const page = reading();
    if (!page) throw new Error('Nothing has been measured yet: open the page first.');
    const paths = [pathOf(page, element)];
    const other = otherOf(relation);
    if (other === null || isNeighbour(other)) return { paths, relation };
    const [found] = await find(other).catch(() => {
      throw new Error(`${other} is no selector: write one as in a style sheet.`);
    });
    if (found === undefined) throw new Error(`Nothing on the page matches ${other}.`);
    return { paths, relation: { ...relation, other: pathOf(page, found) } as Relation };
  }

  /** The box that is picked, and the one that was before it. */
  let current: PickedBox | null = null;
  let previous = $state.raw<PickedBox | null>(null);

  return {
    /** The box that was picked before: two boxes are told what they should be to each other by picking one after the other. */
    get previous() {
      return previous;
    },
    /** Hears which box is picked. */
    heed: ({ path, label }: PickedBox): void => {
      if (current?.path === path) return;
      previous = current;
      current = { path, label };
    },
    get asked() {
      return asked;
    },
    get progress() {
      return progress;
    },
    get failure() {
      return failure;
    },
    ask,
    stop,
    /** Takes the answer away. */
    forget: () => {
      stop();
      asked = null;
      failure = '';
    },
    /** Says that something cannot be asked. */
    refuse: (why: string) => {
      failure = why;
    },
    /** Looks how the wish stands after another reading. */
    lookAgain: async (): Promise<void> => {
      const before = asked;
      if (!before) return;
      const now = await analyst.wishAt(before.wish).catch(() => null);
      if (asked && asked.wish === before.wish) asked = { ...asked, now };
    },
  };
}
