/** What lies in the flow of a container. */
import type { Analysis } from '../../analysis.ts';
import { childrenOf, hasBox, inside } from '../../boxes/tree.ts';

/** Boxes in the flow of a container that are not blank text. */
export function contents({ tree }: Analysis, container: number): number[] | null {
  const hasText = (inside(tree).texts.get(container) ?? []).some(({ blank }) => !blank);
  return hasText
    ? null
    : childrenOf(tree, container).filter(
        (one) => hasBox(tree, one) && !/absolute|fixed|float/.test(tree.kinds[one]!),
      );
}
