/** The kinds of findings; each looks for one of them in a reading. */
import type { Analysis } from '../analysis.ts';
import { labelOf } from '../reading/labels.ts';
import { isTurned } from '../boxes/transforms.ts';
import * as clip from './clip/cut-off.ts';
import * as dropped from './declaration/dropped.ts';
import type { Suspect } from './model.ts';
import * as gap from './gap/index.ts';
import * as inert from './declaration/inert.ts';
import * as overflow from './overflow/overflow.ts';
import * as overlap from './overlap/index.ts';
import * as percentHeight from './size/percent-height.ts';
import * as size from './size/size.ts';
import * as strayScroll from './scroll/stray-scroll.ts';
import { doubtScripted } from '../evidence/held-scripts.ts';
import { upward } from '../visibility/visibility.ts';
import * as viewport from './viewport/viewport.ts';

const DETECTORS = [overflow, strayScroll, overlap, clip, gap, size, percentHeight, inert, dropped, viewport];

/**
 * All that looks wrong, what a visitor would notice most first; what is probably meant comes last. `isWhole`: also what
 * is told as part of something else.
 */
export function detectAll(
  analysis: Analysis,
  kinds: readonly string[] | null = null,
  isWhole = false,
): Suspect[] {
  const looking = detecting(analysis, kinds, isWhole);
  for (;;) {
    const step = looking.next();
    if (step.done) return step.value;
  }
}

/** The same kind by kind, for whoever has other things to do in between. */
export function* detecting(
  analysis: Analysis,
  kinds: readonly string[] | null = null,
  isWhole = false,
): Generator<void, Suspect[]> {
  const all: Suspect[] = [];
  for (const { kind, detect } of DETECTORS) {
    if (kinds && !kinds.includes(kind)) continue;
    all.push(...detect(analysis));
    yield;
  }
  const seen = doubtScripted(
    analysis,
    all.filter((one) => !isTurnedAway(analysis, one)),
  );
  return grouped(analysis, isWhole ? seen : withoutTwice(seen)).sort(
    (a, b) => standing(a) - standing(b) || b.weight - a.weight || a.subject - b.subject,
  );
}

/** What is wrong, what may be, what is probably meant. */
const standing = ({ meant, isDoubtful }: Suspect): number => (meant === '' ? 0 : isDoubtful ? 1 : 2);

/** Whether a relation of boxes is told that are seen from the side, so that their rectangles say nothing of it. */
function isTurnedAway(analysis: Analysis, { kind, subject, other }: Suspect): boolean {
  if (/^(inert|dropped|viewport|percent-height)$/.test(kind)) return false;
  const isIn = (element: number) => upward(analysis, element).some((at) => isTurned(analysis.reading, at));
  return isIn(subject) && (other === null ? !/^(overflow|stray-scroll)$/.test(kind) : isIn(other));
}

/** What text does to another box is told as that, and not again as what it does to its own. */
function withoutTwice(all: readonly Suspect[]): Suspect[] {
  const over = all.filter(({ kind }) => kind === 'overlap');
  return all.filter(
    ({ form, axis, subject }) =>
      form !== 'text' || !over.some((one) => one.axis === axis && one.places.includes(subject)),
  );
}

/** What boxes that are alike have alike is one finding with many places. */
function grouped({ reading }: Analysis, all: readonly Suspect[]): Suspect[] {
  const out = new Map<string, Suspect>();
  const sign = (element: number | null) =>
    element === null ? '' : labelOf(reading, element).replace(/#.*/, '#');
  for (const one of all) {
    const { source, subject, other } = one;
    const parent = reading.parent[subject]!;
    const what = source
      ? `${source.sheet} ${source.line} ${source.column}`
      : `${sign(subject)} ${sign(other)} ${sign(parent)}`;
    const key = `${one.kind} ${one.axis} ${one.meant} ${what}`;
    const known = out.get(key);
    if (!known) {
      out.set(key, one);
      continue;
    }
    const [worse, lesser] = one.px > known.px + 0.5 && !source ? [one, known] : [known, one];
    out.set(key, {
      ...worse,
      least: Math.min(worse.least, lesser.least),
      places: [...new Set([...worse.places, ...lesser.places])],
      boxes: [...new Set([...worse.boxes, ...lesser.boxes])],
      weight: worse.weight + 1,
    });
  }
  return [...out.values()];
}
