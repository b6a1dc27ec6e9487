/** The default margins beside a figure whose picture is to take all of its width (HTML §15.3.3). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { rectOf } from '../../boxes/tree.ts';
import { px, same } from '../../geometry/rect.ts';
import { beforeEnd } from '../drawn.ts';
import { inContainers } from './containers.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import {
  boxName,
  hasBackground,
  isReplacedOrControl,
  isSelfOrAncestor,
  visibleChildren,
} from '../../visibility/visibility.ts';
import { facts } from '../../evidence/model.ts';
import { stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

/** The default margins beside a figure whose picture is told to take all of its width (HTML §15.3.3). */
function besidePicture(analysis: Analysis, figure: number): Observed[] {
  if (stopsByGeometry(analysis, figure, tagOf(analysis.reading, figure) !== 'figure' && 'it is no figure'))
    return [];
  const { tree, reading } = analysis;
  const { margin, content } = laidAreas(tree, figure);
  const isDeclared = (['left', 'right'] as const).some((side) =>
    authorDeclaration(analysis, figure, `margin-${side}`),
  );
  if (
    stopsByGeometry(analysis, figure, (margin.left < 16 || isDeclared) && 'its margin is not the default one')
  )
    return [];
  const isLaid = /^(block|flex-item|grid-item)$/.test(tree.kinds[figure]!);
  if (stopsByGeometry(analysis, figure, !isLaid && 'it is no block, and no item of a flex container or a grid'))
    return [];
  let fills = -1;
  for (let i = figure + 1; i < tree.count && isSelfOrAncestor(analysis, figure, i) && fills < 0; i++)
    if (isReplacedOrControl(tree, i) && authorDeclaration(analysis, i, 'width')?.value === '100%') fills = i;
  const isFilled = fills >= 0 && same(rectOf(reading, fills).width, content.width);
  // A ground shows how wide the figure is, though no picture is told to fill it.
  const ground = [figure, ...visibleChildren(analysis, figure)].find((at) => hasBackground(analysis, at));
  if (
    stopsByVisibility(
      analysis,
      figure,
      !isFilled && ground === undefined && 'nothing in it shows how wide it is',
    )
  )
    return [];
  const shown = isFilled ? fills : ground!;
  return [
    observed({
      px: margin.left,
      axis: 'x',
      subject: figure,
      other: shown === figure ? null : shown,
      what: `There are ${px(margin.left)} px on either side of ${boxName(analysis, figure)}, ${isFilled ? `whose ${boxName(analysis, fills)} is to take all of the width` : 'which is as wide as what is around it but for them'}`,
      evidence: facts(['set-in-by-its-meaning', !isFilled && 'Browsers set figures in at both sides']),
      boxes: [figure],
      weight: 20 + margin.left / 2,
    }),
  ];
}

export const rule: Rule<'gap/figure-margin'> = {
  id: 'gap/figure-margin',
  kind: 'gap',
  title: 'The default margins of a figure stay beside a full-width picture',
  spec: ['HTML §15.3.3'],
  why: 'Browsers give figure a margin of 40 px on either side, so a picture with `width: 100%` is narrower than the text around it.',
  usual: '`figure { margin-inline: 0 }`.',
  example: `<style>img { width: 100%; height: 80px }</style><p>Text</p><figure><img alt="" src="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='100' height='50'/%3E"></figure>`,
  observe: inContainers(besidePicture),
  drawn: beforeEnd,
};
