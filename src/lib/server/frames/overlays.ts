/** Specimens under trials: files served with other texts, under keys of their own, for as long as they are looked at. */
import { randomBytes } from 'node:crypto';

export interface Overlaid {
  /** Key of the revision whose files they are. */
  key: string;
  /** Texts in the place of the revision's own, by path. */
  texts: Record<string, string>;
}

const KEPT = 200;
const overlays = new Map<string, Overlaid>();

export function keepOverlay(made: Overlaid): string {
  const key = randomBytes(16).toString('hex');
  overlays.set(key, made);
  for (const old of overlays.keys()) {
    if (overlays.size <= KEPT) break;
    overlays.delete(old);
  }
  return key;
}

export const findOverlay = (key: string): Overlaid | null => overlays.get(key) ?? null;
