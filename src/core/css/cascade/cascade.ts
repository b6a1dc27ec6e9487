/**
 * The cascade for one element and one property (CSS Cascade 5 and 6): every declaration that asked for a say,
 * the one that has it, and for each of the others by which criterion it lost.
 */
import { candidates, compare, type Criterion } from './candidates.ts';
import { isInherited, physical, sameSideOf } from './properties.ts';
import type { Specificity } from '../syntax/selectors.ts';
import { expand, WIDE_KEYWORDS } from './shorthands.ts';
import { defaultKeyOf, flowOf, type Candidate, type Source, type Styles } from './styles.ts';
import { substitute, usesVariables } from '../values/variables.ts';
import { tagOf } from '../../reading/labels.ts';

export interface Beaten {
  candidate: Candidate;
  by: Criterion;
  /** The reason in words, with the numbers compared. */
  why: string;
}

export interface Resolution {
  property: string;
  /** The declaration that has the say; null when nobody set the property. */
  winner: Candidate | null;
  beaten: Beaten[];
  /** The winner's value with `var()` substituted, or the default; what the computed value is made from. */
  value: string;
  /** `declared`: the value is the winner's own; otherwise where it is taken from. */
  from: 'declared' | 'inherited' | 'default' | 'initial';
  /** Element whose value is inherited; −1 for none. */
  inheritedFrom: number;
  /** Custom properties that the value went through, in order. */
  variables: string[];
}

const shown = (specificity: Specificity): string => specificity.join(',');

function reason(winner: Candidate, loser: Candidate, by: Criterion): string {
  switch (by) {
    case 'importance':
      return 'the other is !important';
    case 'hint':
      return 'an attribute yields to every style sheet';
    case 'context':
      return winner.declaration.important
        ? 'the other comes from inside the shadow tree'
        : 'the other comes from outside the shadow tree';
    case 'inline':
      return 'the other stands in the style attribute';
    case 'layer': {
      const name = (candidate: Candidate) =>
        candidate.layerName ? `layer ${candidate.layerName}` : 'no layer';
      return `${name(winner)} goes before ${name(loser)}`;
    }
    case 'specificity':
      return `specificity ${shown(loser.specificity)} is less than ${shown(winner.specificity)}`;
    case 'scope':
      return `its scoping root is ${loser.hops} steps up, the other's ${winner.hops}`;
    case 'order':
      return 'the other comes later';
  }
}

/** What an element's property gets, and why. `property` is a physical longhand or a custom property. */
export function resolve(
  styles: Styles,
  element: number,
  property: string,
  pseudo: string | null = null,
): Resolution {
  const resolution = pseudo
    ? resolveHere(styles, element, property, pseudo)
    : resolvedHere(styles, element, property);
  if (resolution.from !== 'inherited') return resolution;
  const { property: name, winner, beaten } = resolution;
  const base = { property: name, winner, beaten };
  const variables = [...resolution.variables];
  for (let at = pseudo ? element : styles.reading.parent[element]!; at >= 0; at = styles.reading.parent[at]!) {
    const above = resolvedHere(styles, at, property);
    variables.push(...above.variables.filter((name) => !variables.includes(name)));
    if (above.from !== 'inherited')
      return { ...base, value: above.value, from: 'inherited', inheritedFrom: at, variables };
  }
  return { ...base, value: 'initial', from: 'initial', inheritedFrom: -1, variables: resolution.variables };
}

function resolvedHere(styles: Styles, element: number, property: string): Resolution {
  let list = styles.resolved.get(property);
  if (!list) styles.resolved.set(property, (list = []));
  return (list[element] ??= resolveHere(styles, element, property, null));
}

/** The same without going to the parent: what is inherited has no value yet. */
function resolveHere(styles: Styles, element: number, property: string, pseudo: string | null): Resolution {
  const all = candidates(styles, element, pseudo);
  let list = all.get(property) ?? [];
  const everything = property.startsWith('--') || property === 'direction' ? undefined : all.get('all');
  if (everything) list = [...list, ...everything].sort((a, b) => -compare(a, b).sign);
  let rest = list;
  const variables: string[] = [];
  while (rest.length > 0) {
    const winner = rest[0]!;
    const value = valueOf(styles, element, property, winner, variables);
    const keyword = value === null ? 'unset' : value.toLowerCase();
    if (keyword === 'revert-layer') {
      rest = rest.filter((candidate) => candidate.layer !== winner.layer || candidate.origin !== winner.origin);
      continue;
    }
    const decided = new Decided(property, winner, list, variables);
    if (keyword === 'revert') {
      const none = nobody(styles, element, property, pseudo);
      return decided.as(none.value, none.from);
    }
    if (keyword === 'inherit' || (keyword === 'unset' && isInherited(property)))
      return decided.as('', 'inherited');
    if (keyword === 'initial' || keyword === 'unset') return decided.as('initial', 'initial');
    return decided.as(value!, 'declared');
  }
  return nobody(styles, element, property, pseudo);
}

/** A property that a declaration has the say of. Why the others are beaten is worked out when it is asked for. */
class Decided implements Resolution {
  value = '';
  from: Resolution['from'] = 'declared';
  inheritedFrom = -1;

  constructor(
    readonly property: string,
    readonly winner: Candidate,
    private readonly list: readonly Candidate[],
    readonly variables: string[],
  ) {}

  get beaten(): Beaten[] {
    return this.list
      .filter((candidate) => candidate !== this.winner)
      .map((candidate) => {
        const { by } = compare(this.winner, candidate);
        return { candidate, by, why: reason(this.winner, candidate, by) };
      });
  }

  as(value: string, from: Resolution['from']): Resolution {
    this.value = value;
    this.from = from;
    return this;
  }
}

function valueOf(
  styles: Styles,
  element: number,
  property: string,
  winner: Candidate,
  variables: string[],
): string | null {
  const lookup = (name: string): string | null => {
    if (!variables.includes(name)) variables.push(name);
    return customProperty(styles, element, name);
  };
  if (winner.value !== null && !usesVariables(winner.value)) return winner.value;
  const whole = substitute(winner.value ?? winner.declaration.value, lookup);
  // No property takes an empty value, which a variable may well have (CSS Custom Properties 1 §2).
  if (whole === null || whole === '') return null;
  if (winner.value !== null) return whole;
  const flow = flowOf(styles.reading, element);
  for (const [longhand, value] of Object.entries(expand(winner.declaration.property, whole) ?? {}))
    if (physical(longhand, flow) === property) return value;
  return null;
}

/** The value of a custom property on an element, null for the guaranteed-invalid value. */
export function customProperty(styles: Styles, element: number, name: string): string | null {
  const registration = styles.plan.registrations.get(name);
  const initial = registration?.initial ?? null;
  const passed: string[] = [];
  let value = initial;
  for (let at = element; at >= 0; at = styles.reading.parent[at]!) {
    const key = `${at} ${name}`;
    const cached = styles.custom.get(key);
    if (cached !== undefined) {
      value = cached;
      break;
    }
    passed.push(key);
    const winner = candidates(styles, at).get(name)?.[0];
    const keyword = winner?.value?.toLowerCase() ?? '';
    if (winner?.value != null && !WIDE_KEYWORDS.has(keyword)) {
      // While a property is being worked out, what refers back to it finds nothing (CSS Custom Properties 1 §3).
      styles.custom.set(key, null);
      const owner = at;
      value = substitute(winner.value, (other) =>
        other === name ? null : customProperty(styles, owner, other),
      );
      break;
    }
    if (keyword === 'initial' || registration?.inherits === false) break;
  }
  for (const key of passed) styles.custom.set(key, value);
  return value;
}

/** For what no declaration decides: the engine's default, or the parent's value. */
function nobody(styles: Styles, element: number, property: string, pseudo: string | null): Resolution {
  const base = { property, winner: null, beaten: [], variables: [], inheritedFrom: -1 };
  const previous = pseudo
    ? undefined
    : styles.defaults[defaultKeyOf(styles, element)]?.[sameSideOf(property, flowOf(styles.reading, element))];
  // The outermost elements exist once: whether they inherit cannot be measured, and no engine's sheet sets what is inherited.
  const outermost = /^(head|body)$/.test(tagOf(styles.reading, element));
  if (previous && !outermost ? previous.inherited : isInherited(property))
    return { ...base, value: '', from: 'inherited' };
  // Where there is no line its width counts for nothing, and engines say 0 (CSS Backgrounds 3 §3.3): it is medium all the same.
  const line = /^border-(\w+)-width$/.exec(property);
  const noLine =
    line && styles.defaults[defaultKeyOf(styles, element)]?.[`border-${line[1]}-style`]?.value === 'none';
  if (noLine) return { ...base, value: 'medium', from: 'initial' };
  const value = previous?.em === undefined ? (previous?.value ?? 'initial') : `${previous.em}em`;
  return { ...base, value, from: previous ? 'default' : 'initial' };
}

/** The source to name for what a resolution says: the declaration, or the engine's default. */
export function sourceOf(styles: Styles, element: number, resolution: Resolution): Source {
  if (resolution.winner && resolution.from === 'declared') return resolution.winner.source;
  if (resolution.from === 'inherited' && resolution.inheritedFrom >= 0) {
    const at = resolution.inheritedFrom;
    return sourceOf(styles, at, resolve(styles, at, resolution.property));
  }
  return {
    origin: 'browser',
    sheet: '',
    line: 0,
    column: 0,
    selector: tagOf(styles.reading, element),
    property: resolution.property,
    value: resolution.value,
  };
}
