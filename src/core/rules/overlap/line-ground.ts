/** The ground of an inline box that is painted over the line before (CSS Inline 3 §5, CSS 2.2 §10.6.1). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { inside, usedPx } from '../../boxes/tree.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { type Rect, px } from '../../geometry/rect.ts';
import { boxName, hasBackground, inkOf, isSelfOrAncestor, intersection } from '../../visibility/visibility.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

/** The part of a line that its letters take, with what reaches below the small ones. */
const letters = ({ x, y, width, height }: Rect): Rect => ({
  x,
  y: y + height * 0.15,
  width,
  height: height * 0.78,
});

function grounds(analysis: Analysis): Observed[] {
  const { tree } = analysis;
  const out: Observed[] = [];
  for (const [element, pieces] of inside(tree).fragments) {
    if (isUnseen(analysis, element)) continue;
    if (stopsByGeometry(analysis, element, tree.kinds[element] !== 'inline' && 'it is no inline box')) continue;
    if (stopsByVisibility(analysis, element, !hasBackground(analysis, element) && 'it has no background'))
      continue;
    const inks: Rect[] = [];
    for (let i = element; i < tree.count && isSelfOrAncestor(analysis, element, i); i++)
      inks.push(...inkOf(analysis, i));
    let worst = 0;
    for (const [n, piece] of pieces.entries())
      for (const ink of inks) {
        // Lines are painted one after the other, the ground of each over the letters of the one before.
        const middle = ink.y + ink.height / 2;
        const far = (rect: Rect): number => Math.abs(rect.y + rect.height / 2 - middle);
        const isOfLineBefore = pieces
          .slice(0, n)
          .some(
            (earlier) =>
              earlier.y < piece.y - 1 && far(earlier) < far(piece) && intersection(ink, earlier) !== null,
          );
        const cut = isOfLineBefore ? intersection(letters(ink), piece) : null;
        if (cut && cut.width >= 2) worst = Math.max(worst, cut.height);
      }
    if (stopsByGeometry(analysis, element, worst < 1 && 'its ground ends below the letters of the line before'))
      continue;
    const parent = tree.reading.parent[element]!;
    out.push(
      observed({
        px: worst,
        axis: 'y',
        subject: element,
        other: parent,
        what: `The ground of each line of ${boxName(analysis, element)} is painted over ${px(worst)} px of the letters of the line before`,
        boxes: [element, parent],
        weight: 80 + worst,
      }),
    );
  }
  return out;
}

function suspects(analysis: Analysis, { subject, other }: Observation): Suspect[] {
  const { reading, tree } = analysis;
  const block = other ?? subject;
  const size = usedPx(reading, 'font-size', subject);
  const heights = (inside(tree).fragments.get(subject) ?? []).map(({ height }) => height);
  const ratio = Math.ceil((Math.max(...heights) / size) * 20) / 20;
  const owner = authorDeclaration(analysis, subject, 'line-height')?.owner ?? block;
  const sides = ['padding-top', 'padding-bottom'] as const;
  return [
    suspect(
      analysis,
      owner,
      'line-height',
      `the lines are set closer than the ground of ${boxName(analysis, subject)} is tall`,
      [fix('set the lines as far apart as the ground is tall', owner, 'line-height', String(ratio), 90)],
    ),
    suspect(analysis, subject, 'padding-top', `its padding makes the ground taller and its line no taller`, [
      {
        words: 'take the padding above and below out',
        puts: sides.map((property) => ({ element: subject, property, value: '0' })),
        rank: 60,
      },
    ]),
  ];
}

export const rule: Rule<'overlap/line-ground'> = {
  id: 'overlap/line-ground',
  kind: 'overlap',
  title: 'The ground of a line covers letters of the line before',
  spec: ['CSS Inline 3 §5', 'CSS 2.2 §10.6.1'],
  why: 'The padding of an inline box makes its ground taller, and the line that it stands in no taller.',
  usual: 'Set the lines further apart, or take the padding above and below out.',
  example: `<style>p { width: 150px; font-size: 20px; line-height: 20px } span { background: gold; padding: 12px }</style><p><span>Several words that go on in a second line of it</span></p>`,
  observe: grounds,
  suspects,
};
