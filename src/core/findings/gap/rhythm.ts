/** Boxes in a row that are alike and stand alike, but for one that stands further off or closer. */
import type { Analysis } from '../../analysis.ts';
import { classesOf } from '../../boxes/label.ts';
import { childrenOf, hasBox, rectOf, usedText } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade.ts';
import { px, type Axis, type Rect } from '../../geometry/rect.ts';
import { suspect, type Suspect } from '../finding.ts';
import { name, sightOf, tagOf } from '../sight.ts';

/** Spaces that must be known before one of them can be odd, and the part of them that may be. */
const FEWEST = 3;
const ODD = 0.26;
/** Of three spaces one may be wider: that it is closer than two others says little. */
const ONE_OF_THREE = 0.34;
/** Px by which a space is another. */
const OFF = 3;

interface Space {
  before: number;
  after: number;
  px: number;
}

export function rhythm(analysis: Analysis, container: number): Suspect[] {
  const { tree } = analysis;
  const { visible } = sightOf(analysis);
  const all = childrenOf(tree, container).filter((one) => hasBox(tree, one) && visible[one]);
  if (all.length <= FEWEST) return [];
  return (['y', 'x'] as const).flatMap((axis) => ofAxis(analysis, all, axis));
}

function ofAxis(analysis: Analysis, all: readonly number[], axis: Axis): Suspect[] {
  const { tree } = analysis;
  const spaces: Space[] = [];
  for (const [n, after] of all.entries()) {
    const before = all[n - 1];
    if (before === undefined || !isAlike(analysis, before, after)) continue;
    if ([before, after].some((one) => /^inline$|absolute|fixed|^table|root|other/.test(tree.kinds[one]!)))
      continue;
    if (usedText(tree.reading, 'float', before) !== usedText(tree.reading, 'float', after)) continue;
    const between = space(rectOf(tree.reading, before), rectOf(tree.reading, after), axis);
    if (between !== null) spaces.push({ before, after, px: between });
  }
  if (spaces.length < FEWEST) return [];
  const usual = mostCommon(spaces.map((one) => one.px));
  const odd = spaces.filter(
    (one) =>
      Math.abs(one.px - usual) >= OFF &&
      !isOfItsOwn(analysis, one.before, all) &&
      !isOfItsOwn(analysis, one.after, all),
  );
  const near = spaces.filter((one) => Math.abs(one.px - usual) < 1);
  const few = spaces.length === FEWEST && odd.every((one) => one.px > usual) ? ONE_OF_THREE : ODD;
  if (odd.length === 0 || odd.length > spaces.length * few || near.length < spaces.length * (1 - few - 0.01))
    return [];
  return odd.map(({ before, after, px: own }) => {
    const auto = [before, after].some((one) =>
      (axis === 'x' ? ['margin-left', 'margin-right'] : ['margin-top', 'margin-bottom']).some(
        (side) => resolve(analysis.styles, one, side).value === 'auto',
      ),
    );
    return suspect({
      kind: 'gap',
      px: Math.abs(own - usual),
      axis,
      subject: after,
      other: before,
      what: `There are ${px(own)} px between ${name(analysis, before)} and ${name(analysis, after)}, and ${px(usual)} px between the others of their row`,
      meant: auto ? 'An automatic margin takes what room there is' : '',
      form: own > usual ? 'rhythm-far' : 'rhythm-near',
      boxes: [after, before, ...all.filter((one) => one !== after && one !== before)],
      weight: 10 + Math.abs(own - usual) / 2,
    });
  });
}

/** Of the same sort: the same tag, and a class in common where both have any. */
function isAlike({ tree }: Analysis, a: number, b: number): boolean {
  if (tagOf(tree, a) !== tagOf(tree, b)) return false;
  const [own, other] = [classesOf(tree.reading, a), classesOf(tree.reading, b)];
  return own.length === 0 || other.length === 0 || own.some((one) => other.includes(one));
}

/** Whether a box begins or ends a row with a class that no other in it has: a head or a foot of it. */
function isOfItsOwn({ tree }: Analysis, element: number, all: readonly number[]): boolean {
  if (element !== all[0] && element !== all.at(-1)) return false;
  const rest = all.filter((one) => one !== element).map((one) => classesOf(tree.reading, one));
  return classesOf(tree.reading, element).some((own) => rest.every((list) => !list.includes(own)));
}

/** Px between two boxes that follow each other on an axis and are flush on the other; null: they do not. */
function space(a: Rect, b: Rect, axis: Axis): number | null {
  if (a.width < 1 || a.height < 1 || b.width < 1 || b.height < 1) return null;
  const between = axis === 'y' ? b.y - a.y - a.height : b.x - a.x - a.width;
  const flush = axis === 'y' ? Math.abs(b.x - a.x) < 1 : Math.abs(b.y - a.y) < 1;
  return flush && between > -0.5 ? between : null;
}

/** The number that most are, to half a px. */
function mostCommon(list: readonly number[]): number {
  const counts = new Map<number, { at: number; count: number }>();
  let best = { at: list[0]!, count: 0 };
  for (const at of list) {
    const key = Math.round(at * 2);
    const own = counts.get(key) ?? { at, count: 0 };
    own.count++;
    counts.set(key, own);
    if (own.count > best.count) best = own;
  }
  return best.at;
}
