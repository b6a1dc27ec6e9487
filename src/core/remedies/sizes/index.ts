/** Take out or limit what keeps a box as large as it is, by one mechanism of CSS after another. */
import type { Analysis } from '../../analysis.ts';
import { rectOf } from '../../boxes/tree.ts';
import type { Observation } from '../../finding.ts';
import { boxName } from '../../visibility/visibility.ts';
import type { Proposal } from '../model.ts';
import { automaticMinimum, fieldsetMinimum, noShrink } from './automatic-minimum.ts';
import { columnHeight } from './column-height.ts';
import { containedSize } from './contained-size.ts';
import { declaredSize } from './declared-size.ts';
import { wrappingItems } from './flex-wrap.ts';
import { growingRows, shrinkingColumns } from './grid-tracks.ts';
import { pictureWithoutLimit } from './replaced-size.ts';

export const name = 'sizes';

const MECHANISMS = [
  declaredSize,
  growingRows,
  pictureWithoutLimit,
  automaticMinimum,
  containedSize,
  columnHeight,
  fieldsetMinimum,
  noShrink,
  wrappingItems,
  shrinkingColumns,
];

export function propose(analysis: Analysis, observation: Observation): Proposal[] {
  const { kind, boxes, axis } = observation;
  if (!/overflow|overlap|clip|stray-scroll/.test(kind)) return [];
  return boxes.flatMap((element) => {
    const used = rectOf(analysis.reading, element)[axis === 'x' ? 'width' : 'height'];
    const about = { analysis, observation, element, label: boxName(analysis, element), used };
    return MECHANISMS.flatMap((mechanism) => mechanism(about));
  });
}
