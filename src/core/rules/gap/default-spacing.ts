/** Margins and paddings that no author set, where what was set beside them shows that they were forgotten. */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { childrenOf, hasBox, rectOf, usedText } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px, same } from '../../geometry/rect.ts';
import { said } from '../../remedies/model.ts';
import { suspect, type Suspect } from '../model.ts';
import { hasGround, holds, inkOf, isThing, name, sightOf, tagOf, upward } from '../../visibility/visibility.ts';

export function ofDefaults(analysis: Analysis, element: number): Suspect[] {
  const tag = tagOf(analysis.tree, element);
  if (tag === 'body') return aroundBand(analysis, element);
  if (/^(ul|ol|menu|dir)$/.test(tag)) return beforeMarks(analysis, element);
  if (tag === 'figure') return besidePicture(analysis, element);
  return [];
}

const BANDS = /^(header|footer|nav|div|section|main|aside|article|form)$/;

/** The edge of the page around a band that goes from side to side. */
function aroundBand(analysis: Analysis, body: number): Suspect[] {
  const { tree, reading } = analysis;
  const { margin, content } = laidAreas(tree, body);
  if (margin.left < 1 || (['left', 'right'] as const).some((side) => said(analysis, body, `margin-${side}`)))
    return [];
  if (hasGround(analysis, body)) return [];
  const { visible } = sightOf(analysis);
  const ground = usedText(reading, 'background-color', 0);
  const inFlow = childrenOf(tree, body).filter(
    (one) => visible[one] && hasBox(tree, one) && !/absolute|fixed/.test(tree.kinds[one]!),
  );
  const band = [inFlow[0] ?? -1, inFlow.at(-1) ?? -1].find((one) => {
    if (
      one < 0 ||
      !BANDS.test(tagOf(tree, one)) ||
      !/^(block|flex-item|grid-item|table)$/.test(tree.kinds[one]!)
    )
      return false;
    const { rect, margin: own } = laidAreas(tree, one);
    const across = same(rect.x, content.x) && same(rect.x + rect.width, content.x + content.width);
    if (!across || own.left !== 0 || !hasGround(analysis, one)) return false;
    return usedText(reading, 'background-color', one) !== ground;
  });
  if (band === undefined || standsAtEdge(analysis, inFlow, content.x)) return [];
  return [
    suspect({
      kind: 'gap',
      px: margin.left,
      axis: 'x',
      subject: body,
      other: band,
      what: `There are ${px(margin.left)} px around ${name(analysis, band)}, which goes from side to side`,
      form: 'default-margin',
      boxes: [body],
      weight: 30 + margin.left,
    }),
  ];
}

/** Whether text stands at an edge: the margin is that of the page, and wanted. */
function standsAtEdge(analysis: Analysis, boxes: readonly number[], edge: number): boolean {
  const { visible } = sightOf(analysis);
  const isGrounded = (one: number) =>
    upward(analysis, one).some((at) => boxes.includes(at) && hasGround(analysis, at));
  return boxes.some((box) => {
    for (let i = box; i < analysis.tree.count && holds(analysis, box, i); i++)
      if (visible[i] && !isGrounded(i) && inkOf(analysis, i).some(({ x }) => Math.abs(x - edge) < 1))
        return true;
    return false;
  });
}

/** The room for the marks of a list that shows none (HTML §15.3.8). */
function beforeMarks(analysis: Analysis, list: number): Suspect[] {
  const { tree, reading } = analysis;
  const { padding } = laidAreas(tree, list);
  const side = usedText(reading, 'direction', list) === 'rtl' ? 'right' : 'left';
  if (padding[side] < 16 || said(analysis, list, `padding-${side}`)) return [];
  // What is nested may well be set in.
  if (upward(analysis, reading.parent[list]!).some((at) => tagOf(tree, at) === 'li')) return [];
  const { visible } = sightOf(analysis);
  const items = childrenOf(tree, list).filter((one) => hasBox(tree, one) && visible[one]);
  const value = (one: number, property: string) => resolve(analysis.styles, one, property);
  const isBare = (one: number) =>
    value(one, 'list-style-type').value === 'none' &&
    /^(none|initial|)$/.test(value(one, 'list-style-image').value);
  if (items.length === 0 || !items.every(isBare)) return [];
  if (!items.some((one) => inkOf(analysis, one).length > 0 || tree.first[one] !== tree.first[one + 1]))
    return [];
  return [
    suspect({
      kind: 'gap',
      px: padding[side],
      axis: 'x',
      subject: list,
      what: `${name(analysis, list)} keeps ${px(padding[side])} px for the marks of a list, and shows none`,
      form: `default-padding-${side}`,
      weight: 15 + padding[side] / 4,
    }),
  ];
}

/** The default margins beside a figure whose picture is told to take all of its width (HTML §15.3.3). */
function besidePicture(analysis: Analysis, figure: number): Suspect[] {
  const { tree, reading } = analysis;
  const { margin, content } = laidAreas(tree, figure);
  if (margin.left < 16 || (['left', 'right'] as const).some((side) => said(analysis, figure, `margin-${side}`)))
    return [];
  if (tree.kinds[figure] !== 'block') return [];
  let fills = -1;
  for (let i = figure + 1; i < tree.count && holds(analysis, figure, i) && fills < 0; i++)
    if (isThing(tree, i) && said(analysis, i, 'width')?.value === '100%') fills = i;
  if (fills < 0 || !same(rectOf(reading, fills).width, content.width)) return [];
  return [
    suspect({
      kind: 'gap',
      px: margin.left,
      axis: 'x',
      subject: figure,
      other: fills,
      what: `There are ${px(margin.left)} px on either side of ${name(analysis, figure)}, whose ${name(analysis, fills)} is to take all of the width`,
      form: 'default-margin-inline',
      boxes: [figure],
      weight: 20 + margin.left / 2,
    }),
  ];
}
