/** Below this width in CSS px, that of phones, a few px are much of the room that there is. */
const NARROW = 480;

/** Px from one width that a sweep looks at first to the next: what lies between two that differ is halved down to 1 px. */
export const stepAt = (width: number): number => (width < NARROW ? 16 : 32);

/** Looks that are taken at least of a page of few elements, over so many widths; of one with more a look takes its time. */
const LEAST = { looks: 160, widths: 1680, elements: 1000 };

/** The same for any page and range. */
export const leastLooks = (elements: number, from: number, to: number): number =>
  Math.round(
    LEAST.looks * Math.min(1, (to - from) / LEAST.widths) * Math.min(1, LEAST.elements / Math.max(1, elements)),
  );
