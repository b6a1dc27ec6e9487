/** Text and controls that are cut off by what is around them (CSS Overflow 3 §3). */
import { facts, type Fact } from '../../evidence/model.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { attribute, rectOf, usedText } from '../../boxes/tree.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { fix, suspect } from '../suspects.ts';
import { wishFor } from '../wishes.ts';
import { textWithin } from '../../boxes/text-lines.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { type Axis, type Rect, px, startOf, endOf } from '../../geometry/rect.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import {
  intersection,
  isSelfOrAncestor,
  inkOf,
  isSameInk,
  isReplacedOrControl,
  isTransformed,
  labelInk,
  boxName,
  paddingBox,
  scrollsOn,
  visibleChildren,
  visibilityOf,
  selfAndAncestors,
} from '../../visibility/visibility.ts';
import { isUnseen, stopsByVisibility } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

const LEAST = 1;

function cutOff(analysis: Analysis): Observed[] {
  const { tree } = analysis;
  const { clipper, clipping } = visibilityOf(analysis);
  /** Boxes of which something can be seen. */
  const shows = new Set<number>();
  const worst = new Map<string, { by: number; element: number; clip: number; axis: Axis; share: number }>();
  for (let i = 0; i < tree.count; i++) {
    if (isUnseen(analysis, i)) continue;
    // A button is seen by itself, and what can be cut off in it is its text.
    const label = clipping[i]! > 0 ? labelInk(analysis, i) : [];
    const ink = label.length > 0 ? label : inkOf(analysis, i);
    if (stopsByVisibility(analysis, i, ink.length === 0 && 'it has no text, picture or control of its own'))
      continue;
    const reachable = new Set<Axis>();
    /** What the boxes further in leave of it, by the axis on which they clip. */
    const left = { x: ink, y: ink };
    const firstClipper =
      clipping[i]! > 0 && (label.length > 0 || !isReplacedOrControl(tree, i)) ? i : clipper[i]!;
    for (let clip = firstClipper; clip >= 0; clip = clipper[clip]!)
      for (const axis of ['x', 'y'] as const) {
        // What scrolls brings everything in it into sight, whatever cuts it off further out.
        if (scrollsOn(tree, clip, axis) && isAskedToScroll(analysis, clip, axis)) reachable.add(axis);
        if ((clipping[clip]! & (axis === 'x' ? 1 : 2)) === 0) continue;
        if (
          stopsByVisibility(
            analysis,
            i,
            reachable.has(axis) && 'what clips it scrolls, so all of it can be reached',
          )
        )
          continue;
        // What does not fit in the lines of a box ends in its ellipsis, though its padding had room (CSS Overflow 3 §5).
        const endsInDots = axis === 'x' && clip === i && hasEllipsis(analysis, clip);
        const box = endsInDots ? laidAreas(tree, clip).content : paddingBox(analysis, clip);
        if (ink.some((rect) => intersection(rect, box))) shows.add(clip);
        const by = Math.max(...left[axis].map((rect) => beyond(rect, box, axis)));
        left[axis] = left[axis].map((rect) => cutTo(rect, box, axis));
        // A line's own area is taller than its letters: what is lost of it may be nothing.
        const least =
          axis === 'y' ? Math.max(LEAST, 0.25 * Math.min(...ink.map(({ height }) => height))) : LEAST;
        if (stopsByVisibility(analysis, i, by < least && 'what clips it cuts off nothing of it that shows'))
          continue;
        const key = `${clip} ${axis}`;
        const last = worst.get(key);
        if (!last || by > last.by) worst.set(key, { by, element: i, clip, axis, share: share(ink, box) });
      }
  }
  return [...worst.values()].map(({ by, element, clip, axis, share: lost }) => {
    const boxes = selfAndAncestors(analysis, element, analysis.reading.parent[clip]!).reverse();
    return observed({
      px: by,
      axis,
      subject: clip,
      other: element === clip ? null : element,
      what: `${boxName(analysis, clip)} cuts off ${px(by)} px of ${element === clip ? 'its own text' : boxName(analysis, element)}`,
      evidence: shows.has(clip)
        ? meantBy(analysis, clip, element, axis, lost)
        : facts(['closed', 'Nothing of what it holds can be seen: it is closed']),
      boxes,
      weight: by * 2 + 60,
    });
  });
}

/** Whether anybody declares that a box scrolls on an axis: visible becomes auto where the other axis scrolls (CSS Overflow 3 §3.1). */
const isAskedToScroll = (analysis: Analysis, clip: number, axis: Axis): boolean =>
  /auto|scroll/.test(authorDeclaration(analysis, clip, `overflow-${axis}`)?.value ?? '') ||
  !authorDeclaration(analysis, clip, `overflow-${axis === 'x' ? 'y' : 'x'}`);

const hasEllipsis = ({ styles }: Analysis, element: number): boolean =>
  !/^(clip|initial|)$/.test(resolve(styles, element, 'text-overflow').value);

const beyond = (ink: Rect, box: Rect, axis: Axis): number =>
  axis === 'x'
    ? Math.max(ink.x + ink.width - (box.x + box.width), box.x - ink.x)
    : Math.max(ink.y + ink.height - (box.y + box.height), box.y - ink.y);

/** What a box leaves of ink on one axis; where all of it lies beyond, nothing at the edge that it lies beyond. */
function cutTo(ink: Rect, box: Rect, axis: Axis): Rect {
  const [start, end] = [startOf(box, axis), endOf(box, axis)];
  const clamp = (at: number): number => Math.min(end, Math.max(start, at));
  const [from, to] = [clamp(startOf(ink, axis)), clamp(endOf(ink, axis))];
  return axis === 'x' ? { ...ink, x: from, width: to - from } : { ...ink, y: from, height: to - from };
}

/** Part of the ink that lies wholly outside: of a slide that waits beside a stage it is all. */
function share(ink: readonly Rect[], box: Rect): number {
  const out = ink.filter(
    (rect) =>
      rect.x >= box.x + box.width ||
      rect.x + rect.width <= box.x ||
      rect.y >= box.y + box.height ||
      rect.y + rect.height <= box.y,
  );
  return out.length / ink.length;
}

/** Whether an animation goes on for ever on a box: what it shows at any one time is not all. */
const isAnimated = ({ styles }: Analysis, element: number): boolean =>
  ['animation', 'animation-iteration-count'].some((text) =>
    /\binfinite\b/.test(resolve(styles, element, text).value),
  );

function meantBy(analysis: Analysis, clip: number, element: number, axis: Axis, lost: number): Fact[] {
  const value = (property: string, at = clip) => resolve(analysis.styles, at, property).value;
  const { tree, reading } = analysis;
  if (
    axis === 'x' &&
    value('text-overflow') !== 'clip' &&
    value('text-overflow') !== 'initial' &&
    value('text-overflow') !== ''
  )
    return [
      ...facts(['declared-to-cut', `text-overflow: ${value('text-overflow')} says so`]),
      ...ofEllipsis(analysis, clip),
    ];
  if (/\d/.test(usedText(reading, '-webkit-line-clamp', clip)))
    return facts(['declared-to-cut', '-webkit-line-clamp says so']);
  const box = paddingBox(analysis, clip);
  const least = Math.min(8, ...inkOf(analysis, element).map(({ height }) => height * 0.6));
  if (box.width < least || box.height < least)
    return facts(['closed', 'What cuts it off has no room: it is closed']);
  const between = selfAndAncestors(analysis, element, clip);
  const again = Array.from({ length: tree.count }, (_, i) => i).find(
    (i) => visibilityOf(analysis).visible[i] && isSameInk(analysis, element, i),
  );
  if (again !== undefined && lost < 1)
    return facts(['says-the-same', `${boxName(analysis, again)} says the same in the same place`]);
  if (isFrame(analysis, clip, element))
    return facts(['picture-frame', 'It is the frame of a picture, and shows a part of it']);
  const animated = between.find((at) => isAnimated(analysis, at));
  if (animated !== undefined) return facts(['animated', `An animation moves ${boxName(analysis, animated)}`]);
  const moved = between.find((at) => {
    const position = usedText(reading, 'position', at);
    return position === 'absolute' || position === 'fixed' || isTransformed(analysis, at);
  });
  // Of what is placed in sight, letters that are cut through are not meant.
  const isCutThrough =
    lost === 0 &&
    moved !== undefined &&
    tree.kinds[moved] === 'absolute' &&
    !isReplacedOrControl(tree, element);
  if (moved !== undefined && !isCutThrough && !(axis === 'y' && isCutShort(analysis, moved, box)))
    return facts([
      lost === 1 || isTransformed(analysis, moved) ? 'placed-by-hand' : 'placed-in-what-clips',
      `${boxName(analysis, moved)} is placed there by hand`,
    ]);
  const slide = between.find((at) => tree.kinds[at] === 'flex-item');
  if (lost === 1 && slide !== undefined && axis === 'x' && isSlide(analysis, slide, box.width))
    return facts(['waiting-slide', 'It lies wholly beside what is shown, like a slide that waits']);
  if (between.some((at) => resolve(analysis.styles, at, 'text-indent').value.startsWith('-')))
    return facts(['negative-indent', 'A negative text-indent moves it away']);
  return [];
}

/** Whether an item of a line is one of several of one width, or takes most of what shows them. */
function isSlide(analysis: Analysis, item: number, room: number): boolean {
  const { reading } = analysis;
  const { width } = rectOf(reading, item);
  const others = visibleChildren(analysis, reading.parent[item]!).filter((other) => other !== item);
  return (
    width >= room / 2 ||
    (others.length > 1 && others.every((other) => Math.abs(rectOf(reading, other).width - width) < 1))
  );
}

/** CSS px beside what cuts a text off that would bring out much of it. */
const ROOM = 32;

/** What speaks for and against a text being cut off at its end on purpose. */
function ofEllipsis(analysis: Analysis, clip: number): Fact[] {
  const { tree, reading } = analysis;
  const told = selfAndAncestors(analysis, clip)
    .slice(0, 3)
    .find((at) => (attribute(tree, at, 'title') ?? '') !== '');
  const parent = reading.parent[clip]!;
  const { rect, margin, padding } = laidAreas(tree, clip);
  const { content } = laidAreas(tree, parent);
  const strip = {
    ...rect,
    x: rect.x + rect.width + margin.right,
    width: content.x + content.width - rect.x - rect.width - margin.right,
  };
  const isFree =
    strip.width >= ROOM &&
    visibleChildren(analysis, parent).every(
      (child) => child === clip || intersection(rectOf(reading, child), strip) === null,
    );
  return facts(
    [
      'room-in-the-padding',
      padding.right >= ROOM && `A padding of ${px(padding.right)} px beside the text is empty`,
    ],
    ['room-beside', isFree && `${px(strip.width)} px beside it are free`],
    [
      'whole-text-is-told',
      told !== undefined && `A title of ${boxName(analysis, told)} may tell the whole text`,
    ],
  );
}

const PICTURES = /^(img|video)$/;

/** Whether what is cut off is a picture, and nothing in what cuts it is anything but pictures. */
function isFrame(analysis: Analysis, clip: number, element: number): boolean {
  const { tree } = analysis;
  if (!PICTURES.test(tagOf(tree.reading, element))) return false;
  const { visible } = visibilityOf(analysis);
  for (let i = clip; i < tree.count && isSelfOrAncestor(analysis, clip, i); i++)
    if (visible[i] && !PICTURES.test(tagOf(tree.reading, i)) && inkOf(analysis, i).length > 0) return false;
  return true;
}

/**
 * Whether the end of something placed in sight is cut off below: a menu that opens in too small a box. What has a
 * transition or a transform comes out by itself.
 */
function isCutShort(analysis: Analysis, placed: number, box: Rect): boolean {
  const { tree, reading, styles } = analysis;
  if (tree.kinds[placed] !== 'absolute' || isTransformed(analysis, placed)) return false;
  if (['transition', 'transition-duration'].some((text) => /[1-9]/.test(resolve(styles, placed, text).value)))
    return false;
  if (isAnimated(analysis, placed) || rectOf(reading, placed).y < box.y - 1) return false;
  const { visible } = visibilityOf(analysis);
  for (let i = placed; i < tree.count && isSelfOrAncestor(analysis, placed, i); i++)
    if (
      visible[i] &&
      inkOf(analysis, i).some((ink) => (intersection(ink, box)?.height ?? 0) > ink.height * 0.6)
    )
      return true;
  return false;
}

/** Of a text that ends in an ellipsis: what keeps its box narrower than the room, or as low as it is. */
const isControl = ({ tree }: Analysis, element: number): boolean =>
  isReplacedOrControl(tree, element) && !PICTURES.test(tagOf(tree.reading, element));

function suspects(analysis: Analysis, { subject, other, axis }: Observation): Suspect[] {
  const out: Suspect[] = [];
  // What is placed in a box is let out of it, whatever its size.
  if (
    other !== null &&
    selfAndAncestors(analysis, other, subject).some((at) => analysis.tree.kinds[at] === 'absolute')
  )
    return [];
  const name = boxName(analysis, subject);
  const properties =
    axis === 'x' ? (['max-width', 'width', 'flex-basis'] as const) : (['max-height', 'height'] as const);
  const isPicture = other !== null && PICTURES.test(tagOf(analysis.reading, other));
  const clamp = authorDeclaration(analysis, subject, '-webkit-line-clamp');
  // A control that is cut off below cannot be used: what cuts it off can scroll instead.
  if (axis === 'y' && other !== null && isControl(analysis, other))
    out.push(
      suspect(analysis, subject, 'overflow-y', `${name} cuts off what is taller than it`, [
        fix('let it scroll', subject, 'overflow-y', 'auto', 60),
      ]),
    );
  if (!hasEllipsis(analysis, subject) && !clamp && !isPicture) return out;
  const padding = axis === 'x' ? authorDeclaration(analysis, subject, 'padding-right') : null;
  if (
    padding?.owner === subject &&
    laidAreas(analysis.tree, subject).padding.right >= ROOM &&
    hasEllipsis(analysis, subject)
  )
    out.push(
      suspect(
        analysis,
        subject,
        'padding-right',
        `${name} keeps ${px(laidAreas(analysis.tree, subject).padding.right)} px free beside its text`,
        [fix('give the text the room', subject, 'padding-right', '0', 108)],
      ),
    );
  for (const at of selfAndAncestors(analysis, subject).slice(0, 2))
    for (const property of properties) {
      const declaration = authorDeclaration(analysis, at, property);
      if (declaration?.owner !== at || /^(auto|none|100%|initial)$/.test(declaration.value)) continue;
      out.push(
        suspect(
          analysis,
          at,
          property,
          `${at === subject ? name : boxName(analysis, at)} is kept ${axis === 'x' ? 'narrower' : 'lower'} than what is in it`,
          [
            fix(
              axis === 'x' ? 'let it be as wide as its room' : 'let it be as tall as what is in it',
              at,
              property,
              /^max/.test(property) ? 'none' : 'auto',
              at === subject ? 104 : 98,
            ),
          ],
        ),
      );
    }
  if (axis === 'x' && /nowrap|pre$/.test(usedText(analysis.reading, 'white-space', subject)))
    out.push(
      suspect(analysis, subject, 'white-space', `the text of ${name} may not wrap`, [
        fix('let it wrap', subject, 'white-space', 'normal', 96),
      ]),
    );
  if (clamp)
    out.push(
      suspect(analysis, subject, '-webkit-line-clamp', `${name} shows ${clamp.value} lines of its text`, [
        fix('show all of its lines', subject, '-webkit-line-clamp', 'none', 100),
      ]),
    );
  return out;
}

export const rule: Rule<'clip/cut-off'> = {
  id: 'clip/cut-off',
  kind: 'clip',
  title: 'Text or a control is cut off',
  spec: ['CSS Overflow 3 §3'],
  why: 'A box clips its overflow, and is smaller than what is in it.',
  usual: 'Let the box grow with what is in it, or let the text wrap.',
  example: `<style>div { width: 120px; height: 20px; overflow: hidden }</style><div>More words than there is room for in a box of this height</div>`,
  observe: cutOff,
  // Of pictures and controls no letter tells how much of them is seen.
  wish: (analysis, { subject, other }) => {
    const cut = other ?? subject;
    return textWithin(analysis.tree, cut).length > 0 ? wishFor(analysis, cut, { is: 'whole-text' }) : null;
  },
  suspects,
  drawn: (analysis, { axis, px, subject, other }) => {
    const box = paddingBox(analysis, subject);
    const [from, to] = [startOf(box, axis), endOf(box, axis)];
    const lost = Math.max(...inkOf(analysis, other ?? subject).map((ink) => endOf(ink, axis) - to));
    return Math.abs(lost - px) < 1 ? [to, to + px] : [from - px, from];
  },
};
