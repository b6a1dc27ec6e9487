/** What is wrong with the page at hand: found after every measurement, then blamed and proved one by one where nobody sees it. */
import type { Blame } from '$core/proof/prover.ts';
import type { Reliance } from '$core/rules/defaults/reliance.ts';
import type { Edit } from '$core/trials/edit.ts';
import type { Validity } from '$core/css/cascade/plan.ts';
import * as Comlink from 'comlink';
import type { Remote } from 'comlink';
import { wrong } from '../notices/notices.svelte.ts';
import type { Analyst } from './analyst.worker.ts';
import type { Found } from './analyst/finding.ts';

interface Proving {
  measure: (
    edits: Edit[],
    width: number | undefined,
    still: () => boolean,
  ) => Promise<{ reading: unknown; validity: Validity } | null>;
  close: () => void;
}

/** ms before an edit is looked at, and before causes are looked for: whoever is still changing something waits for nothing. */
const BREATH = 250;
const PAUSE = 700;
/** Findings of which causes are looked for by themselves; of the others when they are asked about. */
const MOST = 12;

export type Finder = ReturnType<typeof createFinder>;

/** `lookBeneath`: measures the page as rendered, where other defaults lie under it; null: none do. */
export function createFinder(
  analyst: Remote<Analyst>,
  openProving: () => Promise<Proving>,
  lookBeneath: (() => Promise<void>) | null = null,
) {
  let found = $state.raw<Found[] | null>(null);
  let blames = $state.raw<Map<string, Blame>>(new Map());
  let rests = $state.raw<Reliance[] | null>(null);
  let picked = $state('');
  let proving = $state(false);
  let round = 0;
  /** Findings whose causes are to be looked for, by their index. */
  let queue: number[] = [];
  /** Whether the list is of the page at hand: while it is looked at again its indices are those of another. */
  let isListed = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  /** Somebody else tries changes: the analyst does it for one at a time. */
  let isPaused = false;
  let underWay: Promise<void> = Promise.resolve();

  /** Looks again; what was known of causes is known no more, for anything can have moved. */
  async function look(): Promise<void> {
    const ownRound = ++round;
    clearTimeout(timer);
    proving = isListed = false;
    if (found !== null) await new Promise((resolve) => (timer = setTimeout(resolve, BREATH)));
    if (ownRound !== round) return;
    // Where that fails it is told, and what is wrong by itself is found all the same.
    await lookBeneath?.().catch(wrong);
    if (ownRound !== round) return;
    const list = await analyst.findings();
    if (ownRound !== round || !list) return;
    found = list;
    blames = new Map();
    if (lookBeneath) rests = await analyst.reliances();
    if (ownRound !== round) return;
    isListed = true;
    queue = found.flatMap(({ grade }, index) => (grade === 'wrong' ? [index] : [])).slice(0, MOST);
    first(picked);
    timer = setTimeout(() => prove(ownRound), PAUSE);
  }

  function prove(ownRound: number): void {
    if (queue.length === 0 || proving || isPaused) return;
    proving = true;
    underWay = proveAll(ownRound).catch(wrong);
  }

  async function proveAll(ownRound: number): Promise<void> {
    const isWanted = (): boolean => ownRound === round && !isPaused;
    const lab = await openProving();
    try {
      // What has been overtaken is measured no more: the changes that are left come to nothing at once.
      const measure = Comlink.proxy(async (edits: Edit[], width?: number) =>
        isWanted() ? lab.measure(edits, width, isWanted) : null,
      );
      // Of another round the list is no longer this one's.
      while (isWanted()) {
        const [index] = queue;
        if (index === undefined) return;
        const blame = await analyst.blame(index, measure);
        if (!isWanted()) return;
        queue = queue.filter((other) => other !== index);
        const entry = found?.[index];
        if (!blame || !entry) return;
        blames = new Map(blames).set(entry.key, blame);
      }
    } finally {
      lab.close();
      if (ownRound === round) proving = false;
    }
  }

  /** Looks for the cause of a finding that is asked about, before those of others. */
  function ask(key: string): void {
    // What is to be proved by itself begins with it.
    if (isListed && first(key) && !proving) {
      clearTimeout(timer);
      prove(round);
    }
  }

  /** Puts a finding before the others; whether its cause is to be looked for. */
  function first(key: string): boolean {
    const index = (found ?? []).findIndex((entry) => entry.key === key);
    if (index < 0 || found![index]!.grade === 'meant' || blames.has(key)) return false;
    queue = [index, ...queue.filter((other) => other !== index)];
    return true;
  }

  function stop(): void {
    round++;
    clearTimeout(timer);
    queue = [];
    proving = isListed = false;
  }

  return {
    get found() {
      return found;
    },
    get blames() {
      return blames;
    },
    /** The defaults that the page rests on, where others lie under it; null: none do, or it was not looked for yet. */
    get rests() {
      return rests;
    },
    get picked() {
      return picked;
    },
    set picked(key: string) {
      picked = key;
      ask(key);
    },
    get proving() {
      return proving;
    },
    look,
    stop,
    /** Looks for no causes until `resume`; resolves once nothing is tried any more. */
    pause: (): Promise<void> => {
      isPaused = true;
      return underWay;
    },
    resume: (): void => {
      isPaused = false;
      if (isListed) prove(round);
    },
    /** Nothing is known of the page any more. */
    forget: () => {
      stop();
      found = null;
      blames = new Map();
      rests = null;
      picked = '';
    },
  };
}
