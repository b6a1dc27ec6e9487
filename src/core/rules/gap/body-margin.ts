/** The default margin of body around a band that goes from side to side (HTML §15.3.4). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { childrenOf, hasBox, usedText } from '../../boxes/tree.ts';
import { px, same } from '../../geometry/rect.ts';
import { fromZero } from '../drawn.ts';
import { inContainers } from './containers.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import {
  hasBackground,
  isSelfOrAncestor,
  inkOf,
  boxName,
  visibilityOf,
  selfAndAncestors,
} from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

const BANDS = /^(header|footer|nav|div|section|main|aside|article|form)$/;

/** The edge of the page around a band that goes from side to side. */
function aroundBand(analysis: Analysis, body: number): Observed[] {
  if (stopsByGeometry(analysis, body, tagOf(analysis.reading, body) !== 'body' && 'it is not body')) return [];
  const { tree, reading } = analysis;
  const { margin, content } = laidAreas(tree, body);
  const isDeclared = (['left', 'right'] as const).some((side) =>
    authorDeclaration(analysis, body, `margin-${side}`),
  );
  if (stopsByGeometry(analysis, body, (margin.left < 1 || isDeclared) && 'its margin is not the default one'))
    return [];
  if (stopsByEvidence(analysis, body, hasBackground(analysis, body) && 'it has a background of its own'))
    return [];
  const { visible } = visibilityOf(analysis);
  const ground = usedText(reading, 'background-color', 0);
  const inFlow = childrenOf(tree, body).filter(
    (child) => visible[child] && hasBox(tree, child) && !/absolute|fixed/.test(tree.kinds[child]!),
  );
  const band = [inFlow[0] ?? -1, inFlow.at(-1) ?? -1].find((element) => {
    if (
      element < 0 ||
      !BANDS.test(tagOf(tree.reading, element)) ||
      !/^(block|flex-item|grid-item|table)$/.test(tree.kinds[element]!)
    )
      return false;
    const { rect, margin: margin } = laidAreas(tree, element);
    const across = same(rect.x, content.x) && same(rect.x + rect.width, content.x + content.width);
    if (!across || margin.left !== 0 || !hasBackground(analysis, element)) return false;
    return usedText(reading, 'background-color', element) !== ground;
  });
  if (band === undefined) {
    stopsByGeometry(
      analysis,
      body,
      'neither its first nor its last child is a band with a background from side to side',
    );
    return [];
  }
  if (
    stopsByEvidence(
      analysis,
      body,
      standsAtEdge(analysis, inFlow, content.x) && 'text begins at the margin as well',
    )
  )
    return [];
  return [
    observed({
      px: margin.left,
      axis: 'x',
      subject: body,
      other: band,
      what: `There are ${px(margin.left)} px around ${boxName(analysis, band)}, which goes from side to side`,
      boxes: [body],
      weight: 30 + margin.left,
    }),
  ];
}

/** Whether text stands at an edge: the margin is that of the page, and wanted. */
function standsAtEdge(analysis: Analysis, boxes: readonly number[], edge: number): boolean {
  const { visible } = visibilityOf(analysis);
  const isGrounded = (element: number) =>
    selfAndAncestors(analysis, element).some((at) => boxes.includes(at) && hasBackground(analysis, at));
  return boxes.some((box) => {
    for (let i = box; i < analysis.tree.count && isSelfOrAncestor(analysis, box, i); i++)
      if (visible[i] && !isGrounded(i) && inkOf(analysis, i).some(({ x }) => Math.abs(x - edge) < 1))
        return true;
    return false;
  });
}

export const rule: Rule<'gap/body-margin'> = {
  id: 'gap/body-margin',
  kind: 'gap',
  title: 'The default margin of body stays around a band',
  spec: ['HTML §15.3.4'],
  why: 'Browsers give body a margin of 8 px. A band with a background that goes from side to side does not reach the edges of the page.',
  usual: '`body { margin: 0 }`.',
  example: `<style>header { background: navy; color: white; padding: 20px }</style><header>Quillhaven Ferries</header><main><section style="padding: 20px">Text</section></main>`,
  observe: inContainers(aroundBand),
  drawn: fromZero,
};
