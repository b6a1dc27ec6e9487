/** Numbers of a sweep: one for every width that was looked at. */
import type { Analysis } from '../analysis.ts';
import { elementAt } from '../reading/labels.ts';
import type { Point } from '../search/seek.ts';
import type { Quantity } from '../search/measured-quantity.ts';
import type { Side } from '../geometry/rect.ts';
import { keyOfPart } from './layout-signature.ts';
import type { Snapshot } from './snapshot.ts';

type Reader = (look: Snapshot) => number | null;

/** In ascending order of width; `number` null: there is no such box at that width. CSS px, or a count of lines. */
export function numbersOf(analysis: Analysis, looks: Iterable<Snapshot>, quantity: Quantity): Point[] {
  const read = readerOf(analysis, quantity);
  return [...looks]
    .sort((a, b) => a.width - b.width)
    .map((look) => ({ value: look.width, number: read(look) }));
}

function readerOf({ reading }: Analysis, quantity: Quantity): Reader {
  const find = (path: string): number => elementAt(reading, path);
  const rect = (look: Snapshot, element: number): Float32Array | null =>
    element >= 0 && look.shape.get(keyOfPart('shown', element)) === 'shown'
      ? look.rects.subarray(element * 4, element * 4 + 4)
      : null;
  const edge = (look: Snapshot, element: number, side: Side): number | null => {
    const [x, y, width, height] = rect(look, element) ?? [];
    return x === undefined ? null : { left: x, right: x + width!, top: y!, bottom: y! + height! }[side];
  };
  switch (quantity.of) {
    case 'overflow':
      return quantity.axis === 'x' ? (look) => look.scrollableX : (look) => look.scrollableY;
    case 'page':
      return (look) => (quantity.axis === 'x' ? look.scrollWidth : look.scrollHeight);
    case 'size': {
      const element = find(quantity.path);
      return (look) => rect(look, element)?.[quantity.axis === 'x' ? 2 : 3] ?? null;
    }
    case 'lines': {
      const element = find(quantity.path);
      return (look) => (rect(look, element) ? (look.lines[element] ?? null) : null);
    }
    case 'squareness': {
      const element = find(quantity.path);
      return (look) => {
        const found = rect(look, element);
        return found && found[2]! - found[3]!;
      };
    }
    case 'distance': {
      const [a, b] = [find(quantity.a.path), find(quantity.b.path)];
      return (look) => {
        const [from, to] = [edge(look, a, quantity.a.side), edge(look, b, quantity.b.side)];
        return from === null || to === null ? null : to - from;
      };
    }
  }
}
