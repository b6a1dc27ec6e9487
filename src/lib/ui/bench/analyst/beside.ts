/** Pages beside the one at hand: what it is held against, and itself as rendered where other defaults lie under it. */
import { analyse, readSources, type Analysis } from '$core/analysis.ts';
import { checkedReading, type Defaults, type Described } from '$core/reading/reading.ts';
import { hasBox, makeTree, rectOf } from '$core/boxes/tree.ts';
import type { PlanRequest, Validity } from '$core/css/cascade/plan.ts';
import type { Profile } from '$core/css/defaults/profile.ts';
import { dependence, detectBetween, type Dependence } from '$core/rules/defaults/dependence.ts';
import type { Observation } from '$core/finding.ts';
import { observeAll } from '$core/rules/index.ts';
import { keyOf } from '$core/proof/keys.ts';
import { reliances, type Reliance } from '$core/rules/defaults/reliance.ts';
import type { Rect } from '$core/geometry/rect.ts';
import { measureQuantity, quantityWithout, type Quantity } from '$core/search/measured-quantity.ts';
import { differences, outermost, type Moved } from '$core/compare/reading-diff.ts';
import { explainChange, type Reason } from '$core/compare/explained-change.ts';
import { asWritten, pageOf, unsettled, type WorkerState, type Surveyed } from './worker-state.ts';

/** What a trial does at a width. */
export interface Compared {
  /** The number without the trial, and under it; null: there is no box. */
  plain: number | null;
  number: number | null;
  counts: Moved['counts'];
  /** CSS px. */
  largest: number;
  /** Where it puts the boxes that it changes, the largest change first. */
  outlines: Rect[];
  /** Elements that the selectors of its edits match. */
  reach: number;
}

/** What is different since another state of the page was at hand. */
export interface ChangedSince {
  counts: Moved['counts'];
  /** CSS px. */
  largest: number;
  /** What is wrong no more, and what is wrong only now, in a sentence each. */
  gone: string[];
  fresh: string[];
}

/** What is graded wrong on one of two readings alone. */
function findingsBetween(before: Analysis, after: Analysis): { gone: string[]; fresh: string[] } {
  const wrongOf = (analysis: Analysis) =>
    new Map(
      observeAll(analysis)
        .filter(({ grade }) => grade === 'wrong')
        .map((observation) => [keyOf(analysis, observation), observation.what]),
    );
  const [old, now] = [wrongOf(before), wrongOf(after)];
  const only = (a: Map<string, string>, b: Map<string, string>) =>
    [...a].flatMap(([key, what]) => (b.has(key) ? [] : [what]));
  return { gone: only(old, now), fresh: only(now, old) };
}

/** A page that is measured beside the one at hand. */
type Which = 'base' | 'rendered';

export function createBeside(held: WorkerState) {
  /** What is known of them before they have been read; then what was measured. */
  const surveyed: Partial<Record<Which, Surveyed>> = {};
  let base: Analysis | null = null;
  let rendered: Analysis | null = null;
  let since: Analysis | null = null;
  /** What the engine gives by itself, and what the defaults under the page give. */
  let profiles: { own: Profile; other: Profile } | null = null;
  let lastMoved: Moved | null = null;

  /** What of the page is otherwise than it would be as rendered, because nothing but a default says so. */
  function dependsOnDefaults(under: Analysis): { observation: Observation; dependence: Dependence }[] {
    if (!profiles || !rendered || rendered.reading.viewport.width !== under.reading.viewport.width) return [];
    const { own, other } = profiles;
    // What the trial says something of is pinned down by that.
    const now = new Map(dependence(under, own, other).map((dependence) => [dependence.key, dependence]));
    const depends = dependence(rendered, own, other).flatMap((dependence) => {
      const still = now.get(dependence.key);
      const elements = dependence.elements.filter((element) => still?.elements.includes(element));
      const differences = dependence.differences.filter(({ property }) =>
        still?.differences.some((other) => other.property === property),
      );
      return elements.length > 0 && differences.length > 0 ? [{ ...dependence, elements, differences }] : [];
    });
    return detectBetween(rendered, under, depends, other.title);
  }

  const verbs = {
    /** The plan of a page beside the one at hand: of what it is held against, or of itself as rendered. */
    planBeside: (
      which: Which,
      page: string,
      engineProfile: Record<string, string>,
      described: Described,
      frameBase: string,
    ): PlanRequest => {
      const sources = readSources(page, engineProfile, described, frameBase);
      surveyed[which] = unsettled(sources, described, frameBase);
      return sources.plan.request;
    },
    /** Keeps a reading of that page. Throws where it is none. */
    keepBeside: (which: Which, raw: unknown, validity: Validity, defaults: Defaults): void => {
      const previous = surveyed[which];
      if (!previous) throw new Error('The page to compare with was not described yet.');
      const analysis = analyse(previous.sources, validity, defaults, checkedReading(raw));
      if (which === 'base') base = analysis;
      else rendered = analysis;
    },
    /** The reading at hand is the one that later ones are held against. */
    keepOwn: (): void => {
      base = pageOf(held);
    },
    /** What the engine gives by itself, and what the defaults under the page give. */
    knowProfiles: (engineProfile: Profile, other: Profile): void => {
      profiles = { own: engineProfile, other };
    },
    /** The defaults that the page as rendered rests on, and that those under it give otherwise; null: none lie under it. */
    reliances: (): Reliance[] | null =>
      profiles && rendered ? reliances(rendered, profiles.own, profiles.other, pageOf(held)) : null,
    /** What is different from what the page is held against; null where that has not been measured. */
    moved: (): Moved | null => (lastMoved = base && differences(base.tree, pageOf(held).tree)),
    /** Why one of what moved is different; null: it is not in both readings. */
    why: (index: number): Reason | null => {
      const difference = lastMoved?.list[index];
      return difference && base ? asWritten(held, explainChange(base, pageOf(held), difference)) : null;
    },
    /** What is wrong on one of two readings alone: the one at hand, and what it is held against. Null: that is not measured. */
    findingsMoved: (): { gone: string[]; fresh: string[] } | null =>
      base && findingsBetween(base, pageOf(held)),
    /** The state at hand is the one that `changedSince` speaks of. */
    keepSince: (): void => {
      since = held.documents.analyses[0] ?? null;
    },
    /** What is different since then; null: nothing was at hand, or it was of another size. */
    changedSince: (): ChangedSince | null => {
      const now = pageOf(held);
      const isAlike =
        since?.reading.viewport.width === now.reading.viewport.width &&
        since.reading.viewport.height === now.reading.viewport.height;
      if (!since || !isAlike) return null;
      const { counts, largest } = differences(since.tree, now.tree);
      return { counts, largest, ...findingsBetween(since, now) };
    },
    /** Two readings of the page, without a trial and under it: a number in both, and what is different. */
    compare: (without: unknown, under: unknown, quantity: Quantity): Omit<Compared, 'reach'> => {
      const [before, after] = [makeTree(checkedReading(without)), makeTree(checkedReading(under))];
      const moved = differences(before, after);
      const { width, height } = after.reading.viewport;
      return {
        plain: measureQuantity(before, quantity),
        number: measureQuantity(after, quantity),
        counts: moved.counts,
        largest: moved.largest,
        outlines: outermost(moved, after.reading, (width * height) / 2)
          .filter(({ after: element }) => element >= 0 && hasBox(after, element))
          .map(({ after: element }) => rectOf(after.reading, element)),
      };
    },
    /** A number of the page at hand out of which elements were taken. */
    lookWithout: (quantity: Quantity, taken: number[], raw: unknown): number | null =>
      quantityWithout(pageOf(held).reading, taken, makeTree(checkedReading(raw)), quantity),
  };

  return {
    verbs,
    dependsOnDefaults,
    get rendered() {
      return rendered;
    },
  };
}

export type Beside = ReturnType<typeof createBeside>;
