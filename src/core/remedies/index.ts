/** The kinds of changes; each proposes some for what looks wrong. */
import type { Observation, Suspect } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import * as align from './alignment.ts';
import * as beside from './flex-line.ts';
import * as boxSizing from './box-sizing.ts';
import * as declaration from './declaration.ts';
import * as generated from './generated-content.ts';
import * as hold from './positioning.ts';
import * as sizes from './sizes/index.ts';
import * as margins from './margins.ts';
import type { Remedy, Proposal, Step } from './model.ts';
import { proposalsOf } from './suspects.ts';
import * as shape from './object-fit.ts';
import * as space from './spacing.ts';
import * as wrap from './wrapping.ts';

const REMEDIES: Remedy[] = [
  wrap,
  sizes,
  beside,
  boxSizing,
  margins,
  hold,
  align,
  space,
  shape,
  generated,
  declaration,
];

/** What can give no more than this part of what is wanted is hardly to blame. */
const SMALL = 0.1;

/** By so much what helps elsewhere comes after what a rule suspects itself. */
const LATER = 3;

/** All changes that may take a finding away, the likeliest first, each once. */
export function proposalsFor(
  analysis: Analysis,
  observation: Observation,
  suspects: (observation: Observation) => readonly Suspect[] = () => [],
): Proposal[] {
  // What is in a box keeps it wider than declared: it is helped as where it sticks out.
  if (observation.rule === 'size/content-minimum')
    return proposalsFor(
      analysis,
      {
        ...observation,
        kind: 'overflow',
        rule: 'overflow/container',
        other: observation.subject,
      },
      suspects,
    );
  // What is cut off or scrolled to sideways is helped as where it sticks out of a box that does neither.
  const asOverflow: Observation[] =
    /^(clip\/cut-off|scroll\/slight)$/.test(observation.rule) &&
    observation.axis === 'x' &&
    observation.other !== null
      ? [{ ...observation, kind: 'overflow', rule: 'overflow/container', subject: observation.other }]
      : [];
  const all = [
    ...asOverflow.flatMap((told) =>
      REMEDIES.flatMap(({ propose }) => propose(analysis, told)).map((proposal) => ({
        ...proposal,
        rank: proposal.rank - LATER,
      })),
    ),
    ...proposalsOf(analysis, suspects(observation)),
    ...REMEDIES.flatMap(({ propose }) => propose(analysis, observation)),
  ]
    .map((proposal) => ({
      ...proposal,
      rank: proposal.rank - shortOf(proposal.gives ?? Infinity, observation.px),
    }))
    .sort((a, b) => b.rank - a.rank);
  return eachOnce(all, ({ steps }) => steps);
}

/** Of those that change the same places in the same way the first: a rule on forty boxes is changed once. */
export function eachOnce<T>(list: readonly T[], stepsOf: (entry: T) => readonly Step[]): T[] {
  const seen = new Set<string>();
  return list.filter((entry) => {
    const key = JSON.stringify(
      stepsOf(entry).map(({ source, beside, element, property, value }) => [
        source ?? beside ?? element,
        source === null,
        property,
        value,
      ]),
    );
    return !seen.has(key) && seen.add(key);
  });
}

const shortOf = (gives: number, wanted: number): number =>
  wanted < 1 || gives >= 0.9 * wanted ? 0 : gives >= SMALL * wanted ? 15 : 60;
