/** The order in which boxes are painted (CSS 2.2 Appendix E), for telling which of two lies above. */
import { holdsFixed } from './formatting-contexts.ts';
import { usedText, type BoxTree } from './tree.ts';

const isPositioned = (position: string): boolean => position !== '' && position !== 'static';

/** z-index as a number; null for `auto`. */
export function zIndexOf(tree: BoxTree, element: number): number | null {
  const text = usedText(tree.reading, 'z-index', element);
  return text === '' || text === 'auto' ? null : Number(text);
}

/** Whether a box makes a stacking context (CSS 2.2 §9.9.1, CSS Positioned Layout 3 §4). */
export function makesContext(tree: BoxTree, element: number): boolean {
  const { reading, kinds } = tree;
  const position = usedText(reading, 'position', element);
  const opacity = usedText(reading, 'opacity', element);
  const item = kinds[element] === 'flex-item' || kinds[element] === 'grid-item';
  return (
    position === 'fixed' ||
    position === 'sticky' ||
    ((isPositioned(position) || item) && zIndexOf(tree, element) !== null) ||
    (opacity !== '' && opacity !== '1') ||
    // What holds fixed boxes is painted as one as well: transforms, filters, containment.
    holdsFixed(tree, element) !== null
  );
}

type Phase = 'block' | 'float' | 'inline';
function phaseOf(tree: BoxTree, element: number): Phase {
  const kind = tree.kinds[element]!;
  if (kind === 'float') return 'float';
  return kind === 'inline' || kind === 'inline-block' || kind === 'inline-replaced' ? 'inline' : 'block';
}

interface Layer {
  element: number;
  z: number;
  context: boolean;
}

/** A piece of painting that yields the pieces to be done before it goes on: pages nest deeper than a call stack does. */
type Work = Generator<Work, void, void>;

function run(first: Work): void {
  const stack = [first];
  for (let top = stack.at(-1); top; top = stack.at(-1)) {
    const { value, done } = top.next();
    if (done) stack.pop();
    else stack.push(value);
  }
}

/** For each element its place in the painting: the higher is above. */
export function paintOrder(tree: BoxTree): Int32Array {
  const order = new Int32Array(tree.count).fill(-1);
  let next = 0;
  const isLayer = (element: number): boolean =>
    makesContext(tree, element) || isPositioned(usedText(tree.reading, 'position', element));
  const pushChildren = (stack: number[], element: number): void => {
    for (let c = tree.first[element + 1]! - 1; c >= tree.first[element]!; c--) stack.push(tree.children[c]!);
  };

  /**
   * What takes part in the painting of a stacking context by itself, in tree order: what is in a positioned box that makes no
   * context takes part in that around it.
   */
  function layersIn(root: number): Layer[] {
    const out: Layer[] = [];
    const stack: number[] = [];
    pushChildren(stack, root);
    while (stack.length > 0) {
      const element = stack.pop()!;
      const context = makesContext(tree, element);
      if (context || isPositioned(usedText(tree.reading, 'position', element)))
        out.push({ element, z: zIndexOf(tree, element) ?? 0, context });
      if (!context) pushChildren(stack, element);
    }
    return out;
  }

  /** Paints what belongs to `root` itself, without its layers. `mark`: and its own ground. */
  function* paintFlow(root: number, mark: boolean): Work {
    const phases: Record<Phase, number[]> = { block: [], float: [], inline: [] };
    const stack: number[] = [];
    if (mark) order[root] = next++;
    pushChildren(stack, root);
    while (stack.length > 0) {
      const element = stack.pop()!;
      if (isLayer(element)) continue;
      const phase = phaseOf(tree, element);
      phases[phase].push(element);
      if (phase === 'block') pushChildren(stack, element);
    }
    for (const element of phases.block) order[element] = next++;
    for (const element of phases.float) yield paintFlow(element, true);
    for (const element of phases.inline) yield paintFlow(element, true);
  }

  function* paintContext(root: number): Work {
    order[root] = next++;
    // Of one level those that come first in the document are painted first (Appendix E, steps 3, 8 and 9).
    const layers = layersIn(root).sort((a, b) => a.z - b.z || a.element - b.element);
    const paint = ({ element, context }: Layer): Work =>
      context ? paintContext(element) : paintFlow(element, true);
    for (const layer of layers) if (layer.z < 0) yield paint(layer);
    yield paintFlow(root, false);
    for (const layer of layers) if (layer.z >= 0) yield paint(layer);
  }

  const roots: number[] = [];
  for (let i = 0; i < tree.count; i++) if (tree.reading.parent[i]! < 0) roots.push(i);
  for (const root of roots) run(paintContext(root));
  return order;
}
