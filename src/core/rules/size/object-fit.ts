/** Pictures that are drawn in another shape than their own (CSS Images 3 §5.5: `object-fit: fill`). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { hasBox, inside } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px } from '../../geometry/rect.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { OFF_SHAPE } from './declared-sizes.ts';
import { boxName, visibilityOf } from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

/** A picture that is drawn in another shape than its own (CSS Images 3 §5.5: `object-fit: fill`). */
function outOfShape(analysis: Analysis, element: number): Observed[] {
  const { tree } = analysis;
  const natural = inside(tree).natural.get(element);
  if (tagOf(tree.reading, element) !== 'img' || !natural || natural.width < 2 || natural.height < 2) {
    stopsByGeometry(analysis, element, 'it is no picture with a size of its own');
    return [];
  }
  // What has no size of its own is given 300 × 150 (CSS Images 3 §4.4).
  const isDefault = natural.width === 300 && natural.height === 150;
  if (
    stopsByGeometry(
      analysis,
      element,
      isDefault && 'its own size is 300 × 150, which is given to what has none',
    )
  )
    return [];
  const fit = resolve(analysis.styles, element, 'object-fit').value;
  if (
    stopsByEvidence(analysis, element, !/^(fill|initial|)$/.test(fit) && `object-fit: ${fit} keeps its shape`)
  )
    return [];
  const { width, height } = laidAreas(tree, element).content;
  if (stopsByVisibility(analysis, element, (width < 16 || height < 16) && 'it is less than 16 px wide or tall'))
    return [];
  const wanted = (width * natural.height) / natural.width;
  const isInShape = Math.abs(height / wanted - 1) < OFF_SHAPE || Math.abs(height - wanted) < 2;
  if (stopsByGeometry(analysis, element, isInShape && 'it is drawn in its own shape')) return [];
  return [
    observed({
      px: Math.abs(height - wanted),
      axis: 'y',
      subject: element,
      what: `${boxName(analysis, element)} is drawn ${px(width)} × ${px(height)}, and its own shape is ${px(natural.width)} × ${px(natural.height)}`,
      weight: 40 + Math.abs(height - wanted) / 4,
    }),
  ];
}

export const rule: Rule<'size/object-fit'> = {
  id: 'size/object-fit',
  kind: 'size',
  title: 'A picture is drawn out of shape',
  spec: ['CSS Images 3 §5.5'],
  why: 'Both sides of the picture are set, and they do not have the ratio of the picture.',
  usual: 'Let one side follow (`height: auto`), or crop the picture: `object-fit: cover`.',
  example: `<style>img { width: 200px; height: 40px }</style><img alt="" src="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='120' height='90'/%3E">`,
  observe: (analysis) => {
    const { visible } = visibilityOf(analysis);
    return Array.from({ length: analysis.tree.count }, (_, element) => element).flatMap((element) =>
      visible[element] && hasBox(analysis.tree, element) ? outOfShape(analysis, element) : [],
    );
  },
};
