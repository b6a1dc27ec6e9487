/** Boxes that go below a float though nothing of theirs lies beside it (CSS 2.2 §9.5.2). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { px } from '../../geometry/rect.ts';
import { type Test, columnTest } from '../../reading/column-predicates.ts';
import { beforeStart } from '../drawn.ts';
import { inFlowContainers } from './containers.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { flowContents } from '../../visibility/flow-contents.ts';
import { isSelfOrAncestor, inkOf, boxName, visibilityOf } from '../../visibility/visibility.ts';
import { stopsByGeometry, stopsByVisibility } from '../stops.ts';

/** Clearance below this is a line that makes room for a float beside it. */
const LEAST = 24;

const clears: Test = (text) => /both|left|right/.test(text);

function cleared(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  const { visible } = visibilityOf(analysis);
  const clearing = columnTest(reading, 'clear', clears);
  const hasClearing = flowContents(analysis, container)?.some((child) => clearing[child] === 1) === true;
  if (stopsByGeometry(analysis, container, !hasClearing && 'nothing in it clears floats')) return [];
  const children = (flowContents(analysis, container) ?? []).filter((child) => visible[child]);
  return children.flatMap((element, n) => {
    const before = children[n - 1];
    if (stopsByGeometry(analysis, element, clearing[element] === 0 && 'it clears no float')) return [];
    if (before === undefined) {
      stopsByGeometry(analysis, element, 'nothing stands before it');
      return [];
    }
    if (
      stopsByGeometry(
        analysis,
        element,
        !/^(block|list-item)$/.test(tree.kinds[element]!) && 'it is no block in the flow',
      )
    )
      return [];
    const areShown = shows(analysis, before) && shows(analysis, element);
    if (stopsByVisibility(analysis, element, !areShown && 'it, or what stands before it, shows nothing'))
      return [];
    const [above, below] = [laidAreas(tree, before), laidAreas(tree, element)];
    const between = below.rect.y - above.rect.y - above.rect.height;
    const by = between - Math.max(above.margin.bottom, below.margin.top, 0);
    if (stopsByVisibility(analysis, element, by < LEAST && 'it goes down by less than 24 px')) return [];
    return [
      observed({
        px: by,
        axis: 'y',
        subject: element,
        other: before,
        what: `${boxName(analysis, element)} goes ${px(by)} px down, below a float, and leaves that much room under ${boxName(analysis, before)}`,
        weight: 15 + by / 3,
      }),
    ];
  });
}

/** Whether something in a box can be seen. */
function shows(analysis: Analysis, box: number): boolean {
  const { tree } = analysis;
  const { visible } = visibilityOf(analysis);
  for (let i = box; i < tree.count && isSelfOrAncestor(analysis, box, i); i++)
    if (visible[i] && inkOf(analysis, i).length > 0) return true;
  return false;
}

export const rule: Rule<'gap/clearance'> = {
  id: 'gap/clearance',
  kind: 'gap',
  title: 'A box goes below a float that it does not touch',
  spec: ['CSS 2.2 §9.5.2'],
  why: '`clear` moves a box below the floats before it in the same block formatting context, wherever they lie.',
  usual: 'Let it stand beside the float: `clear: none`.',
  example: `<style>.side { float: right; width: 100px; height: 200px; background: tan } .next { clear: both }</style><section><div class="side">aside</div><p>before</p><p class="next">after</p></section>`,
  observe: inFlowContainers(cleared),
  drawn: beforeStart,
};
