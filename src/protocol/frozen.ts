/** What a live page has become, as the script that freezes it tells: a text in pieces, whose addresses are still to be placed. */

export type FrozenPiece =
  | string
  /** The value of an attribute that is an address: in full, and as it was written. */
  | { address: string; written: string }
  /** A style sheet, or a style attribute; `base`: the address that its own addresses start from. */
  | { css: string; base: string; isAttribute: boolean };

export interface Frozen {
  pieces: FrozenPiece[];
  title: string;
  /** Whether it is what its file says by itself: no script has changed it. */
  isAsServed: boolean;
  /** What could not be frozen, in sentences. */
  left: string[];
}

/** Attributes by which the collector puts back what no markup says; see `collector/document/thaw.ts`. */
export const TOP_LAYER = 'data-normetra-top-layer';
export const SCROLLED = 'data-normetra-scrolled';
export const DEFINED = 'data-normetra-defined';

/** Names in the window of a live page. */
export const FREEZE = 'normetraFreeze';
export const STIRRED = 'normetraStirred';
