/** Distances between edges: measured by hand, pinned, and explained. */
import type { DistanceAccount } from '$core/accounts/distance.ts';
import type { RawReading } from '$core/reading/reading.ts';
import type { Remote } from 'comlink';
import { wrong } from '../notices/notices.svelte.ts';
import type { Analyst } from './analyst.worker.ts';
import type { SizeRetry } from './state/retry-with-sizes.ts';
import type { Edge } from './state/measuring.ts';
import { recallPins, storePins, type Pinned } from './state/pins.ts';

export interface DistancesInput {
  analyst: Remote<Analyst>;
  knowing: SizeRetry;
  /** Under which the browser remembers what is pinned. */
  storageKey: string;
  reading: () => RawReading | null;
  refreshAreas: () => Promise<void>;
}

export function createDistances({ analyst, knowing, storageKey, reading, refreshAreas }: DistancesInput) {
  let measure = $state(false);
  let from = $state.raw<Edge | null>(null);
  let toward = $state.raw<Edge | null>(null);
  let pinned = $state.raw<Pinned[]>([]);
  let explained = $state.raw<{ account: DistanceAccount; base: number; from: Edge; to: Edge } | null>(null);
  let explaining: Pick<Pinned, 'from' | 'to'> | null = null;
  let nextPin = 1;

  const keep = (): void => {
    const now = reading();
    if (now) storePins(storageKey, now, pinned);
  };

  /** Explains why two edges are as far apart as they are; null: nothing is explained any more. */
  async function explain(pin: Pick<Pinned, 'from' | 'to'> | null): Promise<void> {
    explaining = pin;
    if (!pin) {
      explained = null;
      return;
    }
    try {
      await knowing.tell(
        () => analyst.distance(pin.from, pin.to),
        (result) => {
          if (explaining !== pin) return false;
          explained = result && { ...result, from: pin.from, to: pin.to };
          if (!result)
            wrong(
              'These edges lie in different documents: the frame between them has no sum that goes through it.',
            );
          return result !== null;
        },
      );
    } catch (error) {
      wrong(error);
    }
  }

  function startMeasure(on: boolean): void {
    measure = on;
    from = null;
    toward = null;
    if (on) void refreshAreas().catch(wrong);
  }

  function pin(a: Edge, b: Edge): void {
    const result = { id: nextPin++, from: a, to: b };
    pinned = [...pinned, result];
    keep();
    void explain(result);
    void refreshAreas().catch(wrong);
  }

  return {
    /** Boxes whose edges are measured. */
    elements: (): number[] =>
      [from, toward, ...pinned.flatMap((pinned) => [pinned.from, pinned.to])].flatMap((edge) =>
        edge ? [edge.element] : [],
      ),
    explainAgain: () => explain(explaining),
    /** Pins what an earlier visit has pinned. */
    restore: async (): Promise<void> => {
      pinned = (await recallPins(storageKey, (path) => analyst.elementAt(path))).map((recallPin) => ({
        ...recallPin,
        id: nextPin++,
      }));
      await refreshAreas();
    },
    shown: {
      get measure() {
        return measure;
      },
      get from() {
        return from;
      },
      get toward() {
        return toward;
      },
      set toward(next: Edge | null) {
        toward = next;
      },
      get pinned() {
        return pinned;
      },
      get explained() {
        return explained;
      },
      explain,
      startMeasure,
      /** First edge, then the second, which pins the measurement. */
      takeEdge: (edge: Edge): void => {
        if (!from) {
          from = edge;
          return;
        }
        pin(from, edge);
        from = null;
        toward = null;
      },
      pin,
      unpin: (id: number): void => {
        pinned = pinned.filter((pinned) => pinned.id !== id);
        keep();
      },
    },
  };
}
