/** The scale of the width rule: the same on every view, so that what stands under it lies under its width. */

/** CSS px of the viewport at the ends of the scale. */
export const FROM = 240;
export const TO = 1920;
/** px of the screen between the ends of the scale and those of its holder. */
export const INSET = 26;

/** Where a width lies along a holder of a length, in px of the screen; widths beyond the scale lie at its ends. */
export const along = (width: number, length: number): number =>
  INSET + ((Math.min(TO, Math.max(FROM, width)) - FROM) / (TO - FROM)) * (length - 2 * INSET);

/** The width that lies there. */
export const widthAt = (x: number, length: number): number =>
  FROM + ((x - INSET) / (length - 2 * INSET)) * (TO - FROM);
