/** Readings made by hand: names, kinds, contrast, what lies on top, and what a forged reading meets. */
import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { contrastOf, parseColor } from '../../../src/core/visibility/contrast.ts';
import { drawingOf, drawingSchema } from '../../../src/core/reports/drawing.ts';
import { columnTest, inFixed } from '../../../src/core/reading/column-predicates.ts';
import { hit, makeHitIndex } from '../../../src/core/boxes/hit-test.ts';
import { kindOf, refusal } from '../../../src/core/boxes/kinds.ts';
import { elementAt, labelOf, pathOf } from '../../../src/core/reading/labels.ts';
import { paintOrder } from '../../../src/core/boxes/paint-order.ts';
import { fromStored, readingSchema, toStored, type RawReading } from '../../../src/core/reading/reading.ts';
import { measureQuantity, quantityWithout, type Quantity } from '../../../src/core/search/measured-quantity.ts';
import { linesOfEach, linesWithin } from '../../../src/core/boxes/text-lines.ts';
import { isTurned } from '../../../src/core/boxes/transforms.ts';
import { edgesOf, makeTree } from '../../../src/core/boxes/tree.ts';

interface Node {
  tag: string;
  id?: string;
  classes?: string;
  rect?: [number, number, number, number];
  via?: number;
  used?: Record<string, string>;
  children?: Node[];
}

/** A reading of a made-up tree. Every element is a static visible block unless told otherwise. */
export function readingOf(root: Node): RawReading {
  const strings: string[] = [];
  const intern = (text: string) => (strings.includes(text) ? strings.indexOf(text) : strings.push(text) - 1);
  const rows: { node: Node; parent: number }[] = [];
  const visit = (node: Node, parent: number) => {
    const element = rows.push({ node, parent }) - 1;
    for (const child of node.children ?? []) visit(child, element);
  };
  visit(root, -1);
  const base: Record<string, string> = {
    display: 'block',
    position: 'static',
    float: 'none',
    visibility: 'visible',
    overflow: 'visible',
    transform: 'none',
    opacity: '1',
    'font-size': '16px',
    'font-weight': '400',
    color: 'rgb(0, 0, 0)',
    'background-color': 'rgba(0, 0, 0, 0)',
    margin: '0px',
    padding: '0px',
    'border-width': '0px',
    'z-index': 'auto',
  };
  const properties = new Set([
    ...Object.keys(base),
    ...rows.flatMap(({ node }) => Object.keys(node.used ?? {})),
  ]);
  const used = Object.fromEntries(
    [...properties].map((property) => [
      property,
      Int32Array.from(rows, ({ node }) => {
        const value = node.used?.[property] ?? base[property];
        return value === undefined ? -1 : intern(value);
      }),
    ]),
  );
  return {
    depth: 'full',
    engine: { name: 'chromium', version: '1' },
    viewport: { width: 800, height: 600, layoutWidth: 800, ratio: 1 },
    document: {
      mode: 'standards',
      url: '',
      title: '',
      scrollWidth: 800,
      scrollHeight: 600,
      clientWidth: 800,
      clientHeight: 600,
      scrollX: 0,
      scrollY: 0,
    },
    count: rows.length,
    unread: 0,
    parent: Int32Array.from(rows, ({ parent }) => parent),
    via: Int32Array.from(rows, ({ node }) => node.via ?? 0),
    tag: Int32Array.from(rows, ({ node }) => intern(node.tag)),
    idName: Int32Array.from(rows, ({ node }) => (node.id ? intern(node.id) : -1)),
    classes: Int32Array.from(rows, ({ node }) => (node.classes ? intern(node.classes) : -1)),
    rects: Float64Array.from(rows.flatMap(({ node }) => node.rect ?? [0, 0, 100, 100])),
    fragments: new Float64Array(0),
    scrolls: new Float64Array(0),
    used,
    computed: {},
    attributes: new Int32Array(0),
    closed: new Int32Array(0),
    matches: [],
    hops: {},
    media: [],
    containers: [],
    texts: new Float64Array(0),
    fonts: new Float64Array(0),
    natural: new Float64Array(0),
    pseudos: [],
    strings,
  };
}

const PAGE: Node = {
  tag: 'html',
  children: [
    { tag: 'head', used: { display: 'none' }, rect: [0, 0, 0, 0] },
    {
      tag: 'body',
      rect: [0, 0, 800, 600],
      children: [
        {
          tag: 'ul',
          classes: 'a  b',
          children: [
            { tag: 'li' },
            { tag: 'li', id: 'x' },
            { tag: 'x-y', children: [{ tag: 'p', via: 1 }, { tag: 'p' }] },
          ],
        },
      ],
    },
  ],
};

describe('names', () => {
  const reading = readingOf(PAGE);
  const cases: [number, string, string][] = [
    [0, 'html', 'html'],
    [2, 'body', 'body'],
    [3, 'ul.a.b', 'body > ul'],
    [5, 'li#x', 'body > ul > li:nth-child(2)'],
    [7, 'p', 'body > ul > x-y >>> p'],
    [8, 'p', 'body > ul > x-y > p'],
  ];
  for (const [element, label, path] of cases)
    test(path, () => {
      assert.equal(labelOf(reading, element), label);
      assert.equal(pathOf(reading, element), path);
      assert.equal(elementAt(reading, path), element);
    });
  for (const path of ['', 'body > ol', 'body > ul > li:nth-child(3)', 'nonsense here'])
    test(`nothing at “${path}”`, () => assert.equal(elementAt(reading, path), -1));
});

describe('kinds', () => {
  const cases: [string, Record<string, string>, Record<string, string>, string][] = [
    ['a block', {}, {}, 'block'],
    [
      'an absolutely positioned flex item is no flex item',
      { position: 'absolute' },
      { display: 'flex' },
      'absolute',
    ],
    ['a float in a flex container does not float', { float: 'left' }, { display: 'inline-flex' }, 'flex-item'],
    ['a float', { float: 'right' }, {}, 'float'],
    ['an inline-block', { display: 'inline-block' }, {}, 'inline-block'],
    ['a child of a grid', { display: 'inline' }, { display: 'grid' }, 'grid-item'],
    ['a cell', { display: 'table-cell' }, { display: 'table-row' }, 'table-cell'],
    ['no box', { display: 'none' }, {}, 'none'],
  ];
  for (const [name, own, outer, kind] of cases)
    test(name, () =>
      assert.equal(
        kindOf(
          readingOf({
            tag: 'html',
            children: [{ tag: 'div', used: outer, children: [{ tag: 'i', used: own }] }],
          }),
          2,
        ),
        kind,
      ),
    );
  test('what a kind does not take is said with its section', () => {
    assert.match(refusal('inline', 'width')!, /CSS 2\.2 §10\.2/);
    assert.match(refusal('table-cell', 'vertical margins')!, /no margins/);
    assert.equal(refusal('block', 'height'), null);
  });
});

describe('contrast (WCAG 2.2 §1.4.3)', () => {
  const text = (color: string, background: string, more: Record<string, string> = {}) =>
    contrastOf(
      readingOf({
        tag: 'html',
        used: { 'background-color': 'rgb(255, 255, 255)' },
        children: [{ tag: 'p', used: { color, 'background-color': background, ...more } }],
      }),
      1,
    );
  const cases: [string, string, string, Record<string, string>, number | null, boolean][] = [
    ['black on white', 'rgb(0, 0, 0)', 'rgb(255, 255, 255)', {}, 21, true],
    ['the grey that just fails', 'rgb(119, 119, 119)', 'rgba(0, 0, 0, 0)', {}, 4.48, false],
    ['large text needs less', 'rgb(119, 119, 119)', 'rgba(0, 0, 0, 0)', { 'font-size': '24px' }, 4.48, true],
    [
      'bold text from 18.66 px is large',
      'rgb(119, 119, 119)',
      'rgba(0, 0, 0, 0)',
      { 'font-size': '19px', 'font-weight': '700' },
      4.48,
      true,
    ],
    ['half-transparent layers are mixed', 'rgba(0, 0, 0, 0.5)', 'rgba(255, 255, 255, 0.5)', {}, 3.98, false],
    ['an unknown notation is not guessed', 'lab(50 0 0)', 'rgba(0, 0, 0, 0)', {}, null, false],
  ];
  for (const [name, color, background, more, ratio, passes] of cases)
    test(name, () => {
      const found = text(color, background, more);
      assert.equal(found.ratio === null ? null : Math.round(found.ratio * 100) / 100, ratio);
      assert.equal(found.passes, passes);
    });
  test('notations of engines', () => {
    assert.deepEqual(parseColor('color(srgb 1 0.5 0 / 0.25)'), [255, 127.5, 0, 0.25]);
    assert.deepEqual(parseColor('transparent'), [0, 0, 0, 0]);
  });
});

describe('what lies on top (CSS 2.2 Appendix E)', () => {
  const cases: [string, Node[], number][] = [
    ['the later of two blocks', [{ tag: 'a' }, { tag: 'b' }], 2],
    [
      'a positioned one over a later static one',
      [{ tag: 'a', used: { position: 'relative' } }, { tag: 'b' }],
      1,
    ],
    ['a float over a later block', [{ tag: 'a', used: { float: 'left' } }, { tag: 'b' }], 1],
    [
      'the higher z-index',
      [
        { tag: 'a', used: { position: 'relative', 'z-index': '2' } },
        { tag: 'b', used: { position: 'relative', 'z-index': '1' } },
      ],
      1,
    ],
    [
      'a negative z-index below',
      [{ tag: 'a' }, { tag: 'b', used: { position: 'relative', 'z-index': '-1' } }],
      1,
    ],
    ['a z-index on a static block does nothing', [{ tag: 'a', used: { 'z-index': '9' } }, { tag: 'b' }], 2],
    ['opacity makes a stacking context', [{ tag: 'a', used: { opacity: '0.9' } }, { tag: 'b' }], 1],
    ['what is hidden is not hit', [{ tag: 'a' }, { tag: 'b', used: { visibility: 'hidden' } }], 1],
    [
      'what is clipped is not hit',
      [
        { tag: 'a' },
        { tag: 'b', rect: [0, 0, 10, 10], used: { overflow: 'hidden' }, children: [{ tag: 'c' }] },
      ],
      1,
    ],
  ];
  for (const [name, children, expected] of cases)
    test(name, () => {
      const reading = readingOf({ tag: 'html', rect: [0, 0, 200, 200], children });
      assert.equal(hit(makeHitIndex(reading, paintOrder(makeTree(reading))), 50, 50), expected);
    });
  test('nesting of any depth', () => {
    let at: Node = { tag: 'i' };
    for (let i = 0; i < 5000; i++)
      at = { tag: 'i', used: { position: 'relative', 'z-index': '0', display: 'inline' }, children: [at] };
    const rows: RawReading = (() => {
      const reading = readingOf({ tag: 'html' });
      const column = (value: number) => new Int32Array(5002).fill(value);
      const text = (value: string) => reading.strings.push(value) - 1;
      return {
        ...reading,
        count: 5002,
        parent: Int32Array.from({ length: 5002 }, (_, i) => i - 1),
        via: column(0),
        tag: column(text('i')),
        rects: new Float64Array(5002 * 4).fill(9),
        used: {
          display: column(text('inline')),
          position: column(text('relative')),
          'z-index': column(text('0')),
        },
      };
    })();
    const order = paintOrder(makeTree(rows));
    assert.equal(order[5001], 5001);
  });
});

describe('readings', () => {
  const good = readingOf(PAGE);
  test('one to four edges', () => {
    const of = (padding: string) => edgesOf(readingOf({ tag: 'html', used: { padding } }), 'padding', 0);
    assert.deepEqual(of('1px'), { top: 1, right: 1, bottom: 1, left: 1 });
    assert.deepEqual(of('1px 2px 3px'), { top: 1, right: 2, bottom: 3, left: 2 });
    assert.deepEqual(of('1px 2px 3px 4px'), { top: 1, right: 2, bottom: 3, left: 4 });
  });
  test('stored and read back, a reading is the same', () =>
    assert.deepEqual(fromStored(JSON.parse(JSON.stringify(toStored(good)))), good));
  const nobody = [null];
  const forged: [string, Partial<Record<keyof RawReading, unknown>>, RegExp][] = [
    [
      'a parent behind its child',
      { parent: Int32Array.from(good.parent, (value, i) => (i === 3 ? 5 : value)) },
      /parent/,
    ],
    ['a column that is too short', { tag: new Int32Array(2) }, /2 entries where 9/],
    [
      'a table of strings with something else in it',
      { strings: [...good.strings.slice(1), 7] },
      /list of at most/,
    ],
    ['columns of which the strings are gone', { strings: [] }, /outside the table of strings/],
    [
      'texts with fewer pieces than they count',
      { texts: Float64Array.from([3, 0, 0, 2, 1, 1, 1, 1]) },
      /pieces/,
    ],
    ['texts of an element that is not there', { texts: Float64Array.from([99, 0, 0, 0]) }, /pieces/],
    ['a string that is not there', { classes: new Int32Array(9).fill(99) }, /outside the table of strings/],
    ['a rectangle that is no number', { rects: new Float64Array(36).fill(NaN) }, /finite/],
    ['a match that does not exist', { matches: [Int32Array.from([77])] }, /do not exist/],
    ['a count beyond all measure', { count: 1e9 }, /count/],
    ['text for a column', { tag: 'x' as never }, /tag/],
    ['a column of texts', { used: { ...good.used, width: ['1px'] } }, /whole numbers by property/],
    ['a list that passed for strings, for matches', { matches: good.strings }, /lists of elements/],
    ['matches for containers', { matches: nobody, containers: nobody }, /lists of elements/],
    ['nothing for a generated box', { pseudos: [null] }, /generated boxes/],
    [
      'a generated box of another name',
      { pseudos: [{ element: 0, name: 'marker', values: {} }] },
      /generated boxes/,
    ],
    [
      'a generated box with a number for a value',
      { pseudos: [{ element: 0, name: 'after', values: { width: 3 } }] },
      /generated boxes/,
    ],
    [
      'a generated box of nobody',
      { pseudos: [{ element: 99, name: 'after', values: {} }] },
      /elements that do not exist/,
    ],
  ];
  for (const [name, change, why] of forged)
    test(`refused: ${name}`, () => {
      const result = readingSchema.safeParse({ ...good, ...change });
      assert.equal(result.success, false);
      assert.match(
        result.error!.issues.map(({ path, message }) => `${path.join('.')} ${message}`).join('\n'),
        why,
      );
    });
  test('a drawing is small and valid', () => {
    const drawing = drawingSchema.parse(drawingOf(good));
    assert.ok(drawing.marks.length > 0 && drawing.height <= 750);
  });
});

describe('numbers of a page out of which elements were taken', () => {
  const box = (tag: string, y: number, children: Node[] = []): Node => ({
    tag,
    rect: [0, y, 50, 10],
    children,
  });
  const page = (...children: Node[]) => readingOf(box('html', 0, [box('body', 0, children)]));
  const before = page(box('p', 0, [box('b', 0)]), box('p', 10), box('i', 20), box('p', 30));
  const cases: [string, Quantity, number | null][] = [
    ['a box by a path that is another’s now', { of: 'size', path: 'body > p:nth-child(4)', axis: 'x' }, 70],
    ['a box that was taken', { of: 'size', path: 'body > p:nth-child(1)', axis: 'x' }, null],
    ['a box in one that was taken', { of: 'size', path: 'body > p:nth-child(1) > b', axis: 'x' }, null],
    [
      'a distance',
      {
        of: 'distance',
        a: { path: 'body > p:nth-child(2)', side: 'bottom' },
        b: { path: 'body > p:nth-child(4)', side: 'top' },
      },
      10,
    ],
  ];
  const after = makeTree(page(box('p', 0), box('i', 10), { tag: 'p', rect: [0, 20, 70, 10] }));
  for (const [name, quantity, wanted] of cases)
    test(name, () => {
      const taken = [elementAt(before, 'body > p:nth-child(1)')];
      assert.equal(quantityWithout(before, taken, after, quantity), wanted);
      assert.notEqual(measureQuantity(makeTree(before), quantity), null);
    });
});

describe('what boxes are, taken over from another reading', () => {
  const used = { transform: 'none', width: '50px', contain: 'none' };
  const ship = (own: Record<string, string> = {}, rect: Node['rect'] = [0, 0, 50, 20], tag = 'p') =>
    readingOf({
      tag: 'html',
      used,
      children: [
        {
          tag: 'body',
          used,
          children: [
            { tag, used: { ...used, ...own }, rect },
            { tag: 'i', used },
          ],
        },
      ],
    });
  /** The same with further texts before those that were there: numbers mean others. */
  const renumbered = (reading: RawReading): RawReading => ({
    ...reading,
    strings: ['flex', ...reading.strings],
    used: Object.fromEntries(
      Object.entries(reading.used).map(([property, column]) => [property, column.map((at) => at + 1)]),
    ),
    tag: reading.tag.map((at) => at + 1),
  });
  const longer = (reading: RawReading): RawReading => ({ ...reading, strings: [...reading.strings, '51px'] });
  const cases: [name: string, was: RawReading, is: RawReading, isKept: boolean][] = [
    ['elsewhere and larger', ship(), ship({}, [9, 9, 80, 30]), true],
    ['more texts', ship(), longer(ship()), true],
    ['other numbers of texts', ship(), renumbered(ship()), false],
    ['another display', ship(), ship({ display: 'flex' }), false],
    ['positioned', ship(), ship({ position: 'absolute' }), false],
    ['a float', ship(), ship({ float: 'left' }), false],
    ['another tag', ship(), ship({}, undefined, 'img'), false],
    ['contained', ship(), ship({ contain: 'paint' }), false],
    ['turned', ship(), ship({ transform: 'matrix(1, 0, 0, 1, 9, 0)' }), false],
    ['faded', ship(), ship({ opacity: '0.5' }), false],
    ['no longer laid out', ship({ width: 'auto' }), ship({ width: 'auto' }, [0, 0, 0, 0]), false],
  ];
  for (const [name, was, is, isKept] of cases)
    test(name, () => {
      const before = makeTree(was);
      const [tree, anew] = [makeTree(is, before), makeTree(is)];
      assert.equal(tree.kinds === before.kinds, isKept);
      for (const part of ['kinds', 'containingBlock', 'first', 'children'] as const)
        assert.deepEqual(tree[part], anew[part], part);
      assert.deepEqual(paintOrder(tree), paintOrder(anew));
      assert.equal(tree.reading, is);
    });
  test('moved by other transforms', () => {
    const was = ship({ transform: 'matrix(1, 0, 0, 1, 9, 0)' });
    const { transform } = was.used;
    const strings = [...was.strings, 'matrix(1, 0, 0, 1, 90, 0)'];
    const moved = transform!.map((at) => (was.strings[at] === 'none' ? at : strings.length - 1));
    const before = makeTree(was);
    assert.equal(
      makeTree({ ...was, strings, used: { ...was.used, transform: moved } }, before).kinds,
      before.kinds,
    );
  });
});

describe('lines of text', () => {
  /** Texts of elements of `PAGE`: the element, and middles of their pieces. */
  const cases: {
    name: string;
    texts: [element: number, middles: number[]][];
    lines: Record<number, number>;
  }[] = [
    { name: 'none', texts: [], lines: { 0: 0, 3: 0 } },
    { name: 'two of one text', texts: [[4, [10, 30]]], lines: { 0: 2, 2: 2, 3: 2, 4: 2, 5: 0 } },
    {
      name: 'a line of two texts is one, as far apart as 3 px',
      texts: [
        [4, [10, 30]],
        [5, [13, 50]],
      ],
      lines: { 3: 3, 4: 2, 5: 2 },
    },
    {
      name: 'what lies between two makes them one line',
      texts: [
        [4, [10, 15]],
        [5, [12.5]],
      ],
      lines: { 3: 1, 4: 2, 5: 1 },
    },
    {
      name: 'in a shadow tree and outside of it',
      texts: [
        [7, [10]],
        [8, [40]],
      ],
      lines: { 3: 2, 6: 2, 7: 1, 8: 1 },
    },
    {
      name: 'not in order',
      texts: [
        [5, [90]],
        [4, [10]],
        [3, [50]],
      ],
      lines: { 3: 3, 4: 1, 5: 1 },
    },
  ];
  for (const { name, texts, lines } of cases)
    test(name, () => {
      const reading = readingOf(PAGE);
      reading.texts = Float64Array.from(
        texts.flatMap(([element, middles]) => [
          element,
          0,
          0,
          middles.length,
          ...middles.flatMap((middle) => [0, middle - 8, 20, 16]),
        ]),
      );
      const tree = makeTree(reading);
      const each = linesOfEach(tree);
      for (const [element, number] of Object.entries(lines))
        assert.equal(each[Number(element)], number, `element ${element}`);
      for (let i = 0; i < tree.count; i++)
        assert.equal(each[i], linesWithin(tree, i), `element ${i} by itself`);
    });
});

describe('boxes seen from the side', () => {
  const flat = 'matrix3d(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 20, 30, 40, 1)';
  const tilted = 'matrix3d(0.94, 0, 0.34, 0, 0, 1, 0, 0, -0.34, 0, 0.94, 0, 0, 0, 0, 1)';
  const deep = 'matrix3d(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, -0.002, 0, 0, 0, 1)';
  for (const [name, used, turned] of [
    ['nothing', {}, false],
    ['moved', { transform: 'matrix(1, 0, 0, 1, 20, 30)' }, false],
    ['turned in the plane', { transform: 'matrix(0.87, 0.5, -0.5, 0.87, 0, 0)' }, false],
    ['moved nearer without perspective', { transform: flat }, false],
    ['turned about the y axis', { transform: tilted }, true],
    ['in perspective', { transform: deep }, true],
    ['rotate about z', { rotate: '30deg' }, false],
    ['rotate about z, said as a vector', { rotate: '0 0 1 30deg' }, false],
    ['rotate about x', { rotate: 'x 30deg' }, true],
    ['rotate about a vector', { rotate: '1 1 0 30deg' }, true],
  ] as [string, Record<string, string>, boolean][])
    test(name, () => assert.equal(isTurned(readingOf({ tag: 'div', used }), 0), turned));
});

describe('questions to a whole column', () => {
  const fixed = { used: { position: 'fixed' } };
  const reading = readingOf({
    tag: 'html',
    children: [
      { tag: 'nav', ...fixed, children: [{ tag: 'p' }] },
      { tag: 'p', used: { overflow: 'hidden' } },
    ],
  });
  const isHidden = (text: string) => text === 'hidden';

  test('are answered for each element, and once for readings that share the column', () => {
    const bytes = columnTest(reading, 'overflow', isHidden);
    assert.deepEqual([...bytes], [0, 0, 0, 1]);
    assert.equal(
      columnTest({ ...reading, strings: [...reading.strings, 'more'] }, 'overflow', isHidden),
      bytes,
    );
  });

  test('of what was not asked for are answered as of nothing', () => {
    assert.deepEqual([...columnTest(reading, 'rotate', (text) => text === '')], [1, 1, 1, 1]);
    assert.deepEqual([...columnTest(reading, 'rotate', isHidden)], [0, 0, 0, 0]);
  });

  test('go down to what lies in an element', () => assert.deepEqual([...inFixed(reading)], [0, 1, 1, 0]));
});
