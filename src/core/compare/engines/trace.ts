/**
 * What a number that two engines give differently comes from: its two sums are held against each other term by term, and each
 * term that differs is followed to the box or the declaration that it goes along with, until a cause has a name.
 */
import { sumOf, type Link, type Term } from '../../accounts/model/term.ts';
import type { Analysis } from '../../analysis.ts';
import { isBreakAsTallAsLine } from '../../boxes/line-boxes.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { haveRowsSpacing } from '../../boxes/table-grid.ts';
import { GEOMETRY } from '../../css/cascade/properties.ts';
import { isReplacedOrControl } from '../../visibility/visibility.ts';
import { childrenOf, inside, usedPx, type BoxTree } from '../../boxes/tree.ts';
import { sidesOf, type Axis, type Edges } from '../../geometry/rect.ts';
import {
  controlCause,
  fontCause,
  hasSameValue,
  propertyCause,
  ROUNDING,
  ruleCause,
  SCROLLBAR,
  UNEXPLAINED,
  type EngineCause,
} from './causes.ts';
import { heldAgainst, keyOfNumber, NEAR, type BoxNumber, type Held, type Pair } from './pair.ts';

/** How many px of a number go to a cause, with their sign. `isOwn`: the number has it by itself, not by another number. */
export interface Share {
  cause: EngineCause;
  px: number;
  isOwn: boolean;
}

type Shares = Map<string, Share>;

/** What is smaller than this is not followed. CSS px. */
const TRIFLE = 0.01;
/** What two roundings make of one length at most. */
const ROUNDED = 1;
/** Numbers that hang on each other are followed this far. */
const DEPTH = 60;

const BREAKS = ruleCause('Whether the box of a line break (br) is as tall as its line', '', '');
const ROWS = ruleCause('Whether the boxes of table rows have border-spacing in them', '', '');

/** Terms whose px come from letters and lines of a font. */
const OF_FONTS =
  /^(text|font|content|line|line-above|line-below|lines|inline|inline-level|indent|generated|baseline|marker)$/;
/** Rules whose px are the engine's own measure of a control, a picture or a drawing. */
const OF_CONTROLS = /^(control|natural|drawn|alternative|ratio)$/;
const OF_FREE_SPACE = /^(free|share|track|column|row|cell)$/;

export function makeTracer(pair: Pair) {
  const { first, second, toSecond, toFirst } = pair;
  const known = new Map<string, Shares>();
  const open = new Set<string>();
  /** What hangs on nothing but numbers that are being followed just now. */
  const circular = new Set<string>();

  const add = (shares: Shares, cause: EngineCause, px: number, isOwn: boolean): void => {
    if (px === 0) return;
    const share = shares.get(cause.key) ?? { cause, px: 0, isOwn: false };
    shares.set(cause.key, { cause, px: share.px + px, isOwn: share.isOwn || isOwn });
  };

  /** Gives `px` to the causes of another number, in the proportion in which they make that one differ. */
  const follow = (shares: Shares, px: number, number: BoxNumber): boolean => {
    const held = heldAgainst(pair, number);
    if (!held || Math.abs(held.by) <= TRIFLE) return false;
    const theirs = trace(number, held);
    const all = [...theirs.values()].reduce((sum, share) => sum + Math.abs(share.px), 0);
    if (all === 0) return false;
    for (const share of theirs.values()) add(shares, share.cause, (px * Math.abs(share.px)) / all, false);
    return true;
  };

  /** A property of a box that the two engines give different px; 0: it does not, or nothing is known of it. */
  const propertyDiffers = (box: number, property: string): number => {
    const other = toSecond.get(box);
    if (other === undefined) return 0;
    const by = usedOf(second.tree, other, property) - usedOf(first.tree, box, property);
    return Number.isFinite(by) ? by : 0;
  };

  /** By how much the side of a box that a link names differs, and the number that it is. */
  const linkDiffers = ({ box, axis, area }: Link): number => {
    const other = toSecond.get(box);
    if (other === undefined) return 0;
    const size = (tree: BoxTree, element: number): number => {
      const { rect, content, border } = laidAreas(tree, element);
      const property = axis === 'x' ? 'width' : 'height';
      const [low, high] = sidesOf(axis);
      if (area === 'content') return content[property];
      return area === 'padding' ? rect[property] - border[low] - border[high] : rect[property];
    };
    return size(second.tree, other) - size(first.tree, box);
  };

  /** Px of a term that go along with sizes of other boxes; what they do not explain is left. */
  function byLinks(shares: Shares, links: readonly Link[], delta: number): number {
    const told = new Map<string, { link: Link; px: number }>();
    for (const link of links) {
      const px = linkDiffers(link) * link.rate;
      if (Math.abs(px) > TRIFLE) told.set(`${link.box} ${link.axis} ${link.area}`, { link, px });
    }
    const all = [...told.values()].reduce((sum, { px }) => sum + px, 0);
    // A term that is the largest of several goes along with one of them at a time.
    const rate = Math.abs(all - delta) <= Math.max(0.3, Math.abs(delta) * 0.15) ? delta / all : 1;
    let left = delta;
    for (const { link, px } of told.values()) {
      const part = px * rate;
      if (Math.sign(part) !== Math.sign(delta) && told.size === 1) continue;
      const size: BoxNumber = { of: 'size', axis: link.axis, box: link.box };
      // What its own edges take is none of its size.
      const edges = link.area === 'border' ? 0 : px - (heldAgainst(pair, size)?.by ?? 0) * link.rate;
      const ofEdges = Math.abs(edges) > TRIFLE ? (part * edges) / px : 0;
      if (ofEdges !== 0 && byEdges(shares, link.box, link.axis, ofEdges)) left -= ofEdges;
      if (Math.abs(part - ofEdges) > TRIFLE && follow(shares, part - ofEdges, size)) left -= part - ofEdges;
    }
    return left;
  }

  /** Px that come from padding, borders and scrollbars of a box, whose own size is the same in both. */
  function byEdges(shares: Shares, box: number, axis: Axis, px: number): boolean {
    const bars = (tree: BoxTree, element: number): number =>
      sidesOf(axis).reduce((sum, side) => sum + laidAreas(tree, element).scrollbar[side], 0);
    if (bars(first.tree, box) !== bars(second.tree, toSecond.get(box) ?? -1)) {
      add(shares, SCROLLBAR(pair), px, true);
      return true;
    }
    for (const side of sidesOf(axis))
      for (const property of [`padding-${side}`, `border-${side}-width`]) {
        if (Math.abs(propertyDiffers(box, property)) <= TRIFLE) continue;
        add(shares, propertyCause(pair, box, property) ?? ROUNDING, px, false);
        return true;
      }
    return false;
  }

  /** Px of a term that go along with declarations; what they do not explain is left. */
  function byProperties(shares: Shares, terms: readonly Term[], delta: number): number {
    let left = delta;
    const seen = new Set<string>();
    for (const { box, property, rate } of terms.flatMap(({ causes = [] }) => causes)) {
      if (seen.has(`${box} ${property}`) || Math.abs(left) <= TRIFLE) continue;
      seen.add(`${box} ${property}`);
      const by = propertyDiffers(box, property) * rate;
      if (Math.abs(by) <= TRIFLE || Math.sign(by) !== Math.sign(left)) continue;
      const named = propertyCause(pair, box, property);
      // The same declaration: what it is relative to is among the causes that follow, or it is rounded.
      if (!named && property !== 'font-size' && Math.abs(by) >= ROUNDED) continue;
      const part = Math.abs(by) > Math.abs(left) ? left : by;
      add(shares, named ?? ROUNDING, part, true);
      left -= part;
    }
    return left;
  }

  /** Replaced boxes and controls in a box that are not equally large in both. */
  const controlsBy = {
    x: remembered((box) => controlsAlong(box, 'x')),
    y: remembered((box) => controlsAlong(box, 'y')),
  };
  const controlsIn = (box: number, axis: Axis): number[] => controlsBy[axis](box);
  function controlsAlong(box: number, axis: Axis): number[] {
    const out: number[] = [];
    const stack = [box];
    for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
      if (isReplacedOrControl(first.tree, at)) {
        const held = heldAgainst(pair, { of: 'size', axis, box: at });
        if (held && Math.abs(held.by) > NEAR) out.push(at);
      } else stack.push(...childrenOf(first.tree, at));
    }
    return out;
  }

  /** Whether letters in a box are not set equally wide: a text on as many lines in both takes another width. */
  const lettersDiffer = remembered((box: number): boolean => {
    const [here, there] = [inside(first.tree).texts, inside(second.tree).texts];
    const widthOf = (pieces: readonly { width: number }[]): number =>
      pieces.reduce((sum, { width }) => sum + width, 0);
    const stack = [box];
    for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
      const others = there.get(toSecond.get(at) ?? -1) ?? [];
      for (const [n, { pieces }] of (here.get(at) ?? []).entries()) {
        const other = others[n]?.pieces ?? [];
        if (other.length === pieces.length && Math.abs(widthOf(other) - widthOf(pieces)) > NEAR) return true;
      }
      stack.push(...childrenOf(first.tree, at));
    }
    return false;
  });

  const fontsDiffer = remembered((box: number): boolean => {
    const named = fontCause(pair, box);
    return named.first !== named.second;
  });

  /** The first box in a box, or itself, whose font is measured otherwise; −1: none. */
  const fontIn = remembered((box: number): number => {
    const stack = [box];
    for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
      if (fontsDiffer(at)) return at;
      stack.push(...childrenOf(first.tree, at).reverse());
    }
    return -1;
  });

  /** Sizes along an axis of what a box lies in and beside, which free space is left by. */
  function neighbours(box: number, axis: Axis): BoxNumber[] {
    const above = first.reading.parent[box]!;
    if (above < 0) return [];
    return [above, ...childrenOf(first.tree, above).filter((child) => child !== box)].map((element) => ({
      of: 'size',
      axis,
      box: element,
    }));
  }

  /** Shares px among numbers by how much each of them differs. False: none does. */
  function among(shares: Shares, px: number, numbers: readonly BoxNumber[]): boolean {
    const differing = numbers
      .map((number) => ({ number, by: Math.abs(heldAgainst(pair, number)?.by ?? 0) }))
      .filter(({ number, by }) => by > NEAR && !open.has(keyOfNumber(number)));
    const all = differing.reduce((sum, { by }) => sum + by, 0);
    for (const { number, by } of differing) follow(shares, (px * by) / all, number);
    return differing.length > 0;
  }

  const textAround = (box: number): number => {
    let at = box;
    while (at > 0 && /^inline/.test(first.tree.kinds[at]!)) at = first.reading.parent[at]!;
    return at;
  };

  /** The first declaration of a box that is not the same in both engines, of those that layout goes by; null: all are. */
  const declarationOf = remembered((box: number): EngineCause | null => {
    if (box < 0) return null;
    for (const property of GEOMETRY) {
      if (hasSameValue(pair, box, property)) continue;
      const named = propertyCause(pair, box, property);
      if (named && (named.kind === 'dropped' || named.kind === 'condition')) return named;
    }
    return null;
  });

  /** Px that have no other cause than that a box, or what holds it, has another declaration. False: neither has. */
  function byDeclaration(shares: Shares, { box }: BoxNumber, px: number): boolean {
    const named = declarationOf(box) ?? declarationOf(first.reading.parent[box]!);
    if (named) add(shares, named, px, true);
    return named !== null;
  }

  /** What is left of a term once its links and declarations are told. */
  function rest(shares: Shares, number: BoxNumber, terms: Sides, px: number): void {
    const { axis } = number;
    const term = terms.first[0] ?? inFirst(terms.second[0]!);
    const { what, rule } = term;
    const box = term.box < 0 ? number.box : term.box;
    const put = (cause: EngineCause): void => add(shares, cause, px, true);
    const sizes = (boxes: readonly number[]): BoxNumber[] => boxes.map((at) => ({ of: 'size', axis, box: at }));
    if (
      isReplacedOrControl(first.tree, number.box) &&
      number.of === 'size' &&
      !/^(container|share)$/.test(what)
    )
      return put(controlCause(pair, number.box));
    if (what === 'scrollbar' || (what === 'container' && term.box < 0)) return put(SCROLLBAR(pair));
    if (OF_CONTROLS.test(rule) && isReplacedOrControl(first.tree, box)) return put(controlCause(pair, box));
    const isBreak = (analysis: Analysis, at: number): boolean => isBreakAsTallAsLine(analysis.reading, at);
    if (isBreak(first, number.box) !== isBreak(second, toSecond.get(number.box) ?? -1)) return put(BREAKS);
    if (what === 'spacing' && haveRowsSpacing(first.reading) !== haveRowsSpacing(second.reading))
      return put(ROWS);
    const isOfAnother = /^(column|track|row|cell)$/.test(what) && box !== number.box;
    if (OF_FONTS.test(what) || /^(aligned|baseline|max-content)$/.test(rule) || isOfAnother)
      if (byLetters(shares, box, axis, px)) return;
    if (Math.abs(px) < ROUNDED && terms.first.length > 0 && terms.second.length > 0) return put(ROUNDING);
    if (byDeclaration(shares, number, px)) return;
    if (OF_FREE_SPACE.test(what) || /auto-margin|aligned|in-flow|before|room/.test(rule))
      if (among(shares, px, neighbours(number.box, axis))) return;
    if (among(shares, px, sizes(childrenOf(first.tree, box)))) return;
    if (Math.abs(px) < ROUNDED) return put(ROUNDING);
    if (number.of === 'place' && byLine(shares, number, px)) return;
    // Of two cells of a row another is the tallest: it has other lines.
    if (first.tree.kinds[number.box] === 'table-cell' && byLetters(shares, number.box, axis, px)) return;
    if (among(shares, px, neighbours(number.box, axis))) return;
    const rules = (list: readonly Term[]): string => [...new Set(list.map((entry) => entry.rule))].join(', ');
    const [here, there] = [rules(terms.first), rules(terms.second)];
    if (here !== there && here && there)
      return put(ruleCause(`By what rule a box has its ${what}`, here, there));
    put(UNEXPLAINED);
  }

  /** Px by which a box in a line lies elsewhere: it lies where the letters before it leave it. */
  function byLine(shares: Shares, { box, axis }: BoxNumber, px: number): boolean {
    const around = textAround(box);
    if (around === box) return false;
    if (byLetters(shares, around, axis, px)) return true;
    return among(
      shares,
      px,
      (['x', 'y'] as const).map((side) => ({ of: 'size', axis: side, box: around })),
    );
  }

  /** Px that letters, lines and controls in a box make. False: none of them differs. */
  function byLetters(shares: Shares, box: number, axis: Axis, px: number): boolean {
    const numbers = controlsIn(box, axis).map((control): BoxNumber => ({ of: 'size', axis, box: control }));
    const most = numbers.reduce((sum, number) => sum + Math.abs(heldAgainst(pair, number)?.by ?? 0), 0);
    // Letters make what is more than all controls can.
    const ofControls = fontIn(box) < 0 ? px : Math.sign(px) * Math.min(Math.abs(px), most);
    if (most > NEAR && among(shares, ofControls, numbers)) {
      if (Math.abs(px - ofControls) > TRIFLE) add(shares, fontCause(pair, fontIn(box)), px - ofControls, true);
      return true;
    }
    if (wrapsByWidth(shares, box, axis, px)) return true;
    const lettered = fontIn(box);
    // No cause is named that nothing measured speaks for.
    if (lettered < 0 && Math.abs(px) >= ROUNDED && !lettersDiffer(box)) return false;
    add(
      shares,
      lettered < 0 && Math.abs(px) < ROUNDED ? ROUNDING : fontCause(pair, Math.max(lettered, box)),
      px,
      true,
    );
    return true;
  }

  /** Text on another number of lines, where the box is not equally wide: its lines go along with that. */
  function wrapsByWidth(shares: Shares, box: number, axis: Axis, px: number): boolean {
    const block = axis === 'y' ? 'x' : 'y';
    const lineHeight = usedPx(first.reading, 'line-height', box);
    if (Math.abs(px) < (lineHeight || 12) * 0.75) return false;
    const held = heldAgainst(pair, { of: 'size', axis: block, box });
    // A box that is wider by letters holds the same letters on as many lines.
    if (!held || Math.abs(held.by) < 1 || fontIn(box) >= 0) return false;
    return among(shares, px, [{ of: 'size', axis: block, box }]);
  }

  function trace(number: BoxNumber, held: Held): Shares {
    const name = keyOfNumber(number);
    if (open.size === 0) circular.clear();
    const cached = known.get(name);
    if (cached) return cached;
    const shares: Shares = new Map();
    if (open.has(name) || circular.has(name) || open.size > DEPTH) return shares;
    open.add(name);
    for (const terms of grouped(held)) {
      const delta = sumOf(terms.second) - sumOf(terms.first);
      if (Math.abs(delta) <= TRIFLE) continue;
      const links = [...terms.first.flatMap(({ links = [] }) => links)];
      for (const link of terms.second.flatMap(({ links = [] }) => links)) {
        const box = toFirst.get(link.box);
        if (box !== undefined) links.push({ ...link, box });
      }
      const own = terms.first.length > 0 ? terms.first : terms.second.map(inFirst);
      let left = byProperties(shares, own, delta);
      if (Math.abs(left) > TRIFLE) left = byLinks(shares, links, left);
      if (Math.abs(left) > TRIFLE) rest(shares, number, terms, left);
    }
    const residual = held.second.residual - held.first.residual;
    if (Math.abs(residual) > NEAR) {
      const isBroken = number.of === 'place' && Math.abs(residual) >= ROUNDED;
      if (
        Math.abs(residual) < ROUNDED ||
        (!byDeclaration(shares, number, residual) && !(isBroken && byLine(shares, number, residual)))
      )
        add(shares, Math.abs(residual) < ROUNDED ? ROUNDING : UNEXPLAINED, residual, true);
    }
    open.delete(name);
    if (shares.size > 0) known.set(name, shares);
    else circular.add(name);
    return shares;
  }

  /** A term of the second engine, with the boxes of the first. */
  const inFirst = (term: Term): Term => ({
    ...term,
    box: toFirst.get(term.box) ?? -1,
    causes: (term.causes ?? []).flatMap((entry) => {
      const box = toFirst.get(entry.box);
      return box === undefined ? [] : [{ ...entry, box }];
    }),
  });

  /** Terms of the two sums that are about the same thing. */
  function grouped({ first: here, second: there }: Held): Sides[] {
    const groups = new Map<string, Sides>();
    const put = (side: 'first' | 'second', box: number, term: Term): void => {
      const name = `${term.what} ${box}`;
      const group = groups.get(name) ?? { first: [], second: [] };
      group[side].push(term);
      groups.set(name, group);
    };
    for (const term of here.terms) put('first', term.box, term);
    for (const term of there.terms) put('second', toFirst.get(term.box) ?? -1, term);
    return matchedRest([...groups.values()]);
  }

  return { trace };
}

interface Sides {
  first: Term[];
  second: Term[];
}

/** Terms that stand on one side alone are one thing where nothing else is left: the engines call the same px by two names. */
function matchedRest(groups: Sides[]): Sides[] {
  const isLone = ({ first, second }: Sides): boolean => first.length === 0 || second.length === 0;
  const lone = groups.filter(isLone);
  const [here, there] = [lone.flatMap(({ first }) => first), lone.flatMap(({ second }) => second)];
  if (here.length === 0 || there.length === 0) return groups;
  return [...groups.filter((group) => !isLone(group)), { first: here, second: there }];
}

/** The used value of a property in CSS px, sides of shorthands included; NaN where it is no length. */
function usedOf(tree: BoxTree, element: number, property: string): number {
  const [, area, side] = /^(margin|padding|border)-(top|right|bottom|left)(?:-width)?$/.exec(property) ?? [];
  if (area && side) return laidAreas(tree, element)[area as 'margin'][side as keyof Edges];
  return usedPx(tree.reading, property, element);
}

/** A function of a box that is asked for the same boxes again and again. */
function remembered<T>(work: (box: number) => T): (box: number) => T {
  const known = new Map<number, T>();
  return (box) => {
    if (!known.has(box)) known.set(box, work(box));
    return known.get(box)!;
  };
}
