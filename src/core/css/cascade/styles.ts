/**
 * What is known of the styles of one reading: which rules match which elements under which conditions, in which
 * order their layers stand, and what the engine gives an element when nobody says anything.
 */
import { isLongerList, isSameList } from '../../reading/tree-reuse.ts';
import { VIA, type Defaults, type RawReading } from '../../reading/reading.ts';
import type { Resolution } from './cascade.ts';
import type { SourceDocument, SourceElement } from '../../html/document.ts';
import type { Plan, PlannedCondition, PlannedRule, Validity } from './plan.ts';
import type { Flow } from './properties.ts';
import type { Specificity } from '../syntax/selectors.ts';
import { mediaWithoutEffect } from '../media/media-without-effect.ts';
import type { Declaration } from '../syntax/style-sheets.ts';
import { tagOf } from '../../reading/labels.ts';

export type Origin = 'author' | 'inline' | 'attribute' | 'browser' | 'trial';

/** Where a value comes from, as every format writes it. `line` and `column` count from 1; 0: not known. */
export interface Source {
  origin: Origin;
  sheet: string;
  line: number;
  column: number;
  selector: string;
  property: string;
  value: string;
}

/** One declaration that applies to an element, reduced to one longhand. */
export interface Candidate {
  origin: Origin;
  /** Value for the longhand; null where a shorthand's `var()` has not been substituted yet. */
  value: string | null;
  declaration: Pick<Declaration, 'property' | 'value' | 'important'>;
  selector: string;
  specificity: Specificity;
  layer: number;
  layerName: string;
  /** Steps up to the scoping root; Infinity outside of `@scope`. */
  hops: number;
  order: number;
  root: number;
  conditions: string[];
  source: Source;
}

/** A declaration that the parser of the engine threw away. */
export interface Dropped {
  declaration: Declaration;
  source: Source;
  why: string;
}

/** Declarations reduced to their longhands, and those that count for nothing. */
export interface DeclarationsOfRule {
  list: { longhand: string; candidate: Candidate }[];
  dropped: Dropped[];
}

export interface Match {
  rule: PlannedRule;
  selector: PlannedRule['selectors'][number]['selector'];
  hops: number;
}

/** All that is known of a reading's styles, with what has been worked out so far. */
export interface Styles {
  plan: Plan;
  validity: Validity;
  reading: RawReading;
  defaults: Defaults;
  quirks: boolean;
  sources: (SourceElement | null)[];
  document: SourceDocument;
  matches: Map<number, Match[]>;
  layerOrder: Map<string, number>;
  attributes: Map<number, Map<string, string>>;
  /** By element, or by element and pseudo-element. */
  cache: Map<number | string, Map<string, Candidate[]>>;
  /** What was worked out for one element and holds of all that the same selectors match. */
  alike: Map<string, { candidates: Map<string, Candidate[]>; dropped: Dropped[] }>;
  /** What rules say of the elements that one of their selectors matches. */
  declarations: Map<
    PlannedRule,
    { selector: Match['selector']; hops: number; declarations: DeclarationsOfRule }[]
  >;
  /** By property, then by element: what was resolved without going to the parent. */
  resolved: Map<string, Resolution[]>;
  dropped: Map<number, Dropped[]>;
  custom: Map<string, string | null>;
}

export interface StylesInput {
  plan: Plan;
  validity: Validity;
  reading: RawReading;
  defaults: Defaults;
  document: SourceDocument;
}

/** `last`: of an earlier reading; what was worked out for it is taken over where nothing can make it another. */
export function makeStyles(input: StylesInput, last: Styles | null = null): Styles {
  const { plan, validity, reading, defaults, document } = input;
  const kept = last && saysTheSame(last, input) ? last : null;
  // Written out, not spread: of every spread of a spread engines make an object of another kind, which is slow to ask.
  const styles: Styles = {
    plan,
    validity,
    reading,
    defaults,
    quirks: reading.document.mode === 'quirks',
    sources: kept?.sources ?? sourceElements(reading, document),
    document,
    matches: kept?.matches ?? new Map(),
    layerOrder: kept?.layerOrder ?? orderLayers(plan, validity, reading),
    attributes: kept?.attributes ?? attributesOf(reading),
    cache: kept?.cache ?? new Map(),
    alike: kept?.alike ?? new Map(),
    declarations: kept?.declarations ?? saidUnder(input),
    resolved: kept?.resolved ?? new Map(),
    dropped: kept?.dropped ?? new Map(),
    custom: kept?.custom ?? new Map(),
  };
  if (!kept) indexMatches(styles);
  return styles;
}

/** What rules say is the same in all readings under one answer of the engine, but where layers stand in another order. */
const saids = new WeakMap<Validity, { plan: Plan; mode: string; said: Styles['declarations'] }>();

function saidUnder({ plan, validity, reading }: StylesInput): Styles['declarations'] {
  const { mode } = reading.document;
  const cached = saids.get(validity);
  if (cached?.plan === plan && cached.mode === mode && plan.layers.length === 0) return cached.said;
  const declarations: Styles['declarations'] = new Map();
  saids.set(validity, { plan, mode, said: declarations });
  return declarations;
}

/** Whether all that styles are made of is as it was: the sheets, their conditions, the elements and what matches them. */
function saysTheSame(last: Styles, { plan, validity, reading, defaults, document }: StylesInput): boolean {
  const was = last.reading;
  if (last.plan !== plan || last.validity !== validity || last.defaults !== defaults) return false;
  if (last.document !== document || was.document.mode !== reading.document.mode) return false;
  const words = ({ tag, attributes, used }: RawReading) => [
    tag,
    attributes,
    used['writing-mode'],
    used['direction'],
  ];
  const [a, b] = [words(was), words(reading)];
  // What lengths come to stands among the same strings, and is another at each width. Every third number is an element's.
  const isLonger = isLongerList(was.strings, reading.strings);
  const isSameText = (list: Int32Array | undefined) =>
    !list ||
    isLonger ||
    list.every((at, i) => (list === was.attributes && i % 3 === 0) || was.strings[at] === reading.strings[at]);
  return (
    isSameList(was.parent, reading.parent) &&
    isSameList(was.via, reading.via) &&
    a.every((list, i) => isSameList(list, b[i]) && isSameText(list)) &&
    was.matches.length === reading.matches.length &&
    was.matches.every((list, i) => isSameList(list, reading.matches[i])) &&
    Object.keys(was.hops).length === Object.keys(reading.hops).length &&
    Object.entries(was.hops).every(([query, list]) => isSameList(list, reading.hops[query])) &&
    was.containers.length === reading.containers.length &&
    was.containers.every((list, i) => isSameList(list, reading.containers[i])) &&
    isSameButSilent(was, plan, reading)
  );
}

/** Whether the same conditions hold, but for such as change nothing. */
function isSameButSilent(was: RawReading, plan: Plan, reading: RawReading): boolean {
  if (isSameList(was.media, reading.media)) return true;
  const silent = mediaWithoutEffect(plan, reading);
  return (
    was.media.length === reading.media.length &&
    was.media.every((held, i) => held === reading.media[i] || silent[i])
  );
}

function holds(condition: PlannedCondition, validity: Validity, reading: RawReading, element: number): boolean {
  switch (condition.kind) {
    case 'media':
      return reading.media[condition.index] ?? false;
    case 'supports':
      return validity.supports[condition.index] ?? false;
    case 'container':
      return element < 0 || (reading.containers[condition.index]?.includes(element) ?? false);
    case 'never':
      return false;
  }
}

/** A selector that the engine refuses takes its whole rule with it (Selectors 4 §4.1). */
const isRuleValid = ({ selectors }: PlannedRule, { supports }: Validity, { matches }: RawReading): boolean =>
  selectors.every(
    ({ query, support }) => matches[query] !== null && (support < 0 || supports[support] === true),
  );

function indexMatches(styles: Styles): void {
  const { plan, validity, reading } = styles;
  for (const rule of plan.rules) {
    const general = rule.conditions.every((condition) => holds(condition, validity, reading, -1));
    if (!general || !isRuleValid(rule, validity, reading)) continue;
    const contained = rule.conditions.filter((condition) => condition.kind === 'container');
    for (const { selector, query } of rule.selectors) {
      const hops = reading.hops[query];
      reading.matches[query]?.forEach((element, i) => {
        if (!contained.every((condition) => holds(condition, validity, reading, element))) return;
        let list = styles.matches.get(element);
        if (!list) styles.matches.set(element, (list = []));
        list.push({ rule, selector, hops: hops?.[i] ?? Infinity });
      });
    }
  }
}

export const layerKey = (root: number, path: string[]): string => `${root}|${path.join('.')}`;

/** Layers by first mention, a layer's own rules behind those of the layers in it (CSS Cascade 5 §6.4.3). */
function orderLayers(plan: Plan, validity: Validity, reading: RawReading): Map<string, number> {
  interface Layer {
    key: string;
    children: Map<string, Layer>;
  }
  const tops = new Map<number, Layer>();
  const mention = (root: number, path: string[]) => {
    let at: Layer = tops.get(root) ?? { key: '', children: new Map() };
    tops.set(root, at);
    for (let i = 0; i < path.length; i++) {
      const child: Layer = at.children.get(path[i]!) ?? {
        key: layerKey(root, path.slice(0, i + 1)),
        children: new Map(),
      };
      at.children.set(path[i]!, child);
      at = child;
    }
  };
  for (const layer of plan.layers)
    if (layer.conditions.every((condition) => holds(condition, validity, reading, -1)))
      mention(layer.root, layer.path);
  const order = new Map<string, number>();
  const number = (layer: Layer) => {
    for (const child of layer.children.values()) number(child);
    if (layer.key) order.set(layer.key, order.size);
  };
  for (const top of tops.values()) number(top);
  return order;
}

function attributesOf(reading: RawReading): Map<number, Map<string, string>> {
  const out = new Map<number, Map<string, string>>();
  const { attributes, strings } = reading;
  for (let i = 0; i + 2 < attributes.length; i += 3) {
    const element = attributes[i]!;
    let ofElement = out.get(element);
    if (!ofElement) out.set(element, (ofElement = new Map()));
    ofElement.set(strings[attributes[i + 1]!] ?? '', strings[attributes[i + 2]!] ?? '');
  }
  return out;
}

/** The source's element for each of the reading's: both trees are walked side by side and must agree in tags. */
function sourceElements(reading: RawReading, document: SourceDocument): (SourceElement | null)[] {
  const out: (SourceElement | null)[] = new Array<SourceElement | null>(reading.count).fill(null);
  const seen = { [VIA.child]: new Int32Array(reading.count), [VIA.shadow]: new Int32Array(reading.count) };
  for (let i = 0; i < reading.count; i++) {
    const parent = reading.parent[i]!;
    const via = reading.via[i] === VIA.shadow ? VIA.shadow : VIA.child;
    const above = parent < 0 ? null : out[parent];
    const source =
      parent < 0 ? document.root : (via === VIA.shadow ? above?.shadow : above?.children)?.[seen[via][parent]!];
    if (parent >= 0) seen[via][parent]!++;
    if (source && source.tag === tagOf(reading, i)) out[i] = source;
  }
  return out;
}

export const attributeOf = (styles: Styles, element: number, name: string): string | null =>
  styles.attributes.get(element)?.get(name) ?? null;

/** Whether an element is of SVG: an `svg` or what is in one, but for what a `foreignObject` holds. */
export function isSvg(reading: RawReading, element: number): boolean {
  for (let at = element; at >= 0; at = reading.parent[at]!) {
    const tag = tagOf(reading, at);
    if (tag === 'foreignObject' && at !== element) return false;
    if (tag === 'svg') return true;
  }
  return false;
}

function ancestorKey(styles: Styles, element: number, tag: string): string {
  for (let at = styles.reading.parent[element]!; at >= 0; at = styles.reading.parent[at]!)
    if (tagOf(styles.reading, at) === tag) return defaultKeyOf(styles, at);
  return '';
}

/** The key under which the defaults of an element's kind stand: its tag, and what else the engine looks at. */
export function defaultKeyOf(styles: Styles, element: number): string {
  const { reading } = styles;
  const tag = tagOf(reading, element);
  if (isSvg(reading, element)) return `svg:${tag}`;
  if (tag === 'input' || tag === 'button')
    return `${tag}[type=${(attributeOf(styles, element, 'type') ?? '').toLowerCase() || 'text'}]`;
  if (tag === 'a' || tag === 'area')
    return attributeOf(styles, element, 'href') === null ? tag : `${tag}[href]`;
  if (tag === 'select') {
    const listed =
      attributeOf(styles, element, 'multiple') !== null ||
      Number(attributeOf(styles, element, 'size') ?? 0) > 1;
    return listed ? 'select[multiple]' : tag;
  }
  if (tag === 'dialog') return attributeOf(styles, element, 'open') === null ? tag : 'dialog[open]';
  if (tag === 'option' || tag === 'optgroup')
    return ancestorKey(styles, element, 'select') === 'select[multiple]' ? `${tag}/1` : tag;
  if (tag === 'summary') {
    const parent = reading.parent[element]!;
    return parent >= 0 && attributeOf(styles, parent, 'open') !== null ? 'summary/1' : tag;
  }
  if (tag !== 'ul' && tag !== 'ol') return tag;
  let depth = 0;
  for (let at = reading.parent[element]!; at >= 0 && depth < 2; at = reading.parent[at]!)
    if (/^(ul|ol|menu|dir)$/.test(tagOf(reading, at))) depth++;
  return `${tag}/${depth}`;
}

export function flowOf(reading: RawReading, element: number): Flow {
  const text = (property: string) => reading.strings[reading.used[property]?.[element] ?? -1] ?? '';
  return { writingMode: text('writing-mode') || 'horizontal-tb', direction: text('direction') || 'ltr' };
}

export function closestTable(styles: Styles, element: number): number {
  for (let at = styles.reading.parent[element]!; at >= 0; at = styles.reading.parent[at]!)
    if (tagOf(styles.reading, at) === 'table') return at;
  return -1;
}
