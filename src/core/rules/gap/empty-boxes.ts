/** Boxes with nothing in them that take room between what can be seen. */
import { facts } from '../../evidence/model.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { childrenOf, inside, rectOf } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { fontKey } from '../../reading/contents.ts';
import { whole } from '../drawn.ts';
import { inFlowContainers } from './containers.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { flowContents } from '../../visibility/flow-contents.ts';
import {
  hasBackground,
  hasGroundPicture,
  inkOf,
  isReplacedOrControl,
  boxName,
  visibilityOf,
} from '../../visibility/visibility.ts';
import { stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

const LEAST = 4;

/** `areLines`: boxes that are held open by lines without letters alone, or by what is declared. */
export function emptyBoxes(analysis: Analysis, container: number, areLines: boolean): Observed[] {
  const children = flowContents(analysis, container);
  if (!children || children.length < 2) {
    stopsByGeometry(analysis, container, 'it does not hold two boxes or more, or holds text beside them');
    return [];
  }
  const { visible } = visibilityOf(analysis);
  return children.flatMap((element, n) => {
    const { height, width } = rectOf(analysis.reading, element);
    if (stopsByVisibility(analysis, element, !visible[element] && 'it cannot be seen')) return [];
    if (stopsByVisibility(analysis, element, (height < LEAST || width < 1) && 'it takes less than 4 px'))
      return [];
    if (
      stopsByGeometry(
        analysis,
        element,
        (n === 0 || n === children.length - 1) && 'it is the first or the last in its container',
      )
    )
      return [];
    if (
      stopsByGeometry(
        analysis,
        element,
        !/^(block|list-item)$/.test(analysis.tree.kinds[element]!) && 'it is no block in the flow',
      )
    )
      return [];
    if (
      stopsByVisibility(
        analysis,
        element,
        !isEmpty(analysis, element) && 'something can be seen in it or of it',
      )
    )
      return [];
    const held = ['height', 'min-height', 'aspect-ratio', 'padding-top', 'padding-bottom'].filter(
      (property) => {
        const declaration = authorDeclaration(analysis, element, property);
        return (
          declaration !== null && declaration.owner === element && !/^(auto|none|0)/.test(declaration.value)
        );
      },
    );
    const hasLines =
      (inside(analysis.tree).texts.get(element) ?? []).length > 0 || holdsBreak(analysis, element);
    if (
      stopsByGeometry(
        analysis,
        element,
        held.length === 0 && !hasLines && 'what holds it open is neither declared nor a line',
      )
    )
      return [];
    if (
      stopsByGeometry(
        analysis,
        element,
        (hasLines && held.length === 0) !== areLines &&
          (areLines ? 'what holds it open is declared' : 'a line holds it open'),
      )
    )
      return [];
    return [
      observed({
        px: height,
        axis: 'y',
        subject: element,
        other: container,
        what: `${boxName(analysis, element)} takes ${px(height)} px of height, and nothing is in it`,
        evidence: facts([
          'height-of-empty-box',
          held[0] === 'height' && 'A height was given to the empty box by its author',
        ]),
        weight: 8 + height / 4,
      }),
    ];
  });
}

const holdsBreak = ({ tree }: Analysis, element: number): boolean =>
  childrenOf(tree, element).some((child) => tagOf(tree.reading, child) === 'br');

/** Whether nothing of a box and of what it holds can be seen. */
export function isEmpty(analysis: Analysis, element: number): boolean {
  const { tree } = analysis;
  const { border } = laidAreas(tree, element);
  if (border.top + border.right + border.bottom + border.left > 0 || hasBackground(analysis, element))
    return false;
  if (tagOf(tree.reading, element) === 'hr' || isReplacedOrControl(tree, element)) return false;
  if (hasGroundPicture(analysis, element)) return false;
  if ((inside(tree).pseudos.get(element) ?? []).length > 0) return false;
  const inked = inkOf(analysis, element).length > 0 && !isSpaces(analysis, element);
  return (
    !inked &&
    childrenOf(tree, element).every((child) => tagOf(tree.reading, child) === 'br' || isEmpty(analysis, child))
  );
}

/** Whether its text is one space that does not collapse: a line without letters. */
function isSpaces({ tree }: Analysis, element: number): boolean {
  const space = inside(tree).fonts.get(fontKey(tree.reading, element))?.space ?? NaN;
  const pieces = (inside(tree).texts.get(element) ?? [])
    .filter(({ blank }) => !blank)
    .flatMap((run) => run.pieces);
  return pieces.length === 1 && Math.abs(pieces[0]!.width - space) < 0.05;
}

export const rule: Rule<'gap/empty-box'> = {
  id: 'gap/empty-box',
  kind: 'gap',
  title: 'An empty box takes room',
  spec: ['CSS 2.2 §10.6.3'],
  why: 'A height, a minimum or a padding holds a box open that has nothing in it.',
  usual: 'Show it only when something is in it, or take out what holds it open.',
  example: `<style>.hint { min-height: 40px }</style><section><p>before</p><div class="hint"></div><p>after</p></section>`,
  observe: inFlowContainers((analysis, container) => emptyBoxes(analysis, container, false)),
  drawn: whole,
};
