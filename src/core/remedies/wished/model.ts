/** What the changes for a wish are made from: who is to stand how, and who is around. */
import type { Analysis } from '../../analysis.ts';
import type { Fix } from '../../finding.ts';
import { usedText } from '../../boxes/tree.ts';
import type { Axis } from '../../geometry/rect.ts';

export interface Wished {
  analysis: Analysis;
  /** The box that is farthest from what is wished. */
  element: number;
  /** The box that it is held against; −1: none. */
  other: number;
}

type Puts = Record<string, string>;

/** A change of one box, or of several where `more` has further ones by element. */
export const change = (
  words: string,
  rank: number,
  element: number,
  puts: Puts,
  more: readonly (readonly [element: number, puts: Puts])[] = [],
): Fix => ({
  words,
  rank,
  puts: [[element, puts] as const, ...more].flatMap(([owner, values]) =>
    Object.entries(values).map(([property, value]) => ({ element: owner, property, value })),
  ),
});

export const parentOf = ({ analysis: { reading }, element }: Wished): number => reading.parent[element]!;

export const displayOf = ({ reading }: Analysis, element: number): string =>
  element < 0 ? '' : usedText(reading, 'display', element);

/** Whether a box is laid out by a flex container along an axis. */
export function isAlongMainAxis({ analysis, element }: Wished, axis: Axis): boolean {
  const { tree, reading } = analysis;
  if (tree.kinds[element] !== 'flex-item') return false;
  const isColumn = /column/.test(usedText(reading, 'flex-direction', reading.parent[element]!));
  return (axis === 'y') === isColumn;
}

export const isPlaced = ({ analysis: { tree }, element }: Wished): boolean =>
  /absolute|fixed/.test(tree.kinds[element]!);

/** A number as a style sheet has it. */
export const cssNumber = (value: number): string => String(Math.round(value * 1000) / 1000);
