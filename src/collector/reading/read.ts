/** One reading: rectangles and used values as laid out, then computed values with the root out of layout. */
import type { Changed, Pseudo, RawReading, Wanted } from '../../core/reading/reading.ts';
import { resetScrollbars } from '../document/reset-scrollbars.ts';
import { holdAnimations } from '../document/animations.ts';
import { canTell, readComputed, whileLaidOut, whileUnboxed } from './computed.ts';
import { reusableValues, type Ints, type Last } from './reused-values.ts';
import {
  FONT,
  fontKeysOf,
  fontsOf,
  naturalOf,
  isShape,
  pseudosAgain,
  pseudosOf,
  replacedOf,
  runsOf,
  textsOf,
  type Run,
  type Texts,
} from './contents.ts';
import { match, type Matches, type Prepared } from './match.ts';
import {
  hasChanged,
  subtreesOf,
  isPlain,
  movesOf,
  type Subtrees,
  type Moves,
  type Offset,
} from './unchanged-subtrees.ts';
import { interner, readNames, type Interner, type Named } from './names.ts';
import { isSame } from '../../protocol/delta-encoder.ts';
import type { Requests } from '../../protocol/protocol.ts';
import { forceRelayout } from '../document/forced-relayout.ts';
import { areScriptsDisabled } from '../document/scripts-disabled.ts';
import { walk, type Walk } from './walk.ts';

export function engine(): { name: string; version: string } {
  const agent = navigator.userAgent;
  const found =
    /Firefox\/([\d.]+)/.exec(agent) ??
    /Chrom(?:e|ium)\/([\d.]+)/.exec(agent) ??
    /Version\/([\d.]+).*Safari/.exec(agent);
  const name = agent.includes('Firefox/')
    ? 'firefox'
    : /Chrom(e|ium)\//.test(agent)
      ? 'chromium'
      : agent.includes('Safari/')
        ? 'webkit'
        : 'unknown';
  return { name, version: found?.[1] ?? '' };
}

export const mode = (): 'standards' | 'quirks' =>
  document.compatMode === 'BackCompat' ? 'quirks' : 'standards';

/** What a full reading leaves behind for one after a change of a few declarations. */
interface Memory {
  plan: Prepared;
  limit: number;
  tree: Walk;
  elements: Element[];
  parent: Ints;
  via: Ints;
  replaced: number[];
  fontKeys: Set<string>;
  indexOf: Map<Element, number>;
  runs: Run[];
  pseudos: Pseudo[];
  interned: Interner;
  named: Named;
  used: Record<string, Ints>;
  displays: string[];
  computed: Record<string, Ints>;
  matched: Matches;
  rects: Float64Array;
  fragments: number[];
  scrolls: number[];
  texts: Texts;
  natural: number[];
  height: number;
  /** What lies in boxes by their own size alone, and of what that was said; null: not asked yet. */
  inside: { changed: string; subtrees: Subtrees | null } | null;
}
let memory: Memory | null = null;

/** Above this number of strings a reading is made from nothing, so that they do not pile up. */
const MAX_STRINGS = 20_000;

/** What of the last reading still holds; null: the document is not the one that was read. */
function remembered(plan: Prepared, elements: Element[]): Memory | null {
  if (memory?.plan !== plan || memory.interned.strings.length > MAX_STRINGS) return null;
  const { elements: last } = memory;
  return plan.containers.length === 0 && (elements === last || isSame(elements, last)) ? memory : null;
}

/** What can be another than in the last reading, as other conditions hold now than did then; null: anything can. */
function changedWith(changed: Changed, then: boolean[], now: boolean[]): Changed | null {
  const flipped = now.flatMap((holds, i) => (holds === then[i] ? [] : [changed.media?.[i] ?? null]));
  if (flipped.includes(null)) return null;
  const more = flipped.flatMap((names) => names!);
  if (more.length === 0) return changed;
  return { properties: [...new Set([...changed.properties, ...more])], elements: null };
}

/** Properties whose resolved value comes from layout (CSSOM §9), so that it is another one wherever anything has moved. */
const LAID_OUT = new Set(
  'width height margin padding inset top right bottom left transform transform-origin grid-template-columns grid-template-rows'.split(
    ' ',
  ),
);

/** The sides at which an inline box parts the text within it from that around it, so that no letters join across. */
const PARTING = ['margin', 'padding', 'border-width'];

/** Whether inline boxes part their text from that around them by something else than in the last reading. */
function partsAnew(last: Memory, used: Record<string, Ints>, fresh: Set<string>): boolean {
  const asked = PARTING.filter((property) => fresh.has(property));
  return last.displays.some(
    (display, i) =>
      display === 'inline' && asked.some((property) => last.used[property]![i] !== used[property]![i]),
  );
}

/** What sets a box in columns (Multi-column 1 §3), in a style attribute. */
const COLUMNS = /(^|[;\s])column(s|-count|-width)\s*:/i;

/** Whether the texts of the document can be others than when they were last listed. */
const texts = new MutationObserver(() => {
  areTouched = true;
});
let areTouched = true;

/** From now on texts count as listed. What a reading does to the document itself by then does not touch them. */
function watchTexts(): void {
  if (texts.takeRecords().length === 0 && !areTouched) return;
  texts.observe(document, { childList: true, characterData: true, subtree: true });
  texts.takeRecords();
  areTouched = false;
}

/** 1 for each of these elements; null: for all. */
function flagged(elements: number[] | null, count: number): Uint8Array | null {
  if (!elements) return null;
  const out = new Uint8Array(count);
  for (const element of elements) out[element] = 1;
  return out;
}

/** What lies in boxes by their own size alone, where the viewport has another width and the rest is as it was. */
function insideOf(last: Memory, kept: Last, plan: Prepared, changed: Changed): Memory['inside'] {
  const name = JSON.stringify(changed);
  if (last.inside?.changed === name) return last.inside;
  const styles = last.named.styled.flatMap(([, text]) => text.split(';').map(pairOf));
  const isSure = mode() === 'standards' && isPlain(plan.declarations) && isPlain(styles);
  const floating = new Set([
    ...plan.generated.letters.flatMap((query) => [...(last.matched.matches[query] ?? [])]),
    ...last.pseudos.flatMap(({ element, values }) => (values['float'] === 'none' ? [] : [element])),
  ]);
  const isAnyFresh = changed.properties.length > 0;
  return {
    changed: name,
    subtrees: isSure ? subtreesOf(last.elements, last.parent, floating, kept, isAnyFresh) : null,
  };
}

/** A declaration's property and value. */
function pairOf(text: string): [string, string] {
  const at = text.indexOf(':');
  return [text.slice(0, at).trim().toLowerCase(), text.slice(at + 1)];
}

export function read(
  plan: Prepared,
  { depth, wanted, limit, changed: wish = null, isResized = false }: Requests['read']['ask'],
): { reading: RawReading; elements: Element[] } {
  const isAnimated = holdAnimations();
  if (texts.takeRecords().length > 0) areTouched = true;
  // Nobody has put elements anywhere, nor made a shadow tree, of which no observer would hear.
  const isUntouched =
    areScriptsDisabled && !areTouched && memory?.limit === limit && memory.tree.roots.length === 1;
  const tree = isUntouched ? memory!.tree : walk(limit);
  const { elements } = tree;
  const count = elements.length;
  resetScrollbars(scrollersOf(elements));
  const media = plan.media.map((query) => matchMedia(query).matches);
  // Scripts can have changed whatever they like since.
  const before = wish && areScriptsDisabled && depth === 'full' ? remembered(plan, elements) : null;
  const changed = before && changedWith(wish!, before.matched.media, media);
  const last = changed && before;
  const fresh = changed && new Set(changed.properties);
  const interned = last?.interned ?? interner();
  const { strings, of } = interned;
  const column = () => new Int32Array(count).fill(-1);
  const indexOf = last?.indexOf ?? new Map(elements.map((element, i) => [element, i]));
  const named = last?.named ?? readNames(elements, of, column);
  const { styled } = named;
  const out = { rects: new Float64Array(count * 4), fragments: [] as number[], scrolls: [] as number[] };

  const full = depth === 'full';
  const isAsked = full || plan.queries.length > 0;
  const matched: Matches = {
    ...(last?.matched ??
      (isAsked ? match(plan, tree, named.names, indexOf) : { matches: [], hops: {}, containers: [] })),
    media,
  };
  const { scrollX, scrollY } = window;
  // Blocks come in pieces where something is set in columns.
  const broken =
    ['column-count', 'column-width'].some((property) =>
      plan.rare[property]?.some((query) => matched.matches[query]?.length !== 0),
    ) || styled.some(([, text]) => COLUMNS.test(text));
  const isStale = (property: string): boolean => !fresh || fresh.has(property) || LAID_OUT.has(property);
  const still = wantedOf(wanted, isStale);
  const replaced = last?.replaced ?? (full ? replacedOf(elements) : []);
  const natural = naturalOf(elements, replaced);
  const kept = last && {
    ...last,
    strings,
    isFresh: (property: string) => fresh!.has(property),
    mayDiffer: flagged(changed!.elements, count),
    canCopy: canTell && !fresh!.has('transform'),
    broken,
  };
  const isCalm = full && !hasChanged();
  const isAsBefore = changed === wish && isUntouched && isCalm;
  const mayMove = isResized && isAsBefore && !broken && devicePixelRatio === 1;
  const inside =
    mayMove && kept?.canCopy && last!.height === innerHeight && isSame(natural, last!.natural)
      ? insideOf(last!, kept, plan, changed!)
      : null;
  const moves = inside?.subtrees ? movesOf(inside.subtrees, out.rects, last!.rects) : null;
  const {
    used: asked,
    displays,
    hidden,
  } = readUsed(tree.parent, elements, still, of, column, out, scrollX, scrollY, broken, kept, moves);
  // Engines shape again only what they must: the lines are not those of a page that was opened so.
  if (last && fresh && partsAnew(last, asked, fresh)) {
    forceRelayout();
    memory = null;
    return read(plan, { depth, wanted, limit, changed: null });
  }
  // In one order, whatever of them was asked again.
  const used: Record<string, Ints> = {};
  for (const [property, values] of Object.entries({ ...last?.used, ...asked }))
    if (asked[property] ?? !isStale(property)) used[property] = values;
  readRare(plan, matched.matches, styled, elements, displays, still, used, of, column);
  const isListed = last !== null && !areTouched && tree.roots.length === 1;
  const runs = !full ? [] : isListed ? last.runs : runsOf(elements, displays, hidden, indexOf);
  const pseudos = !full
    ? []
    : last
      ? pseudosAgain(last.pseudos, elements, wanted.pseudo.filter(isStale), fresh!, moves)
      : pseudosOf(plan, matched.matches, elements, wanted.pseudo);
  const root = document.documentElement;
  const scroller = document.scrollingElement ?? root;
  const sizes = {
    scrollWidth: scroller.scrollWidth,
    scrollHeight: scroller.scrollHeight,
    clientWidth: scroller.clientWidth,
    clientHeight: scroller.clientHeight,
  };
  const hasFonts = last !== null && !['display', ...FONT].some((property) => fresh!.has(property));
  const fontKeys = !full ? new Set<string>() : hasFonts ? last.fontKeys : fontKeysOf(used, displays, strings);
  const fonts = full ? fontsOf(fontKeys, pseudos, of) : [];
  const pieces = textsOf(runs, scrollX, scrollY, isListed ? last.texts : null, moves);
  const again = { ...still, computed: wanted.computed.filter((text) => !fresh || fresh.has(text)) };
  again.relative = wanted.relative.filter((text) => !fresh || fresh.has(text));
  const few = fresh && canTell ? whileLaidOut : whileUnboxed;
  const which = (last && changed!.elements) ?? elements.keys();
  const asKnown = (property: string): Ints =>
    last && changed!.elements ? last.computed[property]!.slice() : column();
  const computed = {
    ...last?.computed,
    ...(again.computed.length + again.relative.length > 0
      ? readComputed(elements, which, again, used, strings, of, asKnown, few)
      : {}),
  };
  // Boxes were made anew, and what moves them goes on, unless it is held again; whoever waits for the reading does not
  // wait for that.
  if (isAnimated && few === whileUnboxed) setTimeout(holdAnimations);
  // Without a box the root forgets where it was scrolled to. To ask for that lays the page out, so it is asked only then.
  if (scrollX !== 0 || scrollY !== 0) window.scrollTo({ left: scrollX, top: scrollY, behavior: 'instant' });

  const reading: RawReading = {
    depth,
    engine: engine(),
    viewport: { width: innerWidth, height: innerHeight, layoutWidth: innerWidth, ratio: devicePixelRatio },
    document: { mode: mode(), url: document.URL, title: document.title, ...sizes, scrollX, scrollY },
    count,
    unread: tree.unread,
    strings,
    parent: last?.parent ?? Int32Array.from(tree.parent),
    via: last?.via ?? Int32Array.from(tree.via),
    tag: named.tag,
    idName: named.idName,
    classes: named.classes,
    rects: out.rects,
    fragments: Float64Array.from(out.fragments),
    scrolls: Float64Array.from(out.scrolls),
    used,
    computed,
    attributes: named.attributes,
    closed: named.closed,
    texts: Float64Array.from(pieces.list),
    fonts: Float64Array.from(fonts),
    natural: Float64Array.from(natural),
    pseudos,
    ...matched,
  };
  if (full) {
    memory = {
      plan,
      limit,
      tree,
      elements,
      parent: reading.parent,
      via: reading.via,
      indexOf,
      replaced,
      fontKeys,
      runs,
      pseudos,
      interned,
      named,
      used,
      displays,
      computed,
      matched,
      rects: out.rects,
      fragments: out.fragments,
      scrolls: out.scrolls,
      texts: pieces,
      natural,
      height: innerHeight,
      inside,
    };
    watchTexts();
  }
  return { reading, elements };
}

/** Elements that may scroll: those of the last reading, where that was one of the same. */
function scrollersOf(elements: Element[]): Element[] {
  if (!memory || (memory.elements !== elements && !isSame(memory.elements, elements)))
    return elements.filter((element) => getComputedStyle(element).overflow !== 'visible');
  const { scrolls } = memory;
  return Array.from({ length: scrolls.length / 5 }, (_, at) => elements[scrolls[at * 5]!]!);
}

/** The same groups of properties with those alone that are asked for again. */
function wantedOf(wanted: Wanted, isStale: (property: string) => boolean): Wanted {
  const groups = Object.entries(wanted).map(([group, properties]: [string, string[]]) => [
    group,
    group === 'pseudo' ? properties : properties.filter(isStale),
  ]);
  return Object.fromEntries(groups) as Wanted;
}

/** Values of properties that few pages use, for the elements of which some declaration speaks. */
function readRare(
  plan: Prepared,
  matches: (Int32Array | null)[],
  styled: [number, string][],
  elements: Element[],
  displays: string[],
  { rare }: Wanted,
  used: Record<string, Ints>,
  of: (text: string) => number,
  column: () => Ints,
): void {
  for (const property of rare) {
    const asked = new Set<number>();
    for (const query of plan.rare[property] ?? []) for (const i of matches[query] ?? []) asked.add(i);
    // Shorthands begin or end like their longhands often enough; a value too many does no harm.
    const first = property.replace(/^-\w+-/, '').split('-')[0]!;
    for (const [i, text] of styled) if (text.includes(first)) asked.add(i);
    if (asked.size === 0) continue;
    const into = (used[property] ??= column());
    for (const i of asked)
      if (displays[i] !== 'none') into[i] = of(getComputedStyle(elements[i]!).getPropertyValue(property));
  }
}

/** What the last reading holds of some elements, asked for in document order. `each`: numbers of one, from its own on. */
function entriesAgain(
  list: number[],
  each: (at: number) => number,
): (i: number) => [from: number, to: number] | null {
  let at = 0;
  return (i) => {
    while (at < list.length && list[at]! < i) at += each(at);
    return list[at] === i ? [at, at + each(at)] : null;
  };
}

type Out = { rects: Float64Array; fragments: number[]; scrolls: number[] };

/** Some engines write shorthands as they are computed, though each side alone is told as used (CSSOM §9). */
const NOT_USED = /auto|%/;
const SIDES = ['top', 'right', 'bottom', 'left'];

function usedText(style: CSSStyleDeclaration, property: string): string {
  const text = style.getPropertyValue(property);
  if ((property !== 'margin' && property !== 'padding') || !NOT_USED.test(text)) return text;
  return SIDES.map((side) => style.getPropertyValue(`${property}-${side}`)).join(' ');
}

function readUsed(
  parent: number[],
  elements: Element[],
  wanted: Wanted,
  of: (text: string) => number,
  column: () => Ints,
  out: Out,
  scrollX: number,
  scrollY: number,
  broken: boolean,
  last: (Last & Pick<Memory, 'fragments' | 'scrolls'>) | null,
  moves: Moves | null,
): { used: Record<string, Ints>; displays: string[]; hidden: Uint8Array } {
  const used: Record<string, Ints> = {};
  const { rare: _rare, pseudo: _pseudo, relative: _relative, ...groups } = wanted;
  for (const property of Object.values(groups).flat()) used[property] ??= column();
  for (const property of wanted.computed) if (!wanted.used.includes(property)) delete used[property];
  const always = wanted.used.map((property) => [property, used[property]!] as const);
  const displays: string[] = new Array<string>(elements.length);
  const displayColumn = last ? null : used['display']!;
  // Elements that are not displayed, or in one that is not.
  const hidden = new Uint8Array(elements.length);
  let element = document.documentElement;
  let style: CSSStyleDeclaration | null = null;
  const computed = (): CSSStyleDeclaration => (style ??= getComputedStyle(element));
  const value = (property: string): number => of(usedText(computed(), property));
  /** Whether an element has a value that most have. */
  const has = (property: 'position' | 'overflow', text: string): ((i: number) => boolean) => {
    if (!last || last.isFresh(property)) return () => computed()[property] === text;
    const [column, number] = [last.used[property]!, last.strings.indexOf(text)];
    return (i) => column[i] === number;
  };
  const [isStatic, isVisible] = [has('position', 'static'), has('overflow', 'visible')];
  let at = 0;
  const more = (properties: string[]) => {
    for (const property of properties) used[property]![at] = value(property);
  };
  const copies = last && reusableValues(last, used, always, wanted.positioned, out.rects, value, of);
  const pieces = last && entriesAgain(last.fragments, (at) => 2 + last.fragments[at + 1]! * 4);
  const bars = last && entriesAgain(last.scrolls, () => 5);
  /** The same of an element that has but moved. */
  const again = (i: number, { x, y }: Offset): void => {
    displays[i] = last!.displays[i]!;
    const [from, to] = pieces!(i) ?? [0, 0];
    for (let at = from; at < to; at++) {
      const by = at < from + 2 ? null : [x, y, 0, 0][(at - from - 2) % 4]!;
      out.fragments.push(by ? Math.fround(last!.fragments[at]! + by) : last!.fragments[at]!);
    }
    out.scrolls.push(...last!.scrolls.slice(...(bars!(i) ?? [0, 0])));
  };
  for (let i = 0; i < elements.length; i++) {
    element = elements[i] as HTMLElement;
    style = null;
    at = i;
    if (last && (last.displays[i] === 'none' || hidden[parent[i]!]) && copies!.whole(i)) {
      hidden[i] = 1;
      displays[i] = last.displays[i]!;
      out.rects[i * 4] = scrollX;
      out.rects[i * 4 + 1] = scrollY;
      continue;
    }
    if (moves?.place(i) && copies!.whole(i)) {
      again(i, moves.inside(i)!);
      continue;
    }
    const rect = element.getBoundingClientRect();
    out.rects[i * 4] = rect.left + scrollX;
    out.rects[i * 4 + 1] = rect.top + scrollY;
    out.rects[i * 4 + 2] = rect.width;
    out.rects[i * 4 + 3] = rect.height;
    moves?.seen(i);
    const display = last?.displays[i] ?? computed().display;
    displays[i] = display;
    if (displayColumn) displayColumn[i] = of(display);
    if (display === 'none' || hidden[parent[i]!]) hidden[i] = 1;
    if (display === 'none') continue;
    if (!copies?.sized(i))
      for (let p = 0; p < always.length; p++) {
        const [property, into] = always[p]!;
        into[i] = value(property);
      }
    if (!isStatic(i) && !copies?.placed(i)) more(wanted.positioned);
    if ((display === 'inline' && !isShape(element)) || broken) {
      const rects = element.getClientRects();
      if (rects.length > 1) {
        out.fragments.push(i, rects.length);
        for (const piece of Array.from(rects))
          out.fragments.push(piece.left + scrollX, piece.top + scrollY, piece.width, piece.height);
      }
    }
    if (display !== 'inline') {
      if (display.endsWith('flex')) more(wanted.flexContainer);
      else if (display.endsWith('grid')) more(wanted.gridContainer);
      else if (display.endsWith('table')) more(wanted.table);
      // What is drawn in a picture has no such sizes of its own.
      if (!isVisible(i) && (!isShape(element) || element instanceof SVGSVGElement)) {
        const { clientWidth, clientHeight } = element;
        if (clientWidth + clientHeight > 0)
          out.scrolls.push(i, clientWidth, clientHeight, element.scrollWidth, element.scrollHeight);
      }
    }
    // What has no box of its own leaves its children to the box around it (Display 3 §2.5).
    let holder = parent[i]!;
    while (displays[holder] === 'contents') holder = parent[holder]!;
    const above = displays[holder] ?? '';
    if (above.endsWith('flex')) more(wanted.flexItem);
    else if (above.endsWith('grid')) more(wanted.gridItem);
  }
  return { used, displays, hidden };
}
