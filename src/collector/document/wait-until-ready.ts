/**
 * What changes layout after a document has loaded, and is not there yet: the frame's new size, what scripts make of it, fonts,
 * images.
 */
import { forceRelayout } from './forced-relayout.ts';
import { areScriptsDisabled } from './scripts-disabled.ts';

// Taken before the page can put its own in their place.
const [nextFrame, later, mediaQuery] = [
  window.requestAnimationFrame.bind(window),
  window.setTimeout.bind(window),
  window.matchMedia.bind(window),
];

/** ms after which scripts are taken to have heard of a size, where no frame comes. */
const LONGEST = 1000;

let heardSize = '';
let awaitedSize = '';
let turn = 0;
/** Holds at the size that was heard last; the engine may find a frame later than the size itself that it no longer does. */
let lastSize: MediaQueryList | null = null;
let hasLeftLastSize = false;

const areQueriesEvaluated = (): boolean => !lastSize || hasLeftLastSize || lastSize.matches;

function watchQueries(): void {
  hasLeftLastSize = false;
  lastSize = mediaQuery(`(width: ${innerWidth}px) and (height: ${innerHeight}px)`);
  lastSize.addEventListener('change', () => (hasLeftLastSize = true), { once: true });
}

/**
 * Whether scripts have heard of the size at hand: they do with the next rendering (HTML, “update the rendering”: resize events,
 * media queries and animation frames, then observers of sizes). What they do by a clock of their own is not waited for.
 */
function isHeard(): boolean {
  const size = `${innerWidth} ${innerHeight}`;
  if (areScriptsDisabled || heardSize === size) return true;
  if (awaitedSize !== size) {
    [awaitedSize, heardSize] = [size, ''];
    const ownTurn = ++turn;
    const hear = (): void => {
      if (turn !== ownTurn || heardSize === size) return;
      heardSize = size;
      watchQueries();
    };
    const hearOnceEvaluated = (): void => {
      if (areQueriesEvaluated()) later(hear);
      else if (turn === ownTurn && heardSize !== size) nextFrame(hearOnceEvaluated);
    };
    nextFrame(hearOnceEvaluated);
    later(hear, LONGEST);
  }
  return false;
}

/**
 * `waited` names what is not there. Whoever asks asks again: the engine wakes a frame that it takes for unimportant once in a
 * second.
 */
export function waitUntilReady({ width, height }: { width: number; height: number }): {
  width: number;
  height: number;
  waited: string[];
} {
  const waited: string[] = [];
  if (innerWidth !== width || innerHeight !== height) waited.push('the size of the frame');
  else if (!isHeard()) waited.push('what scripts make of the size');
  else {
    // Fonts are asked for by layout: without one, none would be loading yet.
    document.documentElement.getBoundingClientRect();
    if (document.fonts.status !== 'loaded') waited.push('fonts');
    const images = Array.from(document.images);
    if (!images.every((image) => image.complete || image.loading === 'lazy')) waited.push('images');
  }
  if (waited.length === 0) forceRelayout();
  return { width: innerWidth, height: innerHeight, waited };
}
