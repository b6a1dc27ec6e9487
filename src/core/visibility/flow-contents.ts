/** What lies in the flow of a container. */
import type { Analysis } from '../analysis.ts';
import { childrenOf, hasBox, inside } from '../boxes/tree.ts';

const known = new WeakMap<Analysis, (readonly number[] | null | undefined)[]>();

/** Boxes in the flow of a container; null: text that is not blank stands beside them. */
export function contents(analysis: Analysis, container: number): readonly number[] | null {
  let all = known.get(analysis);
  if (!all) known.set(analysis, (all = []));
  let made = all[container];
  if (made === undefined) all[container] = made = listed(analysis, container);
  return made;
}

function listed({ tree }: Analysis, container: number): number[] | null {
  const hasText = (inside(tree).texts.get(container) ?? []).some(({ blank }) => !blank);
  return hasText
    ? null
    : childrenOf(tree, container).filter(
        (one) => hasBox(tree, one) && !/absolute|fixed|float/.test(tree.kinds[one]!),
      );
}
