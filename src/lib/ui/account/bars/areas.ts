/** How the areas are named and filled wherever they are drawn. */
import type { Segment } from '$core/accounts/box.ts';
import type { Declared } from '$core/accounts/sizing/declared.ts';
import { px } from '$core/geometry/rect.ts';

export type Area = Segment['area'];

export function fillOf(area: Area, night: boolean): string {
  const suffix = night ? '-night' : '';
  const fills: Record<Area, string> = {
    margin: `url(#area-margin${suffix})`,
    border: 'var(--color-base-content)',
    padding: `url(#area-padding${suffix})`,
    scrollbar: 'url(#area-scrollbar)',
    content: 'var(--ivory)',
  };
  return fills[area];
}

/** A declared value short enough to stand under a bar. */
export function shortValue(declared: Declared | null): string {
  if (!declared) return '';
  const { value, source } = declared;
  if (source.origin === 'browser' && /^(0(px)?|initial|medium)$/.test(value)) return '';
  return value.length > 14 ? `${value.slice(0, 13)}…` : value;
}

export const segmentTitle = ({ area, side, px: size, declared }: Segment): string =>
  [
    `${area}${side ? `-${side}` : ''}: ${px(size)} px`,
    declared?.written ?? declared?.value ?? '',
    declared?.note ?? '',
  ]
    .filter(Boolean)
    .join('\n');

export interface Piece {
  segment: Segment;
  start: number;
  size: number;
}

/**
 * Segments laid along `length` px: to scale where that leaves every one that is not 0 at least `least`; else the
 * content gives way, and is drawn broken.
 */
export function layOut(
  segments: Segment[],
  length: number,
  least: number,
): { pieces: Piece[]; broken: boolean } {
  const sizes = segments.map(({ px: size }) => Math.abs(size));
  const total = sizes.reduce((sum, size) => sum + size, 0) || 1;
  const scale = length / total;
  const content = segments.findIndex(({ area }) => area === 'content');
  const drawn = sizes.map((size, i) =>
    size === 0 ? 0 : i === content ? size * scale : Math.max(least, size * scale),
  );
  const spare = length - drawn.reduce((sum, size) => sum + size, 0);
  const broken = spare < -0.5;
  if (broken) {
    const give = Math.min(-spare, Math.max(0, drawn[content]! - 2 * least));
    drawn[content]! -= give;
    const rest = length / drawn.reduce((sum, size) => sum + size, 0);
    if (rest < 1) drawn.forEach((size, i) => (drawn[i] = size * rest));
  }
  let at = 0;
  return {
    broken,
    pieces: segments.map((segment, i) => {
      const piece = { segment, start: at, size: drawn[i]! };
      at += drawn[i]!;
      return piece;
    }),
  };
}
