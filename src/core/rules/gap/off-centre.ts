/** Text that does not stand in the middle of a box that is made for one line (CSS Inline 3 §5, CSS 2.2 §10.8). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { inside, usedText } from '../../boxes/tree.ts';
import { textLines } from '../../boxes/text-lines.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { boxName, hasBackground } from '../../visibility/visibility.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { suspect } from '../suspects.ts';
import { inDeclaring } from './containers.ts';

/** CSS px by which its middle is off from that of the box. */
const LEAST = 3;
/** Boxes that are taller than so many of their lines are made for more. */
const LINES = 3.2;

function offCentre(analysis: Analysis, box: number): Observed[] {
  const { tree, reading } = analysis;
  const height = authorDeclaration(analysis, box, 'height') ?? authorDeclaration(analysis, box, 'min-height');
  if (
    stopsByGeometry(
      analysis,
      box,
      (height?.owner !== box || !/\d/.test(height.value)) && 'no height of it is declared',
    )
  )
    return [];
  const pieces = (inside(tree).texts.get(box) ?? []).filter(({ blank }) => !blank).flatMap((run) => run.pieces);
  if (
    stopsByGeometry(
      analysis,
      box,
      (pieces.length === 0 || textLines(tree, box) !== 1) && 'it does not hold one line of text',
    )
  )
    return [];
  const { rect, border } = laidAreas(tree, box);
  const isSolid = hasBackground(analysis, box) || border.top + border.bottom > 0;
  const [top, bottom] = [
    Math.min(...pieces.map(({ y }) => y)),
    Math.max(...pieces.map((piece) => piece.y + piece.height)),
  ];
  const off = (top + bottom) / 2 - (rect.y + rect.height / 2);
  if (stopsByVisibility(analysis, box, !isSolid && 'it has no background or border to show where it ends'))
    return [];
  if (
    stopsByGeometry(
      analysis,
      box,
      (Math.abs(off) < LEAST || rect.height > LINES * (bottom - top)) &&
        'its text stands in its middle, or it is made for more than a line',
    )
  )
    return [];
  const isCentred = usedText(reading, 'text-align', box) === 'center';
  const radius = resolve(analysis.styles, box, 'border-top-left-radius').value;
  const isRound = /^(50%|9\d*px|99\d*px|100%)/.test(radius) || Number.parseFloat(radius) >= rect.height / 2 - 1;
  return [
    observed({
      px: Math.abs(off),
      axis: 'y',
      subject: box,
      what: `The text of ${boxName(analysis, box)} stands ${px(Math.abs(off))} px ${off < 0 ? 'above' : 'below'} its middle`,
      evidence: facts(
        ['centred-across', isCentred && 'Across it is centred'],
        ['made-for-one-line', isRound && 'Its round ends are made for one line in the middle'],
      ),
      boxes: [box],
      weight: 20 + Math.abs(off),
      source: height!.source,
    }),
  ];
}

export const rule: Rule<'gap/off-centre'> = {
  id: 'gap/off-centre',
  kind: 'gap',
  title: 'Text does not stand in the middle of its box',
  spec: ['CSS Inline 3 §5', 'CSS 2.2 §10.8'],
  why: 'A line begins at the upper end of a box, however tall the box is; a line height that is not the box’s moves the text off its middle.',
  usual:
    'Centre the line (`align-content: center`, or a flex container), or take the height out and pad it evenly.',
  example: `<style>p { height: 40px; width: 90px; line-height: 1.2; text-align: center; background: gold; margin: 0 }</style><p>New</p>`,
  observe: inDeclaring(['height', 'min-height'], offCentre),
  suspects: (analysis, { subject }) => {
    const property = authorDeclaration(analysis, subject, 'height') ? 'height' : 'min-height';
    const line = authorDeclaration(analysis, subject, 'line-height');
    const puts = (...list: readonly (readonly [string, string])[]) =>
      list.map(([name, value]) => ({ element: subject, property: name, value }));
    const centre = { words: 'centre what is in it', puts: puts(['align-content', 'center']), rank: 100 };
    const flex = {
      words: 'centre what is in it as a flex container',
      puts: puts(
        ['display', 'flex'],
        ['align-items', 'center'],
        [
          'justify-content',
          /center/.test(usedText(analysis.reading, 'text-align', subject)) ? 'center' : 'flex-start',
        ],
      ),
      rank: 94,
    };
    return [
      ...(line?.owner === subject && /px|em/.test(line.value)
        ? [
            suspect(analysis, subject, 'line-height', 'its line is not as tall as its box', [
              {
                words: 'make its line as tall as its box',
                puts: puts(['line-height', authorDeclaration(analysis, subject, property)!.value]),
                rank: 104,
              },
            ]),
          ]
        : []),
      suspect(
        analysis,
        subject,
        property,
        `${boxName(analysis, subject)} is taller than its line, which begins at its upper end`,
        [centre, flex],
      ),
    ];
  },
};
