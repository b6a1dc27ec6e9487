/**
 * Scrollbars as in a page that is opened at its size. Engines keep a bar for as long as what it scrolls is too large beside it,
 * so that one is left where a page has been narrower or lower before, and there would be none had it been opened so: `auto`
 * gives a box bars only where its contents are too large for it without (CSS Overflow 3 §3.1).
 */
import { restyle } from './restyle.ts';

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
 * Whether a bar may be one that is kept: it takes room from the lines of what it scrolls, which is too large by not much.
 * `style`: of the box.
 */
function isDoubted({ x, y }: Seen, { writingMode }: CSSStyleDeclaration): boolean {
  const [along, across] = writingMode.startsWith('horizontal') ? [y, x] : [x, y];
  return across.taken >= 1 && along.scroll > along.client && along.scroll < MOST * along.client;
}

/** Whether the viewport has a bar on an axis because its style asks for one, whatever there is to scroll (CSS Overflow 3 §3.3). */
function asksForBar(axis: Axis): boolean {
  const property = axis === 'x' ? 'overflowX' : 'overflowY';
  return [document.documentElement, document.body].some(
    (element: HTMLElement | null) => element !== null && getComputedStyle(element)[property] === 'scroll',
  );
}

/** Lays out under other styles of some elements, and as before once more. Where they were scrolled to stays. */
function layUnder(elements: readonly HTMLElement[], property: string, value: string): void {
  const before = elements.map((element) => ({
    element,
    written: element.getAttribute('style'),
    left: element.scrollLeft,
    top: element.scrollTop,
  }));
  for (const element of elements) element.style.setProperty(property, value, 'important');
  void document.documentElement.getBoundingClientRect();
  for (const { element, written } of before) restyle(element, written);
  void document.documentElement.getBoundingClientRect();
  for (const { element, left, top } of before)
    if (element.scrollLeft !== left || element.scrollTop !== top)
      element.scrollTo({ left, top, behavior: 'instant' });
}

function isBoxDoubted(box: HTMLElement): boolean {
  const style = getComputedStyle(box);
  if (style.overflowX !== 'auto' && style.overflowY !== 'auto') return false;
  const px = Number.parseFloat;
  const width = box.offsetWidth - px(style.borderLeftWidth) - px(style.borderRightWidth);
  const height = box.offsetHeight - px(style.borderTopWidth) - px(style.borderBottomWidth);
  return isDoubted(seenOf(box, width, height), style);
}

/** `boxes`: all that may scroll, besides the viewport. */
export function layBarsAfresh(boxes: readonly Element[]): void {
  const scroller = document.scrollingElement;
  if (!scroller) return;
  const root = document.documentElement as HTMLElement;
  const seen = seenOf(scroller, innerWidth, innerHeight);
  const [across, down] = [asksForBar('y'), asksForBar('x')];
  const fits = ({ client, scroll }: Seen[Axis]): boolean => scroll <= client;
  // After the root was out of layout, and for as long as the frame is not painted, a bar may be left where all fits beside it.
  if ((seen.y.taken > 0 && fits(seen.x) && !down) || (seen.x.taken > 0 && fits(seen.y) && !across))
    layUnder([root], 'min-height', '1.5px');
  const doubted = boxes.filter(
    (box): box is HTMLElement =>
      box instanceof HTMLElement && box !== root && box !== scroller && isBoxDoubted(box),
  );
  if (!across && !down && isDoubted(seen, getComputedStyle(root))) doubted.push(root);
  if (doubted.length > 0) layUnder(doubted, 'overflow', 'hidden');
}
