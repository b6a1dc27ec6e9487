/** What stands in one line with an item that has no room in it. */
import { cite, isLength, authorDeclaration } from '../accounts/author-declaration.ts';
import type { Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { isSingleLineRow } from '../boxes/formatting-contexts.ts';
import { childrenOf, rectOf } from '../boxes/tree.ts';
import { isSelfOrAncestor, boxName as labelOf } from '../visibility/visibility.ts';
import * as sizes from './sizes/index.ts';
import { put, type Proposal } from './model.ts';
import * as wrap from './wrapping.ts';

export const name = 'beside';

/** Boxes of another item of a line that are looked at for what keeps it wide. */
const BESIDE = 6;

/** What the other items of its line, and the line itself, have to do with an item that has no room in it (Flexbox 1 §9.7). */
export function propose(analysis: Analysis, observation: Observation): Proposal[] {
  const { reading, tree } = analysis;
  const { subject, boxes, kind, axis } = observation;
  if (kind !== 'overflow' || axis !== 'x') return [];
  const line = reading.parent[subject]!;
  if (tree.kinds[subject] !== 'flex-item') return [];
  if (!isSingleLineRow(tree, line)) return [];
  const declaration = authorDeclaration(analysis, line, 'flex-wrap');
  const oneLine: Proposal = {
    element: line,
    property: 'flex-wrap',
    source: declaration?.source ?? null,
    rule: 'one-line',
    because: `the items of ${labelOf(analysis, line)} must stand in one line${declaration ? ` ${cite(declaration)}` : ''}`,
    words: 'let its items wrap',
    steps: [put(analysis, line, 'flex-wrap', 'wrap')],
    rank: declaration ? 70 : 42,
  };
  const others = childrenOf(tree, line).filter(
    (child) => child !== subject && tree.kinds[child] === 'flex-item' && !boxes.includes(child),
  );
  const beside = others.flatMap((element): Proposal[] => {
    const least = authorDeclaration(analysis, element, 'min-width');
    if (least && isLength(least.value) && /[1-9]/.test(least.value))
      return [
        {
          element,
          property: 'min-width',
          source: least.source,
          rule: 'minimum-beside',
          because: `${labelOf(analysis, element)} beside it is at least ${least.value} ${cite(least)}`,
          words: `let ${labelOf(analysis, element)} be narrower`,
          steps: [put(analysis, element, 'min-width', '0')],
          rank: 56,
        },
      ];
    const keeping = { ...observation, subject: element, boxes: [element, ...widest(analysis, element)] };
    return [...wrap.propose(analysis, keeping), ...sizes.propose(analysis, keeping)].map((proposal) => ({
      ...proposal,
      rank: proposal.rank - 6,
    }));
  });
  return boxes.includes(line) ? beside : [...beside, oneLine];
}

/** What in a box takes most of its width, the widest first. */
function widest(analysis: Analysis, box: number): number[] {
  const { tree, reading } = analysis;
  const width = (element: number): number => rectOf(reading, element).width;
  const out: number[] = [];
  for (let i = box + 1; i < tree.count && isSelfOrAncestor(analysis, box, i); i++)
    if (width(i) >= width(box) / 2) out.push(i);
  return out.sort((a, b) => width(b) - width(a)).slice(0, BESIDE);
}
