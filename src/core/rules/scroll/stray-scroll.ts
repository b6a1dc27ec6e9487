/** Scroll extent that nothing that can be seen asks for, of the page and of what scrolls in it (CSS Overflow 3 §2.2). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { inFixed } from '../../reading/column-predicates.ts';
import { viewportScrolls } from '../../boxes/viewport-overflow.ts';
import { edgesOf, hasBox, inside, rectOf, usedText } from '../../boxes/tree.ts';
import { px, type Axis, type Rect } from '../../geometry/rect.ts';
import { said } from '../../remedies/model.ts';
import { suspect, type Suspect } from '../model.ts';
import {
  clips,
  hasGround,
  holds,
  inkOf,
  isThing,
  name,
  paddingBox,
  scrollsOn,
  seenInk,
  sightOf,
  tagOf,
  upward,
} from '../../visibility/visibility.ts';
import { isClippedOn } from '../overflow/overflow.ts';

export const kind = 'stray-scroll';

const LEAST = 4;
/** Of a scroll container whose content fits, this much is seen by its scrollbar. */
const LEAST_FITTING = 2;

/** What scrolls: the page, or a box in it. */
interface Scroller {
  /** −1: the page. */
  element: number;
  axis: Axis;
  /** Where its content begins, in CSS px of the document. */
  start: number;
  scroll: number;
  client: number;
  /** Boxes whose ends it scrolls to. */
  boxes: number[];
}

export function detect(analysis: Analysis): Suspect[] {
  return scrollers(analysis).flatMap((one) => unseen(analysis, one) ?? fitting(analysis, one) ?? []);
}

function scrollers(analysis: Analysis): Scroller[] {
  const { reading, tree } = analysis;
  const { document, scrolls } = reading;
  const { visible, clipper } = sightOf(analysis);
  const out: Scroller[] = [];
  for (const axis of ['x', 'y'] as const) {
    const [scroll, client] =
      axis === 'x'
        ? [document.scrollWidth, document.clientWidth]
        : [document.scrollHeight, document.clientHeight];
    if (scroll - client < LEAST_FITTING || !viewportScrolls(reading, axis)) continue;
    const boxes: number[] = [];
    for (let i = 1; i < tree.count; i++)
      if (hasBox(tree, i) && !isClippedOn(analysis, i, axis) && inFixed(reading)[i] === 0) boxes.push(i);
    out.push({ element: -1, axis, start: 0, scroll, client, boxes });
  }
  for (let at = 0; at + 4 < scrolls.length; at += 5) {
    const [element, width, height, scrollWidth, scrollHeight] = scrolls.subarray(
      at,
      at + 5,
    ) as unknown as number[];
    if (element! <= 0 || !visible[element!] || tagOf(tree, element!) === 'body' || isThing(tree, element!))
      continue;
    const box = paddingBox(analysis, element!);
    for (const [axis, scroll, client] of [
      ['x', scrollWidth!, width!],
      ['y', scrollHeight!, height!],
    ] as const) {
      if (scroll - client < LEAST_FITTING || !scrollsOn(tree, element!, axis)) continue;
      const boxes: number[] = [];
      for (let i = element! + 1; i < tree.count && holds(analysis, element!, i); i++) {
        let by = clipper[i]!;
        while (by > element! && !clips(tree, by, axis)) by = clipper[by]!;
        if (hasBox(tree, i) && by === element) boxes.push(i);
      }
      out.push({ element: element!, axis, start: axis === 'x' ? box.x : box.y, scroll, client, boxes });
    }
  }
  return out;
}

const endOf = ({ x, y, width, height }: Rect, axis: Axis): number => (axis === 'x' ? x + width : y + height);

const whole = (analysis: Analysis, { element }: Scroller): string =>
  element < 0 ? 'The page' : name(analysis, element);

/** It scrolls to boxes that cannot be seen. */
function unseen(analysis: Analysis, scroller: Scroller): Suspect[] | null {
  const { reading, tree } = analysis;
  const { visible } = sightOf(analysis);
  const { axis, start, scroll, client, boxes, element } = scroller;
  const end = (one: number) => endOf(rectOf(reading, one), axis) - start;
  let seen = 0;
  const beyond: number[] = [];
  for (const i of boxes) {
    if (isStray(analysis, i, visible[i]!)) beyond.push(i);
    else {
      seen = Math.max(seen, end(i));
      const inFlow = axis === 'y' && !/absolute/.test(tree.kinds[i]!);
      if (inFlow && end(i) + edgesOf(reading, 'margin', i).bottom > seen)
        seen = Math.max(seen, end(i) + laidAreas(tree, i).margin.bottom);
      for (const { pieces } of inside(tree).texts.get(i) ?? [])
        for (const one of pieces) seen = Math.max(seen, endOf(one, axis) - start);
    }
  }
  const padding = element < 0 ? 0 : laidAreas(tree, element).padding[axis === 'x' ? 'right' : 'bottom'];
  const by = scroll - seen - padding;
  if (by < LEAST || scroll - client < LEAST) return null;
  const far = beyond.filter((one) => end(one) > seen + 1).sort((a, b) => end(b) - end(a));
  const [first] = far;
  if (first === undefined) return null;
  const escaped =
    element < 0 ? upward(analysis, reading.parent[first]!).find((at) => clips(tree, at, axis)) : undefined;
  return [
    suspect({
      kind,
      px: by,
      axis,
      subject: escaped ?? first,
      other: escaped === undefined ? null : first,
      what: `${whole(analysis, scroller)} scrolls ${px(by)} px further ${axis === 'x' ? 'sideways' : 'down'} than anything that can be seen: ${name(analysis, first)} lies there`,
      form: 'unseen',
      boxes: far.slice(0, 40),
      weight: 100 + by,
    }),
  ];
}

/** It scrolls down though all that can be read, used or looked at fits without. */
function fitting(analysis: Analysis, scroller: Scroller): Suspect[] | null {
  const { reading, tree } = analysis;
  const { visible } = sightOf(analysis);
  const { axis, start, scroll, client, boxes, element } = scroller;
  if (axis === 'x') return null;
  const end = (one: number) => endOf(rectOf(reading, one), axis) - start;
  const own = element < 0 ? boxes : [element, ...boxes];
  let lowest = -1;
  for (const i of own)
    if (visible[i]) for (const ink of inkOf(analysis, i)) lowest = Math.max(lowest, endOf(ink, axis) - start);
  if (lowest > client) return null;
  // What a box in the page cuts off or scrolls is seen as far as that box lets it.
  const isOwn = new Set(own);
  for (let i = 1; i < (element < 0 ? tree.count : 0); i++)
    if (visible[i] && !isOwn.has(i) && inFixed(reading)[i] === 0)
      for (const ink of inkOf(analysis, i)) {
        const seen = seenInk(analysis, i, ink);
        if (seen) lowest = Math.max(lowest, endOf(seen, axis) - start);
      }
  if (lowest < 0 || lowest > client) return null;
  const by = scroll - client;
  // A scrollbar below takes its room of what is as tall as the viewport.
  if (element < 0 && by <= reading.viewport.height - client) return null;
  const far = boxes
    .filter((one) => end(one) + Math.max(0, laidAreas(tree, one).margin.bottom) > client + 0.5)
    .sort((a, b) => end(b) - end(a) || b - a);
  // What ends below what can be seen by its own edges alone is no more than the end of the page.
  const isSized = (one: number) =>
    ['height', 'min-height'].some((property) => {
      const own = said(analysis, one, property);
      return own !== null && own.owner === one && !/^(auto|0\D*)$/.test(own.value);
    });
  const [first] = far;
  if (first === undefined || !far.some(isSized)) return null;
  const around = upward(analysis, reading.parent[first]!, element);
  return [
    suspect({
      kind,
      px: by,
      axis,
      subject: first,
      other: element < 0 ? null : element,
      what: `${whole(analysis, scroller)} scrolls down by ${px(by)} px, though all that it shows fits without: ${name(analysis, first)} ends there`,
      form: 'fits',
      boxes: [...new Set([...far, ...around])].slice(0, 40),
      weight: 60 + by,
    }),
  ];
}

/** A box that nobody sees: empty, without a ground, or hidden. */
function isStray(analysis: Analysis, element: number, isVisible: boolean): boolean {
  const { tree, reading } = analysis;
  if (!isVisible) return true;
  const { width, height } = rectOf(reading, element);
  if (usedText(reading, 'position', element) !== 'absolute') return false;
  if (width < 2 || height < 2) return true;
  const hasText = (inside(tree).texts.get(element) ?? []).some(({ blank }) => !blank);
  const isEmpty = tree.first[element] === tree.first[element + 1];
  return isEmpty && !hasGround(analysis, element) && !hasText && !isThing(tree, element);
}
