/** What differs between two engines on one page, grouped by cause, the largest first. */
import type { Analysis } from '../../analysis.ts';
import { rectOf, usedText } from '../../boxes/tree.ts';
import { propertyCause, UNEXPLAINED, type EngineCause } from './causes.ts';
import type { Rect } from '../../geometry/rect.ts';
import { differingNumbers, loneBoxes, pairOf, type BoxNumber, type Pair } from './pair.ts';
import { makeTracer } from './trace.ts';

/** A number of a box that differs, and how much of it goes to the cause. CSS px; signs: the second less the first. */
export interface DifferingNumber extends BoxNumber {
  first: number;
  second: number;
  px: number;
  /** Whether it has the cause by itself: else it follows from another number that has. */
  isOwn: boolean;
}

export interface CauseGroup {
  cause: EngineCause;
  /** Px of all numbers that go to it. */
  px: number;
  /** Boxes that have it by themselves, and those that only follow. */
  own: number;
  followers: number;
  /** Largest first, those that have it by themselves before those that follow. */
  numbers: DifferingNumber[];
}

/** A box that differs, as each engine laid it out. */
export interface Outline {
  box: number;
  first: Rect;
  second: Rect;
}

export interface EngineComparison {
  pair: Pair;
  outlines: Outline[];
  /** Largest first. */
  groups: CauseGroup[];
  /** Boxes of which a number differs, and all that both engines have. */
  boxes: number;
  all: number;
  /** Px of all numbers that differ, and how many of them have no cause. */
  px: number;
  unexplained: number;
}

const PRESENCE = 'display';

export function compareEngines(first: Analysis, second: Analysis): EngineComparison {
  const pair = pairOf(first, second);
  const { trace } = makeTracer(pair);
  const groups = new Map<string, CauseGroup>();
  const put = (cause: EngineCause, number: DifferingNumber): void => {
    const group = groups.get(cause.key) ?? { cause, px: 0, own: 0, followers: 0, numbers: [] };
    groups.set(cause.key, group);
    group.px += Math.abs(number.px);
    group.numbers.push(number);
  };
  const boxes = new Set<number>();
  let all = 0;
  for (const { number, held } of differingNumbers(pair)) {
    boxes.add(number.box);
    const by = Math.abs(held.by);
    all += by;
    const values = { ...number, first: held.first.used, second: held.second.used };
    const shares = [...trace(number, held).values()];
    const total = shares.reduce((sum, { px }) => sum + Math.abs(px), 0);
    if (total === 0) put(UNEXPLAINED, { ...values, px: held.by, isOwn: true });
    // Shares that go against each other make more px than the number differs by.
    for (const { cause, px, isOwn } of total === 0 ? [] : shares)
      put(cause, { ...values, px: (held.by * Math.abs(px)) / total, isOwn });
  }
  for (const { box, in: side } of loneBoxes(pair)) {
    const analysis = side === 'first' ? first : second;
    const element = side === 'first' ? box : pair.toSecond.get(box)!;
    const { width, height } = rectOf(analysis.reading, element);
    const isSame =
      usedText(first.reading, PRESENCE, box) === usedText(second.reading, PRESENCE, pair.toSecond.get(box)!);
    const cause = (isSame ? null : propertyCause(pair, box, PRESENCE)) ?? UNEXPLAINED;
    boxes.add(box);
    for (const [axis, size] of [
      ['x', width],
      ['y', height],
    ] as const) {
      const px = side === 'first' ? -size : size;
      if (size === 0) continue;
      all += size;
      put(cause, {
        of: 'size',
        axis,
        box,
        first: side === 'first' ? size : 0,
        second: side === 'first' ? 0 : size,
        px,
        isOwn: true,
      });
    }
  }
  const list = [...groups.values()].sort((a, b) => b.px - a.px);
  for (const group of list) {
    group.numbers.sort((a, b) => Number(b.isOwn) - Number(a.isOwn) || Math.abs(b.px) - Math.abs(a.px));
    const own = new Set(group.numbers.filter(({ isOwn }) => isOwn).map(({ box }) => box));
    group.own = own.size;
    group.followers = new Set(group.numbers.map(({ box }) => box).filter((box) => !own.has(box))).size;
  }
  return {
    pair,
    outlines: [...boxes].map((box) => ({
      box,
      first: rectOf(first.reading, box),
      second: rectOf(second.reading, pair.toSecond.get(box)!),
    })),
    groups: list,
    boxes: boxes.size,
    all: pair.toSecond.size,
    px: all,
    unexplained: groups.get(UNEXPLAINED.key)?.px ?? 0,
  };
}
