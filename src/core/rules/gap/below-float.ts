/** Boxes that are too wide to stand beside a float, and go down below it (CSS 2.2 §9.5). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas, outerWidth } from '../../boxes/areas.ts';
import { independence } from '../../boxes/formatting-contexts.ts';
import { isReplaced } from '../../boxes/kinds.ts';
import { childrenOf, hasBox, usedText } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { beforeStart } from '../drawn.ts';
import { inFlowContainers } from './containers.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { flowContents } from '../../visibility/flow-contents.ts';
import { boxName, visibilityOf } from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry, stopsByVisibility } from '../stops.ts';

/** CSS px that a box goes down by before anyone sees it. */
const LEAST = 24;

/** Beside a float that leaves less than this nothing was meant to stand. */
const ROOM = 60;

function belowFloat(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  const { visible } = visibilityOf(analysis);
  const floats = childrenOf(tree, container).filter(
    (child) => visible[child] && hasBox(tree, child) && tree.kinds[child] === 'float',
  );
  if (stopsByGeometry(analysis, container, floats.length === 0 && 'nothing floats in it')) return [];
  const { content } = laidAreas(tree, container);
  const children = (flowContents(analysis, container) ?? []).filter((child) => visible[child]);
  return children.flatMap((element, n) => {
    const doesClear = !/^(none|)$/.test(usedText(reading, 'clear', element));
    if (stopsByEvidence(analysis, element, doesClear && 'its clear says that it goes below the float'))
      return [];
    const isIndependent = independence(tree, element) !== null || isReplaced(reading, element);
    if (stopsByGeometry(analysis, element, !isIndependent && 'its lines go around the float')) return [];
    const { rect, margin } = laidAreas(tree, element);
    const before = children[n - 1];
    const above = before === undefined ? null : laidAreas(tree, before);
    const natural = above
      ? above.rect.y + above.rect.height + Math.max(above.margin.bottom, margin.top)
      : content.y + margin.top;
    const by = rect.y - natural;
    if (stopsByVisibility(analysis, element, by < LEAST && 'it goes down by less than 24 px')) return [];
    const beside = floats.filter((float) => {
      const { rect: ownRect } = laidAreas(tree, float);
      return float < element && ownRect.y < rect.y - 1 && ownRect.y + ownRect.height > natural + 1;
    });
    const taken = beside.reduce((width, float) => width + outerWidth(tree, float), 0);
    const float = beside.find((box) => Math.abs(foot(analysis, box) - rect.y) < 1);
    if (float === undefined) {
      stopsByGeometry(analysis, element, 'it does not begin where a float ends');
      return [];
    }
    if (
      stopsByEvidence(
        analysis,
        element,
        content.width - taken < ROOM && 'the float leaves too little room for anything beside it',
      )
    )
      return [];
    return [
      observed({
        px: by,
        axis: 'y',
        subject: element,
        other: float,
        what: `${boxName(analysis, element)} goes ${px(by)} px down, below ${boxName(analysis, float)}: it is ${px(rect.width)} px wide, and ${px(content.width - taken)} px are left beside the float`,
        boxes: [element, ...beside],
        weight: 50 + by,
      }),
    ];
  });
}

/** Lower end of a box with its margin. */
function foot({ tree }: Analysis, element: number): number {
  const { rect, margin } = laidAreas(tree, element);
  return rect.y + rect.height + margin.bottom;
}

export const rule: Rule<'gap/below-float'> = {
  id: 'gap/below-float',
  kind: 'gap',
  title: 'A box is too wide to stand beside a float',
  spec: ['CSS 2.2 §9.5'],
  why: 'A box with a formatting context of its own may not overlap a float, and goes below it where the room beside is too narrow.',
  usual: 'Let it take what the float leaves: `width: auto`.',
  example: `<style>.wrap { width: 400px } .side { float: left; width: 150px; height: 100px; background: tan } .main { overflow: hidden; width: 300px; background: linen }</style><div class="wrap"><div class="side">aside</div><div class="main">main</div></div>`,
  observe: inFlowContainers(belowFloat),
  drawn: beforeStart,
};
