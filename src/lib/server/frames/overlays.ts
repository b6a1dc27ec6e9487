/** Specimens under trials or other defaults: files served otherwise, under keys of their own, for as long as they are looked at. */
import { randomBytes } from 'node:crypto';

/** Style sheets of other defaults, by the mode of the page that they are laid under. */
export interface Underlays {
  standards: string;
  quirks: string;
}

export interface Overlaid {
  /** Key of the revision whose files they are; '': of none, there are but empty documents. */
  key: string;
  /** Texts in the place of the revision's own, by path. */
  texts: Record<string, string>;
  underlay: Underlays | null;
}

const KEPT = 400;
const overlays = new Map<string, Overlaid>();

/** Keeps what is laid over a revision, or over another overlay; the answer is its key. */
export function keepOverlay(made: Overlaid): string {
  const key = randomBytes(16).toString('hex');
  const below = findOverlay(made.key);
  overlays.set(
    key,
    below
      ? {
          key: below.key,
          texts: { ...below.texts, ...made.texts },
          underlay: made.underlay ?? below.underlay,
        }
      : made,
  );
  for (const old of overlays.keys()) {
    if (overlays.size <= KEPT) break;
    overlays.delete(old);
  }
  return key;
}

export function findOverlay(key: string): Overlaid | null {
  const found = overlays.get(key);
  if (!found) return null;
  // The ones looked at last are kept longest.
  overlays.delete(key);
  overlays.set(key, found);
  return found;
}

/** The key of the revision that a key is of, whatever is laid over it. */
export const revisionKey = (key: string): string => findOverlay(key)?.key ?? key;
