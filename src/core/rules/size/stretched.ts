/** Labels, buttons and pictures that a flex or grid container stretches (Flexbox 1 §8.3, Box Alignment 3 §6.1). */
import { sizeWish } from '../wishes.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { alignSelf, isStretch } from '../../accounts/sizing/percentage-definiteness.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { isMainAxisVertical, layoutOf } from '../../boxes/formatting-contexts.ts';
import { rectOf, usedText } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { tagOf } from '../../reading/labels.ts';
import { boxName, hasBackground, inkOf, labelInk, visibilityOf } from '../../visibility/visibility.ts';
import { itemsOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { inContainers } from './../gap/containers.ts';

/** Elements that are as wide as what is in them where nobody says otherwise. */
const NARROW = /^(a|span|button|label|small|strong|em|b|i|mark|time|code|output|kbd)$/;
/** A text that takes less of its box than this does not ask for all of it. */
const PART = 0.55;

function stretched(analysis: Analysis, container: number): Observed[] {
  const { tree, reading, styles } = analysis;
  const layout = layoutOf(tree, container);
  const isColumn = layout === 'flex' && isMainAxisVertical(tree, container);
  if (
    stopsByGeometry(
      analysis,
      container,
      !isColumn && layout !== 'grid' && 'it is no grid and no flex container in a column',
    )
  )
    return [];
  const { visible } = visibilityOf(analysis);
  return itemsOf(analysis, container).flatMap((item): Observed[] => {
    if (!visible[item] || !NARROW.test(tagOf(reading, item))) return [];
    const align = isColumn ? alignSelf(analysis, item) : usedText(reading, 'justify-self', item);
    const isAuto = /^(auto|initial|)$/.test(resolve(styles, item, 'width').value);
    if (
      stopsByGeometry(
        analysis,
        item,
        (!isStretch(align) || !isAuto) && 'it is not stretched, or its width is declared',
      )
    )
      return [];
    const { rect, border, content } = laidAreas(tree, item);
    const label = labelInk(analysis, item);
    const words = label.length > 0 ? label : inkOf(analysis, item);
    const isSolid = hasBackground(analysis, item) || border.left + border.right > 0;
    if (
      stopsByVisibility(
        analysis,
        item,
        (!isSolid || words.length === 0) && 'it has no ground and no border to show how wide it is, or no text',
      )
    )
      return [];
    const width =
      Math.max(...words.map((piece) => piece.x + piece.width)) - Math.min(...words.map((piece) => piece.x));
    if (
      stopsByVisibility(
        analysis,
        item,
        !(width < PART * content.width && content.width - width > 48) && 'its text takes most of its width',
      )
    )
      return [];
    const radius = Number.parseFloat(resolve(styles, item, 'border-top-left-radius').value) || 0;
    const isPill = radius >= rect.height / 2 - 2 && radius > 4;
    const isButton = /^(button|a)$/.test(tagOf(reading, item));
    return [
      observed({
        px: content.width - width,
        axis: 'x',
        subject: item,
        other: container,
        what: `${boxName(analysis, item)} is stretched to ${px(rect.width)} px, and its text is ${px(width)} px wide`,
        evidence: facts(
          [
            'made-as-a-pill',
            isPill && !isButton && 'Its round ends are those of a label that is as wide as its word',
          ],
          ['full-width-button', isButton && 'A button may well be as wide as what is around it'],
        ),
        boxes: [item, container],
        weight: 20,
      }),
    ];
  });
}

export const rule: Rule<'size/stretched'> = {
  id: 'size/stretched',
  kind: 'size',
  title: 'A label is stretched across its container',
  spec: ['Flexbox 1 §8.3', 'CSS Grid 2 §6.1'],
  why: 'Items of a flex column and of a grid are stretched across by default, whatever they would be in a line of text.',
  usual: 'Align the item at the start: `align-self: flex-start` in a column, `justify-self: start` in a grid.',
  example: `<style>div { display: flex; flex-direction: column; width: 400px } span { background: gold; border-radius: 99px }</style><div><span>New</span><p>Text</p></div>`,
  observe: inContainers(stretched),
  wish: (analysis, { subject, px: spare }) =>
    sizeWish(analysis, subject, 'x', 'at-most', rectOf(analysis.reading, subject).width - spare / 2),
  suspects: (analysis, { subject, other }) => {
    const property = layoutOf(analysis.tree, other!) === 'grid' ? 'justify-self' : 'align-self';
    const because = authorDeclaration(analysis, other!, 'align-items')
      ? `${boxName(analysis, other!)} stretches it`
      : `items of ${boxName(analysis, other!)} are stretched by default`;
    return [
      suspect(analysis, subject, property, because, [
        fix('let it be as wide as its text', subject, property, 'start', 104),
      ]),
    ];
  },
};
