/** Boxes with corners as round as can be that are no circles (CSS Backgrounds 3 §4.1). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { inside } from '../../boxes/tree.ts';
import { absoluteGeneratedBoxes } from '../../boxes/generated-boxes.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { facts } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { px } from '../../geometry/rect.ts';
import { boxName } from '../../visibility/visibility.ts';
import { afterEnd, beforeEnd } from '../drawn.ts';
import { isSameSort } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, quietly, stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { wishFor } from '../wishes.ts';
import { squareOff } from './square.ts';

/** CSS px, and the part of its shorter side, by which a circle is off before anyone sees it. */
const LEAST = 2;
const PART = 0.06;
/** What is further from a circle than this is an ellipse by design. */
const MOST = 0.8;

const isRound = (analysis: Analysis, element: number, pseudo: 'before' | 'after' | null): boolean => {
  const { value } = pseudo
    ? resolve(analysis.styles, element, 'border-top-left-radius', pseudo)
    : resolve(analysis.styles, element, 'border-top-left-radius');
  return /^(50|100)%/.test(value);
};

function ovals(analysis: Analysis): Observed[] {
  const { tree } = analysis;
  const out: Observed[] = [];
  const tell = (element: number, width: number, height: number, name: string, isEmpty: boolean): void => {
    const off = width - height;
    const least = Math.min(width, height);
    if (
      stopsByGeometry(
        analysis,
        element,
        (Math.abs(off) < LEAST || Math.abs(off) < PART * least) && 'it is a circle',
      )
    )
      return;
    if (stopsByGeometry(analysis, element, Math.abs(off) > MOST * least && 'it is far from a circle')) return;
    const alike = out.find(({ subject }) => isSameSort(analysis, subject, element));
    if (alike) {
      alike.places?.push(element);
      return;
    }
    out.push(
      observed({
        px: Math.abs(off),
        axis: off > 0 ? 'x' : 'y',
        subject: element,
        what: `${name} is ${px(width)} × ${px(height)}, and its corners are those of a circle`,
        evidence: facts([
          'small-or-empty',
          (isEmpty || Math.max(width, height) <= 64) && 'It is a dot, a badge or a picture',
        ]),
        variant: off > 0 ? 'larger' : 'smaller',
        places: [element],
        boxes: [element],
        weight: 40 + Math.abs(off),
      }),
    );
  };
  for (let i = 1; i < tree.count; i++) {
    if (isUnseen(analysis, i) || tree.kinds[i] === 'inline') continue;
    if (stopsByGeometry(analysis, i, !isRound(analysis, i, null) && 'its corners are not those of a circle'))
      continue;
    if (quietly(analysis, () => squareOff(analysis, i)) !== null) continue;
    const { rect } = laidAreas(tree, i);
    tell(i, rect.width, rect.height, boxName(analysis, i), !inside(tree).texts.has(i));
  }
  for (const { element, name, rect, values } of absoluteGeneratedBoxes(tree))
    if (!isUnseen(analysis, element) && isRound(analysis, element, name))
      tell(
        element,
        rect.width,
        rect.height,
        `The ::${name} of ${boxName(analysis, element)}`,
        values['content'] === '""',
      );
  return out;
}

function suspects(analysis: Analysis, { subject, axis }: Observation): Suspect[] {
  const short = axis === 'x' ? 'height' : 'width';
  const name = boxName(analysis, subject);
  const declared = authorDeclaration(analysis, subject, axis === 'x' ? 'width' : 'height');
  return [
    suspect(analysis, subject, short, `nothing makes the ${short} of ${name} follow its other side`, [
      fix('let one side follow the other', subject, 'aspect-ratio', '1', 100),
      declared?.owner === subject
        ? fix('give both sides one length', subject, short, declared.value, 96)
        : null,
    ]),
  ];
}

export const rule: Rule<'size/round'> = {
  id: 'size/round',
  kind: 'size',
  title: 'A box that should be a circle is none',
  spec: ['CSS Backgrounds 3 §4.1', 'CSS Sizing 4 §5.1'],
  why: 'Corners of 50 % make a circle of a square alone; where padding, lines or a flex line set one side, it is an oval.',
  usual: 'Give both sides one length, and keep it from shrinking.',
  example: `<style>b { display: inline-block; padding: 2px 9px; border-radius: 50%; background: tan }</style><p><b>12</b> new</p>`,
  observe: ovals,
  // Of what is generated no number can be measured.
  wish: (analysis, { subject }) =>
    isRound(analysis, subject, null) ? wishFor(analysis, subject, { is: 'ratio', ratio: 1 }) : null,
  suspects,
  drawn: (analysis, observation) =>
    observation.variant === 'larger' ? beforeEnd(analysis, observation) : afterEnd(analysis, observation),
};
