/** What can be said of a spot of the page at hand. */
import { intrinsicBatches } from '$core/analysis.ts';
import type { Rect } from '$core/geometry/rect.ts';
import { keyOf } from '$core/proof/keys.ts';
import { labelOf } from '$core/reading/labels.ts';
import { spotAtWidth, type SpotAtWidth } from '$core/reports/spots.ts';
import { spotAt } from '$core/spot/spot.ts';
import { observedOn, pageOf, type WorkerState } from './worker-state.ts';

/** The answer with the numbers of its boxes on the page, and the keys under which the Bench lists its findings. */
export interface SpotAnswer extends SpotAtWidth {
  rooms: (SpotAtWidth['rooms'][number] & { element: number; label: string })[];
  layers: (SpotAtWidth['layers'][number] & { element: number })[];
  findings: (SpotAtWidth['findings'][number] & { key: string; element: number; label: string })[];
  /** Boxes whose content widths the answer lacks. */
  wanting: number[][];
}

export const createSpots = (held: WorkerState) => ({
  /** `rect`: in CSS px of the document. Throws a RangeError where it is not on the page. */
  spot: (rect: Rect): SpotAnswer => {
    const analysis = pageOf(held);
    const { reading } = analysis;
    const spot = spotAt(analysis, rect, observedOn(analysis));
    const document = spotAtWidth(analysis, spot);
    return {
      ...document,
      rooms: document.rooms.map((room, n) => {
        const { element } = spot.rooms[n]!;
        return { ...room, element, label: labelOf(reading, element) };
      }),
      layers: document.layers.map((layer, n) => ({ ...layer, element: spot.layers[n]!.element })),
      findings: document.findings.map((finding, n) => {
        const observation = spot.findings[n]!;
        const { subject } = observation;
        return {
          ...finding,
          key: keyOf(analysis, observation),
          element: subject,
          label: labelOf(reading, subject),
        };
      }),
      wanting: intrinsicBatches(analysis),
    };
  },
});
