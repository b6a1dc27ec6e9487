/** What a change brings: findings graded wrong that were not there without it. */
import type { Analysis } from '../analysis.ts';
import { rectOf } from '../boxes/tree.ts';
import type { FindingKind, Observation } from '../finding.ts';
import { observeAll } from '../rules/index.ts';
import { keyOf } from './keys.ts';

/** Kinds that a change of another kind may bring. */
const VISIBLE: FindingKind[] = ['overflow', 'stray-scroll', 'overlap', 'clip'];

export interface FoundAfter {
  /** All of the kinds asked for and of those that a change may bring. */
  found: Observation[];
  fresh: Observation[];
}

/** Makes what looks at a page under a change for one page without it. `before`: all that was found on that. */
export function makeFreshFindings(analysis: Analysis, before: readonly Observation[]) {
  const keysBefore = new Set(
    [...before, ...observeAll(analysis, VISIBLE, true)].flatMap((observation) =>
      observation.places.map((subject) => keyOf(analysis, { ...observation, subject })),
    ),
  );
  return (after: Analysis, kinds: readonly FindingKind[] = []): FoundAfter => {
    const found = observeAll(after, [...new Set([...kinds, ...VISIBLE])]);
    const fresh = found.filter(
      (observation) =>
        observation.grade === 'wrong' &&
        (observation.px === 0 || observation.px >= 1) &&
        !keysBefore.has(keyOf(after, observation)) &&
        !stuckOut(analysis, observation),
    );
    return { found, fresh };
  };
}

/** Whether a box stuck out of the one around it as far before: where both went beyond the page, that alone was told. */
function stuckOut({ tree, reading }: Analysis, { kind, axis, subject, other, px }: Observation): boolean {
  if (kind !== 'overflow' || axis !== 'x' || other === null || Math.max(subject, other) >= tree.count)
    return false;
  const [rect, around] = [rectOf(reading, subject), rectOf(reading, other)];
  return rect.x + rect.width - around.x - around.width >= px - 0.5;
}
