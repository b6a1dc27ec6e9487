/** Margins of items that are added to each other or to a gap, for they do not collapse there (Flexbox 1 §3, Grid 2 §6.1, CSS 2.2 §8.3.1). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { layoutOf } from '../../boxes/formatting-contexts.ts';
import { gapOf } from '../../boxes/grid-tracks.ts';
import { facts } from '../../evidence/model.ts';
import { type Axis, px, type Side } from '../../geometry/rect.ts';
import { boxName } from '../../visibility/visibility.ts';
import { beforeStart } from '../drawn.ts';
import { isSameSort, itemsOf, sortOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed, oncePerAnalysis } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { inContainers } from './containers.ts';

const LEAST = 4;

/** Sorts of boxes that stand one after the other in some block container, where their margins collapse. */
const collapsing = oncePerAnalysis((analysis): Set<string> => {
  const { tree } = analysis;
  const out = new Set<string>();
  for (let container = 0; container < tree.count; container++) {
    if (layoutOf(tree, container) !== 'flow') continue;
    const blocks = itemsOf(analysis, container).filter((item) => /^(block|list-item)$/.test(tree.kinds[item]!));
    for (const [n, item] of blocks.entries())
      if (n > 0 && isSameSort(analysis, blocks[n - 1]!, item)) out.add(sortOf(analysis, item));
  }
  return out;
});

/** The distance between two neighbours, and what their margins and the gap of the container have in it. */
interface Between {
  before: number;
  after: number;
  axis: Axis;
  distance: number;
  first: number;
  second: number;
  gap: number;
}

const gapOn = ({ tree }: Analysis, container: number, axis: Axis): number => {
  const { width, height } = laidAreas(tree, container).content;
  return axis === 'x' ? gapOf(tree, container, 'column-gap', width) : gapOf(tree, container, 'row-gap', height);
};

/** What automatic margins take is free room, and adds to nothing. */
const marginOf = (analysis: Analysis, element: number, side: Side): number =>
  authorDeclaration(analysis, element, `margin-${side}`)?.value === 'auto'
    ? 0
    : laidAreas(analysis.tree, element).margin[side];

/** Of each item the distance to the one before it in its row, and to the nearest above it. */
function betweens(analysis: Analysis, container: number): Between[] {
  const { tree } = analysis;
  const items = itemsOf(analysis, container);
  const gaps = { x: gapOn(analysis, container, 'x'), y: gapOn(analysis, container, 'y') };
  const out: Between[] = [];
  for (const [n, after] of items.entries()) {
    const b = laidAreas(tree, after).rect;
    // Items come row after row: the search ends at the first that lies above.
    for (let k = n - 1; k >= 0; k--) {
      const before = items[k]!;
      const a = laidAreas(tree, before).rect;
      const isBeside = a.y < b.y + b.height && b.y < a.y + a.height;
      if (isBeside && k < n - 1) continue;
      const isAbove = !isBeside && a.x < b.x + b.width && b.x < a.x + a.width;
      if (!isBeside && !isAbove) continue;
      const axis: Axis = isBeside ? 'x' : 'y';
      const distance = isBeside ? b.x - a.x - a.width : b.y - a.y - a.height;
      const [first, second] = isBeside
        ? [marginOf(analysis, before, 'right'), marginOf(analysis, after, 'left')]
        : [marginOf(analysis, before, 'bottom'), marginOf(analysis, after, 'top')];
      if (distance >= 0) out.push({ before, after, axis, distance, first, second, gap: gaps[axis] });
      if (isAbove) break;
    }
  }
  return out;
}

function added(analysis: Analysis, container: number): Observed[] {
  const { tree } = analysis;
  const layout = layoutOf(tree, container);
  if (
    stopsByGeometry(
      analysis,
      container,
      layout !== 'flex' && layout !== 'grid' && 'it is no flex or grid container',
    )
  )
    return [];
  const all = betweens(analysis, container);
  const sums = all.filter(
    ({ before, after, first, second, gap, distance }) =>
      isSameSort(analysis, before, after) &&
      [first, second, gap].filter((size) => size >= LEAST).length > 1 &&
      Math.abs(distance - first - second - gap) < 1,
  );
  const [worst] = [...sums].sort((a, b) => b.distance - a.distance);
  if (!worst) {
    stopsByGeometry(analysis, container, 'no distance in it is a sum of margins, or of margins and a gap');
    return [];
  }
  const { before, after, axis, first, second, gap, distance } = worst;
  const across = all.find((entry) => entry.axis !== axis && isSameSort(analysis, entry.before, entry.after));
  const parts = [first, second, gap].filter((size) => size >= LEAST);
  const extra = gap >= LEAST ? first + second : Math.min(first, second);
  return [
    observed({
      px: extra,
      axis,
      // The container, since which of its items meet so is another matter at each width.
      subject: container,
      other: after,
      what: `${px(distance)} px lie between ${boxName(analysis, before)} and ${boxName(analysis, after)}: ${parts.map(px).join(' and ')} px are added, for margins in a ${layout} container do not collapse`,
      evidence: facts(
        ['gap-beside-margins', gap >= LEAST && `A gap of ${px(gap)} px is declared beside the margins`],
        [
          'unlike-the-other-axis',
          across !== undefined &&
            Math.abs(across.distance - distance) >= LEAST &&
            `${axis === 'y' ? 'Across' : 'Down the page'}, ${px(across.distance)} px lie between them`,
        ],
        [
          'collapses-elsewhere',
          gap < LEAST &&
            collapsing(analysis).has(sortOf(analysis, after)) &&
            'Between boxes of its sort in the flow such margins collapse',
        ],
      ),
      places: [
        container,
        ...new Set(sums.filter((entry) => entry.axis === axis).flatMap((entry) => [entry.after, entry.before])),
      ],
      boxes: [after, before, container],
      weight: 20 + extra,
    }),
  ];
}

export const rule: Rule<'gap/added-margins'> = {
  id: 'gap/added-margins',
  kind: 'gap',
  title: 'Margins are added where they would collapse in the flow',
  spec: ['Flexbox 1 §3', 'CSS Grid 2 §6.1', 'CSS 2.2 §8.3.1'],
  why: 'Margins of flex and grid items do not collapse: both count, and a gap comes on top of them.',
  usual: 'Take the margins of the items out, and space them by the gap alone.',
  example: `<style>section { display: grid; grid-template-columns: 1fr 1fr; gap: 20px } p { margin: 0 0 30px; background: tan }</style><section><p>1</p><p>2</p><p>3</p><p>4</p></section>`,
  observe: inContainers(added),
  suspects: (analysis, { axis, boxes }) => {
    const [after, before, container] = boxes as [number, number, number];
    const sides = axis === 'x' ? (['right', 'left'] as const) : (['bottom', 'top'] as const);
    const pairs = [
      [before, sides[0]],
      [after, sides[1]],
    ] as const;
    const margins = pairs.filter(([element, side]) => laidAreas(analysis.tree, element).margin[side] >= LEAST);
    const hasGap = gapOn(analysis, container, axis) >= LEAST;
    // Of two margins one is enough; beside a gap neither is wanted.
    const wanted = hasGap ? margins : margins.slice(-1);
    return margins.map(([element, side]) => {
      const declaration = authorDeclaration(analysis, element, `margin-${side}`);
      return suspect(
        analysis,
        element,
        `margin-${side}`,
        `a margin of ${declaration?.value ?? 'the browser’s own'} is added there`,
        [
          wanted.some(([at]) => at === element)
            ? fix('space them without it', element, `margin-${side}`, '0', 100)
            : null,
        ],
      );
    });
  },
  drawn: (analysis, observation) => beforeStart(analysis, { ...observation, subject: observation.boxes[0]! }),
};
