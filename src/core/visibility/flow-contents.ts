/** What lies in the flow of a container. */
import type { Analysis } from '../analysis.ts';
import { childrenOf, hasBox, inside } from '../boxes/tree.ts';

const cache = new WeakMap<Analysis, (readonly number[] | null | undefined)[]>();

/** Boxes in the flow of a container; null: text that is not blank stands beside them. */
export function flowContents(analysis: Analysis, container: number): readonly number[] | null {
  let all = cache.get(analysis);
  if (!all) cache.set(analysis, (all = []));
  let result = all[container];
  if (result === undefined) all[container] = result = listed(analysis, container);
  return result;
}

function listed({ tree }: Analysis, container: number): number[] | null {
  const hasText = (inside(tree).texts.get(container) ?? []).some(({ blank }) => !blank);
  return hasText
    ? null
    : childrenOf(tree, container).filter(
        (child) => hasBox(tree, child) && !/absolute|fixed|float/.test(tree.kinds[child]!),
      );
}
