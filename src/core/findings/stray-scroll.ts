/** Scroll extent that nothing that can be seen asks for (CSS Overflow 3 §2.2). */
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { hasBox, inside, rectOf, usedText } from '../boxes/tree.ts';
import { px } from '../geometry/rect.ts';
import { suspect, type Suspect } from './finding.ts';
import { clips, hasGround, isThing, name, sightOf, upward } from './sight.ts';
import { isClippedOn } from './overflow.ts';

export const kind = 'stray-scroll';

const LEAST = 4;

export function detect(analysis: Analysis): Suspect[] {
  const { reading, tree } = analysis;
  const { document } = reading;
  const out: Suspect[] = [];
  for (const axis of ['x', 'y'] as const) {
    const [scroll, client] =
      axis === 'x'
        ? [document.scrollWidth, document.clientWidth]
        : [document.scrollHeight, document.clientHeight];
    if (scroll - client < LEAST) continue;
    const end = (element: number): number => {
      const { x, y, width, height } = rectOf(reading, element);
      return axis === 'x' ? x + width : y + height;
    };
    let seen = 0;
    const beyond: number[] = [];
    const { visible } = sightOf(analysis);
    for (let i = 1; i < tree.count; i++) {
      if (!hasBox(tree, i) || isClippedOn(analysis, i, axis) || usedText(reading, 'position', i) === 'fixed')
        continue;
      if (isStray(analysis, i, visible[i]!)) beyond.push(i);
      else {
        const { margin } = laidAreas(tree, i);
        const inFlow = !/absolute/.test(tree.kinds[i]!);
        seen = Math.max(seen, end(i) + (axis === 'y' && inFlow ? Math.max(0, margin.bottom) : 0));
        for (const { pieces } of inside(tree).texts.get(i) ?? [])
          for (const one of pieces)
            seen = Math.max(seen, axis === 'x' ? one.x + one.width : one.y + one.height);
      }
    }
    const by = scroll - seen;
    if (by < LEAST) continue;
    const far = beyond.filter((one) => end(one) > seen + 1).sort((a, b) => end(b) - end(a));
    const [first] = far;
    if (first === undefined) continue;
    const escaped = upward(analysis, reading.parent[first]!).find((at) => clips(tree, at, axis));
    out.push(
      suspect({
        kind,
        px: by,
        axis,
        subject: escaped ?? first,
        other: escaped === undefined ? null : first,
        what: `The page scrolls ${px(by)} px further ${axis === 'x' ? 'sideways' : 'down'} than anything that can be seen: ${name(analysis, first)} lies there`,
        boxes: far.slice(0, 40),
        weight: 100 + by,
      }),
    );
  }
  return out;
}

/** A box that nobody sees: empty, without a ground, or hidden. */
function isStray(analysis: Analysis, element: number, isVisible: boolean): boolean {
  const { tree, reading } = analysis;
  if (!isVisible) return true;
  const { width, height } = rectOf(reading, element);
  if (usedText(reading, 'position', element) !== 'absolute') return false;
  if (width < 2 || height < 2) return true;
  const hasText = (inside(tree).texts.get(element) ?? []).some(({ blank }) => !blank);
  const isEmpty = tree.first[element] === tree.first[element + 1];
  return isEmpty && !hasGround(analysis, element) && !hasText && !isThing(tree, element);
}
