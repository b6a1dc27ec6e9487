/** Readings of a page and of the documents in its frames put together, in the page's own coordinates. */
import { inset } from '../geometry/rect.ts';
import { VIA, type RawReading } from './reading.ts';
import { edgesOf, rectOf } from '../boxes/tree.ts';

export interface Document {
  reading: RawReading;
  /** Place in the list of the document that holds this one's frame; −1 for the page itself. */
  holder: number;
  /** The frame's element in its holder's reading. */
  owner: number;
}

export interface Placed {
  /** Number of the document's first element in the whole. */
  base: number;
  /** What is added to the document's own coordinates. */
  x: number;
  y: number;
  /** The frame's element in the whole; −1 for the page itself. */
  owner: number;
}

export interface Whole {
  reading: RawReading;
  placed: Placed[];
}

/** Documents stand behind those that hold them. What asks about styles is to be asked of a document's own reading. */
export function wholeOf(documents: Document[]): Whole {
  const placed: Placed[] = [];
  let count = 0;
  for (const { reading, holder, owner } of documents) {
    const above = placed[holder];
    const frame = documents[holder]?.reading;
    if (!above || !frame) placed.push({ base: count, x: 0, y: 0, owner: -1 });
    else {
      const border = inset(rectOf(frame, owner), edgesOf(frame, 'border-width', owner));
      const content = inset(border, edgesOf(frame, 'padding', owner));
      const { scrollX, scrollY } = reading.document;
      placed.push({
        base: count,
        x: above.x + content.x - scrollX,
        y: above.y + content.y - scrollY,
        owner: above.base + owner,
      });
    }
    count += reading.count;
  }
  const [page] = documents;
  const properties = (group: 'used' | 'computed') =>
    new Set(documents.flatMap(({ reading }) => Object.keys(reading[group])));
  const column = () => new Int32Array(count).fill(-1);
  const columns = (group: 'used' | 'computed') =>
    Object.fromEntries([...properties(group)].map((name) => [name, column()]));
  const strings: string[] = [];
  const whole: RawReading = {
    ...page!.reading,
    count,
    unread: documents.reduce((sum, { reading }) => sum + reading.unread, 0),
    strings,
    parent: column(),
    via: column(),
    tag: column(),
    idName: column(),
    classes: column(),
    rects: new Float64Array(count * 4),
    used: columns('used'),
    computed: columns('computed'),
  };
  const lists = {
    fragments: [] as number[],
    scrolls: [] as number[],
    attributes: [] as number[],
    closed: [] as number[],
  };
  documents.forEach(({ reading }, d) => {
    const { base, x, y, owner } = placed[d]!;
    const shift = strings.length;
    for (const text of reading.strings) strings.push(text);
    const text = (index: number) => (index < 0 ? -1 : index + shift);
    for (let i = 0; i < reading.count; i++) {
      const parent = reading.parent[i]!;
      whole.parent[base + i] = parent < 0 ? owner : base + parent;
      whole.via[base + i] = parent < 0 && d > 0 ? VIA.frame : reading.via[i]!;
      for (const name of ['tag', 'idName', 'classes'] as const) whole[name][base + i] = text(reading[name][i]!);
      for (let k = 0; k < 4; k++)
        whole.rects[(base + i) * 4 + k] = reading.rects[i * 4 + k]! + (k === 0 ? x : k === 1 ? y : 0);
    }
    for (const group of ['used', 'computed'] as const)
      for (const [name, column] of Object.entries(reading[group]))
        column.forEach((index, i) => (whole[group][name]![base + i] = text(index)));
    for (let i = 0; i + 1 < reading.fragments.length;) {
      const pieces = reading.fragments[i + 1]!;
      lists.fragments.push(base + reading.fragments[i]!, pieces);
      for (let k = 0; k < pieces * 4; k++)
        lists.fragments.push(reading.fragments[i + 2 + k]! + (k % 4 === 0 ? x : k % 4 === 1 ? y : 0));
      i += 2 + pieces * 4;
    }
    reading.scrolls.forEach((value, i) => lists.scrolls.push(i % 5 === 0 ? base + value : value));
    reading.attributes.forEach((value, i) => lists.attributes.push(i % 3 === 0 ? base + value : text(value)));
    for (let i = 0; i + 1 < reading.closed.length; i += 2) {
      const element = base + reading.closed[i]!;
      if (!placed.some((placed) => placed.owner === element))
        lists.closed.push(element, text(reading.closed[i + 1]!));
    }
  });
  return {
    placed,
    reading: {
      ...whole,
      fragments: Float64Array.from(lists.fragments),
      scrolls: Float64Array.from(lists.scrolls),
      attributes: Int32Array.from(lists.attributes),
      closed: Int32Array.from(lists.closed),
    },
  };
}

/** The document that an element of the whole belongs to, and its number there. */
export function locate(
  { placed }: Pick<Whole, 'placed'>,
  element: number,
): { document: number; local: number } {
  let document = placed.length - 1;
  while (document > 0 && placed[document]!.base > element) document--;
  return { document, local: element - (placed[document]?.base ?? 0) };
}
