/** What stays in its place over the beginning or the end of the page. */
import type { Analysis } from '../../analysis.ts';
import { spread } from '../../reading/column-predicates.ts';
import { hasBox, rectOf } from '../../boxes/tree.ts';
import type { Rect } from '../../geometry/rect.ts';
import { suspect, type Suspect } from '../model.ts';
import { cut, inkOf, letters, name, seenInk, sightOf } from '../../visibility/visibility.ts';
import { isSolid, isBar } from '../../visibility/placement.ts';

/** What stays in its place over the beginning or the end of the page, where no scrolling brings out what it hides. */
export function stays(analysis: Analysis): Suspect[] {
  const { tree, reading } = analysis;
  const { document } = reading;
  const { visible } = sightOf(analysis);
  const fixed: { element: number; end: 'top' | 'bottom'; rect: Rect }[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (!visible[i] || tree.kinds[i] !== 'fixed' || tree.containingBlock[i]! >= 0) continue;
    const rect = rectOf(reading, i);
    if (!isBar(analysis, i) || rect.height < 8 || !isSolid(analysis, i)) continue;
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
      if (!visible[i] || !hasBox(tree, i) || placed[i] === 1) continue;
      for (const ink of inkOf(analysis, i)) {
        const seen = seenInk(analysis, i, letters(ink));
        const common = seen && cut(seen, rect);
        if (!common || common.height < 2 || common.width < 2) continue;
        const by = end === 'top' ? rect.y + rect.height - ink.y : ink.y + ink.height - rect.y;
        if (!worst || by > worst.by) worst = { by, at: i };
      }
    }
    if (!worst) return [];
    return [
      suspect({
        kind: 'overlap',
        px: worst.by,
        axis: 'y',
        subject: element,
        other: worst.at,
        what: `${name(analysis, element)} stays over ${name(analysis, worst.at)} at the ${end} of the page, where no scrolling brings it out`,
        form: `stays-${end}`,
        boxes: [element],
        weight: 140 + worst.by,
      }),
    ];
  });
}
