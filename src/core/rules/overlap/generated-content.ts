/** What `::before` and `::after` put over text by an absolute position (CSS Pseudo 4 §4.1, CSS Positioned Layout 3 §4). */
import type { Analysis } from '../../analysis.ts';
import { absoluteGeneratedBoxes, type GeneratedBox } from '../../boxes/generated-boxes.ts';
import { facts } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { type Rect, px } from '../../geometry/rect.ts';
import {
  boxName,
  inkOf,
  intersection,
  isSelfOrAncestor,
  letterBand,
  visibleInk,
} from '../../visibility/visibility.ts';
import { common } from '../drawn.ts';
import { isSameSort } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { roomForPlaced } from './room-for-placed.ts';
import { isUnseen, stopsByGeometry, stopsByVisibility } from '../stops.ts';

const LEAST = 3;

/** Whether a generated box hides what lies under it, or has letters of its own. */
function isSolid({ values }: GeneratedBox): boolean {
  const ground = values['background-color'] ?? '';
  const alpha = Number(/^rgba\(.*, ([\d.]+)\)$/.exec(ground)?.[1] ?? 1);
  const hasGround = ground !== '' && alpha > 0.6;
  const hasText = !/^(""|none|normal|)$/.test(values['content'] ?? '') && !/^url/.test(values['content'] ?? '');
  return (hasGround || hasText) && Number(values['opacity'] ?? 1) > 0.5 && !(Number(values['z-index']) < 0);
}

function coveredBy(
  analysis: Analysis,
  generated: GeneratedBox,
): { cut: Rect; element: number; share: number } | null {
  const { tree } = analysis;
  let worst: { cut: Rect; element: number; share: number } | null = null;
  for (let at = generated.element; at < tree.count && isSelfOrAncestor(analysis, generated.element, at); at++) {
    for (const ink of inkOf(analysis, at)) {
      const seen = visibleInk(analysis, at, letterBand(ink));
      const cut = seen && intersection(seen, generated.rect);
      if (!cut || cut.width < LEAST || cut.height < Math.min(LEAST, seen.height / 2)) continue;
      const share = (cut.width * cut.height) / (seen.width * seen.height);
      if (!worst || cut.width * cut.height > worst.cut.width * worst.cut.height)
        worst = { cut, element: at, share };
    }
  }
  return worst;
}

function coverings(analysis: Analysis): Observed[] {
  const bySort: { boxes: number[]; found: Observed }[] = [];
  for (const generated of absoluteGeneratedBoxes(analysis.tree)) {
    const { element, name, rect } = generated;
    if (isUnseen(analysis, element)) continue;
    if (
      stopsByVisibility(analysis, element, !isSolid(generated) && `its ::${name} has no ground and no letters`)
    )
      continue;
    const covered = coveredBy(analysis, generated);
    if (!covered) {
      stopsByGeometry(analysis, element, `its ::${name} lies over none of its text`);
      continue;
    }
    const alike = bySort.find(({ boxes }) => isSameSort(analysis, boxes[0]!, element));
    if (alike) {
      alike.boxes.push(element);
      continue;
    }
    const { cut, share } = covered;
    const isAcross = rect.height >= cut.height - 0.5 && rect.width < rect.height * 6;
    const by = isAcross ? cut.width : cut.height;
    const boxes = [element];
    bySort.push({
      boxes,
      found: observed({
        px: by,
        axis: isAcross ? 'x' : 'y',
        subject: element,
        what: `The ::${name} of ${boxName(analysis, element)} lies over ${px(by)} px of its text`,
        evidence: facts([
          'layered-by-hand',
          share > 0.95 && 'It covers a whole text, as what is drawn over it for a while does',
        ]),
        places: boxes,
        boxes,
        weight: 110 + Math.min(by, 60),
      }),
    });
  }
  return bySort.map(({ found }) => found);
}

/** The padding that leaves what is generated too little room. */
const suspects = (analysis: Analysis, { subject, axis }: Observation): Suspect[] =>
  absoluteGeneratedBoxes(analysis.tree)
    .filter(({ element }) => element === subject)
    .flatMap(({ name, rect }) => roomForPlaced(analysis, subject, rect, `::${name}`, axis) ?? []);

export const rule: Rule<'overlap/generated-content'> = {
  id: 'overlap/generated-content',
  kind: 'overlap',
  title: 'Generated content lies over text',
  spec: ['CSS Pseudo 4 §4.1', 'CSS Positioned Layout 3 §4'],
  why: 'An absolutely positioned `::before` or `::after` takes no room, and the padding that should leave it some is too small.',
  usual: 'Give the side where it stands a padding as wide as it is.',
  example: `<style>li { position: relative; list-style: none; padding-left: 10px } li::before { content: "1"; position: absolute; left: 0; top: 0; width: 24px; text-align: center; background: tan }</style><ul><li>Gannet Steps</ul>`,
  observe: coverings,
  suspects,
  drawn: common,
};
