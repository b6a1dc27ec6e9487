/** Lengths as written, and what makes them as long as they are (CSS Values 4 §6, §10). */
import { px } from '../../geometry/rect.ts';
import { isClosing, isOpening, T, tokens } from '../syntax/tokens.ts';

/** What relative units stand for in one place, in CSS px. NaN: not known. */
export interface LengthContext {
  /** Font size that `em` refers to, and in words whose it is. */
  em: number;
  emOf: string;
  rem: number;
  remOf: string;
  /** Width of 0 and height of x in the font at hand. */
  zero: number;
  xHeight: number;
  lineHeight: number;
  rootLineHeight: number;
  viewport: { width: number; height: number };
  /** What a percentage refers to. */
  percentBase: number;
  percentOf: string;
  /** What container units refer to along an axis (Conditional 5 §7); not there: to the viewport. */
  container?: (axis: ContainerAxis) => QueryContainer;
}

/** `w` and `h` of a query container; `i` and `b` are its inline and block size. */
export type ContainerAxis = 'w' | 'h' | 'i' | 'b';

/** CSS px. `box` −1: there is no such container, and it is the viewport. */
export interface QueryContainer {
  size: number;
  whose: string;
  box: number;
}

const ABSOLUTE: Record<string, number> = {
  px: 1,
  in: 96,
  cm: 96 / 2.54,
  mm: 96 / 25.4,
  q: 96 / 101.6,
  pt: 96 / 72,
  pc: 16,
};
const FONT_UNITS = new Set(['ch', 'ex', 'cap', 'ic', 'rch', 'rex', 'rcap', 'ric']);

export interface Dimension {
  number: number;
  unit: string;
}

/** A single number with a unit (`%` included); null for anything else. A plain 0 has the unit px. */
export function dimensionOf(value: string): Dimension | null {
  const match = /^([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)(%|[a-z]+)?$/i.exec(value.trim());
  if (!match) return null;
  const number = Number(match[1]);
  if (!match[2]) return number === 0 ? { number, unit: 'px' } : null;
  return { number, unit: match[2].toLowerCase() };
}

const CONTAINER_UNIT = /^cq(w|h|i|b|min|max)$/;

function containerSize(axis: string, context: LengthContext): QueryContainer {
  const along = (one: ContainerAxis): QueryContainer =>
    context.container?.(one) ?? {
      size: one === 'w' || one === 'i' ? context.viewport.width : context.viewport.height,
      whose: 'the viewport',
      box: -1,
    };
  if (axis !== 'min' && axis !== 'max') return along(axis as ContainerAxis);
  const [across, down] = [along('i'), along('b')];
  return across.size < down.size === (axis === 'min') ? across : down;
}

/** How many px one of a unit is here; NaN where only the engine's fonts can tell. */
export function unitPx(unit: string, context: LengthContext): number {
  if (unit in ABSOLUTE) return ABSOLUTE[unit]!;
  const { viewport } = context;
  const axis = /^[sld]?v(w|h|i|b|min|max)$/.exec(unit)?.[1];
  if (axis === 'w' || axis === 'i') return viewport.width / 100;
  if (axis === 'h' || axis === 'b') return viewport.height / 100;
  if (axis === 'min') return Math.min(viewport.width, viewport.height) / 100;
  if (axis === 'max') return Math.max(viewport.width, viewport.height) / 100;
  const queried = CONTAINER_UNIT.exec(unit)?.[1];
  if (queried) return containerSize(queried, context).size / 100;
  if (unit === '%') return context.percentBase / 100;
  if (unit === 'em') return context.em;
  if (unit === 'rem') return context.rem;
  if (unit === 'ch') return context.zero;
  if (unit === 'ex') return context.xHeight;
  if (unit === 'lh') return context.lineHeight;
  if (unit === 'rlh') return context.rootLineHeight;
  return NaN;
}

/** Why a relative dimension is as long as it is: `html font-size 0.875 × 16`. Null for absolute ones. */
function reasonOf({ number, unit }: Dimension, context: LengthContext): string | null {
  const times = (of: string) => `${shortNumber(number)} × ${of}`;
  if (unit === 'em') return times(`${px(context.em)} (${context.emOf})`);
  if (unit === 'rem') return times(`${px(context.rem)} (${context.remOf})`);
  if (unit === '%')
    return Number.isNaN(context.percentBase)
      ? null
      : `${shortNumber(number)} % of ${px(context.percentBase)} (${context.percentOf})`;
  if (/^[sld]?v/.test(unit)) {
    const { width, height } = context.viewport;
    const base = /(w|i)$/.test(unit)
      ? `${px(width)} (viewport width)`
      : /(h|b)$/.test(unit)
        ? `${px(height)} (viewport height)`
        : `the ${/min$/.test(unit) ? 'shorter' : 'longer'} viewport side`;
    return `${shortNumber(number)} % of ${base}`;
  }
  const queried = CONTAINER_UNIT.exec(unit)?.[1];
  if (queried) {
    const { size, whose, box } = containerSize(queried, context);
    return `${shortNumber(number)} % of ${px(size)} (${whose}${box < 0 ? '' : ', its query container'})`;
  }
  if (unit === 'lh') return times(`${px(context.lineHeight)} (line height)`);
  if (unit === 'rlh') return times(`${px(context.rootLineHeight)} (root line height)`);
  if (unit === 'ch' && context.zero > 0) return times(`${px(context.zero)} (width of 0 in its font)`);
  if (unit === 'ex' && context.xHeight > 0) return times(`${px(context.xHeight)} (height of x in its font)`);
  if (FONT_UNITS.has(unit)) return `${shortNumber(number)} × a measure of the font itself`;
  return unit === 'px' || !(unit in ABSOLUTE) ? null : times(`${px(ABSOLUTE[unit]!)} px`);
}

export const shortNumber = (value: number): string =>
  String(Math.round(value * 10000) / 10000).replace('-', '−');

/** px of a length, a percentage or a math function; NaN where it cannot be told. */
export function lengthPx(value: string, context: LengthContext): number {
  const single = dimensionOf(value);
  if (single) return single.number * unitPx(single.unit, context);
  const result = evaluate(value, context);
  return result === null || result.plain ? NaN : result.value;
}

/** In words where a declared length comes from; null where it says so itself. */
export function lengthNote(value: string, context: LengthContext): string | null {
  const single = dimensionOf(value);
  if (single) {
    const reason = reasonOf(single, context);
    if (reason === null) return null;
    const length = single.number * unitPx(single.unit, context);
    return Number.isNaN(length) ? `${value} = ${reason}` : `${value} = ${px(length)}px: ${reason}`;
  }
  if (!/^(calc|min|max|clamp)\(/i.test(value.trim())) return null;
  const length = lengthPx(value, context);
  if (Number.isNaN(length)) return null;
  const parts = new Map<string, string>();
  for (const [word] of value.matchAll(/[-+]?(?:\d+\.?\d*|\.\d+)(?:%|[a-z]+)/gi)) {
    const dimension = dimensionOf(word);
    const note = dimension && dimension.unit !== 'px' ? lengthNote(word, context) : null;
    if (note) parts.set(word, note);
  }
  return [`${value} = ${px(length)}px`, ...parts.values()].join('; ');
}

interface Quantity {
  value: number;
  /** A number without a unit. */
  plain: boolean;
}

/** Math functions (CSS Values 4 §10): `calc()`, `min()`, `max()`, `clamp()` and what may stand in them. */
function evaluate(text: string, context: LengthContext): Quantity | null {
  const list = tokens(text);
  let at = 0;
  const skip = () => {
    while (list.type[at] === T.WhiteSpace || list.type[at] === T.Comment) at++;
  };
  const word = () => text.slice(list.start[at], list.end[at]);

  const primary = (): Quantity | null => {
    skip();
    const type = list.type[at];
    if (type === undefined) return null;
    if (type === T.Number) {
      const value = Number(word());
      at++;
      return { value, plain: true };
    }
    if (type === T.Dimension || type === T.Percentage) {
      const dimension = dimensionOf(word())!;
      at++;
      return { value: dimension.number * unitPx(dimension.unit, context), plain: false };
    }
    if (!isOpening(type)) return null;
    const name = word().toLowerCase();
    at++;
    const args: Quantity[] = [];
    for (;;) {
      const arg = sum();
      if (!arg) return null;
      args.push(arg);
      skip();
      if (list.type[at] === T.Comma) at++;
      else break;
    }
    if (at < list.count && isClosing(list.type[at]!)) at++;
    const values = args.map(({ value }) => value);
    const { plain } = args[0]!;
    if (name === 'calc(' || name === '(') return args[0]!;
    if (name === 'min(') return { value: Math.min(...values), plain };
    if (name === 'max(') return { value: Math.max(...values), plain };
    if (name === 'clamp(' && values.length === 3)
      return { value: Math.max(values[0]!, Math.min(values[1]!, values[2]!)), plain };
    return null;
  };
  const product = (): Quantity | null => {
    let left = primary();
    for (;;) {
      skip();
      const operator = list.type[at] === T.Delim ? word() : '';
      if (!left || (operator !== '*' && operator !== '/')) return left;
      at++;
      const right = primary();
      if (!right) return null;
      left = {
        value: operator === '*' ? left.value * right.value : left.value / right.value,
        plain: left.plain && right.plain,
      };
    }
  };
  const sum = (): Quantity | null => {
    let left = product();
    for (;;) {
      skip();
      const operator = list.type[at] === T.Delim ? word() : '';
      if (!left || (operator !== '+' && operator !== '-')) return left;
      at++;
      const right = product();
      if (!right) return null;
      left = {
        value: operator === '+' ? left.value + right.value : left.value - right.value,
        plain: left.plain,
      };
    }
  };
  const result = sum();
  skip();
  return at >= list.count ? result : null;
}
