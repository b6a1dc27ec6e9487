/**
 * Replies as text: of a reply with arrays of numbers that is sent far faster, and each number comes out as it was, since their
 * bytes are sent as base64 (RFC 4648 §4). Of what a page answers time after time, only the arrays that are others than the
 * last time are written out.
 */

/** Before the name of an array's kind, where it is the only key of an object. */
export const MARK = '\u0001';
/** Keys of what is as in the last reply, of what has come to the end of a list of strings, and of others in a list of objects. */
export const SAME = `${MARK}same`;
export const MORE = `${MARK}more`;
export const OTHERS = `${MARK}others`;
/** Key of a bit for each number of a list, the lowest of a byte first, that says whether it is another; beside it those numbers. */
export const WHICH = `${MARK}which`;

/** A reply, by what it was told apart from; `since` 0: from nothing. */
export interface DeltaMessage {
  since: number;
  number: number;
  reply: unknown;
}

/** One of a list of objects that is another than in the last reply: which, and it as a whole or in part (`partOf`). */
export type Other =
  [index: number, whole: unknown] | [index: number, whole: null, part: Record<string, unknown>];

type Numbers = Int32Array | Float64Array;
const isNumbers = (value: unknown): value is Numbers =>
  value instanceof Int32Array || value instanceof Float64Array;
export const isSame = (a: ArrayLike<unknown>, b: ArrayLike<unknown>): boolean => {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};

const startsWith = (list: string[], { list: old, length }: Listed): boolean => {
  if (old === list) return list.length >= length;
  for (let i = 0; i < length; i++) if (old[i] !== list[i]) return false;
  return true;
};

const areSame = (a: (Numbers | null)[], b: (Numbers | null)[]): boolean =>
  a.length === b.length &&
  a.every((entry, i) => {
    const other = b[i]!;
    if (entry === null || other === null) return entry === other;
    return entry === other || (entry.constructor === other.constructor && isSame(entry, other));
  });

/** A list of objects, which are not changed once they have been packed. */
interface Objects {
  objects: unknown[];
}

/** A list of strings as long as it was: whoever has it may put more to its end. */
interface Listed {
  list: string[];
  length: number;
}

/** Characters that are made of bytes at once: as many as one call can take. */
const AT_ONCE = 8192;

/** Numbers as they take least room without being others. */
function written(numbers: Numbers): Record<string, string> {
  if (numbers instanceof Float64Array) {
    const short = new Float32Array(numbers);
    let i = 0;
    while (i < numbers.length && Object.is(short[i], numbers[i])) i++;
    if (i === numbers.length) return { [`${MARK}Float32Array`]: base64(short) };
  }
  return { [MARK + numbers.constructor.name]: base64(numbers) };
}

/** Those numbers that are others than in a list of the same kind and length; null: to write out all takes less. */
function otherNumbers(now: Numbers, old: Numbers): Record<string, string> | null {
  const which = new Uint8Array((now.length + 7) >> 3);
  const others: number[] = [];
  for (let i = 0; i < now.length; i++) {
    if (now[i] === old[i]) continue;
    which[i >> 3]! |= 1 << (i & 7);
    others.push(now[i]!);
  }
  if (others.length * 2 > now.length) return null;
  const kind = now instanceof Float64Array ? Float64Array : Int32Array;
  return { [WHICH]: base64(which), ...written(kind.from(others)) };
}

type Plain = Record<string, unknown>;
const isPlain = (value: unknown): value is Plain =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What of an object is another than before, objects in it likewise; null: it, or one in it, has other keys. */
function partOf(now: unknown, old: unknown): Plain | null {
  if (!isPlain(now) || !isPlain(old)) return null;
  const keys = Object.keys(now);
  if (keys.length !== Object.keys(old).length) return null;
  const out: Plain = {};
  for (const key of keys) {
    const [is, was] = [now[key], old[key]];
    if (is === was) continue;
    if (!(key in old)) return null;
    const part = isPlain(is) ? partOf(is, was) : JSON.stringify(is) === JSON.stringify(was) ? {} : is;
    if (part === null && is !== null) return null;
    if (!isPlain(part) || Object.keys(part).length > 0) out[key] = part;
  }
  return out;
}

/** The bytes of numbers, in the order of this machine. */
function base64({ buffer, byteOffset, byteLength }: Numbers | Float32Array | Uint8Array): string {
  const bytes: Uint8Array & { toBase64?: () => string } = new Uint8Array(buffer, byteOffset, byteLength);
  if (bytes.toBase64) return bytes.toBase64();
  let text = '';
  for (let at = 0; at < bytes.length; at += AT_ONCE)
    text += String.fromCharCode(...bytes.subarray(at, at + AT_ONCE));
  return btoa(text);
}

/**
 * Packs the replies of one frame; `since`: the number of the last that whoever reads them has, 0: none. Arrays of numbers and
 * of objects are not changed once they have been packed.
 */
export function makeDeltaEncoder(): (reply: unknown, since: number) => string {
  /** Arrays of the last reply by where they stand in it. */
  let last = new Map<string, Numbers | (Numbers | null)[] | Listed | Objects>();
  let number = 0;
  return (reply, since) => {
    const isKnown = since > 0 && since === number;
    const now: typeof last = new Map();
    const was = (path: string) => (isKnown ? last.get(path) : undefined);
    const packed = (value: unknown, path: string): unknown => {
      if (typeof value !== 'object' || value === null) return value;
      if (isNumbers(value)) {
        now.set(path, value);
        const old = was(path);
        if (!isNumbers(old) || old.constructor !== value.constructor) return written(value);
        if (old === value || isSame(old, value)) return { [SAME]: 1 };
        return (old.length === value.length && otherNumbers(value, old)) || written(value);
      }
      if (Array.isArray(value) && typeof value[0] === 'string') {
        const list = value as string[];
        now.set(path, { list, length: list.length });
        const old = was(path);
        return old && 'list' in old && startsWith(list, old) ? { [MORE]: list.slice(old.length) } : list;
      }
      if (
        Array.isArray(value) &&
        path &&
        typeof value[0] === 'object' &&
        !value.some((entry) => isNumbers(entry))
      ) {
        const old = was(path);
        now.set(path, { objects: value });
        if (!old || !('objects' in old) || old.objects.length !== value.length) return value;
        const others = value.flatMap((entry, i): Other[] => {
          if (entry === old.objects[i]) return [];
          const part = partOf(entry, old.objects[i]);
          if (part === null) return [[i, entry]];
          return Object.keys(part).length === 0 ? [] : [[i, null, part]];
        });
        return others.length === 0 ? { [SAME]: 1 } : { [OTHERS]: others };
      }
      if (
        Array.isArray(value) &&
        value.length > 0 &&
        value.every((entry) => entry === null || isNumbers(entry))
      ) {
        const lists = value as (Numbers | null)[];
        now.set(path, lists);
        const old = was(path);
        if (old === lists || (Array.isArray(old) && areSame(old, lists))) return { [SAME]: 1 };
      }
      if (Array.isArray(value)) return value.map((entry, i) => packed(entry, `${path}/${i}`));
      return Object.fromEntries(
        Object.entries(value).map(([key, inner]) => [key, packed(inner, `${path}/${key}`)]),
      );
    };
    const result: DeltaMessage = { since: isKnown ? since : 0, number: number + 1, reply: packed(reply, '') };
    const text = JSON.stringify(result);
    [last, number] = [now, number + 1];
    return text;
  };
}
