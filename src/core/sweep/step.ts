/** Below this width in CSS px, that of phones, a few px are much of the room that there is. */
const NARROW = 480;

/** Px from one width that a sweep looks at first to the next: what lies between two that differ is halved down to 1 px. */
export const stepAt = (width: number): number => (width < NARROW ? 16 : 32);
