/** Widths at which a page's own media queries change their answer (Media Queries 4 §4.1, §5). */
import { shortNumber } from './lengths.ts';
import type { Plan } from './plan.ts';

export interface Breakpoint {
  /** First width in CSS px, going up, at which the answer is the new one. */
  width: number;
  /** The condition as written. */
  text: string;
  file: string;
}

const UNITS: Record<string, number> = { px: 1, em: 16, rem: 16, pt: 96 / 72, in: 96, cm: 96 / 2.54 };

const NUMBER = String.raw`(\d+\.?\d*|\.\d+)(px|em|rem|pt|in|cm)`;
const PREFIXED = new RegExp(String.raw`\b(min|max)-(?:device-)?width\s*:\s*${NUMBER}`, 'gi');
const AFTER = new RegExp(String.raw`\bwidth\s*(<=|>=|<|>|=)\s*${NUMBER}`, 'gi');
const BEFORE = new RegExp(String.raw`${NUMBER}\s*(<=|>=|<|>|=)\s*width\b`, 'gi');

const FLIPPED: Record<string, string> = { '<': '>', '>': '<', '<=': '>=', '>=': '<=', '=': '=' };

/** First whole px at which `width OP value` differs from one px less: where `<=` and `>` end and begin, it is behind the value. */
function edges(operator: string, value: number): number[] {
  const at = Math.ceil(value);
  const behind = Math.floor(value) + 1;
  if (operator === '>=' || operator === '<') return [at];
  if (operator === '<=' || operator === '>') return [behind];
  return [at, behind];
}

function edgesIn(text: string): number[] {
  const px = (number: string, unit: string) => Number(number) * UNITS[unit.toLowerCase()]!;
  return [
    ...[...text.matchAll(PREFIXED)].flatMap(([, bound, number, unit]) =>
      edges(bound!.toLowerCase() === 'min' ? '>=' : '<=', px(number!, unit!)),
    ),
    ...[...text.matchAll(AFTER)].flatMap(([, operator, number, unit]) => edges(operator!, px(number!, unit!))),
    ...[...text.matchAll(BEFORE)].flatMap(([, number, unit, operator]) =>
      edges(FLIPPED[operator!]!, px(number!, unit!)),
    ),
  ];
}

/** In ascending order; one for each width and condition. */
export function breakpointsOf(plan: Plan): Breakpoint[] {
  const out = new Map<string, Breakpoint>();
  for (const rule of plan.rules) {
    const { file } = plan.sheets[rule.sheet]!;
    for (const condition of rule.conditions) {
      if (condition.kind !== 'media') continue;
      for (const width of edgesIn(condition.text))
        out.set(`${width} ${condition.text}`, { width, text: condition.text, file });
    }
  }
  return [...out.values()].sort((a, b) => a.width - b.width);
}

/** Breakpoints at one width, for a notch: `500: (max-width: 499px)`. */
export const breakpointWords = ({ width, text, file }: Breakpoint): string =>
  `${shortNumber(width)}: ${text}, ${file}`;
