/** What is said of an element: every declaration that applies to it, reduced to longhands and in the order of the cascade. */
import type { SourceDocument } from '../../html/document.ts';
import type { Plan } from './plan.ts';
import { FOR_PARTS, hintsOf, OF_TABLE } from './presentational-hints.ts';
import { physical } from './properties.ts';
import { compareSpecificity } from '../syntax/selectors.ts';
import { placeIn } from '../syntax/source-positions.ts';
import { parseSheet, type Declaration, type Sheet } from '../syntax/style-sheets.ts';
import { expand, longhandsOf } from './shorthands.ts';
import {
  attributeOf,
  closestTable,
  flowOf,
  isSvg,
  layerKey,
  type Candidate,
  type Dropped,
  type Match,
  type DeclarationsOfRule,
  type Source,
  type Styles,
} from './styles.ts';
import { tagOf } from '../../reading/labels.ts';

export type Criterion =
  'importance' | 'context' | 'inline' | 'layer' | 'specificity' | 'scope' | 'order' | 'hint';

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
  const key = pseudo ? `${element}::${pseudo}` : element;
  const cached = styles.cache.get(key);
  if (cached) return cached;
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
    const declarations = saidBy(styles, match);
    for (const { longhand, candidate } of declarations.list) put(longhand, candidate);
    dropped.push(...declarations.dropped);
  }
  if (!pseudo) {
    const sheet = inlineSheet(styles, element);
    const base = { ...INLINE, order: 0 };
    for (const declaration of sheet?.rules[0]?.declarations ?? []) {
      base.order++;
      const source: Source = { ...sourceIn(sheet!, declaration, ''), origin: 'inline' };
      const longhands = reduced(styles, declaration, base, source, isInlineValid(styles, declaration));
      for (const { longhand, candidate } of longhands.list) put(longhand, candidate);
      dropped.push(...longhands.dropped);
    }
  }
  for (const list of out.values()) if (list.length > 1) list.sort((a, b) => -compare(a, b).sign);
  if (!pseudo) styles.dropped.set(element, dropped);
  if (sign !== null) styles.alike.set(sign, { candidates: out, dropped });
  return out;
}

/** Elements of which some declaration of a property speaks, worked out once for all readings of which the same is said. */
export function declaring(styles: Styles, property: string, count: number): readonly number[] {
  let cached = declarers.get(styles.cache);
  if (!cached) declarers.set(styles.cache, (cached = new Map()));
  let previous = cached.get(property);
  if (!previous) {
    previous = Array.from({ length: count }, (_, i) => i).filter((i) => {
      const all = candidates(styles, i);
      return all.has(property) || all.has('all');
    });
    cached.set(property, previous);
  }
  return previous;
}
const declarers = new WeakMap<Styles['cache'], Map<string, readonly number[]>>();

/** Whether an element may have declarations that are no rule's: of its attributes, or of its table's. */
function hasOwn(styles: Styles, element: number): boolean {
  const attributeText = styles.attributes.get(element);
  // An address says nothing of how what has it looks.
  if (attributeText && (attributeText.size > 1 || !attributeText.has('href'))) return true;
  return rulingTable(styles, element) >= 0;
}

const numbers = new WeakMap<Match['selector'], number>();
let last = 0;
/** A number that no other selector has. */
function numberOf(selector: Match['selector']): number {
  let number = numbers.get(selector);
  if (number === undefined) numbers.set(selector, (number = ++last));
  return number;
}

/** By what elements are known to have the same declarations: the selectors that match them, and their flow. */
function signOf(styles: Styles, element: number): string {
  const { writingMode, direction } = flowOf(styles.reading, element);
  let sign = `${writingMode} ${direction}`;
  for (const { rule, selector, hops } of styles.matches.get(element) ?? [])
    sign += ` ${rule.order}.${numberOf(selector)}${hops === Infinity ? '' : `~${hops}`}`;
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
function saidBy(styles: Styles, { rule, selector, hops }: Match): DeclarationsOfRule {
  let ofRule = styles.declarations.get(rule);
  if (!ofRule) styles.declarations.set(rule, (ofRule = []));
  const previous = ofRule.find((entry) => entry.selector === selector && entry.hops === hops);
  if (previous) return previous.declarations;
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
  const declarations: DeclarationsOfRule = { list: [], dropped: [] };
  rule.rule.declarations.forEach((declaration, i) => {
    const asked = rule.asked[i]!;
    const isValid = asked < 0 || (styles.validity.declarations[asked] ?? false);
    const order = rule.order + i / rule.rule.declarations.length;
    const result = reduced(
      styles,
      declaration,
      { ...base, order },
      knownSource(sheet, declaration, selector.text),
      isValid,
    );
    declarations.list.push(...result.list);
    declarations.dropped.push(...result.dropped);
  });
  ofRule.push({ selector, hops, declarations });
  return declarations;
}

/** A declaration reduced to the longhands that it comes to. */
function reduced(
  styles: Styles,
  declaration: Declaration,
  base: Base,
  source: Source,
  isValid: boolean,
): DeclarationsOfRule {
  let { value } = declaration;
  if (!isValid) {
    const mended = styles.quirks ? quirkValue(declaration.property, value) : null;
    if (mended === null) return { list: [], dropped: [{ declaration, source, why: whyDropped(declaration) }] };
    value = mended;
  }
  const candidate = { ...base, declaration, source };
  const entry = (longhand: string, part: string | null) => ({
    longhand,
    candidate: { ...candidate, value: part },
  });
  if (declaration.property === 'all') return { list: [entry('all', value)], dropped: [] };
  const longhands = longhandsIn(declaration, value);
  return {
    list: longhands
      ? longhands.map(([longhand, part]) => entry(longhand, part))
      : longhandsOf(declaration.property).map((longhand) => entry(longhand, null)),
    dropped: [],
  };
}

const expanded = new WeakMap<Declaration, [longhand: string, value: string][] | null>();

/** The longhands that a declaration comes to, worked out once; null: they are not known before `var()` is substituted. */
function longhandsIn(declaration: Declaration, value: string): [string, string][] | null {
  const { property } = declaration;
  if (property.startsWith('--')) return [[property, value]];
  const result = () => {
    const all = expand(property, value);
    return all && Object.entries(all);
  };
  // In quirks mode a value can be another than it says.
  if (value !== declaration.value) return result();
  let cached = expanded.get(declaration);
  if (cached === undefined) expanded.set(declaration, (cached = result()));
  return cached;
}

const sources = new WeakMap<Sheet, WeakMap<Declaration, Map<string, Source>>>();

/** The place of a declaration of a sheet, worked out once for each selector. */
function knownSource(sheet: Sheet, declaration: Declaration, selector: string): Source {
  let ofSheet = sources.get(sheet);
  if (!ofSheet) sources.set(sheet, (ofSheet = new WeakMap()));
  let ofDeclaration = ofSheet.get(declaration);
  if (!ofDeclaration) ofSheet.set(declaration, (ofDeclaration = new Map()));
  let cached = ofDeclaration.get(selector);
  if (!cached) ofDeclaration.set(selector, (cached = sourceIn(sheet, declaration, selector)));
  return cached;
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

/** Style attributes of a page, by what they say and where. */
const inlineSheets = new WeakMap<SourceDocument, Map<string, Sheet>>();

function inlineSheet(styles: Styles, element: number): Sheet | null {
  const text = attributeOf(styles, element, 'style');
  if (text === null) return null;
  const at = styles.sources[element]?.attributes['style'];
  const isAsWritten = at?.value === text;
  const line = isAsWritten ? at.line : 0;
  const column = isAsWritten ? at.column + 'style="'.length : 0;
  let ofPage = inlineSheets.get(styles.document);
  if (!ofPage) inlineSheets.set(styles.document, (ofPage = new Map()));
  const key = `${line}:${column} ${text}`;
  const cached = ofPage.get(key);
  if (cached) return cached;
  const sheet = parseSheet({ file: styles.document.path, text, line, column, form: 'attribute' });
  ofPage.set(key, sheet);
  return sheet;
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

/** The table around a part of one that says by attributes how its parts look; −1: there is none. */
function rulingTable(styles: Styles, element: number): number {
  if (!OF_TABLE.has(tagOf(styles.reading, element))) return -1;
  const table = closestTable(styles, element);
  return FOR_PARTS.some((name) => table >= 0 && attributeOf(styles, table, name) !== null) ? table : -1;
}

function addHints(
  styles: Styles,
  element: number,
  put: (longhand: string, candidate: Candidate) => void,
): void {
  const tag = tagOf(styles.reading, element);
  const table = rulingTable(styles, element);
  if (!styles.attributes.has(element) && table < 0) return;
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
export function compare(a: Candidate, b: Candidate): { sign: number; by: Criterion } {
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

/** Declarations of an element's rules that the engine does not take. */
export function droppedOf(styles: Styles, element: number): Dropped[] {
  candidates(styles, element);
  return styles.dropped.get(element) ?? [];
}
