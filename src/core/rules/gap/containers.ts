/** Containers whose space is looked at: those that can be seen. */
import type { Analysis } from '../../analysis.ts';
import { declaring } from '../../css/cascade/candidates.ts';
import { layoutOf } from '../../boxes/formatting-contexts.ts';
import { oncePerAnalysis, type Observed } from '../model.ts';
import { isUnseen, stopsByGeometry } from '../stops.ts';

type Look = (analysis: Analysis, container: number) => Observed[];

const containers = oncePerAnalysis((analysis) => {
  const { tree } = analysis;
  const all: number[] = [];
  for (let i = 1; i < tree.count; i++) if (!isUnseen(analysis, i)) all.push(i);
  return { all, isFlow: all.map((container) => layoutOf(tree, container) === 'flow') };
});

/** Looks at every container. */
export const inContainers =
  (look: Look) =>
  (analysis: Analysis): Observed[] => {
    const out: Observed[] = [];
    for (const container of containers(analysis).all) out.push(...look(analysis, container));
    return out;
  };

/** Looks at those that lay out their content in flow (CSS 2.2 §9.4). */
export const inFlowContainers =
  (look: Look) =>
  (analysis: Analysis): Observed[] => {
    const { all, isFlow } = containers(analysis);
    const out: Observed[] = [];
    for (const [n, container] of all.entries())
      if (!stopsByGeometry(analysis, container, !isFlow[n] && 'it does not lay out its content in flow'))
        out.push(...look(analysis, container));
    return out;
  };

/** Looks at those of which some declaration of one of the properties speaks. */
export const inDeclaring =
  (properties: readonly string[], look: Look) =>
  (analysis: Analysis): Observed[] => {
    const { styles, tree } = analysis;
    const asked = new Set(properties.flatMap((property) => declaring(styles, property, tree.count)));
    const out: Observed[] = [];
    for (const container of asked)
      if (container > 0 && !isUnseen(analysis, container)) out.push(...look(analysis, container));
    return out;
  };
