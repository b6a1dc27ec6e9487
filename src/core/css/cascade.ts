/**
 * The cascade for one element and one property (CSS Cascade 5 and 6): every declaration that asked for a say,
 * the one that has it, and for each of the others by which criterion it lost.
 */
import type { Plan } from './plan.ts';
import { hintsOf } from './presentational.ts';
import { isInherited, physical, sameSideOf } from './properties.ts';
import { compareSpecificity, type Specificity } from './selectors.ts';
import { placeIn } from './places.ts';
import { parseSheet, type Declaration, type Sheet } from './sheets.ts';
import { expand, longhandsOf, WIDE_KEYWORDS } from './shorthands.ts';
import {
  attributeOf,
  closestTable,
  defaultKeyOf,
  flowOf,
  isSvg,
  layerKey,
  tagOf,
  type Candidate,
  type Dropped,
  type Match,
  type Said,
  type Source,
  type Styles,
} from './styles.ts';
import { substitute, usesVariables } from './variables.ts';

export type Criterion =
  'importance' | 'context' | 'inline' | 'layer' | 'specificity' | 'scope' | 'order' | 'hint';

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

const UNLAYERED = Number.MAX_SAFE_INTEGER;

/** Unitless lengths that quirks mode takes as px (Quirks Mode §3.2). */
const UNITLESS = new Set(
  (
    'border-top-width border-right-width border-bottom-width border-left-width border-width bottom font-size height left ' +
    'letter-spacing margin margin-bottom margin-left margin-right margin-top padding padding-bottom padding-left ' +
    'padding-right padding-top right text-indent top width word-spacing max-height max-width min-height min-width border-spacing'
  ).split(' '),
);

function quirkValue(property: string, value: string): string | null {
  if (!UNITLESS.has(property)) return null;
  let changed = false;
  let lengths = true;
  const parts = value.split(/\s+/).map((part) => {
    if (!/^[-+]?(\d+\.?\d*|\.\d+)$/.test(part)) {
      lengths &&= /^([-+]?(\d+\.?\d*|\.\d+)(%|[a-z]+)|auto)$/i.test(part);
      return part;
    }
    changed = true;
    return `${part}px`;
  });
  return changed && lengths ? parts.join(' ') : null;
}

/** All declarations that apply to an element (or its pseudo-element), by physical longhand, the strongest first. */
export function candidates(
  styles: Styles,
  element: number,
  pseudo: string | null = null,
): Map<string, Candidate[]> {
  const key = pseudo ? `${element}::${pseudo}` : String(element);
  const known = styles.cache.get(key);
  if (known) return known;
  const sign = pseudo || hasOwn(styles, element) ? null : signOf(styles, element);
  const alike = sign === null ? undefined : styles.alike.get(sign);
  if (alike) {
    styles.cache.set(key, alike.candidates);
    styles.dropped.set(element, alike.dropped);
    return alike.candidates;
  }
  const out = new Map<string, Candidate[]>();
  styles.cache.set(key, out);
  const flow = flowOf(styles.reading, element);
  const dropped: Dropped[] = [];
  const put = (longhand: string, candidate: Candidate) => {
    const name = physical(longhand, flow);
    const list = out.get(name);
    if (list) list.push(candidate);
    else out.set(name, [candidate]);
  };
  if (!pseudo) addHints(styles, element, put);
  const matches = (styles.matches.get(element) ?? []).filter((match) => match.selector.pseudo === pseudo);
  matches.sort(
    (a, b) => a.rule.order - b.rule.order || compareSpecificity(a.selector.specificity, b.selector.specificity),
  );
  for (const match of matches) {
    const said = saidBy(styles, match);
    for (const { longhand, candidate } of said.list) put(longhand, candidate);
    dropped.push(...said.dropped);
  }
  if (!pseudo) {
    const sheet = inlineSheet(styles, element);
    const base = { ...INLINE, order: 0 };
    for (const declaration of sheet?.rules[0]?.declarations ?? []) {
      base.order++;
      const source: Source = { ...sourceIn(sheet!, declaration, ''), origin: 'inline' };
      const said = reduced(styles, declaration, base, source, isInlineValid(styles, declaration));
      for (const { longhand, candidate } of said.list) put(longhand, candidate);
      dropped.push(...said.dropped);
    }
  }
  for (const list of out.values()) if (list.length > 1) list.sort((a, b) => -compare(a, b).sign);
  if (!pseudo) styles.dropped.set(element, dropped);
  if (sign !== null) styles.alike.set(sign, { candidates: out, dropped });
  return out;
}

/** Whether an element may have declarations that are no rule's: of its attributes, or of its table's. */
const hasOwn = (styles: Styles, element: number): boolean =>
  styles.attributes.has(element) || /^(td|th)$/.test(tagOf(styles.reading, element));

/** By what elements are known to have the same declarations: the selectors that match them, and their flow. */
function signOf(styles: Styles, element: number): string {
  const { writingMode, direction } = flowOf(styles.reading, element);
  let sign = `${writingMode} ${direction}`;
  for (const { rule, selector, hops } of styles.matches.get(element) ?? [])
    sign += ` ${rule.order}.${rule.selectors.findIndex((one) => one.selector === selector)}${hops === Infinity ? '' : `~${hops}`}`;
  return sign;
}

type Base = Omit<Candidate, 'value' | 'declaration' | 'source'>;

const INLINE: Omit<Base, 'order'> = {
  origin: 'inline',
  selector: 'style attribute',
  specificity: [0, 0, 0],
  layer: UNLAYERED,
  layerName: '',
  hops: Infinity,
  root: 0,
  conditions: [],
};

/** What a rule says of the elements that one of its selectors matches: the same of each, worked out once. */
function saidBy(styles: Styles, { rule, selector, hops }: Match): Said {
  let ofRule = styles.said.get(rule);
  if (!ofRule) styles.said.set(rule, (ofRule = []));
  const known = ofRule.find((one) => one.selector === selector && one.hops === hops);
  if (known) return known.said;
  const sheet = styles.plan.sheets[rule.sheet]!;
  const base: Omit<Base, 'order'> = {
    origin: 'author',
    selector: selector.text,
    specificity: selector.specificity,
    layer: rule.layer ? (styles.layerOrder.get(layerKey(rule.root, rule.layer)) ?? 0) : UNLAYERED,
    layerName: rule.layer?.join('.') ?? '',
    hops,
    root: rule.root,
    conditions: rule.rule.conditions.map(({ kind, text }) => `@${kind} ${text}`),
  };
  const said: Said = { list: [], dropped: [] };
  rule.rule.declarations.forEach((declaration, i) => {
    const asked = rule.asked[i]!;
    const isValid = asked < 0 || (styles.validity.declarations[asked] ?? false);
    const order = rule.order + i / rule.rule.declarations.length;
    const made = reduced(
      styles,
      declaration,
      { ...base, order },
      knownSource(sheet, declaration, selector.text),
      isValid,
    );
    said.list.push(...made.list);
    said.dropped.push(...made.dropped);
  });
  ofRule.push({ selector, hops, said });
  return said;
}

/** A declaration reduced to the longhands that it comes to. */
function reduced(styles: Styles, declaration: Declaration, base: Base, source: Source, isValid: boolean): Said {
  let { value } = declaration;
  if (!isValid) {
    const mended = styles.quirks ? quirkValue(declaration.property, value) : null;
    if (mended === null) return { list: [], dropped: [{ declaration, source, why: whyDropped(declaration) }] };
    value = mended;
  }
  const own = { ...base, declaration, source };
  const one = (longhand: string, part: string | null) => ({ longhand, candidate: { ...own, value: part } });
  if (declaration.property === 'all') return { list: [one('all', value)], dropped: [] };
  const longhands = longhandsIn(declaration, value);
  return {
    list: longhands
      ? longhands.map(([longhand, part]) => one(longhand, part))
      : longhandsOf(declaration.property).map((longhand) => one(longhand, null)),
    dropped: [],
  };
}

const expanded = new WeakMap<Declaration, [longhand: string, value: string][] | null>();

/** The longhands that a declaration comes to, worked out once; null: they are not known before `var()` is substituted. */
function longhandsIn(declaration: Declaration, value: string): [string, string][] | null {
  const { property } = declaration;
  if (property.startsWith('--')) return [[property, value]];
  const made = () => {
    const all = expand(property, value);
    return all && Object.entries(all);
  };
  // In quirks mode a value can be another than it says.
  if (value !== declaration.value) return made();
  let known = expanded.get(declaration);
  if (known === undefined) expanded.set(declaration, (known = made()));
  return known;
}

const sources = new WeakMap<Sheet, WeakMap<Declaration, Map<string, Source>>>();

/** The place of a declaration of a sheet, worked out once for each selector. */
function knownSource(sheet: Sheet, declaration: Declaration, selector: string): Source {
  let ofSheet = sources.get(sheet);
  if (!ofSheet) sources.set(sheet, (ofSheet = new WeakMap()));
  let ofDeclaration = ofSheet.get(declaration);
  if (!ofDeclaration) ofSheet.set(declaration, (ofDeclaration = new Map()));
  let known = ofDeclaration.get(selector);
  if (!known) ofDeclaration.set(selector, (known = sourceIn(sheet, declaration, selector)));
  return known;
}

/** Declarations of style attributes are asked of the engine with those of the sheets. */
function isInlineValid(styles: Styles, declaration: Declaration): boolean {
  if (declaration.property.startsWith('--')) return true;
  const at = inlineIndex(styles).get(`${declaration.property}\n${declaration.value}`);
  return at === undefined || (styles.validity.declarations[at] ?? true);
}

const inlineIndexes = new WeakMap<Plan, Map<string, number>>();
function inlineIndex({ plan }: Styles): Map<string, number> {
  let index = inlineIndexes.get(plan);
  if (!index) {
    index = new Map(plan.request.declarations.map(([property, value], i) => [`${property}\n${value}`, i]));
    inlineIndexes.set(plan, index);
  }
  return index;
}

function whyDropped({ property, value }: Declaration): string {
  if (/^[*_]/.test(property)) return `the engine knows no property ${property}`;
  return value === '' ? 'the declaration has no value' : `the engine does not take “${value}” for ${property}`;
}

function inlineSheet(styles: Styles, element: number): Sheet | null {
  const text = attributeOf(styles, element, 'style');
  if (text === null) return null;
  const at = styles.sources[element]?.attributes['style'];
  const known = at?.value === text;
  return parseSheet({
    file: styles.document.path,
    text,
    line: known ? at.line : 0,
    column: known ? at.column + 'style="'.length : 0,
    form: 'attribute',
  });
}

function sourceIn(sheet: Sheet, declaration: Declaration, selector: string): Source {
  const place = sheet.line > 0 ? placeIn(sheet, declaration.start) : { line: 0, column: 0 };
  return {
    origin: 'author',
    sheet: sheet.file,
    ...place,
    selector,
    property: declaration.property,
    value: declaration.value,
  };
}

function addHints(
  styles: Styles,
  element: number,
  put: (longhand: string, candidate: Candidate) => void,
): void {
  const tag = tagOf(styles.reading, element);
  const isCell = tag === 'td' || tag === 'th';
  if (!styles.attributes.has(element) && !isCell) return;
  const table = isCell ? closestTable(styles, element) : -1;
  const hints = hintsOf({
    tag,
    svg: isSvg(styles.reading, element),
    engine: styles.reading.engine.name,
    attribute: (name) => attributeOf(styles, element, name),
    table: (name) => (table < 0 ? null : attributeOf(styles, table, name)),
  });
  for (const { property, value, attribute } of hints) {
    const fromTable = attributeOf(styles, element, attribute) === null && table >= 0;
    const at = styles.sources[fromTable ? table : element]?.attributes[attribute];
    put(property, {
      origin: 'attribute',
      value,
      declaration: { property, value, important: false },
      selector: `${attribute} attribute`,
      specificity: [0, 0, 0],
      layer: -1,
      layerName: '',
      hops: Infinity,
      order: 0,
      root: 0,
      conditions: [],
      source: {
        origin: 'attribute',
        sheet: styles.document.path,
        line: at?.line ?? 0,
        column: at?.column ?? 0,
        selector: `${fromTable ? 'table' : tag}[${attribute}]`,
        property,
        value,
      },
    });
  }
}

/** Which of two declarations wins: sign > 0 for `a`; by which criterion (CSS Cascade 5 §6.1). */
function compare(a: Candidate, b: Candidate): { sign: number; by: Criterion } {
  const important = a.declaration.important;
  if (important !== b.declaration.important) return { sign: important ? 1 : -1, by: 'importance' };
  if ((a.origin === 'attribute') !== (b.origin === 'attribute'))
    return { sign: a.origin === 'attribute' ? -1 : 1, by: 'hint' };
  if (a.root !== b.root) return { sign: (a.root < b.root ? 1 : -1) * (important ? -1 : 1), by: 'context' };
  if ((a.origin === 'inline') !== (b.origin === 'inline'))
    return { sign: a.origin === 'inline' ? 1 : -1, by: 'inline' };
  if (a.layer !== b.layer) return { sign: (a.layer - b.layer) * (important ? -1 : 1), by: 'layer' };
  const specificity = compareSpecificity(a.specificity, b.specificity);
  if (specificity !== 0) return { sign: specificity, by: 'specificity' };
  if (a.hops !== b.hops) return { sign: b.hops - a.hops, by: 'scope' };
  return { sign: a.order - b.order, by: 'order' };
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
      const name = (one: Candidate) => (one.layerName ? `layer ${one.layerName}` : 'no layer');
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
  const own = pseudo ? resolveHere(styles, element, property, pseudo) : resolvedHere(styles, element, property);
  if (own.from !== 'inherited') return own;
  const { property: name, winner, beaten } = own;
  const base = { property: name, winner, beaten };
  const variables = [...own.variables];
  for (let at = pseudo ? element : styles.reading.parent[element]!; at >= 0; at = styles.reading.parent[at]!) {
    const above = resolvedHere(styles, at, property);
    variables.push(...above.variables.filter((name) => !variables.includes(name)));
    if (above.from !== 'inherited')
      return { ...base, value: above.value, from: 'inherited', inheritedFrom: at, variables };
  }
  return { ...base, value: 'initial', from: 'initial', inheritedFrom: -1, variables: own.variables };
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
      rest = rest.filter((one) => one.layer !== winner.layer || one.origin !== winner.origin);
      continue;
    }
    const made = new Decided(property, winner, list, variables);
    if (keyword === 'revert') {
      const none = nobody(styles, element, property, pseudo);
      return made.as(none.value, none.from);
    }
    if (keyword === 'inherit' || (keyword === 'unset' && isInherited(property)))
      return made.as('', 'inherited');
    if (keyword === 'initial' || keyword === 'unset') return made.as('initial', 'initial');
    return made.as(value!, 'declared');
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
      .filter((one) => one !== this.winner)
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
    const known = styles.custom.get(key);
    if (known !== undefined) {
      value = known;
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
  const known = pseudo
    ? undefined
    : styles.defaults[defaultKeyOf(styles, element)]?.[sameSideOf(property, flowOf(styles.reading, element))];
  // The outermost elements exist once: whether they inherit cannot be measured, and no engine's sheet sets what is inherited.
  const outermost = /^(head|body)$/.test(tagOf(styles.reading, element));
  if (known && !outermost ? known.inherited : isInherited(property))
    return { ...base, value: '', from: 'inherited' };
  // Where there is no line its width counts for nothing, and engines say 0 (CSS Backgrounds 3 §3.3): it is medium all the same.
  const line = /^border-(\w+)-width$/.exec(property);
  const noLine =
    line && styles.defaults[defaultKeyOf(styles, element)]?.[`border-${line[1]}-style`]?.value === 'none';
  if (noLine) return { ...base, value: 'medium', from: 'initial' };
  const value = known?.em === undefined ? (known?.value ?? 'initial') : `${known.em}em`;
  return { ...base, value, from: known ? 'default' : 'initial' };
}

/** Declarations of an element's rules that the engine does not take. */
export function droppedOf(styles: Styles, element: number): Dropped[] {
  candidates(styles, element);
  return styles.dropped.get(element) ?? [];
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
