/** Why boxes of the page at hand are as they are, and which declarations say so. */
import type { BoxAccount } from '$core/accounts/box.ts';
import {
  accountsByName,
  declaredProperties,
  pseudosOf,
  reachOf,
  type PropertyAccount,
  type PseudoAccount,
} from '$core/accounts/property.ts';
import { distanceAccount, type DistanceAccount, type EdgeOf } from '$core/accounts/distance.ts';
import { accountWithin, areasWithin } from '$core/accounts/model/nested-documents.ts';
import { staleIntrinsicSizes, intrinsicBatches, addIntrinsicSizes } from '$core/analysis.ts';
import type { Areas } from '$core/boxes/areas.ts';
import type { Source } from '$core/css/cascade/styles.ts';
import { asWritten, at, need, pageOf, type WorkerState } from './worker-state.ts';

export const createAccounts = (held: WorkerState) => ({
  account: (
    element: number,
  ): {
    box: BoxAccount;
    properties: PropertyAccount[];
    pseudos: PseudoAccount[];
    /** Boxes of the page's own document whose content widths the account lacks. */
    wanting: number[][];
  } => {
    const { analysis, local, base } = at(held, element);
    return asWritten(held, {
      box: accountWithin(need(held), element),
      properties: declaredProperties(analysis, local),
      pseudos: pseudosOf(analysis, local),
      wanting: base === 0 ? intrinsicBatches(analysis) : [],
    });
  },
  /** Content widths as they were before the last edit may be others now: those that accounts have used are asked for again. */
  doubt: (): number[][] => staleIntrinsicSizes(pageOf(held)),
  /** Takes the content widths that the page was asked for. */
  learn: (answer: number[]): void => addIntrinsicSizes(pageOf(held), answer),
  /** Null where the two edges are not in one document, or not of one axis. */
  distance: (
    from: EdgeOf,
    to: EdgeOf,
  ): { account: DistanceAccount; base: number; wanting: number[][] } | null => {
    const [a, b] = [at(held, from.element), at(held, to.element)];
    if (
      a.base !== b.base ||
      (from.side === 'left' || from.side === 'right') !== (to.side === 'left' || to.side === 'right')
    )
      return null;
    const account = distanceAccount(a.analysis, { ...from, element: a.local }, { ...to, element: b.local });
    return { account, base: a.base, wanting: a.base === 0 ? intrinsicBatches(a.analysis) : [] };
  },
  byName: (element: number, name: string): PropertyAccount[] =>
    asWritten(held, accountsByName(at(held, element).analysis, at(held, element).local, name)),
  /** `element`: the one whose account names the source, and so its document. */
  reach: (element: number, source: Source): number[] => {
    const { analysis, base } = at(held, element);
    return reachOf(analysis, source).map((value) => value + base);
  },
  areas: (elements: number[]): Areas[] => elements.map((element) => areasWithin(need(held), element)),
});
