/** Who is to blame, and what helps: every change is applied to a copy and measured before anything is said of it. */
import type { Proposal } from '../remedies/model.ts';
import type { FindingKind, Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { pathOf } from '../reading/labels.ts';
import type { Source } from '../css/cascade/styles.ts';
import { editsFor, joined, type Put, type Shown } from '../remedies/edits.ts';
import { sideEffectsOf, type SideEffects } from './side-effects.ts';
import { proposalsFor } from '../remedies/index.ts';
import type { Edit } from '../trials/edit.ts';
import { differences } from '../compare/reading-diff.ts';
import type { RawReading } from '../reading/reading.ts';
import type { Files } from '../trials/targets.ts';
import { suspectsOf, wishOf } from '../rules/index.ts';
import { makeFreshFindings } from './fresh-findings.ts';
import { keyOf } from './keys.ts';
import { standingsOf, worstOf } from '../wishes/quantities.ts';
import { inside } from '../boxes/tree.ts';
import { isSelfOrAncestor } from '../visibility/visibility.ts';

export interface Culprit {
  element: number;
  path: string;
  property: string;
  /** CSS px of the finding that go with it. */
  px: number;
  rule: string;
  source: Source | null;
  because: string;
}

export interface ProvedRemedy {
  words: string;
  edits: Edit[];
  shown: Shown[];
  /** Whether it took the finding away at every width at which it was measured. */
  proved: boolean;
  /** These widths, in CSS px. */
  widths: number[];
  /** Widths at which it brings nothing new, and is not enough by itself. */
  short: number[];
  sideEffects: SideEffects;
  /** What it does in each engine that was looked at, where there are several. */
  engines?: { engine: string; effect: EffectAtWidth }[];
}

export interface Blame {
  culprits: Culprit[];
  remedies: ProvedRemedy[];
  /** Keys of the other findings of its kind that have the same cause: gone where that is changed, and with the first remedy. */
  also: string[];
}

export type EffectAtWidth = 'helps' | 'leaves' | 'brings';

/** What a page comes to under edits; null: it could not be laid over. */
export type Measure = (edits: readonly Edit[]) => Promise<Analysis | null>;

export interface Proving {
  analysis: Analysis;
  files: Files;
  measure: Measure;
  /** All that was found without any edit, of whatever kind. */
  before: readonly Observation[];
  isStopped?: () => boolean;
  /** Gives sources their places in the files as they are, where edits lie over these already. */
  asWritten?: <T>(result: T) => T;
}

/** Changes that are tried for one finding at most, and how many that help are enough. */
const MOST = 16;
const ENOUGH = 3;
/** So many other findings of a kind are looked at for what they have in common. */
const BESIDE = 4;
/** From this share of the px on it is as good as all: what is likelier goes first then, whatever it leaves. */
const NEARLY = 0.9;
/** CSS px by which a wish may be missed: engines round. */
const NEAR = 1;
/** A share of the px below this is nobody's fault in particular. */
const PART = 0.25;

/** A culprit with what its change came to. */
interface CulpritCandidate extends Culprit {
  gone: boolean;
  rank: number;
  isAround: boolean;
  outcome: Outcome;
}

interface Attempted {
  proposal: Proposal;
  put: Put;
}

/** A change that does not take all of a finding away. */
interface Attempt extends Attempted {
  /** CSS px that it takes away. */
  off: number;
  /** Whether it brings something new by itself. */
  brings: boolean;
}

/** A change that takes all of a finding away and brings another. */
interface FixWithRegression extends Attempted {
  fresh: Observation[];
}

interface Outcome {
  left: Map<string, Observation>;
  /** What was not there before, and is no better. */
  fresh: Observation[];
  after: Analysis;
}

/** Makes a prover for one reading: what was measured for one finding serves the others. */
export function makeProver({
  analysis,
  files,
  measure,
  before,
  isStopped = () => false,
  asWritten = (result) => result,
}: Proving) {
  const byKey = new Map<string, Promise<Outcome | null>>();
  const lookAfter = makeFreshFindings(analysis, before);

  const proposals = (observation: Observation): Proposal[] =>
    proposalsFor(analysis, observation, (told) => suspectsOf(analysis, told));

  async function outcome(edits: readonly Edit[], kind: FindingKind): Promise<Outcome | null> {
    const after = await measure(edits);
    if (!after) return null;
    const { found, fresh } = lookAfter(after, [kind]);
    const left = new Map(found.map((observation) => [keyOf(after, observation), observation]));
    return { left, fresh, after };
  }

  async function tried(kind: FindingKind, edits: readonly Edit[]): Promise<Outcome | null> {
    const name = JSON.stringify([kind, edits.map(({ change }) => change)]);
    const result = byKey.get(name) ?? outcome(edits, kind);
    byKey.set(name, result);
    return result;
  }

  /** Px of a finding that are left, 0: it is gone. */
  const leftOf = (observation: Observation, { left, fresh }: Outcome): number => {
    const still = left.get(keyOf(analysis, observation));
    // What only went over to another box is as wrong as before.
    const moved = fresh.filter(({ kind, axis }) => kind === observation.kind && axis === observation.axis);
    const rest = Math.max(0, ...moved.map(({ px }) => px));
    // One reading knows less of it than all widths together: what is still doubtful here is still there.
    if (!still || (still.grade === 'meant' && observation.grade !== 'meant')) return rest;
    // A declaration stays without effect where another gives what it asks for.
    if (isMissed(observation) && !isMissed(still)) return rest;
    return observation.px === 0 ? Infinity : Math.max(still.px, rest);
  };

  /**
   * Px by which what stands in the same line still sticks out once the line may wrap: what was pushed out is on a line of its
   * own then, and what pushed it is where it was.
   */
  const leftBeside = ({ kind, axis }: Observation, { rule, element }: Proposal, { left }: Outcome): number => {
    if (rule !== 'one-line') return 0;
    const beside = [...left.values()].filter(
      (value) =>
        value.kind === kind && value.axis === axis && value.grade === 'wrong' && value.subject !== element,
    );
    return Math.max(
      0,
      ...beside.filter(({ subject }) => isSelfOrAncestor(analysis, element, subject)).map(({ px }) => px),
    );
  };

  /** Whether what should hold instead does, by a number that its rule has no part in. */
  const meetsWish = (observation: Observation, { after }: Outcome): boolean => {
    const wish = wishOf(analysis, observation);
    if (!wish) return true;
    const standings = standingsOf(after, wish);
    return standings !== null && worstOf(standings).missing <= NEAR;
  };

  /** Px of a finding that are left by changes, with what one of them leaves sticking out beside it. */
  const leftBy = (observation: Observation, proposals: readonly Proposal[], outcome: Outcome): number =>
    Math.max(
      leftOf(observation, outcome),
      ...proposals.map((proposal) => leftBeside(observation, proposal, outcome)),
    );

  /** What may be to blame for the others of its kind: what is too wide pushes out what stands beside it as well. */
  const ofOthers = (told: Observation): Proposal[] =>
    told.kind !== 'overflow' || told.axis !== 'x'
      ? []
      : before
          .filter(
            (observation) =>
              observation !== told &&
              observation.kind === 'overflow' &&
              observation.axis === 'x' &&
              observation.grade === 'wrong',
          )
          .slice(0, BESIDE)
          .flatMap(
            (observation) => proposals(observation).find(({ source, isProof }) => source && !isProof) ?? [],
          )
          .map((proposal) => ({ ...proposal, rank: proposal.rank - 4 }));

  async function blame(observation: Observation): Promise<Blame> {
    const culprits: CulpritCandidate[] = [];
    const remedies: (ProvedRemedy & { rank: number; outcome?: Outcome })[] = [];
    const list = asWritten(
      [...proposals(observation), ...ofOthers(observation)].sort((a, b) => b.rank - a.rank),
    );
    const partial: Attempt[] = [];
    const trades: FixWithRegression[] = [];
    let tries = 0;
    for (const proposal of list) {
      if (isStopped() || tries >= MOST || remedies.length >= ENOUGH) break;
      const put = editsFor(analysis, files, proposal.steps);
      if (!put) continue;
      tries++;
      const outcome = await tried(observation.kind, put.edits);
      if (!outcome) continue;
      // What changes nothing on the page proves nothing.
      if (isOfLayout(observation) && !hasChanged(analysis, outcome.after)) continue;
      if (observation.kind === 'stray-scroll' && scrollsAlike(analysis, outcome.after)) continue;
      const left = meetsWish(observation, outcome) ? leftBy(observation, [proposal], outcome) : observation.px;
      const off = observation.px === 0 ? 0 : observation.px - left;
      const gone = left === 0;
      if (!gone && !proposal.isProof && (off > 0 || outcome.fresh.length === 0))
        partial.push({ proposal, put, off, brings: outcome.fresh.length > 0 });
      if (!gone && !(off > Math.max(0.5, observation.px * PART))) continue;
      if (!culprits.some((culprit) => isSameCulprit(culprit, proposal)))
        culprits.push({
          ...culpritOf(analysis, proposal, gone ? observation.px : off),
          gone,
          rank: proposal.rank,
          isAround: proposal.isAround === true,
          outcome,
        });
      if (!gone || proposal.isProof) continue;
      if (outcome.fresh.length > 0) trades.push({ proposal, put, fresh: outcome.fresh });
      else
        remedies.push({
          ...remedyOf(observation, proposal.words, put, outcome),
          rank: proposal.rank,
          outcome,
        });
    }
    for (const some of [partial.filter(({ brings }) => !brings), partial])
      if (remedies.length === 0 && !isStopped()) remedies.push(...(await tryTogether(observation, some)));
    if (remedies.length === 0 && !isStopped()) remedies.push(...(await tryWithFollowUp(observation, trades)));
    const owesAll = ({ gone, px }: { gone: boolean; px: number }) => gone || px >= observation.px * NEARLY;
    culprits.sort(
      (a, b) =>
        Number(a.isAround) - Number(b.isAround) || Number(owesAll(b)) - Number(owesAll(a)) || b.rank - a.rank,
    );
    remedies.sort((a, b) => b.rank - a.rank);
    const [first] = culprits;
    return {
      culprits: culprits.map(
        ({ gone: _gone, rank: _rank, isAround: _isAround, outcome: _made, ...one }) => one,
      ),
      also:
        first?.gone && remedies[0]?.outcome ? goneWith(observation, first.outcome, remedies[0].outcome) : [],
      remedies: remedies.map(({ rank: _rank, outcome: _made, ...one }) => one),
    };
  }

  /** Findings like one that go with it, by what the change of its culprit and its first remedy come to. */
  const goneWith = (told: Observation, outcome: Outcome, mended: Outcome): string[] =>
    before
      .filter(
        (observation) =>
          observation !== told && observation.kind === told.kind && observation.axis === told.axis,
      )
      .filter(
        (observation) =>
          observation.grade === 'wrong' &&
          leftOf(observation, outcome) === 0 &&
          leftOf(observation, mended) === 0,
      )
      .map((observation) => keyOf(analysis, observation));

  const remedyOf = ({ kind, rule }: Observation, words: string, put: Put, { after }: Outcome): ProvedRemedy => {
    return {
      words,
      ...put,
      // A frame has no device of its own, and is measured where it is not scrolled: what a phone makes of the element,
      // and whether a box sticks, has not been seen.
      proved: kind !== 'viewport' && rule !== 'declaration/never-sticks',
      widths: [analysis.reading.viewport.width],
      short: [],
      sideEffects: sideEffectsOf(analysis, after),
    };
  };

  /** Where no change is enough, the two or three that take most away, at once. */
  async function tryTogether(
    observation: Observation,
    partial: readonly Attempt[],
  ): Promise<(ProvedRemedy & { rank: number })[]> {
    const list: Attempt[] = [];
    for (const attempt of [...partial].sort((a, b) => b.off - a.off || b.proposal.rank - a.proposal.rank))
      if (!list.some((other) => isSameCulprit(culpritOf(analysis, other.proposal, 0), attempt.proposal)))
        list.push(attempt);
    const outcomeOf = async (some: readonly Attempt[]): Promise<{ put: Put; outcome: Outcome } | null> => {
      const put = joined(some.map((attempt) => attempt.put));
      const outcome = await tried(observation.kind, put.edits);
      const proposals = some.map(({ proposal }) => proposal);
      const isGone = outcome && leftBy(observation, proposals, outcome) === 0 && outcome.fresh.length === 0;
      return isGone && meetsWish(observation, outcome) ? { put, outcome } : null;
    };
    for (let n = 2; n <= Math.min(3, list.length); n++) {
      let some = list.slice(0, n);
      let result = await outcomeOf(some);
      if (!result) continue;
      // What the others do without is left out.
      for (const attempt of n > 2 ? some : []) {
        const fewer = some.filter((other) => other !== attempt);
        const without = await outcomeOf(fewer);
        if (without) [some, result] = [fewer, without];
      }
      const words = some.map(({ proposal }) => proposal.words).join(', and ');
      return [{ ...remedyOf(observation, words, result.put, result.outcome), rank: 0 }];
    }
    return [];
  }

  /** Where every change that helps brings another finding, such a change with one that takes that away, or two of them. */
  async function tryWithFollowUp(
    observation: Observation,
    trades: readonly FixWithRegression[],
  ): Promise<(ProvedRemedy & { rank: number })[]> {
    const both = async (
      attempted: Attempted,
      other: Attempted,
    ): Promise<(ProvedRemedy & { rank: number })[]> => {
      const put = joined([attempted.put, other.put]);
      const outcome = await tried(observation.kind, put.edits);
      const left = outcome && leftBy(observation, [attempted.proposal, other.proposal], outcome);
      if (!outcome || left !== 0 || outcome.fresh.length > 0 || !meetsWish(observation, outcome)) return [];
      const words = `${attempted.proposal.words}, and ${other.proposal.words}`;
      return [{ ...remedyOf(observation, words, put, outcome), rank: 0 }];
    };
    const few = trades.slice(0, BESIDE / 2);
    for (const trade of few) {
      if (trade.fresh.length > 1) continue;
      const mends = asWritten(proposals(trade.fresh[0]!).filter(({ isProof }) => !isProof));
      for (const proposal of mends.slice(0, BESIDE)) {
        if (isStopped()) return [];
        const put = editsFor(analysis, files, proposal.steps);
        const result = put ? await both(trade, { proposal, put }) : [];
        if (result.length > 0) return result;
      }
    }
    for (const [n, trade] of few.entries())
      for (const other of trades.slice(n + 1, BESIDE)) {
        if (isStopped()) return [];
        const isSame = isSameCulprit(culpritOf(analysis, trade.proposal, 0), other.proposal);
        const result = isSame ? [] : await both(trade, other);
        if (result.length > 0) return result;
      }
    return [];
  }

  /** What a change that takes a finding away elsewhere does here: it helps, leaves it, or brings another. */
  async function effectAtWidth(key: string, kind: FindingKind, edits: readonly Edit[]): Promise<EffectAtWidth> {
    const outcome = await tried(kind, edits);
    if (!outcome || outcome.fresh.length > 0) return 'brings';
    const here = before.find((observation) => keyOf(analysis, observation) === key);
    return !here || here.grade === 'meant' || leftOf(here, outcome) === 0 ? 'helps' : 'leaves';
  }

  return { blame, effectAtWidth };
}

/** Whether it would be seen if a declaration without effect had its effect. */
const isMissed = ({ kind, evidence }: Observation): boolean =>
  kind === 'inert' && !evidence.some(({ signal }) => signal === 'nothing-is-missed');

/** Whether an observation is of boxes alone, so that what mends it moves or resizes some: text and generated content are not among them. */
const isOfLayout = ({ kind }: Observation): boolean => /^(gap|size|percent-height)$/.test(kind);

function hasChanged(before: Analysis, after: Analysis): boolean {
  const { moved, resized, appeared, vanished, wrapped } = differences(before.tree, after.tree).counts;
  if (moved + resized + appeared + vanished + wrapped > 0) return true;
  const generated = ({ tree }: Analysis): string => JSON.stringify([...inside(tree).pseudos]);
  return generated(before) !== generated(after);
}

/** Whether the page and all that scrolls in it scroll as far as before. */
function scrollsAlike({ reading: before }: Analysis, { reading: after }: Analysis): boolean {
  const extents = ({ document, scrolls }: RawReading): string =>
    [document.scrollWidth, document.scrollHeight, document.clientWidth, document.clientHeight, ...scrolls].join(
      ' ',
    );
  return extents(before) === extents(after);
}

export type Prover = ReturnType<typeof makeProver>;

const isSameCulprit = (culprit: Culprit, { property, source, element }: Proposal): boolean =>
  source && culprit.source
    ? culprit.source.sheet === source.sheet &&
      culprit.source.line === source.line &&
      culprit.source.column === source.column
    : culprit.source === source && culprit.property === property && culprit.element === element;

const culpritOf = (
  analysis: Analysis,
  { element, property, rule, source, because }: Proposal,
  px: number,
): Culprit => ({
  element,
  path: pathOf(analysis.reading, element),
  property,
  px,
  rule,
  source,
  because,
});
