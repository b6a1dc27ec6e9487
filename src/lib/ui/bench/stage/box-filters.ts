/** Sorts of boxes that can be outlined over the page, all of a sort at once. */
import { kindOf, type Kind } from '$core/boxes/kinds.ts';
import { usedText } from '$core/boxes/tree.ts';
import type { RawReading } from '$core/reading/reading.ts';

export type BoxFilter =
  | 'none'
  | 'everything'
  | 'blocks'
  | 'inlines'
  | 'flex'
  | 'grid'
  | 'cells'
  | 'positioned'
  | 'floats'
  | 'scrolling'
  | 'replaced';

export const BOX_FILTER_WORDS: Record<BoxFilter, string> = {
  none: 'nothing',
  everything: 'everything',
  blocks: 'blocks',
  inlines: 'inline boxes',
  flex: 'flex items',
  grid: 'grid items',
  cells: 'table cells',
  positioned: 'positioned boxes',
  floats: 'floats',
  scrolling: 'scroll containers',
  replaced: 'images and controls',
};

const KINDS: Partial<Record<BoxFilter, Kind[]>> = {
  blocks: ['block', 'list-item', 'root'],
  inlines: ['inline', 'inline-block', 'inline-replaced'],
  flex: ['flex-item'],
  grid: ['grid-item'],
  cells: ['table-cell'],
  floats: ['float'],
  replaced: ['replaced', 'inline-replaced'],
};

export function elementsOf(reading: RawReading, sort: BoxFilter): number[] {
  if (sort === 'none') return [];
  const out: number[] = [];
  for (let i = 0; i < reading.count; i++) {
    const kind = kindOf(reading, i);
    if (kind === 'none' || kind === 'contents') continue;
    const position = usedText(reading, 'position', i);
    const overflow = usedText(reading, 'overflow', i);
    if (
      sort === 'everything' ||
      (sort === 'positioned' && position !== 'static') ||
      (sort === 'scrolling' && /auto|scroll|hidden/.test(overflow)) ||
      KINDS[sort]?.includes(kind)
    )
      out.push(i);
  }
  return out;
}
