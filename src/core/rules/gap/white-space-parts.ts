/** Parts of one control that the white space between them keeps apart (CSS Text 3 §4.1). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { flowContents } from '../../visibility/flow-contents.ts';
import { boxName, hasBackground, hasGroundPicture, isReplacedOrControl } from '../../visibility/visibility.ts';
import { beforeStart } from '../drawn.ts';
import { isSameSort } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { inFlowContainers } from './containers.ts';

/** CSS px that a space is wide, at least and at most, at sizes in which text is read. */
const SPACE = [1.5, 9] as const;

/** Whether the corners of a box at one side are square. */
const isSquareAt = (analysis: Analysis, element: number, side: 'left' | 'right'): boolean =>
  ['top', 'bottom'].every((end) =>
    /^(0\D*|initial|)$/.test(resolve(analysis.styles, element, `border-${end}-${side}-radius`).value),
  );

const hasRoundCorner = (analysis: Analysis, element: number): boolean =>
  !isSquareAt(analysis, element, 'left') || !isSquareAt(analysis, element, 'right');

function partsApart(analysis: Analysis, container: number): Observed[] {
  const { tree } = analysis;
  const all = flowContents(analysis, container);
  const parts = (all ?? []).filter((child) => /^inline-(block|replaced)$/.test(tree.kinds[child]!));
  if (
    stopsByGeometry(
      analysis,
      container,
      (parts.length < 2 || parts.length !== all!.length) && 'it does not hold inline-blocks alone',
    )
  )
    return [];
  for (const [n, after] of parts.entries()) {
    const before = parts[n - 1];
    if (before === undefined) continue;
    const [a, b] = [laidAreas(tree, before), laidAreas(tree, after)];
    const by = b.rect.x - b.margin.left - (a.rect.x + a.rect.width + a.margin.right);
    const isSpace =
      by >= SPACE[0] &&
      by <= SPACE[1] &&
      a.rect.y < b.rect.y + b.rect.height &&
      b.rect.y < a.rect.y + a.rect.height;
    if (!isSpace || a.margin.right > 0 || b.margin.left > 0) continue;
    const isSolid = (element: number): boolean => {
      const { border } = laidAreas(tree, element);
      return (
        hasBackground(analysis, element) ||
        hasGroundPicture(analysis, element) ||
        border.left + border.right > 0 ||
        isReplacedOrControl(tree, element)
      );
    };
    if (
      stopsByGeometry(
        analysis,
        container,
        !(isSolid(before) && isSolid(after)) && 'its parts have no ground and no border to show where they end',
      )
    )
      return [];
    const meets = isSquareAt(analysis, before, 'right') && isSquareAt(analysis, after, 'left');
    const isOneControl =
      meets && (hasRoundCorner(analysis, parts[0]!) || hasRoundCorner(analysis, parts.at(-1)!));
    return [
      observed({
        px: by,
        axis: 'x',
        subject: after,
        other: before,
        what: `The white space of the source between ${boxName(analysis, before)} and ${boxName(analysis, after)} is a space of ${px(by)} px in the line`,
        evidence: facts(
          [
            'made-to-meet',
            isOneControl && 'The corners where they meet are square and those at the ends are round',
          ],
          [
            'no-space-of-their-own',
            [before, after].every((box) => authorDeclaration(analysis, box, 'margin-left')?.owner === box) &&
              'Their side margins are declared, and are 0',
          ],
          ['unlike-sorts', !isSameSort(analysis, before, after) && !isOneControl && 'They are of two sorts'],
        ),
        places: parts,
        boxes: [before, after, container],
        weight: 20 + by,
      }),
    ];
  }
  return [];
}

export const rule: Rule<'gap/white-space-parts'> = {
  id: 'gap/white-space-parts',
  kind: 'gap',
  title: 'White space in the source keeps inline-blocks apart',
  spec: ['CSS Text 3 §4.1'],
  why: 'The white space of the source between inline-blocks is rendered as a space of their font.',
  usual: 'Lay the container out as a flex container.',
  example: `<style>a { display: inline-block; padding: 6px 12px; background: tan } a:first-child { border-radius: 9px 0 0 9px } a:last-child { border-radius: 0 9px 9px 0 }</style><div><a>One</a> <a>Two</a></div>`,
  observe: inFlowContainers(partsApart),
  suspects: (analysis, { subject, other }) => {
    const container = analysis.reading.parent[subject]!;
    return [
      suspect(
        analysis,
        other!,
        'display',
        `the white space between ${boxName(analysis, other!)} and what follows it in the line is rendered`,
        [fix('lay the container out as a flex container', container, 'display', 'flex', 100)],
      ),
    ];
  },
  drawn: beforeStart,
};
