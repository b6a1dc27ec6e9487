/** Room for descenders under a picture that stands on a baseline (CSS 2.2 §10.8). */
import { declaredOf } from '../../accounts/sizing/declared.ts';
import { facts } from '../../evidence/model.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { isReplaced } from '../../boxes/kinds.ts';
import { rectOf, usedText } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { afterEnd } from '../drawn.ts';
import { inFlowContainers } from './containers.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { flowContents } from '../../visibility/flow-contents.ts';
import { clips, hasBackground, boxName } from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

const LEAST = 1.5;

/** A picture alone in its box stands on a baseline, with room for descenders below it (CSS 2.2 §10.8). */
function underPicture(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  const children = flowContents(analysis, container);
  const [only] = children ?? [];
  if (children?.length !== 1 || only === undefined) {
    stopsByGeometry(analysis, container, 'it does not hold one box alone');
    return [];
  }
  // It may be wrapped in inline boxes: a link around a picture.
  let picture = only;
  while (tree.kinds[picture] === 'inline') {
    const inner = flowContents(analysis, picture);
    if (inner?.length !== 1) {
      stopsByGeometry(analysis, container, 'it does not hold one picture alone');
      return [];
    }
    picture = inner[0]!;
  }
  const isPicture =
    tree.kinds[picture] === 'inline-replaced' &&
    isReplaced(reading, picture) &&
    /^(img|svg|video|canvas|iframe)$/.test(tagOf(tree.reading, picture));
  // What clips its overflow stands on its lower margin edge, like a picture (CSS 2.2 §10.8.1).
  const isClipped =
    tree.kinds[picture] === 'inline-block' && clips(tree, picture, 'y') && hasBackground(analysis, picture);
  if (stopsByGeometry(analysis, picture, !isPicture && !isClipped && 'it is no picture in a line')) return [];
  const isOnBaseline = usedText(reading, 'vertical-align', picture) === 'baseline';
  if (stopsByGeometry(analysis, picture, !isOnBaseline && 'it does not stand on the baseline')) return [];
  const { content } = laidAreas(tree, container);
  const { rect, margin } = laidAreas(tree, picture);
  const by = content.y + content.height - (rect.y + rect.height + Math.max(0, margin.bottom));
  const over = rect.y - content.y;
  // In a line that is taller than the picture, the picture has its place beside text to come: an icon.
  if (stopsByGeometry(analysis, picture, by < LEAST && 'there is no room below it')) return [];
  if (
    stopsByEvidence(
      analysis,
      picture,
      (over > by || rect.height < 24) &&
        'there is more room above it than below, or it is less than 24 px tall, like an icon',
    )
  )
    return [];
  const isTall = declaredOf(analysis, container, 'height').source.origin !== 'browser';
  if (stopsByEvidence(analysis, picture, isTall && 'a height of what it stands in is declared')) return [];
  return [
    observed({
      px: by,
      axis: 'y',
      subject: picture,
      other: container,
      what: `There are ${px(by)} px below ${boxName(analysis, picture)} in ${boxName(analysis, container)} that nothing asks for`,
      evidence: facts([
        'end-is-not-seen',
        !showsEnd(analysis, container) &&
          `${boxName(analysis, container)} has no background or border to show where it ends`,
      ]),
      boxes: [picture, container],
      weight: 15 + by,
    }),
  ];
}

/** Whether the lower end of a box can be seen: it, or one that ends with it, has a ground or a border there. */
function showsEnd(analysis: Analysis, container: number): boolean {
  const { tree, reading } = analysis;
  const end = (element: number) => rectOf(reading, element).y + rectOf(reading, element).height;
  for (let at = container; at > 0 && tagOf(tree.reading, at) !== 'body'; at = reading.parent[at]!) {
    const { border, padding } = laidAreas(tree, at);
    if (border.bottom > 0 || hasBackground(analysis, at)) return true;
    if (padding.bottom > 0 || Math.abs(end(at) - end(container)) > 1) return false;
  }
  return false;
}

export const rule: Rule<'gap/picture-on-baseline'> = {
  id: 'gap/picture-on-baseline',
  kind: 'gap',
  title: 'A picture stands on the baseline, with room below it',
  spec: ['CSS 2.2 §10.8'],
  why: 'An inline picture stands on the baseline of its line, and the line keeps room for the descenders of letters below it.',
  usual: '`display: block` on the picture.',
  example: `<style>div { background: tan; width: 200px }</style><div><img alt="" width="200" height="100" src="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='200' height='100'/%3E"></div>`,
  observe: inFlowContainers(underPicture),
  drawn: afterEnd,
};
