/**
 * Used widths and heights that follow from border boxes: without the padding and the border where `box-sizing` leaves these out
 * (CSS Sizing 3 §3.3), of boxes that are laid out without scrollbars and are neither turned nor scaled. Engines write them with
 * six digits (CSSOM §6.7.2), and Blink lays out in 1/64 px.
 */
import { testColumn, type Test } from '../../core/reading/column-predicates.ts';
import type { Ints, Last } from './reused-values.ts';

const UNITS = 64;
/** From here on six digits do not tell one unit from the next. */
const LARGE = 9999;
const PX = /^[-\d.]+px$/;

/** The same number with six digits; halves go to the even digit. */
function sixDigits(value: number): number {
  if (value < 1) return value;
  const scale = 10 ** (5 - Math.floor(Math.log10(value)));
  const whole = Math.floor(value * scale);
  const rest = value * scale - whole;
  return (rest > 0.5 || (rest === 0.5 && whole % 2 === 1) ? whole + 1 : whole) / scale;
}

const sides = (text: string): number[] => {
  const [top = NaN, right = top, bottom = top, left = right] = text.split(' ').map(Number.parseFloat);
  return [top, right, bottom, left];
};

const isBorderBox: Test = (text) => text === 'border-box';
const NOTHING: [number, number] = [0, 0];

/** What the border box is larger than `width` and `height` of a content box by. */
function beyond(padding: string, border: string): [x: number, y: number] {
  const [p, b] = [sides(padding), sides(border)];
  return [p[1]! + p[3]! + b[1]! + b[3]!, p[0]! + p[2]! + b[0]! + b[2]!];
}

/**
 * The number of a size's text, told by those of the last reading; −1 where the engine must be asked. Holds of elements whose
 * padding, border and `box-sizing` are as they were.
 */
export function derivedSizes(
  { strings, used, displays }: Pick<Last, 'strings' | 'used' | 'displays'>,
  rects: Float64Array,
  lastRects: Float64Array,
  of: (text: string) => number,
): (property: 'width' | 'height', i: number) => number {
  const byKey = new Map<string, [x: number, y: number]>();
  const text = (property: string, i: number): string => strings[used[property]?.[i] ?? -1] ?? '';
  const columns: (Ints | undefined)[] = ['padding', 'border-width'].map((property) => used[property]);
  const isWhole = testColumn(used['box-sizing'], { strings, count: displays.length }, isBorderBox);
  const beyondOf = (i: number): [number, number] => {
    if (isWhole[i] === 1) return NOTHING;
    const key = columns.map((column) => column?.[i] ?? -1).join(' ');
    let cached = byKey.get(key);
    if (!cached) byKey.set(key, (cached = beyond(text('padding', i), text('border-width', i))));
    return cached;
  };
  return (property, i) => {
    const at = i * 4 + (property === 'width' ? 2 : 3);
    const last = used[property]![i]!;
    if (rects[at] === lastRects[at]) return last;
    const was = strings[last] ?? '';
    // Inline boxes have none of their own (CSS 2 §10.2, §10.5).
    if (was === 'auto' && displays[i] === 'inline') return last;
    if (!PX.test(was)) return -1;
    const more = Math.round((lastRects[at]! - Number.parseFloat(was)) * UNITS);
    // Each side is cut off to a whole unit by itself.
    if (Math.abs(more - beyondOf(i)[property === 'width' ? 0 : 1] * UNITS) > 4.5) return -1;
    const units = rects[at]! * UNITS - more;
    if (!Number.isInteger(units) || units < 0 || units > LARGE * UNITS || lastRects[at]! > LARGE) return -1;
    return of(`${sixDigits(units / UNITS)}px`);
  };
}
