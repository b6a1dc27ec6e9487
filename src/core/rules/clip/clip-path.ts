/** Text that a `clip-path` cuts through (CSS Masking 1 §5.1): basic shapes (CSS Shapes 1 §3) over a box's border box. */
import { facts } from '../../evidence/model.ts';
import type { Analysis } from '../../analysis.ts';
import { rectOf, usedPx } from '../../boxes/tree.ts';
import { declaring } from '../../css/cascade/candidates.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { type Rect, px } from '../../geometry/rect.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import {
  isSelfOrAncestor,
  inkOf,
  isReplacedOrControl,
  boxName,
  visibleInk,
  visibilityOf,
} from '../../visibility/visibility.ts';
import { isUnseen, stopsByGeometry } from '../stops.ts';

/** Whether a point, relative to the upper left corner of the box, is shown. */
type Shows = (x: number, y: number) => boolean;

/** The shape that a value gives a box; null: none that is known here. `em`, `rem`: CSS px. */
export function shapeOf(
  value: string,
  { width, height }: Pick<Rect, 'width' | 'height'>,
  { em, rem }: { em: number; rem: number },
): Shows | null {
  const call = /^(inset|circle|ellipse|polygon)\(\s*(.*?)\s*\)$/i.exec(value.trim());
  if (!call) return null;
  const [, kind, inner] = call as unknown as [string, string, string];
  const length = (text: string | undefined, whole: number): number => {
    const match = /^(-?\d*\.?\d+)(px|%|em|rem|)$/i.exec(text ?? '');
    if (!match)
      return text === 'center'
        ? whole / 2
        : /^(right|bottom)$/.test(text ?? '')
          ? whole
          : /^(left|top)$/.test(text ?? '')
            ? 0
            : Number.NaN;
    const [, number, unit] = match as unknown as [string, string, string];
    if (unit === '' && Number(number) !== 0) return Number.NaN;
    return Number(number) * (unit === '%' ? whole / 100 : unit === 'em' ? em : unit === 'rem' ? rem : 1);
  };
  const sound = (numbers: number[], shows: Shows): Shows | null => (numbers.some(Number.isNaN) ? null : shows);
  if (kind === 'inset') {
    const sides = inner.replace(/\s*\bround\b.*$/, '').split(/\s+/);
    const top = length(sides[0], height);
    const right = length(sides[1] ?? sides[0], width);
    const bottom = length(sides[2] ?? sides[0], height);
    const left = length(sides[3] ?? sides[1] ?? sides[0], width);
    return sound(
      [top, right, bottom, left],
      (x, y) => x >= left && x <= width - right && y >= top && y <= height - bottom,
    );
  }
  if (kind === 'polygon') {
    const points = inner
      .replace(/^(nonzero|evenodd)\s*,\s*/, '')
      .split(/\s*,\s*/)
      .map((pair) => pair.split(/\s+/))
      .map(([x, y]): [number, number] => [length(x, width), length(y, height)]);
    return sound(points.flat(), (x, y) => {
      let isIn = false;
      points.forEach(([ax, ay], n) => {
        const [bx, by] = points[(n + points.length - 1) % points.length]!;
        if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) isIn = !isIn;
      });
      return isIn;
    });
  }
  const [radii = '', at = 'center center'] = inner.split(/\s*\bat\s+/);
  const [part = 'center', two = 'center'] = at.trim().split(/\s+/);
  // Keywords name their axis, in whichever order they stand (CSS Values 4 §9).
  const swapped = /^(top|bottom)$/.test(part) || /^(left|right)$/.test(two);
  const [atX, atY] = swapped ? [two, part] : [part, two];
  const [cx, cy] = [length(atX, width), length(atY, height)];
  const reach = (text: string | undefined, near: number[], whole: number): number =>
    text === undefined || text === '' || text === 'closest-side'
      ? Math.min(...near)
      : text === 'farthest-side'
        ? Math.max(...near)
        : length(text, whole);
  const [across, down] = [[cx, width - cx].map(Math.abs), [cy, height - cy].map(Math.abs)];
  const [first, second] = radii.trim().split(/\s+/);
  const round = kind === 'circle';
  const rx = reach(
    first,
    round ? [...across, ...down] : across,
    round ? Math.hypot(width, height) / Math.SQRT2 : width,
  );
  const ry = round ? rx : reach(second, down, height);
  return sound([cx, cy, rx, ry], (x, y) => ((x - cx) / rx) ** 2 + ((y - cy) / ry) ** 2 <= 1);
}

const LEAST = 1;

/** CSS px of a line's letters that are cut off across, and whether any of it is shown. */
function lostOf(ink: Rect, box: Rect, shows: Shows): { px: number; isSeen: boolean } {
  let most = 0;
  let isSeen = false;
  for (const part of [0.3, 0.5, 0.7]) {
    const y = ink.y + ink.height * part - box.y;
    let lost = 0;
    for (let x = 0.5; x < ink.width; x++)
      if (shows(ink.x + x - box.x, y)) isSeen = true;
      else lost++;
    most = Math.max(most, lost);
  }
  return { px: Math.min(most, ink.width), isSeen };
}

function clippedPaths(analysis: Analysis): Observed[] {
  const { tree, reading, styles } = analysis;
  const { visible } = visibilityOf(analysis);
  return declaring(styles, 'clip-path', tree.count).flatMap((clip) => {
    if (isUnseen(analysis, clip)) return [];
    const { value, winner } = resolve(styles, clip, 'clip-path');
    if (stopsByGeometry(analysis, clip, (!winner || value === 'none') && 'no clip-path is declared')) return [];
    const box = rectOf(reading, clip);
    const shows = shapeOf(value, box, {
      em: usedPx(reading, 'font-size', clip),
      rem: usedPx(reading, 'font-size', 0),
    });
    if (!shows) {
      stopsByGeometry(analysis, clip, 'its clip-path is no basic shape whose sides are known');
      return [];
    }
    let worst = { px: 0, element: -1 };
    let isSeen = false;
    for (let i = clip; i < tree.count && isSelfOrAncestor(analysis, clip, i); i++) {
      if (!visible[i] || isReplacedOrControl(tree, i)) continue;
      for (const ink of inkOf(analysis, i)) {
        const seen = visibleInk(analysis, i, ink);
        if (!seen) continue;
        const lost = lostOf(seen, box, shows);
        isSeen ||= lost.isSeen;
        if (lost.px > worst.px) worst = { px: lost.px, element: i };
      }
    }
    if (stopsByGeometry(analysis, clip, worst.px < LEAST && 'its clip-path cuts through no text')) return [];
    const { element } = worst;
    return observed({
      px: worst.px,
      axis: 'x',
      subject: clip,
      other: element === clip ? null : element,
      what: `The clip-path of ${boxName(analysis, clip)} cuts off ${px(worst.px)} px of ${element === clip ? 'its own text' : boxName(analysis, element)}`,
      evidence: facts(['closed', !isSeen && 'Nothing of what it holds can be seen: it is closed']),
      boxes: [clip],
      weight: worst.px * 2 + 60,
    });
  });
}

export const rule: Rule<'clip/clip-path'> = {
  id: 'clip/clip-path',
  kind: 'clip',
  title: 'A clip-path cuts through text',
  spec: ['CSS Masking 1 §5.1', 'CSS Shapes 1 §3'],
  why: 'A shape in percentages is smaller than the text that stands in the box at this width.',
  usual: 'Widen the shape, or give the text padding inside of it.',
  example: `<style>p { width: 200px; clip-path: inset(0 40% 0 0) }</style><p>A line that is cut in two by a shape</p>`,
  observe: clippedPaths,
};
