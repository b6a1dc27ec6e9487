/** What each rule says of one box: that it tells of it, or what stopped it. */
import type { Analysis } from '../analysis.ts';
import type { FindingKind } from '../finding.ts';
import { againstOf } from '../evidence/model.ts';
import { observeAll, RULES, type RuleId } from './index.ts';
import { oncePerAnalysis, type Observed } from './model.ts';
import type { Stop, StopSort } from './stops.ts';

/**
 * `told`: a finding. `doubtful`, `meant`: a finding that is said to be so, for the reason in `says`. `folded`: it is told as a
 * part of another finding. `stopped`: a check stopped it. `none`: the rule is about other boxes, and did not look at this one.
 */
export type Outcome = 'told' | 'doubtful' | 'meant' | 'folded' | 'stopped' | 'none';

export interface RuleAnswer {
  rule: RuleId;
  kind: FindingKind;
  title: string;
  outcome: Outcome;
  /** What it tells, or why it is said to be doubtful or meant; '': nothing. */
  says: string;
  /** What stopped it: the check that is nearest to a finding first. */
  stops: { sort: StopSort; why: string }[];
}

/** Checks that are told of one rule. */
const MOST_STOPS = 3;

const isAbout = ({ subject, other, places }: Observed, element: number): boolean =>
  subject === element || other === element || places.includes(element);

/** All findings, and by rule what it observes and what stopped it. The rules run once more for it, each on its own. */
const tracesOf = oncePerAnalysis((analysis) => ({
  found: observeAll(analysis),
  traces: RULES.map(({ id, kind, title, observe }) => {
    // What rules share would be noted for the first of them alone.
    const stops: Stop[] = [];
    const observed = observe({ ...analysis, memo: new Map(), stops });
    return { about: { rule: id, kind, title }, observed, stops };
  }),
}));

/** What every rule says of a box, those that tell of it first. */
export function whyNot(analysis: Analysis, element: number): RuleAnswer[] {
  const { found: all, traces } = tracesOf(analysis);
  const found = all.filter((observation) => isAbout(observation, element));
  const answers = traces.map(({ about, observed, stops: noted }): RuleAnswer => {
    const { rule: id } = about;
    const finding = found.find((observation) => observation.rule === id);
    if (finding) {
      const { grade, what } = finding;
      const outcome = grade === 'wrong' ? 'told' : grade;
      return { ...about, outcome, says: [what, ...againstOf(finding)].join('. '), stops: [] };
    }
    if (observed.some((entry) => isAbout(entry, element)))
      return { ...about, outcome: 'folded', says: 'it is told as a part of another finding', stops: [] };
    const stops = nearest(noted.filter((stop) => stop.element === element));
    return { ...about, outcome: stops.length > 0 ? 'stopped' : 'none', says: '', stops };
  });
  return answers.sort((a, b) => ORDER.indexOf(a.outcome) - ORDER.indexOf(b.outcome));
}

const ORDER: readonly Outcome[] = ['told', 'doubtful', 'meant', 'folded', 'stopped', 'none'];

/** Different checks, the nearest to a finding first: evidence before what can be seen, that before geometry, later before earlier. */
function nearest(stops: readonly Stop[]): RuleAnswer['stops'] {
  const out = new Map<string, RuleAnswer['stops'][number]>();
  for (const { sort, why } of [...stops].reverse()) if (!out.has(why)) out.set(why, { sort, why });
  const rank = ({ sort }: { sort: StopSort }): number => STOP_WORDS.findIndex(([name]) => name === sort);
  return [...out.values()].sort((a, b) => rank(a) - rank(b)).slice(0, MOST_STOPS);
}

/** Why a rule that looked at a box was stopped, by what the check looks at: what is nearest to a finding first. */
const STOP_WORDS: readonly (readonly [StopSort, string])[] = [
  ['evidence', 'Something says that it is meant'],
  ['visibility', 'Nothing wrong would be seen of it'],
  ['geometry', 'It is no such case'],
];

/** Rules that say something of a box, or were stopped at it for one sort of reason. */
export interface AnswerGroup {
  title: string;
  answers: { rule: string; says: string }[];
}

/** What is told of a box first, then why the other rules that looked at it say nothing. `others`: rules about other kinds of boxes. */
export function groupedAnswers(answers: readonly RuleAnswer[]): { groups: AnswerGroup[]; others: number } {
  const outcome = (title: string, ...outcomes: RuleAnswer['outcome'][]): AnswerGroup => ({
    title,
    answers: answers.filter((answer) => outcomes.includes(answer.outcome)),
  });
  const stopped = answers.filter((answer) => answer.outcome === 'stopped');
  const groups = [
    outcome('Told', 'told'),
    outcome('Told as doubtful', 'doubtful'),
    outcome('Told as probably meant', 'meant'),
    outcome('Told with another finding', 'folded'),
    ...STOP_WORDS.map(([sort, title]) => ({
      title,
      answers: stopped
        .filter(({ stops }) => stops[0]!.sort === sort)
        .map(({ rule, stops }) => ({ rule, says: stops.map(({ why }) => why).join('; ') })),
    })),
  ];
  return {
    groups: groups.filter(({ answers: list }) => list.length > 0),
    others: answers.filter((answer) => answer.outcome === 'none').length,
  };
}
