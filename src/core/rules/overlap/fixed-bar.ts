/** What stays in its place over the beginning or the end of the page (CSS Positioned Layout 3 §2.1). */
import type { Analysis } from '../../analysis.ts';
import { rectOf } from '../../boxes/tree.ts';
import type { Rect } from '../../geometry/rect.ts';
import { spread } from '../../reading/column-predicates.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isBarOfView, isSolid } from '../../visibility/placement.ts';
import {
  intersection,
  inkOf,
  letterBand,
  boxName,
  visibleInk,
  visibilityOf,
} from '../../visibility/visibility.ts';
import { isUnseen, stopsByGeometry, stopsByVisibility } from '../stops.ts';

/** What stays in its place over the beginning or the end of the page, where no scrolling brings out what it hides. */
function stays(analysis: Analysis): Observed[] {
  const { tree, reading } = analysis;
  const { document } = reading;
  const { visible } = visibilityOf(analysis);
  const fixed: { element: number; end: 'top' | 'bottom'; rect: Rect }[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (stopsByVisibility(analysis, i, !visible[i] && 'it cannot be seen')) continue;
    const isFixed = tree.kinds[i] === 'fixed' && tree.containingBlock[i]! < 0;
    if (stopsByGeometry(analysis, i, !isFixed && 'it is not fixed to the viewport')) continue;
    const rect = rectOf(reading, i);
    const isBar = isBarOfView(analysis, i) && rect.height >= 8;
    if (stopsByGeometry(analysis, i, !isBar && 'it is no bar along most of the view')) continue;
    if (stopsByVisibility(analysis, i, !isSolid(analysis, i) && 'it has no background, border or text'))
      continue;
    // Coordinates are the document's: what is fixed moves with the view.
    const top = rect.y - document.scrollY;
    const foot = document.scrollHeight - document.clientHeight + top;
    if (top <= 1) fixed.push({ element: i, end: 'top', rect: { ...rect, y: top } });
    else if (top + rect.height >= document.clientHeight - 1)
      fixed.push({ element: i, end: 'bottom', rect: { ...rect, y: foot } });
  }
  if (fixed.length === 0) return [];
  const placed = spread(
    reading,
    Uint8Array.from(tree.kinds, (kind) => (kind === 'fixed' || kind === 'absolute' ? 1 : 0)),
  );
  return fixed.flatMap(({ element, end, rect }) => {
    let worst: { by: number; at: number } | null = null;
    for (let i = 1; i < tree.count; i++) {
      if (isUnseen(analysis, i)) continue;
      if (stopsByGeometry(analysis, i, placed[i] === 1 && 'it is positioned, or lies in what is')) continue;
      for (const ink of inkOf(analysis, i)) {
        const seen = visibleInk(analysis, i, letterBand(ink));
        const common = seen && intersection(seen, rect);
        if (!common || common.height < 2 || common.width < 2) continue;
        const by = end === 'top' ? rect.y + rect.height - ink.y : ink.y + ink.height - rect.y;
        if (!worst || by > worst.by) worst = { by, at: i };
      }
    }
    if (!worst) {
      stopsByGeometry(analysis, element, 'no text lies under it at its end of the page');
      return [];
    }
    return [
      observed({
        px: worst.by,
        axis: 'y',
        subject: element,
        other: worst.at,
        what: `${boxName(analysis, element)} stays over ${boxName(analysis, worst.at)} at the ${end} of the page, where no scrolling brings it out`,
        variant: end,
        boxes: [element],
        weight: 140 + worst.by,
      }),
    ];
  });
}

export const rule: Rule<'overlap/fixed-bar'> = {
  id: 'overlap/fixed-bar',
  kind: 'overlap',
  title: 'A fixed bar covers the beginning or the end of the page',
  spec: ['CSS Positioned Layout 3 §2.1'],
  why: 'A fixed box takes no room in the flow, and no scrolling brings out what it covers at the ends of the page.',
  usual: 'Give the page as much padding as the bar is tall.',
  example: `<style>header { position: fixed; top: 0; left: 0; right: 0; height: 60px; background: tan } main { height: 2000px }</style><header>Bar</header><main><p>The first line of the page</main>`,
  observe: stays,
  drawn: ({ reading }, { variant, px, subject }) => {
    const { y, height } = rectOf(reading, subject);
    return variant === 'top' ? [y + height - px, y + height] : [y, y + px];
  },
};
