/** What an engine takes of the declarations that it was asked about: of plans that differ in few, only those are asked. */
import type { PlanRequest, Validity } from './plan.ts';

type Pair = PlanRequest['declarations'][number];

export interface SupportCache {
  /** `answers`: by the place of each pair; what is not answered is not taken. */
  learn: (pairs: readonly Pair[], answers: readonly boolean[]) => void;
  /** The declarations of a plan that the engine was not asked about yet. */
  unknown: (request: PlanRequest) => Pair[];
  /** The engine's answers to a plan that asks the same conditions as the one of `supports`. */
  validity: (request: PlanRequest, supports: boolean[]) => Validity;
}

export function makeSupportCache(): SupportCache {
  const byKey = new Map<string, boolean>();
  const keyOf = ([property, value]: Pair) => `${property}:${value}`;
  return {
    learn: (pairs, answers) => pairs.forEach((pair, i) => byKey.set(keyOf(pair), answers[i] ?? false)),
    unknown: ({ declarations }) => declarations.filter((pair) => !byKey.has(keyOf(pair))),
    validity: ({ declarations }, supports) => ({
      supports,
      declarations: declarations.map((pair) => byKey.get(keyOf(pair)) ?? false),
    }),
  };
}
