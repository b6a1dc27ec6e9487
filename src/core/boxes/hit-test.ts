/** Which box lies under a point, by rectangles and painting order. */
import Flatbush from 'flatbush';
import { contains } from '../geometry/rect.ts';
import { rectOf, usedText } from './tree.ts';
import type { RawReading } from '../reading/reading.ts';

export interface HitIndex {
  reading: RawReading;
  order: Int32Array;
  index: Flatbush | null;
  /** Element of each entry of the index: an inline box in pieces has several. */
  owners: number[];
}

export function makeHitIndex(reading: RawReading, order: Int32Array): HitIndex {
  const entries: [number, number, number, number, number][] = [];
  const inPieces = new Set<number>();
  const { fragments } = reading;
  for (let i = 0; i + 1 < fragments.length;) {
    const element = fragments[i]!;
    const pieces = fragments[i + 1]!;
    inPieces.add(element);
    for (let p = 0, at = i + 2; p < pieces; p++, at += 4)
      entries.push([element, fragments[at]!, fragments[at + 1]!, fragments[at + 2]!, fragments[at + 3]!]);
    i += 2 + pieces * 4;
  }
  for (let i = 0; i < reading.count; i++) {
    const { x, y, width, height } = rectOf(reading, i);
    if (width <= 0 || height <= 0 || inPieces.has(i) || usedText(reading, 'visibility', i) === 'hidden')
      continue;
    entries.push([i, x, y, width, height]);
  }
  if (entries.length === 0) return { reading, order, index: null, owners: [] };
  const index = new Flatbush(entries.length);
  for (const [, x, y, width, height] of entries) index.add(x, y, x + width, y + height);
  index.finish();
  return { reading, order, index, owners: entries.map(([element]) => element) };
}

/** Whether an ancestor with `overflow` other than visible hides the point of the element. */
function isClipped(reading: RawReading, element: number, x: number, y: number): boolean {
  let position = usedText(reading, 'position', element);
  for (let at = reading.parent[element]!; at > 0; at = reading.parent[at]!) {
    if (position === 'fixed') return false;
    const text = usedText(reading, 'position', at);
    if (position === 'absolute' && text === 'static') continue;
    const overflow = usedText(reading, 'overflow', at);
    if (overflow !== 'visible' && overflow !== '' && !contains(rectOf(reading, at), x, y)) return true;
    position = text;
  }
  return false;
}

/** The element painted uppermost at a point in document coordinates; where there is no box the canvas is the root's. −1: an empty reading. */
export function hit({ reading, order, index, owners }: HitIndex, x: number, y: number): number {
  let best = reading.count > 0 ? 0 : -1;
  for (const entry of index?.search(x, y, x, y) ?? []) {
    const element = owners[entry]!;
    if (best >= 0 && order[element]! <= order[best]!) continue;
    if (!isClipped(reading, element, x, y)) best = element;
  }
  return best;
}
