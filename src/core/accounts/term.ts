/** One term of a sum that explains a number, as every format writes it. */
import type { Source } from '../css/styles.ts';

export interface Term {
  /** CSS px; terms of one account add up to the number but for the residual. */
  px: number;
  what: string;
  /** By which rule the term has its size: `declared`, `default`, `auto`, `measured`, `scrollbar` ... */
  rule: string;
  box: number;
  source: Source | null;
  note: string;
}

export interface Account {
  used: number;
  terms: Term[];
  /** What the terms do not explain, in CSS px. */
  residual: number;
}

export function account(used: number, terms: Term[]): Account {
  return { used, terms, residual: used - terms.reduce((sum, term) => sum + term.px, 0) };
}
