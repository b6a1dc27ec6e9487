/**
 * What the collector sends: plain columns, one entry for each element in document order, checked here before
 * anything believes it. A hostile page can forge its own reading; it cannot make one that breaks its reader.
 */
import { z } from 'zod';

export const MAX_ELEMENTS = 120_000;
const MAX_STRINGS = 400_000;
const MAX_STRING = 200_000;

const ints = z.instanceof(Int32Array);
const floats = z.instanceof(Float64Array);
const text = z.string().max(MAX_STRING);
const size = z.number().finite();

/** Lists that were looked through: readings of one page share those that are the same in them. */
const sound = new WeakSet<readonly unknown[]>();
const table = z.custom<string[]>((value) => {
  if (!Array.isArray(value) || value.length > MAX_STRINGS) return false;
  if (!sound.has(value) && !value.every((entry) => typeof entry === 'string' && entry.length <= MAX_STRING))
    return false;
  sound.add(value);
  return true;
}, `must be a list of at most ${MAX_STRINGS} texts of at most ${MAX_STRING} characters`);

/** How an element hangs on its parent: as a child, as a child of its shadow root, or as root of its frame's document. */
export const VIA = { child: 0, shadow: 1, frame: 2 } as const;

export const engineSchema = z.object({ name: z.string().max(60), version: z.string().max(60) });

export const documentSchema = z.object({
  mode: z.enum(['standards', 'quirks']),
  url: text,
  title: text,
  scrollWidth: size,
  scrollHeight: size,
  clientWidth: size,
  clientHeight: size,
  scrollX: size,
  scrollY: size,
});

/** Lists of a reading that are found sound once for all readings that share them. */
function once<T extends z.ZodType>(schema: T, what: string) {
  const seen = new WeakSet<object>();
  return z.custom<z.infer<T>>((value) => {
    if (typeof value !== 'object' || value === null) return false;
    if (seen.has(value)) return true;
    const isSound = schema.safeParse(value).success;
    if (isSound) seen.add(value);
    return isSound;
  }, what);
}

/** Columns by property. */
const columns = z.custom<Record<string, Int32Array<ArrayBuffer>>>(
  (value) =>
    typeof value === 'object' &&
    value !== null &&
    Object.values(value).every((column) => column instanceof Int32Array),
  'must be lists of whole numbers by property',
);

export interface Pseudo {
  element: number;
  name: 'before' | 'after';
  values: Record<string, string>;
}

const isText = (value: unknown): boolean => typeof value === 'string' && value.length <= MAX_STRING;

/** Generated boxes: at each width others, and each with dozens of values. */
const pseudos = z.custom<Pseudo[]>(
  (value) =>
    Array.isArray(value) &&
    value.length <= MAX_ELEMENTS &&
    (value as (Partial<Pseudo> | null)[]).every((entry) => {
      const { element, name, values } = entry ?? {};
      return (
        Number.isInteger(element) &&
        element! >= 0 &&
        (name === 'before' || name === 'after') &&
        typeof values === 'object' &&
        values !== null &&
        Object.values(values).every(isText)
      );
    }),
  'must be generated boxes',
);

export const readingSchema = z
  .object({
    depth: z.enum(['full', 'outline']),
    engine: engineSchema,
    viewport: z.object({ width: size, height: size, layoutWidth: size, ratio: size }),
    document: documentSchema,
    count: z.number().int().min(0).max(MAX_ELEMENTS),
    /** Elements that the page has beyond those read. 0: all were read. */
    unread: z.number().int().min(0),
    strings: table,
    parent: ints,
    via: ints,
    tag: ints,
    idName: ints,
    classes: ints,
    /** Border boxes: x, y, width, height of each, relative to the document at scroll 0,0. */
    rects: floats,
    /** Of inline boxes in several pieces: the element, the number of pieces, then four numbers a piece. */
    fragments: floats,
    /** Of elements whose content is wider or taller than their padding box, or that scroll: element, then client and scroll sizes. */
    scrolls: floats,
    /** Used values while laid out, by property: an index into `strings`, −1 where it was not asked for. */
    used: columns,
    /** Computed values, read while the root was `display: none`. */
    computed: columns,
    /** Attributes that can carry style: element, index of the name, index of the value. */
    attributes: ints,
    /** Elements that could not be looked into: element, index of the reason. */
    closed: ints,
    /** For every query of the plan, the elements it matches; null where the engine calls it invalid. */
    matches: once(z.array(ints.nullable()), 'must be lists of elements'),
    /** For queries in a scope: steps from each match up to its scoping root. */
    hops: columns,
    media: z.array(z.boolean()),
    containers: once(z.array(ints), 'must be lists of elements'),
    /**
     * Text as it lies in lines: the element whose child it is, how many of the element's children stand before it,
     * 1 where it is white space alone, the number of pieces, then four numbers a piece.
     */
    texts: floats.default(() => new Float64Array()),
    /** Measures of the fonts in use: see `FontMeasures`; the first of seven numbers is the index of the font's key. */
    fonts: floats.default(() => new Float64Array()),
    /** Sizes that replaced elements have by themselves: element, width, height. 0: it has none. */
    natural: floats.default(() => new Float64Array()),
    /** Generated boxes: used values of every `::before` and `::after` that rules ask for and that has content. */
    pseudos: pseudos.default([]),
  })
  .superRefine((reading, context) => {
    const { count, strings } = reading;
    const say = (path: string, message: string) => context.addIssue({ code: 'custom', path: [path], message });
    const lengths = { parent: count, via: count, tag: count, idName: count, classes: count, rects: count * 4 };
    for (const [name, wanted] of Object.entries(lengths)) {
      const got = reading[name as keyof typeof lengths].length;
      if (got !== wanted) say(name, `has ${got} entries where ${wanted} were expected`);
    }
    for (const group of ['used', 'computed'] as const)
      for (const [property, column] of Object.entries(reading[group])) {
        if (column.length !== count)
          say(group, `${property} has ${column.length} entries where ${count} were expected`);
        else if (!within(column, -1, strings.length))
          say(group, `${property} points outside the table of strings`);
      }
    for (const name of ['tag', 'idName', 'classes'] as const)
      if (!within(reading[name], -1, strings.length)) say(name, 'points outside the table of strings');
    for (let i = 0; i < reading.parent.length; i++)
      if (reading.parent[i]! >= i || reading.parent[i]! < -1) {
        say('parent', `of element ${i} is ${reading.parent[i]}, not an element before it`);
        break;
      }
    for (const [i, list] of reading.matches.entries())
      if (list && !within(list, 0, count)) say('matches', `of query ${i} name elements that do not exist`);
    for (const list of reading.containers)
      if (!within(list, 0, count)) say('containers', 'name elements that do not exist');
    for (const name of ['rects', 'texts', 'fonts', 'natural'] as const)
      if (!areFinite(reading[name])) say(name, 'are not all finite numbers');
    if (reading.pseudos.some(({ element }) => element >= count))
      say('pseudos', 'name elements that do not exist');
    if (!areTexts(reading.texts, count)) say('texts', 'are not pieces of elements that exist');
    for (const name of ['attributes', 'closed'] as const)
      if (!within(reading[name], -1, Math.max(count, strings.length))) say(name, 'point outside the reading');
  });

/** Whether every entry names an element and has all the pieces that it counts. */
function areTexts(texts: Float64Array, count: number): boolean {
  let at = 0;
  while (at < texts.length) {
    const [element, pieces] = [texts[at], texts[at + 3]];
    if (element === undefined || pieces === undefined || pieces < 0 || element < 0 || element >= count)
      return false;
    at += 4 + pieces * 4;
  }
  return at === texts.length;
}

function areFinite(list: Float64Array): boolean {
  for (let i = 0; i < list.length; i++) if (!Number.isFinite(list[i])) return false;
  return true;
}

/** The least and the greatest number of a list: readings of one page share the lists that are the same in them. */
const extremes = new WeakMap<Int32Array, [least: number, greatest: number]>();

function within(list: Int32Array, low: number, high: number): boolean {
  let cached = extremes.get(list);
  if (!cached) {
    cached = [Infinity, -Infinity];
    for (let i = 0; i < list.length; i++) {
      if (list[i]! < cached[0]) cached[0] = list[i]!;
      if (list[i]! > cached[1]) cached[1] = list[i]!;
    }
    extremes.set(list, cached);
  }
  return cached[0] >= low && cached[1] < high;
}

export type RawReading = z.infer<typeof readingSchema>;

/** A reading as it came from a page. Throws where it is none. */
export function checkedReading(raw: unknown): RawReading {
  const parsed = readingSchema.safeParse(raw);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new Error(
    `The page's reading is not one (${issue?.path.join('.')}: ${issue?.message}). Hold its scripts and open it again.`,
  );
}

/** What an engine gives an element when the author says nothing, from a bare document. Keys as `defaultKey` makes them. */
export const defaultsSchema = z.record(
  z.string(),
  z.record(
    z.string(),
    z.object({
      value: text,
      /** The value is this many times the element's own font size (for `font-size`: the parent's). */
      em: z.number().optional(),
      /** The engine's style sheet says nothing: the value is the parent's. */
      inherited: z.boolean().optional(),
    }),
  ),
);
export type Defaults = z.infer<typeof defaultsSchema>;

/** A sheet in effect, as the collector found it in the document. */
export const sheetFoundSchema = z.object({
  /** Index into the collector's list of roots: 0 is the document, others are shadow roots. */
  root: z.number().int().min(0),
  /** The element that owns the sheet, counted among the style elements (`style`) or links (`link`) of its root; −1: constructed. */
  owner: z.number().int().min(-1),
  form: z.enum(['style', 'link', 'constructed']),
  /** Address of a linked sheet, empty for others. */
  address: text,
  media: text,
  text: z.string().max(5_000_000),
});
export type SheetFound = z.infer<typeof sheetFoundSchema>;

export const describedSchema = z.object({
  url: text,
  mode: z.enum(['standards', 'quirks']),
  engine: engineSchema,
  sheets: z.array(sheetFoundSchema).max(5000),
  roots: z.number().int().min(1),
  /** Whether the page's own scripts are held. */
  isHeld: z.boolean().optional(),
  defaultKeys: z.array(z.string().max(200)).max(2000),
});
export type Described = z.infer<typeof describedSchema>;

type Stored = Record<string, unknown>;
const TYPED = new Set(['Int32Array', 'Float64Array']);

/** A reading as plain JSON, typed arrays as `{ "Int32Array": [...] }`. */
export function toStored(reading: RawReading): Stored {
  return JSON.parse(
    JSON.stringify(reading, (_, value: unknown) => {
      if (value instanceof Int32Array) return { Int32Array: Array.from(value) };
      if (value instanceof Float64Array) return { Float64Array: Array.from(value) };
      return value;
    }),
  ) as Stored;
}

/** The reading that `toStored` made, checked like one that comes from a page. Throws a ZodError. */
export function fromStored(stored: unknown): RawReading {
  const revive = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(revive);
    if (value === null || typeof value !== 'object') return value;
    const keys = Object.keys(value);
    if (keys.length === 1 && TYPED.has(keys[0]!)) {
      const numbers = z.array(z.number()).parse((value as Stored)[keys[0]!]);
      return keys[0] === 'Int32Array' ? Int32Array.from(numbers) : Float64Array.from(numbers);
    }
    return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, revive(inner)]));
  };
  return readingSchema.parse(revive(stored));
}

/** What can be another value than in the reading before, besides what layout makes of it. */
export interface Changed {
  /** Names under which readings hold values. */
  properties: string[];
  /** The elements that alone can have other values of them; null: any. */
  elements: number[] | null;
  /**
   * By media condition, under what names a reading can hold other values where it holds and did not, or the other way round.
   * None: nothing comes of it; null: anything can be another. Not there: no condition changes.
   */
  media?: (string[] | null)[];
}

/** Properties that a reading asks for, in groups that only some elements need. */
export interface Wanted {
  used: string[];
  positioned: string[];
  flexContainer: string[];
  flexItem: string[];
  gridContainer: string[];
  gridItem: string[];
  table: string[];
  computed: string[];
  /** Computed values of relatively positioned elements. */
  relative: string[];
  /** Asked for only of elements for which some declaration names them: others have their initial value. */
  rare: string[];
  pseudo: string[];
}

const words = (list: string): string[] => list.split(' ');

export const FULL: Wanted = {
  used: words(
    'display position float clear box-sizing width height margin padding border-width overflow font-size line-height ' +
      'font-family font-weight color background-color writing-mode direction vertical-align transform opacity ' +
      'visibility white-space text-align font-style',
  ),
  positioned: words('top right bottom left z-index'),
  flexContainer: words('flex-direction flex-wrap align-items align-content justify-content row-gap column-gap'),
  flexItem: words('flex-grow flex-shrink flex-basis align-self order z-index'),
  gridContainer: words(
    'grid-template-columns grid-template-rows grid-auto-flow align-items align-content justify-items justify-content row-gap column-gap',
  ),
  gridItem: words(
    'grid-row-start grid-row-end grid-column-start grid-column-end align-self justify-self z-index',
  ),
  table: words('table-layout border-collapse border-spacing caption-side'),
  computed: words('width height min-width min-height max-width max-height margin padding'),
  relative: words('inset'),
  rare: words(
    'transform-origin contain container-type content-visibility filter backdrop-filter perspective will-change translate ' +
      'rotate scale aspect-ratio column-count column-width column-span column-gap justify-self align-self align-content ' +
      '-webkit-line-clamp',
  ),
  pseudo: words(
    'content display position float clear box-sizing width height margin padding border-width line-height font-size ' +
      'font-family font-weight font-style vertical-align overflow top left transform opacity background-color z-index',
  ),
};

export const OUTLINE: Wanted = {
  used: words('display position float visibility overflow'),
  positioned: [],
  flexContainer: [],
  flexItem: [],
  gridContainer: [],
  gridItem: [],
  table: [],
  computed: [],
  relative: [],
  rare: [],
  pseudo: [],
};
