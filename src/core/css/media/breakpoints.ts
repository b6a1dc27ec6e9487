/** Widths at which a page's own media queries change their answer (Media Queries 4 §4.1, §5). */
import { lengthPx, shortNumber, type LengthContext } from '../values/lengths.ts';
import type { Plan } from '../cascade/plan.ts';
import { isClosing, isOpening, T, tokens } from '../syntax/tokens.ts';

export interface Breakpoint {
  /** First width in CSS px, going up, at which the answer is the new one. */
  width: number;
  /** The condition as written. */
  text: string;
  file: string;
}

/** Relative lengths in media queries are of initial values: one em is the initial font size (Media Queries 4 §1.3). */
const INITIAL: LengthContext = {
  em: 16,
  emOf: '',
  rem: 16,
  remOf: '',
  zero: NaN,
  xHeight: NaN,
  lineHeight: NaN,
  rootLineHeight: NaN,
  viewport: { width: NaN, height: NaN },
  percentBase: NaN,
  percentOf: '',
};

type Operator = '<' | '<=' | '=' | '>=' | '>';
const FLIPPED: Record<Operator, Operator> = { '<': '>', '<=': '>=', '=': '=', '>=': '<=', '>': '<' };

/** First whole px at which `width OP value` differs from one px less: where `<=` and `>` end and begin, it is behind the value. */
function edges(operator: Operator, value: number): number[] {
  if (!Number.isFinite(value)) return [];
  const at = Math.ceil(value);
  const behind = Math.floor(value) + 1;
  if (operator === '>=' || operator === '<') return [at];
  if (operator === '<=' || operator === '>') return [behind];
  return [at, behind];
}

/** The features of a query: what stands in parentheses that hold no other ones, but for those of functions. */
function featuresOf(text: string): string[] {
  const list = tokens(text);
  const out: string[] = [];
  /** Where those begin that are open, from the outermost; −1: of a function, or with others in them. */
  const open: number[] = [];
  for (let i = 0; i < list.count; i++) {
    const type = list.type[i]!;
    if (type === T.LeftParen && !open.includes(-1)) {
      open.fill(NaN);
      open.push(list.end[i]!);
    } else if (isOpening(type)) open.push(-1);
    else if (isClosing(type)) {
      const from = open.pop();
      if (from !== undefined && from >= 0) out.push(text.slice(from, list.start[i]));
    }
  }
  return out;
}

/** A width of the viewport in CSS px that a value of a feature comes to; NaN: none that can be told. */
function widthOf(feature: string, value: string, height: number | null): number {
  if (feature !== 'aspect-ratio') return lengthPx(value, INITIAL);
  const [over, under = '1'] = value.split('/');
  return height === null ? NaN : (Number(over) / Number(under)) * height;
}

const NAME = /^((device-)?width|aspect-ratio)$/;
const COMPARED = /<=|>=|<|>|=/;

/** Edges of one feature, in its plain form or as a range (Media Queries 4 §2.4). */
function edgesOf(feature: string, height: number | null): number[] {
  const [name, plain] = feature.split(/:(.*)/s).map((part) => part.trim().toLowerCase());
  if (plain !== undefined) {
    if (name === 'orientation') return height === null ? [] : edges('>', height);
    const [, bound, text] = /^(min-|max-)?(.*)$/.exec(name!)!;
    if (!NAME.test(text!)) return [];
    return edges(bound === 'min-' ? '>=' : bound === 'max-' ? '<=' : '=', widthOf(text!, plain, height));
  }
  const parts = feature.split(COMPARED).map((part) => part.trim().toLowerCase());
  const operators = (feature.match(new RegExp(COMPARED, 'g')) ?? []) as Operator[];
  const at = parts.findIndex((part) => NAME.test(part));
  if (at < 0) return [];
  return operators.flatMap((operator, i) =>
    i < at
      ? edges(FLIPPED[operator], widthOf(parts[at]!, parts[i]!, height))
      : edges(operator, widthOf(parts[at]!, parts[i + 1]!, height)),
  );
}

/**
 * In ascending order; one for each width and condition. `height`: of the viewport, by which ratios and orientations are widths;
 * null: these are left out.
 */
export function breakpointsOf(plan: Plan, height: number | null = null): Breakpoint[] {
  const out = new Map<string, Breakpoint>();
  for (const rule of plan.rules) {
    const { file } = plan.sheets[rule.sheet]!;
    for (const condition of rule.conditions) {
      if (condition.kind !== 'media') continue;
      for (const width of featuresOf(condition.text).flatMap((feature) => edgesOf(feature, height)))
        out.set(`${width} ${condition.text}`, { width, text: condition.text, file });
    }
  }
  return [...out.values()].sort((a, b) => a.width - b.width);
}

/** Breakpoints at one width, for a notch: `500: (max-width: 499px)`. */
export const breakpointWords = ({ width, text, file }: Breakpoint): string =>
  `${shortNumber(width)}: ${text}, ${file}`;
