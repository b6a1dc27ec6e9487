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

  /** Paints what belongs to `root` itself, and puts positioned descendants and contexts into `layers`. */
  function* paintFlow(root: number, layers: Layer[], mark: boolean): Work {
    const phases: Record<Phase, number[]> = { block: [], float: [], inline: [] };
    const stack: number[] = [];
    const push = (element: number) => {
      for (let c = tree.first[element + 1]! - 1; c >= tree.first[element]!; c--) stack.push(tree.children[c]!);
    };
    if (mark) order[root] = next++;
    push(root);
    while (stack.length > 0) {
      const element = stack.pop()!;
      const context = makesContext(tree, element);
      if (context || isPositioned(usedText(tree.reading, 'position', element))) {
        layers.push({ element, z: zIndexOf(tree, element) ?? 0, context });
        continue;
      }
      const phase = phaseOf(tree, element);
      phases[phase].push(element);
      if (phase === 'block') push(element);
    }
    for (const element of phases.block) order[element] = next++;
    for (const element of phases.float) yield paintFlow(element, layers, true);
    for (const element of phases.inline) yield paintFlow(element, layers, true);
  }

  function* paintContext(root: number): Work {
    order[root] = next++;
    const layers: Layer[] = [];
    const before = next;
    yield paintFlow(root, layers, false);
    const inFlow = next;
    yield paintLayers(layers, before, inFlow);
  }

  function* paintLayers(layers: Layer[], before: number, inFlow: number): Work {
    const sorted = layers.map((layer, i) => ({ ...layer, i })).sort((a, b) => a.z - b.z || a.i - b.i);
    for (const { element, context } of sorted) {
      if (context) yield paintContext(element);
      else {
        const inner: Layer[] = [];
        yield paintFlow(element, inner, true);
        yield paintLayers(inner, next, next);
      }
    }
    const negative = sorted.filter(({ z }) => z < 0);
    if (negative.length > 0) sink(order, before, inFlow, lastOf(order, negative));
  }

  const roots: number[] = [];
  for (let i = 0; i < tree.count; i++) if (tree.reading.parent[i]! < 0) roots.push(i);
  for (const root of roots) run(paintContext(root));
  return order;
}

const lastOf = (order: Int32Array, layers: Layer[]): number =>
  layers.reduce((last, { element }) => Math.max(last, order[element]!), -1);

/** Layers with a negative z-index lie below what is in flow: the two runs of the order change places. */
function sink(order: Int32Array, before: number, inFlow: number, last: number): void {
  const flow = inFlow - before;
  const below = last + 1 - inFlow;
  for (let i = 0; i < order.length; i++) {
    const at = order[i]!;
    if (at >= before && at < inFlow) order[i] = at + below;
    else if (at >= inFlow && at <= last) order[i] = at - flow;
  }
}
