/** Why a box that is told to stick never does (CSS Positioned Layout 3 §3.4). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { labelOf, tagOf } from '../../reading/labels.ts';
import { childrenOf, hasBox, inside, rectOf, scrollsDown, usedText } from '../../boxes/tree.ts';
import { alignSelf, isStretch } from '../sizing/percentage-definiteness.ts';
import { px } from '../../geometry/rect.ts';
import { declaredOf } from '../sizing/declared.ts';

/** Px of room beside what holds it from which on one would see it stick. */
const ROOM = 50;

/** The reason, and the box that is to blame for it; null: it sticks, or nothing scrolls that it could stick in. */
export function neverSticks(analysis: Analysis, element: number): { why: string; holder: number } | null {
  const { tree, reading } = analysis;
  const isSet = (side: string) => !/^(auto|initial|)$/.test(declaredOf(analysis, element, side).value);
  if (!['top', 'bottom', 'left', 'right'].some(isSet))
    return {
      why: 'a sticky box sticks to the sides that have an inset, and all four are auto',
      holder: element,
    };
  // Across it may stick where it does not down the page.
  if (isSet('left') || isSet('right')) return null;
  const { document } = reading;
  // A page that does not scroll at this height may at another: what has no room never sticks at any.
  if (document.scrollHeight - document.clientHeight < ROOM) return stretchedInRow(analysis, element);
  for (let at = reading.parent[element]!; at > 0; at = reading.parent[at]!) {
    if (tagOf(reading, at) === 'body') break;
    const [x = '', y = x] = usedText(reading, 'overflow', at).split(' ');
    // What clips is no scroll container (CSS Overflow 3 §3.1), and what is inline is neither.
    if (!/auto|scroll|hidden/.test(`${x} ${y}`) || tree.kinds[at] === 'inline') continue;
    return scrollsDown(reading, at)
      ? null
      : {
          why: `it sticks in ${labelOf(reading, at)}, which has overflow: ${x === y ? x : `${x} ${y}`} and is as tall as what is in it, so that it never scrolls`,
          holder: at,
        };
  }
  return withoutRoom(analysis, element);
}

/** A box that fills what holds it has nowhere to go, however far that is from the end of what is around. */
function withoutRoom(analysis: Analysis, element: number): { why: string; holder: number } | null {
  const { tree, reading } = analysis;
  const holder = reading.parent[element]!;
  if (holder <= 0 || tree.containingBlock[element] !== holder) return null;
  const alone = childrenOf(tree, holder).every(
    (child) => child === element || !hasBox(tree, child) || /absolute|fixed/.test(tree.kinds[child]!),
  );
  const { rect, margin } = laidAreas(tree, element);
  const stretched = alone ? null : stretchedInRow(analysis, element);
  if (stretched) return stretched;
  const room = laidAreas(tree, holder).content.height - rect.height - margin.top - margin.bottom;
  if (!alone || room >= 1) return null;
  const around = reading.parent[holder]!;
  const [ownRect, outer] = [rectOf(reading, holder), rectOf(reading, around)];
  if (outer.y + outer.height - ownRect.y - ownRect.height < ROOM) return null;
  return {
    why: `it sticks within ${labelOf(reading, holder)}, which is no taller than it: it has ${px(Math.max(0, room))} px to go`,
    holder,
  };
}

/** Stretched in its row a box is as tall as what it sticks in, whatever stands beside it (Flexbox 1 §8.3, Grid 2 §6.2). */
function stretchedInRow(analysis: Analysis, element: number): { why: string; holder: number } | null {
  const { tree, reading } = analysis;
  const holder = reading.parent[element]!;
  if (holder <= 0 || tree.containingBlock[element] !== holder) return null;
  const { rect, margin } = laidAreas(tree, element);
  const { content } = laidAreas(tree, holder);
  const isStretched =
    /^(flex|grid)-item$/.test(tree.kinds[element]!) &&
    content.height - rect.height - margin.top - margin.bottom < 1 &&
    content.height > ROOM &&
    isStretch(alignSelf(analysis, element)) &&
    endOfContents(analysis, element) < rect.height - ROOM;
  return isStretched
    ? {
        why: `it is stretched to the height of ${labelOf(reading, holder)}, which it sticks in, and has nowhere to go`,
        holder: element,
      }
    : null;
}

/** CSS px from the upper end of a box to the lowest of its children and of its own text. */
function endOfContents({ tree, reading }: Analysis, element: number): number {
  const { y } = rectOf(reading, element);
  const boxes = childrenOf(tree, element)
    .filter((child) => hasBox(tree, child))
    .map((child) => rectOf(reading, child));
  const lines = (inside(tree).texts.get(element) ?? []).flatMap(({ pieces, blank }) => (blank ? [] : pieces));
  return Math.max(0, ...[...boxes, ...lines].map((rect) => rect.y + rect.height - y));
}
