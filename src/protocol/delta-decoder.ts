/** Replies of a station as they were packed: see `makePacker`. */
import { MARK, MORE, OTHERS, SAME, WHICH, type Other, type DeltaMessage } from './delta-encoder.ts';

export interface Unpacker {
  /** The number of the last reply that is held; 0: none. */
  since: () => number;
  /** Nothing is believed of the reply yet but that it was packed so. Throws where it was not, or builds on another reply. */
  unpack: (text: string) => unknown;
}

function bytesOf(base64: string): ArrayBuffer {
  const { buffer, byteOffset, byteLength } = Buffer.from(base64, 'base64');
  return (buffer as ArrayBuffer).slice(byteOffset, byteOffset + byteLength);
}

type Numbers = Int32Array | Float64Array;
type Plain = Record<string, unknown>;

/** Numbers as they are written under the name of their kind; null: there are none. */
function numbersOf(written: Record<string, string>): Numbers | null {
  const [[key, text] = ['', '']] = Object.entries(written);
  if (key === `${MARK}Float32Array`) return Float64Array.from(new Float32Array(bytesOf(text)));
  if (key === `${MARK}Int32Array`) return new Int32Array(bytesOf(text));
  return key === `${MARK}Float64Array` ? new Float64Array(bytesOf(text)) : null;
}

/** A list of numbers with others in some places. */
function withOthers(list: Numbers, which: ArrayBuffer, others: Numbers | null): Numbers {
  const bits = new Uint8Array(which);
  const out = list.slice();
  let next = 0;
  for (let i = 0; i < out.length; i++) if ((bits[i >> 3]! >> (i & 7)) & 1) out[i] = others![next++]!;
  return out;
}

/** An object with other values, those in it likewise. */
function withPart(whole: Plain, part: Plain): Plain {
  const out = { ...whole };
  for (const [key, value] of Object.entries(part)) {
    const isPlain = typeof value === 'object' && value !== null && !Array.isArray(value);
    out[key] = isPlain ? withPart(whole[key] as Plain, value as Plain) : value;
  }
  return out;
}

/** Reads the replies of one frame in the order in which they were packed. */
export function makeDeltaDecoder(): Unpacker {
  let last = new Map<string, unknown>();
  let number = 0;
  const unpacked = (text: string): unknown => {
    const { since, number: replyNumber, reply } = JSON.parse(text) as DeltaMessage;
    if (since > 0 && since !== number) throw new Error('The reply builds on one that is not the last.');
    const now = new Map<string, unknown>();
    const keep = <T>(path: string, value: T): T => {
      now.set(path, value);
      return value;
    };
    const revive = (value: unknown, path: string): unknown => {
      if (typeof value !== 'object' || value === null) return value;
      if (Array.isArray(value))
        return keep(
          path,
          typeof value[0] === 'string' ? value : value.map((entry, i) => revive(entry, `${path}/${i}`)),
        );
      for (const [key, inner] of Object.entries(value)) {
        if (key === SAME) return keep(path, last.get(path));
        if (key === MORE) {
          const [old, more] = [last.get(path) as string[], inner as string[]];
          return keep(path, more.length === 0 ? old : [...old, ...more]);
        }
        if (key === OTHERS) {
          const list = [...(last.get(path) as unknown[])];
          for (const [i, entry, part] of inner as Other[])
            list[i] = part ? withPart(list[i] as Plain, part) : entry;
          return keep(path, list);
        }
        if (key === WHICH) {
          const { [WHICH]: which, ...others } = value as Record<string, string>;
          return keep(path, withOthers(last.get(path) as Numbers, bytesOf(which!), numbersOf(others)));
        }
        const numbers = key.startsWith(MARK) ? numbersOf({ [key]: inner as string }) : null;
        if (numbers) return keep(path, numbers);
        if (typeof inner === 'object')
          (value as Record<string, unknown>)[key] = revive(inner, `${path}/${key}`);
      }
      return value;
    };
    const result = revive(reply, '');
    [last, number] = [now, replyNumber];
    return result;
  };
  return {
    since: () => number,
    unpack: (text) => {
      try {
        return unpacked(text);
      } catch (error) {
        const why = error instanceof Error ? error.message : String(error);
        throw new Error(
          `The page's reply is not one that can be read (${why}). Hold its scripts and open it again.`,
          { cause: error },
        );
      }
    },
  };
}
