/** What is wrong in several engines put together: the same thing in each of them is one finding. */
import { graded } from '../evidence/index.ts';
import { GRADES, isWorseGrade, type Fact } from '../evidence/model.ts';
import type { FindingAcrossWidths } from './across-widths.ts';

export interface FindingAcrossEngines {
  /** The finding in the engine in which it is worst. */
  seen: FindingAcrossWidths;
  /** That engine, and all that have it: indexes of the lists. */
  worst: number;
  engines: number[];
}

/** Kinds that are about what is written: an engine that takes a declaration makes no page sound in one that does not. */
const OF_DECLARATIONS = /^(inert|dropped|viewport|defaults)$/;

/** `lists`: what was found in each engine, in one order of engines. `names`: of the engines, in that order. */
export function acrossEngines(
  lists: readonly (readonly FindingAcrossWidths[])[],
  names: readonly string[],
): FindingAcrossEngines[] {
  const out = new Map<string, FindingAcrossEngines>();
  for (const [engine, list] of lists.entries())
    for (const seen of list) {
      const cached = out.get(seen.key);
      if (!cached) {
        out.set(seen.key, { seen, worst: engine, engines: [engine] });
        continue;
      }
      cached.engines.push(engine);
      const { grade, px } = cached.seen.observation;
      const here = seen.observation;
      if (isWorseGrade(here.grade, grade) || (here.grade === grade && here.px > px + 0.5)) {
        cached.seen = seen;
        cached.worst = engine;
      }
    }
  const all = [...out.values()].map((finding) => inSomeEngines(finding, names));
  const standing = ({ seen }: FindingAcrossEngines): number => GRADES.indexOf(seen.observation.grade);
  // Each list is in the order in which a visitor would notice what is in it.
  const place = new Map(lists.flatMap((list) => list.map(({ key }, n) => [key, n] as const)));
  return lists.length === 1
    ? all
    : all.sort((a, b) => standing(a) - standing(b) || place.get(a.seen.key)! - place.get(b.seen.key)!);
}

/** What one engine has and another has not speaks for a mistake: nobody means a page to be so in one of them. */
function inSomeEngines(finding: FindingAcrossEngines, names: readonly string[]): FindingAcrossEngines {
  const { seen, engines } = finding;
  const { observation } = seen;
  if (engines.length === names.length || observation.grade === 'meant' || observation.said) return finding;
  if (OF_DECLARATIONS.test(observation.kind)) return finding;
  const missing = names.filter((_, n) => !engines.includes(n));
  const fact: Fact = {
    signal: 'in-some-engines',
    words: `It is there in ${engines.map((n) => names[n]).join(' and ')}, and not in ${missing.join(' or ')}`,
  };
  return { ...finding, seen: { ...seen, observation: graded(observation, [fact]) } };
}
