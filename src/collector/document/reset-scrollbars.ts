/**
 * Scrollbars as in a page that is opened at its size. Engines keep a bar for as long as what it scrolls is too large beside it,
 * so that one is left where a page has been narrower or lower before, and there would be none had it been opened so: `auto`
 * gives a box bars only where its contents are too large for it without (CSS Overflow 3 §3.1).
 */
import { restoreStyle } from './forced-relayout.ts';

type Axis = 'x' | 'y';

/** What scrolls, by axis: the size of what is seen and of all, and what bars for the other axis take of the first, in CSS px. */
type Seen = Record<Axis, { client: number; scroll: number; taken: number }>;

const seenOf = (
  { clientWidth, clientHeight, scrollWidth, scrollHeight }: Element,
  width: number,
  height: number,
): Seen => ({
  x: { client: clientWidth, scroll: scrollWidth, taken: width - clientWidth },
  y: { client: clientHeight, scroll: scrollHeight, taken: height - clientHeight },
});

/** Contents larger than this many times their box do not fit into it for a bar less. */
const MOST = 2;

/**
 * Whether a bar may be one that is kept: it is there for what there is to scroll (`isAuto`, by axis), takes room from the lines,
 * and what it scrolls is too large by not much.
 */
function isDoubted({ x, y }: Seen, writingMode: string, isAuto: (axis: Axis) => boolean): boolean {
  const isUpright = !writingMode.startsWith('horizontal');
  const [along, across] = isUpright ? [x, y] : [y, x];
  return (
    across.taken >= 1 &&
    along.scroll > along.client &&
    along.scroll < MOST * along.client &&
    isAuto(isUpright ? 'x' : 'y')
  );
}

/** Whether the viewport has a bar on an axis because its style asks for one, whatever there is to scroll (CSS Overflow 3 §3.3). */
function asksForBar(axis: Axis): boolean {
  const property = axis === 'x' ? 'overflowX' : 'overflowY';
  return [document.documentElement, document.body].some(
    (element: HTMLElement | null) => element !== null && getComputedStyle(element)[property] === 'scroll',
  );
}

/** Lays out under other styles of some elements, and as before once more. Where these and the page were scrolled to stays. */
function layUnder(elements: readonly HTMLElement[], property: string, value: string): void {
  const written = elements.map((element) => element.getAttribute('style'));
  const scrolled = [...new Set([...elements, document.scrollingElement!])].map((element) => ({
    element,
    left: element.scrollLeft,
    top: element.scrollTop,
  }));
  for (const element of elements) element.style.setProperty(property, value, 'important');
  void document.documentElement.getBoundingClientRect();
  elements.forEach((element, i) => restoreStyle(element, written[i]!));
  void document.documentElement.getBoundingClientRect();
  for (const { element, left, top } of scrolled)
    if (element.scrollLeft !== left || element.scrollTop !== top)
      element.scrollTo({ left, top, behavior: 'instant' });
}

function isBoxDoubted(box: HTMLElement): boolean {
  const style = getComputedStyle(box);
  const { overflowX, overflowY } = style;
  if (overflowX !== 'auto' && overflowY !== 'auto') return false;
  const px = Number.parseFloat;
  const width = box.offsetWidth - px(style.borderLeftWidth) - px(style.borderRightWidth);
  const height = box.offsetHeight - px(style.borderTopWidth) - px(style.borderBottomWidth);
  const isAuto = (axis: Axis): boolean => (axis === 'x' ? overflowX : overflowY) === 'auto';
  return isDoubted(seenOf(box, width, height), style.writingMode, isAuto);
}

/** `boxes`: all that may scroll, besides the viewport. */
export function resetScrollbars(boxes: readonly Element[]): void {
  const scroller = document.scrollingElement;
  if (!scroller) return;
  const root = document.documentElement as HTMLElement;
  const seen = seenOf(scroller, innerWidth, innerHeight);
  const isAuto = (axis: Axis): boolean => !asksForBar(axis);
  const fits = ({ client, scroll }: Seen[Axis]): boolean => scroll <= client;
  // After the root was out of layout, and for as long as the frame is not painted, a bar may be left where all fits beside it.
  if ((seen.y.taken > 0 && fits(seen.x) && isAuto('x')) || (seen.x.taken > 0 && fits(seen.y) && isAuto('y')))
    layUnder([root], 'min-height', '1.5px');
  const doubted = boxes.filter(
    (box): box is HTMLElement =>
      box instanceof HTMLElement && box !== root && box !== scroller && isBoxDoubted(box),
  );
  // The viewport has its writing mode from the body (CSS Writing Modes 4 §8).
  const { writingMode } = getComputedStyle(document.body ?? root);
  if (isDoubted(seen, writingMode, isAuto)) doubted.push(root);
  if (doubted.length > 0) layUnder(doubted, 'overflow', 'hidden');
}
