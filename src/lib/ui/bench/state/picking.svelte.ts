/** The box that a user has picked, and why it is as it is. */
import type { BoxAccount } from '$core/accounts/box.ts';
import type { PropertyAccount, PseudoAccount } from '$core/accounts/property.ts';
import type { Areas } from '$core/boxes/areas.ts';
import { hit, type HitIndex } from '$core/boxes/hit-test.ts';
import type { RawReading } from '$core/reading/reading.ts';
import type { Source } from '$core/css/cascade/styles.ts';
import type { Remote } from 'comlink';
import { wrong } from '../../notices/notices.svelte.ts';
import type { Analyst } from '../analyst.worker.ts';
import type { SizeRetry } from './retry-with-sizes.ts';

export interface PickingInput {
  analyst: Remote<Analyst>;
  knowing: SizeRetry;
  reading: () => RawReading | null;
  hits: () => HitIndex | null;
  /** Whether edges are being measured: the hovered box is drawn with its areas then, and those that it lies in. */
  isMeasuring: () => boolean;
  /** Boxes that are drawn with their areas besides. */
  beside: () => number[];
}

/** Boxes around the hovered one whose edges can be measured. */
const MOST_AROUND = 24;

export type Picking = ReturnType<typeof createPicking>;

export function createPicking({ analyst, knowing, reading, hits, isMeasuring, beside }: PickingInput) {
  let hovered = $state(-1);
  let pick = $state(-1);
  let account = $state.raw<BoxAccount | null>(null);
  let properties = $state.raw<PropertyAccount[]>([]);
  let pseudos = $state.raw<PseudoAccount[]>([]);
  let lit = $state.raw<number[]>([]);
  let areas = $state.raw<Map<number, Areas>>(new Map());
  let choosing: Promise<void> = Promise.resolve();

  /** `early`: the account of the pick, where it has been asked for already. */
  async function refreshAccount(early?: ReturnType<typeof analyst.account>): Promise<void> {
    if (pick < 0) {
      account = null;
      properties = [];
      pseudos = [];
      return;
    }
    const asked = pick;
    await knowing.tell(
      () => analyst.account(asked),
      (result) => {
        if (asked !== pick) return false;
        account = result.box;
        properties = result.properties;
        pseudos = result.pseudos;
        return true;
      },
      early,
    );
  }

  /** Areas of the boxes that are drawn with theirs; `anew`: all of them, since another reading has come. */
  async function refreshAreas(anew = false): Promise<void> {
    const wanted = new Set([pick, ...beside()]);
    if (isMeasuring()) for (const element of around(hovered)) wanted.add(element);
    const list = [...wanted].filter((element) => element >= 0 && (anew || !areas.has(element)));
    if (list.length === 0) return;
    const result = await analyst.areas(list);
    const next = new Map(anew ? [] : areas);
    list.forEach((element, i) => next.set(element, result[i]!));
    areas = next;
  }

  /** A box and those that it lies in, the nearest first. */
  function around(element: number): number[] {
    const out: number[] = [];
    const now = reading();
    for (let at = element; now && at >= 0 && out.length < MOST_AROUND; at = now.parent[at]!) out.push(at);
    return out;
  }

  function choose(element: number): void {
    pick = element;
    lit = [];
    choosing = Promise.all([refreshAccount(), refreshAreas()]).then(() => undefined, wrong);
  }

  function walk(step: 'parent' | 'child' | 'next' | 'previous'): void {
    const now = reading();
    if (!now) return;
    const { parent, count } = now;
    if (pick < 0) return choose(Math.max(0, bodyOf(now)));
    if (step === 'parent') {
      if (parent[pick]! >= 0) choose(parent[pick]!);
      return;
    }
    const above = step === 'child' ? pick : parent[pick]!;
    const siblings: number[] = [];
    for (let i = Math.max(0, above + 1); i < count; i++) if (parent[i] === above) siblings.push(i);
    if (step === 'child') return siblings[0] === undefined ? undefined : choose(siblings[0]);
    const at = siblings.indexOf(pick) + (step === 'next' ? 1 : -1);
    if (siblings[at] !== undefined) choose(siblings[at]);
  }

  return {
    refreshAccount,
    refreshAreas,
    /** The pick under its number in another reading. */
    renumber: (element: number) => {
      pick = element;
    },
    /** What is told of the pick, for the parts of a Bench that show it. */
    shown: {
      get hovered() {
        return hovered;
      },
      get pick() {
        return pick;
      },
      get account() {
        return account;
      },
      get properties() {
        return properties;
      },
      get pseudos() {
        return pseudos;
      },
      get lit() {
        return lit;
      },
      get areas() {
        return areas;
      },
      around,
      choose,
      walk,
      /** Once the account of the pick is shown. */
      chosen: () => choosing,
      point: (x: number, y: number): number => {
        const index = hits();
        return index ? hit(index, x, y) : -1;
      },
      hover: (element: number): void => {
        hovered = element;
        if (isMeasuring()) void refreshAreas().catch(wrong);
      },
      light: async (source: Source | null): Promise<void> => {
        lit = source && source.origin !== 'browser' ? await analyst.reach(pick, source) : [];
      },
      show: (elements: number[]): void => {
        lit = elements;
      },
      target: (source: Source) => analyst.target(pick, source),
      byName: (name: string) => analyst.byName(pick, name),
      reach: (source: Source) => analyst.reach(pick, source),
    },
  };
}

function bodyOf({ strings, tag, count }: RawReading): number {
  for (let i = 0; i < count; i++) if (strings[tag[i]!] === 'body') return i;
  return 0;
}
