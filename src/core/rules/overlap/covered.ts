/** Text and controls that lie under the ground of another box (CSS 2.2 Appendix E). */
import Flatbush from 'flatbush';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { declaredPx } from '../../accounts/sizing/declared.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { frames, rectOf, usedPx, usedText } from '../../boxes/tree.ts';
import { layoutPiece } from '../../boxes/transforms.ts';
import { isMark, isTwoFaced } from '../../evidence/overlap-intent.ts';
import { layerFacts } from '../../evidence/layers.ts';
import { facts, type Fact } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { type Axis, type Rect, px } from '../../geometry/rect.ts';
import { inFixed } from '../../reading/column-predicates.ts';
import { tagOf } from '../../reading/labels.ts';
import {
  boxName,
  hasSolidGround,
  inkOf,
  intersection,
  isReplacedOrControl,
  isSelfOrAncestor,
  isTransformed,
  labelInk,
  letterBand,
  selfAndAncestors,
  visibleInk,
  visiblePart,
} from '../../visibility/visibility.ts';
import { isBarOfView } from '../../visibility/placement.ts';
import { common } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isSameSort } from '../like-boxes.ts';
import { isUnseen, stopsByEvidence, stopsByVisibility } from '../stops.ts';
import { suspectsOfPlaced } from './room-for-placed.ts';
import { sharedCells } from './shared-cells.ts';
import { fix, suspect } from '../suspects.ts';

const LEAST = 3;

const PICTURES = /^(img|picture|video|canvas|svg|iframe|object)$/;

interface Ink {
  element: number;
  rect: Rect;
}

/** What can be read or used of a box: its letters, or what a control holds inside of its edges. */
function legibleOf(analysis: Analysis, element: number): Rect[] {
  const { tree } = analysis;
  const label = labelInk(analysis, element);
  if (label.length > 0) return label.map(letterBand);
  if (!isReplacedOrControl(tree, element)) return inkOf(analysis, element).map(letterBand);
  return PICTURES.test(tagOf(tree.reading, element))
    ? [rectOf(tree.reading, element)]
    : [laidAreas(tree, element).content];
}

interface Covered {
  key: string;
  /** The box beside the cover that the covered text sticks out of; −1: it lies within its own. */
  owner: number;
  /** The box around the cover, or the cover, that is a child of what holds both. */
  lifted: number;
  cover: number;
  element: number;
  cut: Rect;
  /** Part of the covered text that lies under it. */
  share: number;
}

function coveredText(analysis: Analysis): Observed[] {
  const { tree, reading, order } = analysis;
  const inks: Ink[] = [];
  const covers: number[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (isUnseen(analysis, i)) continue;
    for (const ink of legibleOf(analysis, i)) {
      const rect = visibleInk(analysis, i, ink);
      if (rect && rect.width > 1 && rect.height > 1) inks.push({ element: i, rect });
    }
    const isCover = hasSolidGround(analysis, i) || PICTURES.test(tagOf(reading, i)) || isMark(tree, i);
    if (stopsByVisibility(analysis, i, !isCover && 'it has no ground that would hide anything')) continue;
    if (
      stopsByEvidence(
        analysis,
        i,
        inFixed(reading)[i] === 1 && isOfDialog(analysis, i) && 'it takes most of the view, like a dialog',
      )
    )
      continue;
    covers.push(i);
  }
  if (inks.length === 0 || covers.length === 0) return [];
  const index = new Flatbush(inks.length);
  for (const { rect } of inks) index.add(rect.x, rect.y, rect.x + rect.width, rect.y + rect.height);
  index.finish();
  const worst = new Map<string, Covered>();
  /** Of which some letters are covered in part. */
  const cutThrough = new Set<string>();
  for (const cover of covers) {
    const shown = visiblePart(analysis, cover, rectOf(reading, cover));
    if (!shown) continue;
    for (const n of index.search(shown.x, shown.y, shown.x + shown.width, shown.y + shown.height)) {
      const { element, rect } = inks[n]!;
      if (order[element]! >= order[cover]!) continue;
      // What a box holds lies in it, unless it is taken out of the flow and put over its text.
      if (isSelfOrAncestor(analysis, element, cover) && !isPutOver(analysis, cover, element)) continue;
      if (inFixed(reading)[element] === 1) continue;
      if (
        inFixed(reading)[cover] === 1 &&
        (isOfBar(analysis, cover) || isClearSomewhere(analysis, rect, shown))
      )
        continue;
      const cut = intersection(rect, shown);
      if (!cut || cut.width < LEAST || cut.height < Math.min(LEAST, rect.height / 2)) continue;
      if (isTwoFaced(analysis, cover, element)) continue;
      if (tagOf(reading, element) === 'option' || tagOf(reading, cover) === 'option') continue;
      // A picture lies under captions and badges by design; so does what is itself no more than a ground.
      if (PICTURES.test(tagOf(reading, element)) && isLayered(analysis, cover, element)) continue;
      const lifted = liftedTo(analysis, cover, element);
      const owner = liftedTo(analysis, element, cover);
      const isOut = owner !== lifted && sticksOutBy(analysis, owner, cut) > 0.5;
      // What sticks out of several boxes of one row is one matter.
      const key = isOut ? `out of ${reading.parent[owner]}` : String(lifted);
      const area = cut.width * cut.height;
      const last = worst.get(key);
      const share = area / (rect.width * rect.height);
      if (share > 0.05 && share < 0.95 && !isReplacedOrControl(tree, element)) cutThrough.add(key);
      if (!last || area > last.cut.width * last.cut.height)
        worst.set(key, { key, lifted, owner: isOut ? owner : -1, cover, element, cut, share });
    }
  }
  return [...worst.values()].map((found) => {
    const { lifted, owner, cover, element, cut } = found;
    const isStickingOut = owner >= 0;
    const fixed = fixedAround(analysis, cover);
    const isAcross = fixed === undefined ? cut.width <= cut.height : isAlongSide(analysis, fixed);
    const by = isAcross ? cut.width : cut.height;
    return observed({
      px: by,
      axis: isAcross ? 'x' : 'y',
      // Text that sticks out of its own box has come under what stands beside it by itself.
      variant: isStickingOut ? 'sticking-out' : null,
      subject: isStickingOut ? owner : lifted,
      other: isStickingOut ? lifted : element,
      what: isStickingOut
        ? `${px(by)} px of ${boxName(analysis, element)} stick out of it, and lie under ${boxName(analysis, cover)}`
        : `${boxName(analysis, cover)} is painted over ${px(by)} px of ${boxName(analysis, element)}`,
      evidence: intentOf(analysis, found, cutThrough.has(found.key)),
      boxes: isStickingOut
        ? selfAndAncestors(analysis, element, reading.parent[owner]!)
        : [...new Set([...selfAndAncestors(analysis, cover, reading.parent[lifted]!), element])],
      weight: 115 + Math.min(by, 60),
    });
  });
}

const fixedAround = (analysis: Analysis, element: number): number | undefined =>
  selfAndAncestors(analysis, element).find((at) => analysis.tree.kinds[at] === 'fixed');

/** Bars at the ends of the page have a rule of their own. */
const isOfBar = (analysis: Analysis, element: number): boolean => {
  const fixed = fixedAround(analysis, element);
  return fixed !== undefined && isBarOfView(analysis, fixed);
};

function isOfDialog(analysis: Analysis, element: number): boolean {
  const fixed = fixedAround(analysis, element);
  const { clientWidth, clientHeight } = analysis.reading.document;
  const { width, height } = rectOf(analysis.reading, fixed ?? element);
  return width > clientWidth * 0.7 && height > clientHeight * 0.7;
}

/** Whether a fixed box goes down a side of the view, so that what it covers would have to stand beside it. */
const isAlongSide = ({ reading }: Analysis, fixed: number): boolean => {
  const { width, height } = rectOf(reading, fixed);
  return width < height && height > reading.document.clientHeight * 0.5;
};

/** Whether the page can be scrolled down to where a part of it is in the view beside what stays in its place. */
function isClearSomewhere({ reading }: Analysis, part: Rect, fixed: Rect): boolean {
  const { scrollY, scrollHeight, clientHeight } = reading.document;
  const top = fixed.y - scrollY;
  // From where the part comes into the view to where it leaves it.
  const from = Math.max(0, part.y + part.height - clientHeight);
  const to = Math.min(scrollHeight - clientHeight, part.y);
  if (to < from) return false;
  return from <= part.y - top - fixed.height + LEAST || to >= part.y + part.height - top - LEAST;
}

/** Whether something between a cover and a box around it is absolutely positioned. */
const isPutOver = (analysis: Analysis, cover: number, around: number): boolean =>
  cover !== around &&
  selfAndAncestors(analysis, cover, around).some((at) => analysis.tree.kinds[at] === 'absolute');

/** Whether something between a cover and what holds both takes it out of the flow. */
function isLayered(analysis: Analysis, cover: number, element: number): boolean {
  const { reading } = analysis;
  const lifted = liftedTo(analysis, cover, element);
  return selfAndAncestors(analysis, cover, reading.parent[lifted]!).some(
    (at) => /absolute|fixed|sticky/.test(usedText(reading, 'position', at)) || isTransformed(analysis, at),
  );
}

/** The box around a cover, or the cover, that is a child of what holds both. */
function liftedTo(analysis: Analysis, cover: number, element: number): number {
  const { reading } = analysis;
  let at = cover;
  while (reading.parent[at]! >= 0 && !isSelfOrAncestor(analysis, reading.parent[at]!, element))
    at = reading.parent[at]!;
  return at;
}

/** CSS px by which a part of what a box holds lies outside of it. */
function sticksOutBy({ reading }: Analysis, box: number, part: Rect): number {
  const { x, y, width, height } = rectOf(reading, box);
  return Math.max(part.x + part.width - x - width, part.y + part.height - y - height, x - part.x, y - part.y);
}

function intentOf(
  analysis: Analysis,
  { lifted, cover, element, share }: Covered,
  isCutThrough: boolean,
): Fact[] {
  const { reading } = analysis;
  const end = reading.parent[lifted]!;
  const path = selfAndAncestors(analysis, cover, end);
  const positionOf = (at: number): string => usedText(reading, 'position', at);
  const covered = selfAndAncestors(analysis, element, end);
  const placed = [...path, ...covered].find((at) => positionOf(at) === 'absolute');
  const sticky = path.find((at) => positionOf(at) === 'sticky');
  const moved = path.find((at) => isTransformed(analysis, at));
  const isOfStack = share > 0.9 && covered.some((at) => path.some((other) => areSiblings(analysis, at, other)));
  return [
    ...layerFacts(analysis, path),
    ...facts(
      ['layered-by-hand', placed !== undefined && `${boxName(analysis, placed)} is placed by hand`],
      [
        'stays-while-scrolling',
        sticky !== undefined && `${boxName(analysis, sticky)} stays in its place while the page scrolls`,
      ],
      [
        'one-of-a-stack',
        isOfStack && `${boxName(analysis, element)} lies under another of its sort, like the slides of a stage`,
      ],
      [
        'controls-over-each-other',
        [element, cover].every(
          (at) => isReplacedOrControl(analysis.tree, at) && !PICTURES.test(tagOf(reading, at)),
        ) && 'Two controls lie over each other',
      ],
      ['letters-cut-through', isCutThrough && `Letters under ${boxName(analysis, cover)} are cut through`],
      [
        'text-hidden-in-flow',
        placed === undefined &&
          sticky === undefined &&
          moved === undefined &&
          `${boxName(analysis, element)} and what covers it are both in the flow`,
      ],
    ),
  ];
}

/** Whether two boxes are of one parent and one sort: slides, cards of a pile. */
const areSiblings = (analysis: Analysis, a: number, b: number): boolean =>
  a !== b && analysis.reading.parent[a] === analysis.reading.parent[b] && isSameSort(analysis, a, b);

/** Who leaves too little room beside what is fixed, and takes no room itself (CSS Positioned Layout 3 §2.1). */
function suspectsBesideFixed(analysis: Analysis, fixed: number, covered: number, axis: Axis): Suspect[] {
  const { tree, reading } = analysis;
  const rect = rectOf(reading, fixed);
  const [start, end, size] =
    axis === 'x' ? (['left', 'right', 'width'] as const) : (['top', 'bottom', 'height'] as const);
  const { clientWidth, clientHeight } = reading.document;
  const [from, extent, view] =
    axis === 'x' ? [rect.x, rect.width, clientWidth] : [rect.y, rect.height, clientHeight];
  const side = from + extent / 2 < view / 2 ? start : end;
  const beside = liftedTo(analysis, covered, fixed);
  const own = (element: number, property: string) => {
    const declaration = authorDeclaration(analysis, element, property);
    return declaration?.owner === element ? declaration : null;
  };
  const wide = own(fixed, size);
  const isAsDeclared = wide !== null && Math.abs(declaredPx(analysis, fixed, size, wide.value) - extent) < 0.5;
  const room = isAsDeclared ? wide.value : `${Math.ceil(extent)}px`;
  const property = own(beside, `padding-${side}`) && !own(beside, `margin-${side}`) ? 'padding' : 'margin';
  const name = boxName(analysis, fixed);
  return [
    suspect(
      analysis,
      beside,
      `${property}-${side}`,
      `${name} takes ${px(extent)} px there, and ${boxName(analysis, beside)} leaves it ${px(laidAreas(tree, beside)[property][side])}`,
      [fix('leave it its room', beside, `${property}-${side}`, room, 108)],
    ),
    suspect(analysis, fixed, 'position', `${name} is fixed, and takes no room in the flow`, [
      fix('leave it in the flow', fixed, 'position', 'sticky', 60),
    ]),
  ];
}

/** What brought the cover there: a position, a margin or a transform of it or of what holds it. */
function suspects(analysis: Analysis, { boxes, px: by, axis, other }: Observation): Suspect[] {
  const { reading, tree } = analysis;
  const out: Suspect[] = [];
  for (const at of other === null ? [] : selfAndAncestors(analysis, other)) {
    const layer = authorDeclaration(analysis, at, 'z-index');
    if (layer?.owner !== at || !(Number(layer.value) < 0)) continue;
    const parent = reading.parent[at]!;
    out.push(
      suspect(
        analysis,
        at,
        'z-index',
        `${boxName(analysis, at)} is painted below the ground of what is around it`,
        [
          fix('paint it in its turn', at, 'z-index', '0', 108),
          fix('keep it above the ground of its container', parent, 'isolation', 'isolate', 100),
        ],
      ),
    );
  }
  const fixed = boxes.find((at) => tree.kinds[at] === 'fixed');
  if (fixed !== undefined && other !== null) out.push(...suspectsBesideFixed(analysis, fixed, other, axis));
  for (const at of boxes) {
    if (at === other) continue;
    const own = (property: string) => {
      const declaration = authorDeclaration(analysis, at, property);
      return declaration?.owner === at ? declaration : null;
    };
    const name = boxName(analysis, at);
    const position = own('position');
    if (position?.value === 'absolute')
      out.push(
        suspect(analysis, at, 'position', `${name} is placed, and takes no room in the flow`, [
          fix('leave it in the flow', at, 'position', 'static', 96),
        ]),
      );
    const side = axis === 'y' ? 'margin-top' : 'margin-left';
    const margin = own(side);
    if (margin && usedPx(reading, side, at) < -0.5) {
      const left = laidAreas(tree, at).margin[axis === 'y' ? 'top' : 'left'] + by;
      out.push(
        suspect(analysis, at, side, `a negative margin pulls ${name} over it`, [
          fix('take the negative margin out', at, side, '0', 104),
          left > -1 ? null : fix('pull it less', at, side, `${Math.ceil(left)}px`, 102),
        ]),
      );
    }
    if (isTransformed(analysis, at)) {
      const property = ['transform', 'translate', 'scale', 'rotate'].find((name) => own(name)) ?? 'transform';
      const parent = reading.parent[at]!;
      const shift = rectOf(reading, at).y - layoutPiece(frames(tree), at, rectOf(reading, at)).y;
      out.push(
        suspect(
          analysis,
          at,
          property,
          `a transform paints ${name} elsewhere and keeps its room where it was`,
          [
            fix('leave it in its place', at, property, 'none', 104),
            axis === 'y' && shift > 1
              ? fix(
                  'leave room below for it',
                  parent,
                  'padding-bottom',
                  `${Math.ceil(laidAreas(tree, parent).padding.bottom + Math.max(by, shift))}px`,
                  106,
                )
              : null,
          ],
        ),
      );
    }
    const layer = own('z-index');
    if (layer && Number(layer.value) > 0)
      out.push(
        suspect(analysis, at, 'z-index', `${name} is painted above it`, [
          fix('paint it in its turn', at, 'z-index', 'auto', 40),
        ]),
      );
  }
  return out;
}

export const rule: Rule<'overlap/covered'> = {
  id: 'overlap/covered',
  kind: 'overlap',
  title: 'Text or a control lies under another box',
  spec: ['CSS 2.2 Appendix E', 'CSS 2.2 §8.3'],
  why: 'A box with a ground is placed, pulled by a negative margin or moved over something that is painted before it.',
  usual: 'Give each its room: a smaller negative margin, more padding before it, or a place in the flow.',
  example: `<style>p { margin: 0 } header { background: linen; padding: 10px } .card { position: relative; margin-top: -28px; height: 60px; background: tan }</style><header><p>The price is 12.50 a head</p></header><section class="card">Card</section>`,
  observe: coveredText,
  suspects: (analysis, observation) => [
    ...sharedCells(analysis, observation),
    ...suspectsOfPlaced(analysis, observation),
    ...suspects(analysis, observation),
  ],
  drawn: common,
};
