/** All that can be said of a spot of the page: whose room it is, what is painted there, and what was found there. */
import type { Analysis } from '../analysis.ts';
import { rectOf } from '../boxes/tree.ts';
import type { Observation } from '../finding.ts';
import { observeAll } from '../rules/index.ts';
import { spanOf } from '../rules/span.ts';
import type { Rect } from '../geometry/rect.ts';
import { intersection } from '../visibility/visibility.ts';
import { layersAt, type Layer } from './layers.ts';
import { roomsAt, type Room } from './room.ts';

export interface Spot {
  /** CSS px of the document; at least a px wide and tall. */
  rect: Rect;
  rooms: Room[];
  layers: Layer[];
  /** Of every grade, those about the least of the page first. */
  findings: Observation[];
}

/** Looks so many times along each side of a spot that is larger than a point. */
const SAMPLES = 3;

/** `found`: all that was found on the page, where it is known already. Throws a RangeError where the spot is not on the page. */
export function spotAt(analysis: Analysis, asked: Rect, found?: readonly Observation[]): Spot {
  const { scrollWidth, scrollHeight } = analysis.reading.document;
  const rect = { ...asked, width: Math.max(1, asked.width), height: Math.max(1, asked.height) };
  const page = { x: 0, y: 0, width: scrollWidth, height: scrollHeight };
  if (!intersection(rect, page))
    throw new RangeError(
      `The spot ${asked.x}, ${asked.y} is not on the page, which is ${scrollWidth} px wide and ${scrollHeight} px tall`,
    );
  return {
    rect,
    rooms: roomsIn(analysis, rect),
    layers: layersAt(analysis, rect),
    findings: findingsAt(analysis, rect, found),
  };
}

function roomsIn(analysis: Analysis, { x, y, width, height }: Rect): Room[] {
  const isPoint = width <= 1 && height <= 1;
  const parts = isPoint ? [0] : Array.from({ length: SAMPLES }, (_, i) => (i + 0.5) / SAMPLES);
  const seen = new Map<string, Room>();
  for (const down of parts)
    for (const across of parts)
      for (const room of roomsAt(analysis, x + across * width, y + down * height)) {
        const key = room.kind === 'line' ? `line ${room.element}` : room.words;
        if (!seen.has(key)) seen.set(key, room);
      }
  return [...seen.values()];
}

/** Findings whose px, or else whose places, lie at a spot. */
function findingsAt(analysis: Analysis, spot: Rect, found?: readonly Observation[]): Observation[] {
  const list = found ?? observeAll(analysis);
  const areaOf = ({ subject }: Observation): number => {
    const { width, height } = rectOf(analysis.reading, subject);
    return width * height;
  };
  return list
    .filter((observation) => regionsOf(analysis, observation).some((region) => intersection(region, spot)))
    .sort((a, b) => areaOf(a) - areaOf(b));
}

/** Where an observation is seen: the stretch that is drawn of it, and its places. */
function regionsOf(analysis: Analysis, observation: Observation): Rect[] {
  const { reading } = analysis;
  const { other, places, subject, kind } = observation;
  if (/^(viewport|dropped)$/.test(kind)) return [];
  const own = rectOf(reading, subject);
  const span = spanOf(analysis, observation);
  const stretch = span
    ? span.axis === 'x'
      ? { ...own, x: span.from, width: span.to - span.from }
      : { ...own, y: span.from, height: span.to - span.from }
    : own;
  const more = places.filter((at) => at !== subject).map((at) => rectOf(reading, at));
  // What two boxes do to each other is seen at both, unless one holds the other.
  const second = kind === 'overlap' && other !== null ? [intersection(own, rectOf(reading, other))] : [];
  return [stretch, ...more, ...second].filter((region) => region !== null);
}
