/** What makes a box the containing block of fixed ones, as readings hold it. */
import type { RawReading } from '../reading/reading.ts';

export const TRANSFORMS = ['transform', 'translate', 'rotate', 'scale', 'perspective'] as const;

/** What makes a box hold fixed ones, with the value at which it does not. */
const HOLDING: readonly (readonly [property: string, none: string])[] = [
  ...TRANSFORMS.map((property) => [property, 'none'] as const),
  ['filter', 'none'],
  ['backdrop-filter', 'none'],
  ['contain', 'none'],
  ['content-visibility', 'visible'],
  ['will-change', 'auto'],
];

/** 1 for elements that say something of it: most do not. */
export function fixedContainingBlocks({ used, strings, count }: RawReading): Uint8Array {
  const out = new Uint8Array(count);
  for (const [property, none] of HOLDING) {
    const column = used[property];
    if (!column) continue;
    const nothing = strings.indexOf(none);
    for (let i = 0; i < count; i++) if (column[i]! >= 0 && column[i] !== nothing) out[i] = 1;
  }
  return out;
}
