/** Let text have the lines that are wished for, or show all of it (CSS Text 3 §4, §5; CSS Overflow 3 §3, §5). */
import type { Fix } from '../../finding.ts';
import { selfAndAncestors, visibilityOf } from '../../visibility/visibility.ts';
import { change, parentOf, type Wished } from './model.ts';

export function inLines(wished: Wished, most: number): Fix[] {
  const { element } = wished;
  const parent = parentOf(wished);
  const keep = { 'white-space': 'nowrap' };
  const out = [
    change('let it be as wide as its text', 70, element, { width: 'max-content' }),
    change('let it not shrink', 78, element, { 'flex-shrink': '0' }),
    change('take the limit of its width away', 72, element, { 'max-width': 'none' }),
    change('let it use the room beside it', 66, element, { 'flex-grow': '1' }),
    change('let the line that it is in wrap', 64, parent, { 'flex-wrap': 'wrap' }),
    change('narrow the space between its letters', 30, element, { 'letter-spacing': 'normal' }),
  ];
  if (most > 1) return out;
  return [
    change('let its text not wrap', 84, element, keep),
    change('let its text not wrap, and let it not shrink', 80, element, { ...keep, 'flex-shrink': '0' }),
    ...out,
  ];
}

/** The boxes that cut the text of a box, itself first. */
function cutters({ analysis, element }: Wished): number[] {
  const { clipping } = visibilityOf(analysis);
  return selfAndAncestors(analysis, element).filter((at) => at > 0 && clipping[at]! > 0);
}

export function wholeText(wished: Wished): Fix[] {
  const { element } = wished;
  const wrap = { 'white-space': 'normal', 'overflow-wrap': 'anywhere' };
  const boxes = cutters(wished).slice(0, 3);
  const open = (at: number): [number, Record<string, string>] => [at, { height: 'auto', 'max-height': 'none' }];
  return [
    change('let it wrap', 85, element, { 'white-space': 'normal' }),
    change('let it wrap, within words too', 79, element, wrap),
    change('let its text wrap, and the box grow with it', 82, element, { ...wrap, ...open(element)[1] }),
    ...boxes.flatMap((at, n) => [
      change('let it be as tall as its content', 80 - n, ...open(at)),
      change('let it be as tall as its content, at least as tall as now', 74 - n, at, {
        height: 'auto',
        'max-height': 'none',
        'min-height': '0',
        'flex-shrink': '0',
      }),
      change('show all lines', 78 - n, at, { '-webkit-line-clamp': 'none', display: 'block', ...open(at)[1] }),
      change('let it be as wide as its text', 60 - n, at, {
        width: 'auto',
        'max-width': 'none',
        'min-width': 'max-content',
      }),
      change('let it be scrolled', 52 - n, at, { overflow: 'auto' }),
      change('cut nothing off', 48 - n, at, { overflow: 'visible' }),
    ]),
    ...(boxes.length > 0
      ? [change('let all that cuts it grow, and its text wrap', 56, element, wrap, boxes.map(open))]
      : []),
  ];
}
