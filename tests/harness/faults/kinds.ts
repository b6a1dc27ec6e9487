/** Faults to be planted on pages that are sound: what is done, and how it is seen in the engine without any of our reasoning. */
import type { Analysis } from '../../../src/core/analysis.ts';
import { laidAreas } from '../../../src/core/boxes/areas.ts';
import { pathOf, tagOf } from '../../../src/core/reading/labels.ts';
import { childrenOf, hasBox, inside, rectOf, usedText } from '../../../src/core/boxes/tree.ts';
import { visibilityOf } from '../../../src/core/visibility/visibility.ts';
import type { Draw } from '../conformance/families.ts';

export interface Fault {
  name: string;
  /** Kinds of findings as which it may be told. */
  as: string[];
  /** Whether an element can have it. */
  fits: (analysis: Analysis, element: number) => boolean;
  /** Declarations for the element; the first is the culprit. */
  css: (draw: Draw) => string[];
  /** Content that takes the place of the element's own. */
  markup?: string;
  /** Whether it can be seen: an expression for the page, with `e` the element; it gives px. */
  seen: string;
}

const lines = ({ tree }: Analysis, element: number): number =>
  new Set((inside(tree).texts.get(element) ?? []).flatMap(({ pieces }) => pieces.map(({ y }) => Math.round(y))))
    .size;
const isBlock = (analysis: Analysis, element: number): boolean =>
  analysis.tree.kinds[element] === 'block' &&
  usedText(analysis.reading, 'display', element) === 'block' &&
  rectOf(analysis.reading, element).width > 200;
const isText = (analysis: Analysis, element: number): boolean =>
  isBlock(analysis, element) &&
  lines(analysis, element) >= 1 &&
  /^(p|div|h\d|dd|blockquote)$/.test(tagOf(analysis.reading, element));
const followed = (analysis: Analysis, element: number): boolean => {
  const parent = analysis.reading.parent[element]!;
  const list = childrenOf(analysis.tree, parent).filter((child) => hasBox(analysis.tree, child));
  const next = list[list.indexOf(element) + 1];
  return next !== undefined && lines(analysis, next) > 0 && isBlock(analysis, next);
};
const isFree = (analysis: Analysis, element: number): boolean => {
  for (let at = analysis.reading.parent[element]!; at > 0; at = analysis.reading.parent[at]!)
    if (
      /hidden|auto|scroll|clip/.test(usedText(analysis.reading, 'overflow', at)) &&
      tagOf(analysis.reading, at) !== 'body'
    )
      return false;
  return true;
};
const inline = (analysis: Analysis, element: number): boolean =>
  analysis.tree.kinds[element] === 'inline' &&
  /^(a|span|b|i|code|em|strong)$/.test(tagOf(analysis.reading, element)) &&
  rectOf(analysis.reading, element).width > 20;

const PAGE = 'document.documentElement.scrollWidth - document.documentElement.clientWidth';
const GAIN = 'e.getBoundingClientRect()';
const OVER = `(() => { const r = document.createRange(); r.selectNodeContents(e); const n = e.nextElementSibling; if (!n) return 0; const [a, b] = [r.getBoundingClientRect(), n.getBoundingClientRect()]; return Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top); })()`;
/** The same of the lines of both: what is moved can come to lie between the lines of the next, and covers none. */
const LINES_OVER = `(() => { const lines = (one) => { const r = document.createRange(); r.selectNodeContents(one); return [...r.getClientRects()]; }; const n = e.nextElementSibling; if (!n) return 0; return Math.max(0, ...lines(e).flatMap((a) => lines(n).map((b) => Math.min(a.right, b.right) - Math.max(a.left, b.left) < 4 ? 0 : Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) - 0.25 * Math.min(a.height, b.height)))); })()`;
/** Px by which an element or the height around it shifts where it can take what was planted on it. */
const SHIFT = (property: string, value: string): string =>
  `(() => { const at = () => [e.getBoundingClientRect().top, e.parentElement.getBoundingClientRect().height]; const was = at(); e.style.setProperty('${property}', '${value}', 'important'); const now = at(); e.style.removeProperty('${property}'); return Math.max(...was.map((one, i) => Math.abs(one - now[i]))); })()`;

const wide = (
  name: string,
  css: string[],
  fits = (a: Analysis, e: number) => isBlock(a, e) && isFree(a, e),
): Fault => ({
  name,
  as: ['overflow'],
  fits,
  css: () => css,
  seen: PAGE,
});

export const FAULTS: Fault[] = [
  wide('width-px', ['width: 1900px']),
  wide('min-width-px', ['min-width: 1700px']),
  wide('width-vw', ['width: 140vw']),
  wide('width-percent', ['width: 160%']),
  wide('content-box', ['width: 100%', 'box-sizing: content-box', 'padding-left: 700px']),
  wide('margin-left', ['margin-left: 1000px', 'width: 400px']),
  wide('negative-margin', ['margin-right: -700px']),
  wide('offset', ['position: relative', 'left: 900px']),
  wide('transform', ['transform: translateX(900px)']),
  wide('nowrap', ['white-space: nowrap'], (a, e) => isText(a, e) && lines(a, e) >= 2 && isFree(a, e)),
  wide('pre', ['white-space: pre'], (a, e) => isText(a, e) && lines(a, e) >= 3 && isFree(a, e)),
  {
    ...wide('long-word', ['overflow-wrap: normal'], (a, e) => isText(a, e) && isFree(a, e)),
    markup: `Harbour${'x'.repeat(400)}`,
  },
  {
    ...wide('wide-picture', ['max-width: none'], (a, e) => isText(a, e) && isFree(a, e)),
    markup:
      '<svg style="max-width: none; flex: none" width="2100" height="40"><rect width="2100" height="40"/></svg>',
  },
  {
    ...wide('flex-row', ['display: flex'], (a, e) => isText(a, e) && isFree(a, e)),
    markup:
      '<span style="flex: none; width: 900px">Mole</span><span style="flex: none; width: 900px">Pier</span>',
  },
  {
    ...wide(
      'grid-tracks',
      ['display: grid; grid-template-columns: 900px 900px'],
      (a, e) => isText(a, e) && isFree(a, e),
    ),
    markup: '<span>Mole</span><span>Pier</span>',
  },
  {
    name: 'fixed-height',
    as: ['overlap'],
    fits: (a, e) => isText(a, e) && lines(a, e) >= 3 && followed(a, e) && isFree(a, e),
    css: () => ['height: 1.4em'],
    seen: OVER,
  },
  {
    name: 'max-height',
    as: ['overlap'],
    fits: (a, e) => isText(a, e) && lines(a, e) >= 3 && followed(a, e) && isFree(a, e),
    css: () => ['max-height: 1.4em'],
    seen: OVER,
  },
  {
    name: 'margin-pull',
    as: ['overlap'],
    fits: (a, e) => isText(a, e) && lines(a, e) >= 2 && followed(a, e),
    css: () => ['margin-bottom: -44px'],
    seen: OVER,
  },
  {
    name: 'relative-down',
    as: ['overlap'],
    fits: (a, e) => isText(a, e) && lines(a, e) >= 1 && followed(a, e),
    css: () => ['position: relative; top: 46px'],
    seen: LINES_OVER,
  },
  {
    name: 'clip-height',
    as: ['clip'],
    fits: (a, e) => isText(a, e) && lines(a, e) >= 3,
    css: () => ['overflow: hidden', 'height: 2em'],
    seen: 'e.scrollHeight - e.clientHeight',
  },
  {
    name: 'clip-width',
    as: ['clip'],
    fits: (a, e) => isText(a, e) && lines(a, e) >= 2,
    css: () => ['overflow: hidden', 'white-space: nowrap'],
    seen: 'e.scrollWidth - e.clientWidth',
  },
  {
    name: 'far-helper',
    as: ['stray-scroll'],
    fits: (a, e) => isText(a, e) && isFree(a, e),
    css: () => ['position: absolute; top: 60000px; opacity: 0'],
    // Where something else keeps it in sight, it is text far down, and no helper.
    seen: "getComputedStyle(e).opacity === '0' ? document.documentElement.scrollHeight - document.body.getBoundingClientRect().bottom - scrollY : 0",
  },
  {
    name: 'baseline-gap',
    as: ['gap'],
    fits: (a, e) => isText(a, e),
    css: () => ['background-color: #dde; padding: 0; border: 0'],
    markup:
      '<img alt="" width="120" height="60" src="data:image/svg+xml,%3Csvg xmlns=%22http://www.w3.org/2000/svg%22 width=%22120%22 height=%2260%22/%3E">',
    seen: `${GAIN}.bottom - parseFloat(getComputedStyle(e).paddingBottom) - e.firstElementChild.getBoundingClientRect().bottom`,
  },
  {
    name: 'thirds',
    as: ['gap'],
    fits: (a, e) => isText(a, e),
    css: () => ['padding: 0'],
    markup:
      '<span style="display:inline-block;width:50%;box-sizing:border-box">Mole</span> <span style="display:inline-block;width:50%;box-sizing:border-box">Pier</span>',
    seen: 'e.lastElementChild.getBoundingClientRect().top - e.firstElementChild.getBoundingClientRect().top',
  },
  {
    name: 'not-square',
    as: ['size'],
    fits: (a, e) => isText(a, e),
    css: () => ['padding: 0 15px', 'width: 90px', 'height: 90px', 'box-sizing: content-box', 'border: 0'],
    markup: 'Mole',
    seen: `${GAIN}.width - ${GAIN}.height`,
  },
  {
    name: 'inflated',
    as: ['size'],
    fits: (a, e) => isText(a, e) && followed(a, e),
    css: () => ['width: 240px', 'padding: 0 24px', 'box-sizing: content-box'],
    markup: 'Mole and pier',
    seen: `${GAIN}.width - 240`,
  },
  {
    name: 'percent-height',
    as: ['percent-height'],
    fits: (a, e) =>
      isText(a, e) && followed(a, e) && laidAreas(a.tree, a.reading.parent[e]!).content.height > 120,
    css: () => ['height: 70%'],
    // Where the percentage counts, the box is as tall as it says.
    seen: `(() => { const tall = () => e.getBoundingClientRect().height; const was = tall(); e.style.height = 'auto'; const is = tall(); e.style.height = ''; return Math.abs(was - is) < 0.5 ? Math.abs(was - 0.7 * e.parentElement.clientHeight) : 0; })()`,
  },
  {
    name: 'width-on-inline',
    as: ['inert'],
    fits: inline,
    css: () => ['width: 220px'],
    seen: `220 - ${GAIN}.width`,
  },
  {
    name: 'margin-on-inline',
    as: ['inert'],
    fits: inline,
    css: () => ['margin-top: 40px'],
    seen: SHIFT('display', 'inline-block'),
  },
  {
    name: 'offset-on-static',
    as: ['inert'],
    fits: (a, e) => isText(a, e),
    css: () => ['top: 40px'],
    seen: SHIFT('position', 'relative'),
  },
  {
    name: 'typo-name',
    as: ['dropped'],
    fits: isText,
    css: () => ['paddign-left: 40px'],
    seen: '40 - parseFloat(getComputedStyle(e).paddingLeft)',
  },
  {
    name: 'typo-space',
    as: ['dropped'],
    fits: isText,
    css: () => ['padding-top: 40 px'],
    seen: '40 - parseFloat(getComputedStyle(e).paddingTop)',
  },
  {
    name: 'typo-unit',
    as: ['dropped'],
    fits: isText,
    css: () => ['margin-top: 40'],
    seen: '40 - parseFloat(getComputedStyle(e).marginTop)',
  },
];

/** Elements that can have a fault, in the viewport's first screens so that they are likely to be seen. */
export function placesFor(analysis: Analysis, fault: Fault): number[] {
  const { visible } = visibilityOf(analysis);
  const out: number[] = [];
  for (let i = 1; i < analysis.tree.count; i++)
    if (
      visible[i] &&
      hasBox(analysis.tree, i) &&
      !pathOf(analysis.reading, i).includes('>>>') &&
      fault.fits(analysis, i)
    )
      out.push(i);
  return out;
}
