/** Media conditions that change nothing of a page, whether they hold or not. */
import type { RawReading } from '../../reading/reading.ts';
import type { Plan, PlannedRule } from '../cascade/plan.ts';

/** Whether a rule matches anything, if its conditions hold: a selector that the engine refuses takes it with it (Selectors 4 §4.1). */
export const isReaching = ({ selectors }: PlannedRule, { matches }: RawReading): boolean =>
  selectors.every(({ query }) => matches[query] !== null) &&
  selectors.some(({ query }) => matches[query]!.length > 0);

const cache = new WeakMap<RawReading['matches'], { plan: Plan; silent: boolean[] }>();

/**
 * By media condition, whether nothing comes of it: no rule under it matches an element, and it decides neither the order of
 * layers nor what else sheets say of the whole document.
 */
export function mediaWithoutEffect(plan: Plan, reading: RawReading): readonly boolean[] {
  const { matches } = reading;
  const cached = cache.get(matches);
  if (cached?.plan === plan) return cached.silent;
  const silent = plan.request.media.map(() => true);
  const tell = (conditions: Plan['others'][number]): void => {
    for (const { kind, index } of conditions) if (kind === 'media') silent[index] = false;
  };
  for (const { conditions } of plan.layers) tell(conditions);
  for (const conditions of plan.others) tell(conditions);
  for (const rule of plan.rules)
    if (rule.conditions.length > 0 && isReaching(rule, reading)) tell(rule.conditions);
  cache.set(matches, { plan, silent });
  return silent;
}
