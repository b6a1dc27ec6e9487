/** Scroll containers as tall as what is in them (Flexbox 1 §4.5, Grid 2 §6.6). */
import { isLength, authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { isMainAxisVertical } from '../../boxes/formatting-contexts.ts';
import { rectOf, scrollsDown } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { pastOther } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { clips, boxName, scrollsOn, visibilityOf, selfAndAncestors } from '../../visibility/visibility.ts';
import { isUnseen, stopsByGeometry } from '../stops.ts';

const LEAST = 2;

/** Scroll containers that never scroll, since what is around them grows with them beyond a height that is set (Flexbox 1 §4.5, Grid 2 §6.6). */
function neverScrolls(analysis: Analysis): Observed[] {
  const { tree, reading } = analysis;
  const { clipping } = visibilityOf(analysis);
  const out: Observed[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (isUnseen(analysis, i)) continue;
    const mayScroll =
      (clipping[i]! & 2) > 0 &&
      scrollsOn(tree, i, 'y') &&
      /auto|scroll/.test(authorDeclaration(analysis, i, 'overflow-y')?.value ?? '');
    if (stopsByGeometry(analysis, i, !mayScroll && 'nobody declared that it scrolls down')) continue;
    const line = selfAndAncestors(analysis, i);
    const set = line.find((at) => at !== i && isHeightSet(analysis, at));
    if (set === undefined) {
      stopsByGeometry(analysis, i, 'nothing around it has a height that is set');
      continue;
    }
    const isClipped = clips(tree, set, 'y') || line.some((at) => at > set && at !== i && clips(tree, at, 'y'));
    if (stopsByGeometry(analysis, i, isClipped && 'a box around it clips or scrolls')) continue;
    if (stopsByGeometry(analysis, i, scrollsDown(reading, i) && 'it scrolls')) continue;
    const items = line.filter((at) => at > set && isGrown(analysis, at));
    if (stopsByGeometry(analysis, i, items.length === 0 && 'no item around it grows with what is in it'))
      continue;
    const by = endOf(analysis, i) - endOf(analysis, set);
    if (stopsByGeometry(analysis, i, by < LEAST && 'it ends before what has the height does')) continue;
    out.push(
      observed({
        px: by,
        axis: 'y',
        subject: i,
        other: set,
        what: `${boxName(analysis, i)} may scroll and never does: it is as tall as what is in it, and reaches ${px(by)} px beyond ${boxName(analysis, set)}`,
        boxes: items,
        weight: 60 + by / 4,
      }),
    );
  }
  return out;
}

function isHeightSet(analysis: Analysis, element: number): boolean {
  return (['height', 'max-height'] as const).some((property) => {
    const declaration = authorDeclaration(analysis, element, property);
    return (
      declaration !== null &&
      declaration.owner === element &&
      isLength(declaration.value) &&
      !declaration.value.endsWith('%')
    );
  });
}

/** Whether a box is an item that is no smaller than what is in it: `min-height: auto` along its container's main axis. */
function isGrown(analysis: Analysis, element: number): boolean {
  const { tree, reading } = analysis;
  const kind = tree.kinds[element]!;
  if (authorDeclaration(analysis, element, 'min-height') || clips(tree, element, 'y')) return false;
  const parent = reading.parent[element]!;
  return kind === 'grid-item' || (kind === 'flex-item' && isMainAxisVertical(tree, parent));
}

function endOf({ tree, reading }: Analysis, element: number): number {
  const { y, height } = rectOf(reading, element);
  return y + height - laidAreas(tree, element).border.bottom;
}

export const rule: Rule<'overflow/never-scrolls'> = {
  id: 'overflow/never-scrolls',
  kind: 'overflow',
  title: 'A scroll container never scrolls',
  spec: ['Flexbox 1 §4.5', 'Grid 2 §6.6'],
  why: 'An item is by default no smaller than its content, so a scroll container in it has room for all, and the item reaches beyond its container.',
  usual: 'Let the item be smaller than its content: `min-height: 0`.',
  example: `<style>.app { display: flex; flex-direction: column; height: 200px } .pane { display: flex; flex-direction: column; flex: 1 } .list { overflow-y: auto } li { height: 40px }</style><div class="app"><h1>Log</h1><div class="pane"><ul class="list"><li>1<li>2<li>3<li>4<li>5<li>6<li>7<li>8</ul></div></div>`,
  observe: neverScrolls,
  drawn: pastOther,
};
