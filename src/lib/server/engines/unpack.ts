/** Replies of a station as they were packed by `pack`. */
import { MARK } from '../../../station/packed.ts';

/** Nothing is believed of the reply yet but that it was packed so. Throws where it was not. */
export function unpack(text: string): unknown {
  const revive = (value: unknown): unknown => {
    if (typeof value !== 'object' || value === null) return value;
    if (Array.isArray(value)) return typeof value[0] === 'string' ? value : value.map(revive);
    for (const [key, inner] of Object.entries(value)) {
      if (key === `${MARK}Int32Array`) return Int32Array.from(inner as number[]);
      if (key === `${MARK}Float64Array`) return Float64Array.from(inner as number[]);
      if (typeof inner === 'object') (value as Record<string, unknown>)[key] = revive(inner);
    }
    return value;
  };
  return revive(JSON.parse(text));
}
