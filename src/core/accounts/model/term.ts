/** One term of a sum that explains a number, as every format writes it. */
import type { Source } from '../../css/cascade/styles.ts';
import type { Axis } from '../../geometry/rect.ts';

/** A property of a box that the number goes along with: by `rate` CSS px for every px that its used value grows. */
export interface Cause {
  box: number;
  property: string;
  rate: number;
}

/** A size or a place of another box that the number goes along with, by `rate` px for every px of it. */
export interface Link {
  box: number;
  axis: Axis;
  /** `area`: the box's own grid area. `reach`: from the start of the content of `from` to the box's margin edge at the end. `baseline`: from the box's border edge to its baseline. */
  area: 'border' | 'content' | 'padding' | 'area' | 'reach' | 'baseline';
  rate: number;
  from?: number;
}

export interface Term {
  /** CSS px; terms of one account add up to the number but for the residual. */
  px: number;
  what: string;
  /** By which rule the term has its size: `declared`, `default`, `fill`, `line-height`, `margin-collapsed` ... */
  rule: string;
  box: number;
  source: Source | null;
  note: string;
  causes?: Cause[];
  links?: Link[];
  rivals?: Rival[];
}

/** What else stood for the number of a term that is the largest of several. As large as it (`tie`), it counts as soon as it grows. */
export interface Rival {
  terms: Along[];
  tie: boolean;
  /** The part of the term that it stood for; the whole term where not said. */
  against?: Along;
  /** Px of the number for each px by which it comes to be the larger; 1 where not said. */
  rate?: number;
}

/** What a number goes along with. */
export type Along = Pick<Term, 'causes' | 'links' | 'rivals'>;

/** A declaration that asks for a say in the number and has none here. */
export interface Lost {
  box: number;
  property: string;
  /** What it asks for in CSS px; NaN where that cannot be told. */
  px: number;
  source: Source | null;
  why: string;
}

export interface Account {
  used: number;
  terms: Term[];
  /** What the terms do not explain, in CSS px. */
  residual: number;
  lost: Lost[];
}

export const sumOf = (terms: readonly Term[]): number => terms.reduce((sum, term) => sum + term.px, 0);

export function account(used: number, terms: Term[], lost: Lost[] = []): Account {
  return { used, terms, residual: used - sumOf(terms), lost };
}

/** What a term needs; the rest of it is empty unless said. */
export type Made = Pick<Term, 'px' | 'what' | 'rule' | 'box'> & Partial<Term>;
export const term = (result: Made): Term => ({ source: null, note: '', ...result });

export type Grounds = Required<Along>;

/** What all of several terms go along with together, `rate` times. */
export const groundsOf = (terms: readonly Along[], rate = 1): Grounds => ({
  causes: terms.flatMap(({ causes = [] }) => causes.map((cause) => ({ ...cause, rate: cause.rate * rate }))),
  links: terms.flatMap(({ links = [] }) => links.map((link) => ({ ...link, rate: link.rate * rate }))),
  rivals: terms.flatMap(({ causes = [], links = [], rivals = [] }) => {
    const whole = { causes, links };
    return rivals.map((rival) => ({
      ...rival,
      against: rival.against ?? whole,
      rate: (rival.rate ?? 1) * rate,
    }));
  }),
});

/** Terms of a number that is the largest of several, with the others. `against`: what they stand against, if not just the terms. */
export function withRivals(terms: readonly Term[], rivals: readonly Rival[], against?: Along): Term[] {
  const whole = against ?? groundsOf(terms);
  const all = rivals.map((rival) => ({ ...rival, against: whole }));
  return terms.map((term, i) => (i === 0 ? { ...term, rivals: [...(term.rivals ?? []), ...all] } : term));
}

/** The same terms taken off instead of added, with all that they go along with. */
export const negated = (terms: readonly Term[]): Term[] =>
  terms.map((term) => ({ ...term, px: -term.px, ...groundsOf([term], -1) }));
