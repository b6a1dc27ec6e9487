/** Boxes of `::before` and `::after` that make the page wider than its viewport: no element's box tells of them (CSS Pseudo 4 §4.1). */
import type { Analysis } from '../../analysis.ts';
import { rectOf, usedText, inside } from '../../boxes/tree.ts';
import { scrollableBy, viewportScrolls } from '../../boxes/viewport-overflow.ts';
import { px } from '../../geometry/rect.ts';
import type { Pseudo } from '../../reading/reading.ts';
import { pastPage } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { beyondPage, beyondThePage } from './ends.ts';
import { clips, boxName, visibilityOf, selfAndAncestors } from '../../visibility/visibility.ts';
import { quietly, stopsByGeometry } from '../stops.ts';

/** Owners that are looked at, the likeliest first. */
const MOST = 10;

function beyondByGenerated(analysis: Analysis): Observed[] {
  if (
    stopsByGeometry(analysis, 0, !viewportScrolls(analysis.reading, 'x') && 'the page does not scroll sideways')
  )
    return [];
  const by = scrollableBy(analysis.reading, 'x');
  const ends = quietly(analysis, () => beyondThePage(analysis));
  const reached = Math.max(0, ...ends.map((element) => beyondPage(analysis, element)));
  if (stopsByGeometry(analysis, 0, by < 1 && 'the page is no wider than its viewport')) return [];
  if (stopsByGeometry(analysis, 0, reached > by - 1 && 'the boxes of elements make the page as wide as it is'))
    return [];
  const owners = [...inside(analysis.tree).pseudos]
    .filter(([element, list]) => isOut(analysis, element) && list.some(isBox))
    .map(([element, list]) => ({
      element,
      reach: Math.max(...list.map((pseudo) => reachOf(analysis, element, pseudo))),
    }))
    .filter(({ reach }) => reach > 0)
    .sort((a, b) => b.reach - a.reach)
    .slice(0, MOST);
  const [first] = owners;
  if (!first) return [];
  return [
    observed({
      px: by,
      axis: 'x',
      subject: first.element,
      what: `The page is ${px(by)} px wider than its viewport: what is generated in ${boxName(analysis, first.element)} reaches beyond it`,
      boxes: owners.map(({ element }) => element),
      weight: by * 4 + 190,
    }),
  ];
}

const isBox = ({ values }: Pseudo): boolean =>
  values['display'] !== 'none' && !/^(none|normal|)$/.test(values['content'] ?? '');

/** Whether nothing keeps what is in a box from making the page scroll. */
function isOut(analysis: Analysis, element: number): boolean {
  const { tree, reading } = analysis;
  return (
    visibilityOf(analysis).visible[element]! &&
    selfAndAncestors(analysis, element).every(
      (at) => !clips(tree, at, 'x') && usedText(reading, 'position', at) !== 'fixed',
    )
  );
}

/** CSS px beyond the page that it would reach from where its element begins; what is placed or moved may reach further. */
function reachOf({ reading }: Analysis, element: number, pseudo: Pseudo): number {
  if (!isBox(pseudo)) return 0;
  const width = Number.parseFloat(pseudo.values['width'] ?? '') || 0;
  const { x, width: ownWidth } = rectOf(reading, element);
  const free = /absolute|fixed/.test(pseudo.values['position'] ?? '') ? ownWidth : 0;
  return x + width + free - reading.document.clientWidth;
}

export const rule: Rule<'overflow/generated-content'> = {
  id: 'overflow/generated-content',
  kind: 'overflow',
  title: 'Generated content makes the page wider than its viewport',
  spec: ['CSS Pseudo 4 §4.1', 'CSS Overflow 3 §2.2'],
  why: 'A generated box has no element of its own, and adds to the scrollable overflow of the page like any other.',
  usual: 'Limit its width, or put it back into its place.',
  example: `<style>body { margin: 0 } p::after { content: ""; display: block; width: 130vw; height: 4px; background: tan }</style><p>A line below</p>`,
  observe: beyondByGenerated,
  drawn: pastPage,
};
