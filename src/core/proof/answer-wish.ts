/** What keeps a wish from being met, and the changes that were proved to meet it; by the wish's own number alone. */
import type { Analysis } from '../analysis.ts';
import { rectOf } from '../boxes/tree.ts';
import { differences } from '../compare/reading-diff.ts';
import type { Observation } from '../finding.ts';
import { elementAt, labelOf, pathOf } from '../reading/labels.ts';
import { editsFor, joined, type Put } from '../remedies/edits.ts';
import { sideEffectsOf } from './side-effects.ts';
import { eachOnce, proposalsFor } from '../remedies/index.ts';
import type { Proposal } from '../remedies/model.ts';
import { wishedProposals } from '../remedies/wished/index.ts';
import { suspectsOf } from '../rules/index.ts';
import type { Edit } from '../trials/edit.ts';
import type { Files } from '../trials/targets.ts';
import { isSelfOrAncestor } from '../visibility/visibility.ts';
import { relationWords, type Wish } from '../wishes/model.ts';
import { otherBox, shortfall, standingsOf, worstOf, type Standing } from '../wishes/quantities.ts';
import { makeFreshFindings, type FoundAfter } from './fresh-findings.ts';
import type { Culprit, Measure, ProvedRemedy } from './prover.ts';
import { solvablesOf, takenOut, type Solvable } from './wish-suspects.ts';

/** The page at one width, and how it is measured under changes there. */
export interface WishView {
  analysis: Analysis;
  before: readonly Observation[];
  measure: Measure;
  /** Runs what asks accounts until the engine has said all that they lack. */
  complete: <T>(run: () => T) => Promise<T>;
}

/** How a wish stands at one width. */
export interface WishAt {
  width: number;
  /** By how much it is off there, in CSS px or lines; 0: it is met. */
  missing: number;
  /** The box that is farthest from it. */
  path: string;
  label: string;
  /** The number that is measured, and the two that it should lie between; null: it has no bound there. */
  now: number;
  least: number | null;
  most: number | null;
}

export interface WishAnswer {
  /** In the language that wishes are written in. */
  words: string;
  at: WishAt[];
  isMet: boolean;
  culprits: Culprit[];
  /** Each meets the wish at every one of its widths, and brings nothing wrong at any. */
  remedies: ProvedRemedy[];
  /** Where none does: the change that comes closest, with what is missing then. */
  closest: { remedy: ProvedRemedy; missing: number } | null;
  /** Changes that were applied and measured. */
  tried: number;
}

export interface Answering {
  wish: Wish;
  /** The first of those at which it is not met is answered first: a change for it may be too little at others. */
  views: readonly WishView[];
  files: Files;
  isStopped?: () => boolean;
  progress?: (tried: number, of: number) => void;
  asWritten?: <T>(result: T) => T;
}

/** Changes that are tried for one wish at most, and how many that meet it are enough. */
const MOST = 70;
const ENOUGH = 4;
/** How often a number is corrected by what it came to. */
const CORRECTIONS = 2;
/** A share of what is missing below this is nobody's doing in particular. */
const PART = 0.2;
/** So many changes that come close are tried by twos. */
const BESIDE = 4;

interface Outcome extends FoundAfter {
  after: Analysis;
  standing: Standing;
}

interface Attempt {
  proposal: Proposal;
  put: Put;
  outcome: Outcome;
}

/** Throws a RangeError where the boxes cannot stand in the relation, or one of them is not on the page. */
export async function answerWish(answering: Answering): Promise<WishAnswer> {
  const { wish, views, isStopped = () => false } = answering;
  const standings = views.map(({ analysis }) => standingAt(analysis, wish));
  const answer: WishAnswer = {
    words: wordsOf(wish),
    at: views.map(({ analysis }, n) => whereItStands(analysis, standings[n]!)),
    isMet: standings.every(({ missing }) => missing === 0),
    culprits: [],
    remedies: [],
    closest: null,
    tried: 0,
  };
  if (answer.isMet) return answer;
  const unmet = [...standings.keys()].filter((n) => standings[n]!.missing > 0);
  const worst = unmet.reduce((a, b) => (standings[b]!.missing > standings[a]!.missing ? b : a));
  // What is enough at one width need not be at another: where nothing is for the first, the worst is looked at as well.
  for (const [round, n] of [...new Set([unmet[0]!, worst])].entries()) {
    if (answer.remedies.length > 0 || isStopped()) break;
    const { culprits, remedies, closest, tried } = await answerAt(answering, n, standings[n]!);
    answer.tried += tried;
    answer.remedies = remedies;
    if (round > 0) continue;
    answer.culprits = culprits;
    answer.closest = closest;
  }
  return answer.remedies.length > 0 ? { ...answer, closest: null } : answer;
}

/** The answer for one of the widths at which a wish is not met. */
async function answerAt(
  answering: Answering,
  at: number,
  standing: Standing,
): Promise<Pick<WishAnswer, 'culprits' | 'remedies' | 'closest' | 'tried'>> {
  const { views, isStopped = () => false } = answering;
  const { analysis } = views[at]!;
  const trials = makeTrials(answering, at, standing);
  const { met, partial } = await trials.tryAll();
  const blamed = [...met, ...partial].filter(({ proposal }) => proposal.because !== '');
  const clean = met.filter(isClean);
  const proved = await trials.prove(clean.filter(({ proposal }) => !isTakenOut(proposal)));
  // Taking something out is what is left where little else helps.
  if (proved.length < 2)
    proved.push(...(await trials.prove(clean.filter(({ proposal }) => isTakenOut(proposal)))));
  const nearest = [...partial]
    .filter(isClean)
    .sort((a, b) => a.outcome.standing.missing - b.outcome.standing.missing);
  if (proved.length === 0 && !isStopped()) proved.push(...(await trials.tryByTwos(nearest.slice(0, BESIDE))));
  proved.sort((a, b) => b.order - a.order);
  return {
    culprits: culpritsOf(analysis, blamed, standing.missing),
    remedies: proved.slice(0, ENOUGH).map(({ order: _order, ...remedy }) => remedy),
    closest: nearest[0] ? closestOf(analysis, nearest[0]) : null,
    tried: trials.count(),
  };
}

/** A remedy with its place among others: likely ones with few side effects come first. */
type Ranked = ProvedRemedy & { order: number };

const isClean = ({ outcome }: Attempt): boolean => outcome.fresh.length === 0;

/** What lays changes over the page at one of its widths, and holds those that help there at the others. */
function makeTrials(
  { wish, views, files, isStopped = () => false, progress, asWritten = (result) => result }: Answering,
  base: number,
  standing: Standing,
) {
  const view = views[base]!;
  const { analysis } = view;
  const lookAfter = views.map(({ analysis: plain, before }) => makeFreshFindings(plain, before));
  let count = 0;

  async function outcomeAt(n: number, edits: readonly Edit[]): Promise<Outcome | null> {
    const after = await views[n]!.measure(edits);
    const list = after && standingsOf(after, wish);
    return list ? { ...lookAfter[n]!(after), after, standing: worstOf(list) } : null;
  }

  async function attemptOf(proposal: Proposal): Promise<Attempt | null> {
    const put = editsFor(analysis, files, proposal.steps);
    const outcome = put && (await outcomeAt(base, put.edits));
    if (!put || !outcome) return null;
    // What takes a box away, or leaves nothing of it, solves nothing.
    if (differences(analysis.tree, outcome.after.tree).counts.vanished > 0) return null;
    if (isSeen(analysis, standing.element) && !isSeen(outcome.after, outcome.standing.element)) return null;
    return { proposal, put, outcome };
  }

  /** Those that meet the wish here, and those that come closer. */
  async function tryAll(): Promise<{ met: Attempt[]; partial: Attempt[] }> {
    const candidates = await view.complete(() => candidatesFor(view, wish, standing));
    const list = asWritten(candidates.slice(0, MOST));
    const met: Attempt[] = [];
    const partial: Attempt[] = [];
    for (const [n, { proposal, solvable }] of list.entries()) {
      if (isStopped()) break;
      const isEnough =
        met.filter((attempt) => isClean(attempt) && !isTakenOut(attempt.proposal)).length >= ENOUGH;
      // Once enough helps, what is left is looked at only for who is to blame.
      if (isEnough && proposal.because === '') continue;
      progress?.(n, list.length);
      count++;
      const first = await attemptOf(proposal);
      const attempt =
        first && solvable
          ? await corrected(first, solvable, standing, (next) => attemptOf(asWritten(next)))
          : first;
      if (!attempt) continue;
      const left = attempt.outcome.standing.missing;
      if (left === 0) met.push(attempt);
      else if (left < standing.missing * (1 - PART)) partial.push(attempt);
    }
    return { met, partial };
  }

  /** A change that helps here, at the other widths; null: it brings something wrong at one of them, or was not measured at all. */
  async function proveOne({ proposal, put, outcome }: Attempt): Promise<Ranked | null> {
    const widths = [analysis.reading.viewport.width];
    const short: number[] = [];
    for (const [n, other] of views.entries()) {
      if (n === base) continue;
      // What was not measured everywhere is not proved.
      if (isStopped()) return null;
      const there = await outcomeAt(n, put.edits);
      if (!there || there.fresh.length > 0) return null;
      (there.standing.missing === 0 ? widths : short).push(other.analysis.reading.viewport.width);
    }
    const sideEffects = sideEffectsOf(analysis, outcome.after);
    const cost = 1.5 * Math.log2(1 + sideEffects.moved + sideEffects.resized) + 30 * short.length;
    const { words, rank } = proposal;
    widths.sort((a, b) => a - b);
    return { words, ...put, proved: true, widths, short, sideEffects, order: rank - cost };
  }

  async function prove(attempts: readonly Attempt[]): Promise<Ranked[]> {
    const out: Ranked[] = [];
    for (const attempt of attempts) {
      const proved = await proveOne(attempt);
      if (proved) out.push(proved);
    }
    return out;
  }

  /** Changes of two places that each take a part away, until two meet the wish together. */
  async function tryByTwos(partial: readonly Attempt[]): Promise<Ranked[]> {
    for (const [first, second] of pairsOf(partial)) {
      if (isStopped()) break;
      const put = joined([first.put, second.put]);
      const outcome = await outcomeAt(base, put.edits);
      count++;
      if (outcome?.standing.missing !== 0 || outcome.fresh.length > 0) continue;
      const words = `${first.proposal.words}, and ${second.proposal.words}`;
      const rank = Math.min(first.proposal.rank, second.proposal.rank);
      const proved = await proveOne({ proposal: { ...first.proposal, words, rank }, put, outcome });
      if (proved) return [proved];
    }
    return [];
  }

  return { tryAll, prove, tryByTwos, count: () => count };
}

/** The change that comes closest, with what is missing then. */
const closestOf = (analysis: Analysis, { proposal, put, outcome }: Attempt): WishAnswer['closest'] => ({
  missing: outcome.standing.missing,
  remedy: {
    words: proposal.words,
    ...put,
    proved: false,
    widths: [],
    short: [analysis.reading.viewport.width],
    sideEffects: sideEffectsOf(analysis, outcome.after),
  },
});

const wordsOf = ({ paths, relation }: Wish): string =>
  `${paths.join(', ')}: ${relationWords(relation, (path) => path)}`;

/** The box of a wish that is farthest from it. Throws a RangeError where one of its boxes is not laid out. */
export function standingAt(analysis: Analysis, wish: Wish): Standing {
  const standings = standingsOf(analysis, wish);
  if (!standings)
    throw new RangeError(
      `A box that the wish is about is not laid out at ${analysis.reading.viewport.width} px: wish for boxes that are there`,
    );
  return worstOf(standings);
}

export function whereItStands(analysis: Analysis, { element, path, missing, quantities }: Standing): WishAt {
  const worst = quantities.reduce((a, b) => (Math.abs(shortfall(b)) > Math.abs(shortfall(a)) ? b : a));
  const finite = (value: number) => (Number.isFinite(value) ? value : null);
  return {
    width: analysis.reading.viewport.width,
    missing,
    path,
    label: labelOf(analysis.reading, element),
    now: worst.now,
    least: finite(worst.least),
    most: finite(worst.most),
  };
}

interface Candidate {
  proposal: Proposal;
  solvable?: Solvable;
}

function candidatesFor({ analysis, before }: WishView, wish: Wish, standing: Standing): Candidate[] {
  const { relation, paths } = wish;
  const { element } = standing;
  const other = otherBox(analysis, element, relation);
  const elements = paths.map((path) => elementAt(analysis.reading, path)).filter((at) => at >= 0);
  const solvables = solvablesOf(analysis, standing, other).map((solvable): Candidate => {
    const { now, rate, at, quantity } = solvable;
    return { proposal: at(now + shortfall(standing.quantities[quantity]!) / rate), solvable };
  });
  const told = relatedFindings(analysis, before, wish, element, other).flatMap((observation) =>
    proposalsFor(analysis, observation, (about) => suspectsOf(analysis, about)).filter(
      ({ isProof }) => !isProof,
    ),
  );
  const plain = [
    ...wishedProposals(analysis, elements, element, other, relation),
    ...told,
    ...takenOut(analysis, standing, other),
  ].map((proposal): Candidate => ({ proposal }));
  return eachOnce(
    [...solvables, ...plain].sort((a, b) => b.proposal.rank - a.proposal.rank),
    ({ proposal }) => proposal.steps,
  );
}

/** Findings that are about what is wished: their rules know what may be to blame. */
function relatedFindings(
  analysis: Analysis,
  before: readonly Observation[],
  { relation }: Wish,
  element: number,
  other: number,
): Observation[] {
  const isIn = (box: number): boolean => isSelfOrAncestor(analysis, element, box);
  const isOf = ({ kind, axis, subject, other: second, places }: Observation): boolean => {
    const here = [subject, ...places];
    switch (relation.is) {
      case 'no-scroll':
        return (
          /^(overflow|stray-scroll)$/.test(kind) &&
          (relation.axis === 'both' || relation.axis === axis) &&
          here.some(isIn)
        );
      case 'whole-text':
        return kind === 'clip' && here.some((box) => isIn(box) || isSelfOrAncestor(analysis, box, element));
      case 'not-over':
        return kind === 'overlap' && [subject, second].includes(element) && [subject, second].includes(other);
      case 'centred':
      case 'flush':
      case 'distance':
        return /^(gap|inert)$/.test(kind) && (here.includes(element) || here.includes(other));
      default:
        return /^(size|percent-height|inert|overflow)$/.test(kind) && here.includes(element);
    }
  };
  return before.filter(isOf).slice(0, 3);
}

const isSeen = ({ reading }: Analysis, element: number): boolean => {
  const { width, height } = rectOf(reading, element);
  return width > 0 && height > 0;
};

const isTakenOut = ({ steps }: Proposal): boolean => steps.every(({ value }) => value === '');

/** A number that did not quite give what is wished is corrected by what it gave. */
async function corrected(
  first: Attempt,
  { now, rate, at, quantity }: Solvable,
  { quantities }: Standing,
  attemptOf: (proposal: Proposal) => Promise<Attempt | null>,
): Promise<Attempt> {
  const needed = (attempt: Attempt): number => shortfall(attempt.outcome.standing.quantities[quantity]!);
  let [best, last] = [first, first];
  let [low, lowNeeds] = [now, shortfall(quantities[quantity]!)];
  let px = now + lowNeeds / rate;
  for (let n = 0; n < CORRECTIONS && needed(last) !== 0; n++) {
    const slope = (lowNeeds - needed(last)) / (px - low);
    if (!Number.isFinite(slope) || Math.abs(slope) < 0.02) break;
    [low, lowNeeds] = [px, needed(last)];
    px += lowNeeds / slope;
    const next = await attemptOf(at(px));
    if (!next) break;
    last = next;
    if (next.outcome.standing.missing < best.outcome.standing.missing) best = next;
  }
  return best;
}

function culpritsOf(analysis: Analysis, attempts: readonly Attempt[], missing: number): Culprit[] {
  const out = new Map<string, Culprit>();
  for (const { proposal, outcome } of attempts) {
    const { element, property, source, rule, because } = proposal;
    const key = source ? `${source.sheet} ${source.line} ${source.column}` : `${element} ${property}`;
    const px = missing - outcome.standing.missing;
    const cached = out.get(key);
    if (cached && cached.px >= px) continue;
    out.set(key, { element, path: pathOf(analysis.reading, element), property, px, rule, source, because });
  }
  return [...out.values()].sort((a, b) => b.px - a.px).slice(0, 5);
}

const pairsOf = (list: readonly Attempt[]): [Attempt, Attempt][] =>
  list.flatMap((first, n) =>
    list
      .slice(n + 1)
      .filter(
        ({ proposal }) =>
          proposal.element !== first.proposal.element || proposal.property !== first.proposal.property,
      )
      .map((second): [Attempt, Attempt] => [first, second]),
  );
