/** What no scrolling brings into sight: parts of fixed boxes, and scroll containers as tall as what is in them. */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { isColumn } from '../../boxes/formatting-contexts.ts';
import { hasBox, rectOf, scrollsDown } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { isLength, said } from '../../remedies/model.ts';
import { suspect, type Suspect } from '../model.ts';
import {
  clips,
  holds,
  inkOf,
  isThing,
  letters,
  name,
  scrollsOn,
  seenInk,
  sightOf,
  upward,
} from '../../visibility/visibility.ts';

const LEAST = 2;

/** Text and controls of what is fixed to the viewport that lie beyond its end, where the rest of it is in sight (CSS Positioned Layout 3 §2.1). */
export function beyondTheView(analysis: Analysis, kind: 'overflow'): Suspect[] {
  const { tree, reading } = analysis;
  const { document } = reading;
  const { visible } = sightOf(analysis);
  const ends = {
    x: document.clientWidth + document.scrollX,
    y: document.clientHeight + document.scrollY,
  };
  const starts = { x: document.scrollX, y: document.scrollY };
  const out: Suspect[] = [];
  for (let box = 1; box < tree.count; box++) {
    if (!visible[box] || tree.kinds[box] !== 'fixed' || tree.containingBlock[box]! >= 0) continue;
    for (const axis of ['x', 'y'] as const) {
      let worst = { by: 0, at: -1 };
      let isSeen = false;
      for (let i = box; i < tree.count && holds(analysis, box, i); i++) {
        if (!visible[i] || upward(analysis, i, box).some((at) => tree.kinds[at] === 'fixed')) continue;
        if ([box, ...upward(analysis, i, box)].some((at) => scrollsOn(tree, at, axis))) continue;
        for (const ink of inkOf(analysis, i)) {
          const seen = seenInk(analysis, i, isThing(tree, i) ? ink : letters(ink));
          if (!seen) continue;
          const [start, size] = axis === 'x' ? [seen.x, seen.width] : [seen.y, seen.height];
          const [aside, wide] = axis === 'x' ? [seen.y, seen.height] : [seen.x, seen.width];
          // What waits beside the view is not there to be reached.
          if (aside >= ends[axis === 'x' ? 'y' : 'x'] || aside + wide <= starts[axis === 'x' ? 'y' : 'x'])
            continue;
          isSeen ||= start + size <= ends[axis] + 0.5;
          const by = start + size - ends[axis];
          if (by > worst.by) worst = { by, at: i };
        }
      }
      if (worst.by < LEAST || !isSeen) continue;
      out.push(
        suspect({
          kind,
          px: worst.by,
          axis,
          subject: box,
          other: worst.at === box ? null : worst.at,
          what: `${name(analysis, box)} stays in its place, and ${px(worst.by)} px of ${worst.at === box ? 'its text' : name(analysis, worst.at)} lie ${axis === 'x' ? 'right of' : 'below'} the viewport, where nobody can scroll to`,
          form: 'fixed',
          boxes: [box, ...upward(analysis, worst.at, box)],
          weight: 120 + worst.by,
        }),
      );
    }
  }
  return out;
}

/** Scroll containers that never scroll, since what is around them grows with them beyond a height that is set (Flexbox 1 §4.5, Grid 2 §6.6). */
export function neverScrolls(analysis: Analysis, kind: 'overflow'): Suspect[] {
  const { tree, reading } = analysis;
  const { visible, clipping } = sightOf(analysis);
  const out: Suspect[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (!visible[i] || (clipping[i]! & 2) === 0 || !scrollsOn(tree, i, 'y') || !hasBox(tree, i)) continue;
    if (!/auto|scroll/.test(said(analysis, i, 'overflow-y')?.value ?? '')) continue;
    const line = upward(analysis, i);
    const set = line.find((at) => at !== i && isHeightSet(analysis, at));
    if (set === undefined || line.some((at) => at > set && at !== i && clips(tree, at, 'y'))) continue;
    if (clips(tree, set, 'y') || scrollsDown(reading, i)) continue;
    const items = line.filter((at) => at > set && isGrown(analysis, at));
    if (items.length === 0) continue;
    const by = endOf(analysis, i) - endOf(analysis, set);
    if (by < LEAST) continue;
    out.push(
      suspect({
        kind,
        px: by,
        axis: 'y',
        subject: i,
        other: set,
        what: `${name(analysis, i)} may scroll and never does: it is as tall as what is in it, and reaches ${px(by)} px beyond ${name(analysis, set)}`,
        form: 'never-scrolls',
        boxes: items,
        weight: 60 + by / 4,
      }),
    );
  }
  return out;
}

function isHeightSet(analysis: Analysis, element: number): boolean {
  return (['height', 'max-height'] as const).some((property) => {
    const own = said(analysis, element, property);
    return own !== null && own.owner === element && isLength(own.value) && !own.value.endsWith('%');
  });
}

/** Whether a box is an item that is no smaller than what is in it: `min-height: auto` along its container's main axis. */
function isGrown(analysis: Analysis, element: number): boolean {
  const { tree, reading } = analysis;
  const kind = tree.kinds[element]!;
  if (said(analysis, element, 'min-height') || clips(tree, element, 'y')) return false;
  const parent = reading.parent[element]!;
  return kind === 'grid-item' || (kind === 'flex-item' && isColumn(tree, parent));
}

function endOf({ tree, reading }: Analysis, element: number): number {
  const { y, height } = rectOf(reading, element);
  return y + height - laidAreas(tree, element).border.bottom;
}
