/** Selectors as far as the core needs them: the engine matches them, the core weighs them (Selectors 4). */
import { isClosing, isOpening, splitCommas, T, tokens } from './tokens.ts';

/** Specificity as counts of ids, of classes, attributes and pseudo-classes, and of types and pseudo-elements (Selectors 4 §17). */
export type Specificity = readonly [number, number, number];

export interface Selector {
  /** As the author wrote it. */
  text: string;
  /** With nesting resolved and the pseudo-element taken off: what is asked of the engine. */
  query: string;
  specificity: Specificity;
  /** `before`, `after`, `marker` ...; null where the selector is for the element itself. */
  pseudo: string | null;
  /** The pseudo-element as written, with what stands behind it; '' where there is none. */
  end: string;
}

const ONE_COLON = new Set(['before', 'after', 'first-line', 'first-letter']);

const add = (a: Specificity, b: Specificity): Specificity => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];

export function compareSpecificity(a: Specificity, b: Specificity): number {
  return a[0] - b[0] || a[1] - b[1] || a[2] - b[2];
}

const heaviest = (list: string): Specificity =>
  splitCommas(list).reduce<Specificity>(
    (most, part) => {
      const ownSpecificity = specificity(part);
      return compareSpecificity(ownSpecificity, most) > 0 ? ownSpecificity : most;
    },
    [0, 0, 0],
  );

/** Specificity of one complex selector, nesting selectors already resolved. */
export function specificity(selector: string): Specificity {
  const list = tokens(selector);
  let sum: Specificity = [0, 0, 0];
  for (let i = 0; i < list.count; i++) {
    const type = list.type[i]!;
    const word = selector.slice(list.start[i], list.end[i]);
    if (type === T.Hash) sum = add(sum, [1, 0, 0]);
    else if (type === T.Delim && word === '.') {
      sum = add(sum, [0, 1, 0]);
      i++;
    } else if (type === T.LeftSquare) {
      sum = add(sum, [0, 1, 0]);
      i = closing(list.type, i);
    } else if (type === T.Ident) {
      const prefix = selector[list.end[i]!] === '|' && selector[list.end[i]! + 1] !== '|';
      if (!prefix) sum = add(sum, [0, 0, 1]);
    } else if (type === T.Colon) {
      const element = list.type[i + 1] === T.Colon;
      if (element) i++;
      i++;
      const name = selector.slice(list.start[i], list.end[i]).toLowerCase();
      const isFunction = list.type[i] === T.Function;
      const end = isFunction ? closing(list.type, i) : i;
      const inner = isFunction ? selector.slice(list.end[i], list.start[end] ?? selector.length) : '';
      sum = add(sum, element || ONE_COLON.has(name) ? elementWeight(name, inner) : classWeight(name, inner));
      i = end;
    }
  }
  return sum;
}

function elementWeight(name: string, inner: string): Specificity {
  return name === 'slotted(' ? add([0, 0, 1], heaviest(inner)) : [0, 0, 1];
}

function classWeight(name: string, inner: string): Specificity {
  switch (name) {
    case 'where(':
      return [0, 0, 0];
    case 'is(':
    case 'not(':
    case 'has(':
    case 'matches(':
    case '-webkit-any(':
    case '-moz-any(':
      return heaviest(inner);
    case 'host(':
    case 'host-context(':
      return add([0, 1, 0], heaviest(inner));
    case 'nth-child(':
    case 'nth-last-child(': {
      const of = /\sof\s+([\s\S]+)$/i.exec(inner);
      return of ? add([0, 1, 0], heaviest(of[1]!)) : [0, 1, 0];
    }
    default:
      return [0, 1, 0];
  }
}

function closing(types: number[], open: number): number {
  let depth = 0;
  for (let i = open; i < types.length; i++) {
    if (isOpening(types[i]!)) depth++;
    else if (isClosing(types[i]!) && --depth === 0) return i;
  }
  return types.length - 1;
}

/** The pseudo-element at a complex selector's end, with what stands behind its name, and the selector without it. */
export function splitPseudo(selector: string): { query: string; pseudo: string | null; end: string } {
  const list = tokens(selector);
  let depth = 0;
  for (let i = 0; i < list.count; i++) {
    const type = list.type[i]!;
    if (isOpening(type)) depth++;
    else if (isClosing(type)) depth--;
    else if (type === T.Colon && depth === 0) {
      const element = list.type[i + 1] === T.Colon;
      const at = element ? i + 2 : i + 1;
      const name = selector.slice(list.start[at], list.end[at]).toLowerCase();
      if (!element && !ONE_COLON.has(name)) continue;
      if (name === 'slotted(') return { query: selector, pseudo: null, end: '' };
      const before = selector.slice(0, list.start[i]);
      const bare = before.trim() === '' || /[\s>+~]$/.test(before);
      const end = selector.slice(list.start[i]);
      return { query: bare ? `${before}*` : before, pseudo: name.replace(/\($/, ''), end };
    }
  }
  return { query: selector, pseudo: null, end: '' };
}

function replaceNesting(selector: string, replacement: string): { text: string; found: boolean } {
  const list = tokens(selector);
  let text = '';
  let found = false;
  for (let i = 0; i < list.count; i++) {
    const word = selector.slice(list.start[i], list.end[i]);
    if (list.type[i] === T.Delim && word === '&') {
      found = true;
      text += replacement;
    } else if (list.type[i] !== T.Comment) text += word;
  }
  return { text, found };
}

const SCOPE = ':where(:scope)';

/**
 * One selector list with `&` resolved against the lists around it (CSS Nesting 1 §3.1): `&` stands for
 * `:is(parent list)`, and a selector without it is relative to it. In no style rule `&` is `:where(:scope)`.
 * `scoped`: directly in a scope a selector that names neither `&` nor `:scope` is relative to the scoping root, at
 * no cost in specificity (CSS Cascade 6 §2.5.2).
 */
export function resolveNesting(prelude: string, parents: string[], scoped = false): string[] {
  const outer = parents.length
    ? resolveNesting(parents[parents.length - 1]!, parents.slice(0, -1), scoped)
    : null;
  const nest = outer ? `:is(${outer.filter((text) => splitPseudo(text).pseudo === null).join(',')})` : SCOPE;
  return splitCommas(prelude).map((part) => {
    const { text, found } = replaceNesting(part, nest);
    if (!outer && !scoped) return text;
    if (/^[>+~]/.test(text)) return `${nest} ${text}`;
    const names = found || (!outer && /:scope\b/i.test(text));
    return names ? text : `${nest} ${text}`;
  });
}

/** All selectors of a rule. An empty part (as in `a, , b`) stays, for the engine to refuse. */
export function selectorsOf(prelude: string, parents: string[], scoped = false): Selector[] {
  const written = splitCommas(prelude);
  return resolveNesting(prelude, parents, scoped).map((resolved, i) => {
    const { query, pseudo, end } = splitPseudo(resolved);
    return {
      text: written[i]!,
      query: query.trim(),
      specificity: specificity(resolved),
      pseudo,
      end: end.trim(),
    };
  });
}
