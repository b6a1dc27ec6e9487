/** Box sides given other sizes by hand: which sides go together, and what is written for it. */
import type { BoxAccount } from '$core/accounts/box.ts';
import type { PropertyAccount } from '$core/accounts/property.ts';
import type { Side as BoxSide } from '$core/geometry/rect.ts';
import { sideEdits, type Side, type SideEdit } from '$core/trials/side-edits.ts';
import type { Source } from '$core/css/cascade/styles.ts';
import type { Bench } from '../../bench/state/bench.svelte.ts';
import { wrong } from '../../notices/notices.svelte.ts';
import type { Trials } from '../../trial/trials.svelte.ts';
import type { Area } from './areas.ts';

export type Together = 'one' | 'axis' | 'all';

/** `how`: dragged moves of one pointer are one step of the trial. */
export type Stretch = (area: Area, side: BoxSide, px: number, how: 'drag' | 'step') => void;

const ACROSS: Record<BoxSide, BoxSide> = { left: 'right', right: 'left', top: 'bottom', bottom: 'top' };

const sidesFor = (side: BoxSide, together: Together): BoxSide[] =>
  together === 'all' ? ['top', 'right', 'bottom', 'left'] : together === 'axis' ? [side, ACROSS[side]] : [side];

const longhandFor = (area: Area, side: BoxSide): string =>
  area === 'border' ? `border-${side}-width` : `${area}-${side}`;

const keyOf = ({ sheet, line, column, selector, property, value }: Source): string =>
  JSON.stringify([sheet, line, column, selector, property, value]);

export interface Stretched {
  edit: SideEdit;
  /** The declaration that the edit is about, or stands beside; null: the element's own style. */
  source: Source | null;
  important: boolean;
}

/** What is written so that sides become `px` wide. `accounts`: one for each longhand, with its used px. */
function stretched(accounts: { account: PropertyAccount; used: number }[], px: number): Stretched[] {
  const byKey = new Map<string, { source: Source; important: boolean }>();
  const sides: Side[] = accounts.map(({ account: { property, winner }, used }) => {
    if (!winner || winner.source.origin === 'browser' || winner.source.origin === 'attribute')
      return { longhand: property, used, winner: null };
    const key = keyOf(winner.source);
    byKey.set(key, winner);
    const { source, important } = winner;
    return {
      longhand: property,
      used,
      winner: { key, property: source.property, value: source.value, important },
    };
  });
  return sideEdits(sides, px).map((edit) => {
    const key = edit.do === 'set' ? edit.key : edit.beside;
    const found = key === null ? undefined : byKey.get(key);
    return { edit, source: found?.source ?? null, important: found?.important ?? false };
  });
}

/** Puts in one run after another; of those that come while one is under way only the last counts. */
function oneAtATime(): (run: () => Promise<void>) => Promise<void> {
  let isBusy = false;
  let waiting: (() => Promise<void>) | null = null;
  return async (run) => {
    waiting = run;
    if (isBusy) return;
    isBusy = true;
    try {
      for (let next = waiting as typeof run | null; next; next = waiting) {
        waiting = null;
        await next();
      }
    } catch (error) {
      wrong(error);
    } finally {
      isBusy = false;
    }
  };
}

export function createStretch({
  bench,
  trials,
  box,
  together,
}: {
  bench: Bench;
  trials: Trials;
  box: () => BoxAccount;
  together: () => Together;
}): Stretch {
  const queue = oneAtATime();
  return (area, side, px, how) => {
    const element = bench.pick;
    void queue(async () => {
      const { width, height } = box();
      const segments = [...width.segments, ...height.segments];
      const accounts = await Promise.all(
        sidesFor(side, together()).map(async (side) => ({
          account: (await bench.byName(longhandFor(area, side)))[0]!,
          used: segments.find((segment) => segment.area === area && segment.side === side)?.px ?? 0,
        })),
      );
      await trials.stretch(
        element,
        stretched(accounts, px),
        how === 'drag' ? `${element} ${area} ${side}` : '',
      );
      await bench.settled();
    });
  };
}
