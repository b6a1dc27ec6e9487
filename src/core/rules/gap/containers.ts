/** Containers whose space is looked at: those that can be seen. */
import type { Analysis } from '../../analysis.ts';
import { layoutOf } from '../../boxes/formatting-contexts.ts';
import { hasBox } from '../../boxes/tree.ts';
import { visibilityOf } from '../../visibility/visibility.ts';
import type { Observed } from '../model.ts';

type Look = (analysis: Analysis, container: number) => Observed[];

/** Looks at every container. */
export const inContainers =
  (look: Look) =>
  (analysis: Analysis): Observed[] => {
    const { tree } = analysis;
    const { visible } = visibilityOf(analysis);
    const out: Observed[] = [];
    for (let i = 1; i < tree.count; i++) if (visible[i] && hasBox(tree, i)) out.push(...look(analysis, i));
    return out;
  };

/** Looks at those that lay out their content in flow (CSS 2.2 §9.4). */
export const inFlowContainers = (look: Look): ((analysis: Analysis) => Observed[]) =>
  inContainers((analysis, container) =>
    layoutOf(analysis.tree, container) === 'flow' ? look(analysis, container) : [],
  );
