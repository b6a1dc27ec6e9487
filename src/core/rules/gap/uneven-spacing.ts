/** Boxes in a row that are alike and stand alike, but for one that stands further off or closer. */
import { facts } from '../../evidence/model.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { type BoxTree, childrenOf, rectOf, usedText } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { type Axis, type Rect, px } from '../../geometry/rect.ts';
import { classesOf, tagOf } from '../../reading/labels.ts';
import { beforeStart, fromStart } from '../drawn.ts';
import { inContainers } from './containers.ts';
import { isMainAxisVertical, layoutOf } from '../../boxes/formatting-contexts.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { fix, suspect } from '../suspects.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { boxName, visibleChildren } from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry } from '../stops.ts';

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

function rhythm(analysis: Analysis, container: number): Observed[] {
  const all = visibleChildren(analysis, container);
  if (stopsByGeometry(analysis, container, all.length <= FEWEST && 'it holds too few boxes to have a rhythm'))
    return [];
  return (['y', 'x'] as const).flatMap((axis) => ofAxis(analysis, all, axis));
}

function ofAxis(analysis: Analysis, all: readonly number[], axis: Axis): Observed[] {
  const { tree } = analysis;
  const spaces: Space[] = [];
  for (const [n, after] of all.entries()) {
    const before = all[n - 1];
    if (before === undefined) continue;
    if (
      stopsByEvidence(
        analysis,
        after,
        !isAlike(analysis, before, after) && 'it is of another sort than the box before it',
      )
    )
      continue;
    if (
      [before, after].some((element) => /^inline$|absolute|fixed|^table|root|other/.test(tree.kinds[element]!))
    )
      continue;
    const isAside = usedText(tree.reading, 'float', before) !== usedText(tree.reading, 'float', after);
    if (stopsByGeometry(analysis, after, isAside && 'it floats otherwise than the box before it')) continue;
    const between = space(rectOf(tree.reading, before), rectOf(tree.reading, after), axis);
    if (between !== null) spaces.push({ before, after, px: between });
  }
  const first = spaces[0]?.after;
  if (first === undefined || spaces.length < FEWEST) {
    if (first !== undefined)
      stopsByGeometry(analysis, first, 'fewer than three spaces of its row can be compared');
    return [];
  }
  const usual = mostCommon(spaces.map((space) => space.px));
  const odd = spaces.filter(
    (space) =>
      Math.abs(space.px - usual) >= OFF &&
      !isOfItsOwn(analysis, space.before, all) &&
      !isOfItsOwn(analysis, space.after, all),
  );
  const near = spaces.filter((space) => Math.abs(space.px - usual) < 1);
  const few = spaces.length === FEWEST && odd.every((space) => space.px > usual) ? ONE_OF_THREE : ODD;
  if (odd.length === 0 || odd.length > spaces.length * few || near.length < spaces.length * (1 - few - 0.01))
    return [];
  const reported = odd.filter(
    (space) =>
      near.some(({ after }) => isAlike(analysis, after, space.after)) &&
      !isOfBothSides(analysis, space, usual, axis),
  );
  for (const { after } of spaces)
    stopsByGeometry(
      analysis,
      after,
      'the space before it is that of others in its row, or too small a difference',
    );
  for (const { after } of odd)
    stopsByEvidence(
      analysis,
      after,
      'it is the only one of its sort, or has the room of two margins that the others have one of',
    );
  return reported.map(({ before, after, px: spacePx }) => {
    const auto = [before, after].some((element) =>
      (axis === 'x' ? ['margin-left', 'margin-right'] : ['margin-top', 'margin-bottom']).some(
        (side) => resolve(analysis.styles, element, side).value === 'auto',
      ),
    );
    return observed({
      px: Math.abs(spacePx - usual),
      axis,
      subject: after,
      other: before,
      what: `There are ${px(spacePx)} px between ${boxName(analysis, before)} and ${boxName(analysis, after)}, and ${px(usual)} px between the others of their row`,
      evidence: facts(
        ['automatic-margin', auto && 'An automatic margin takes what room there is'],
        [
          'of-different-names',
          [before, after].every((box) => /#/.test(boxName(analysis, box))) &&
            'Each of the two has a name of its own',
        ],
      ),
      variant: spacePx > usual ? 'further' : 'closer',
      boxes: [after, before, ...all.filter((value) => value !== after && value !== before)],
      weight: 10 + Math.abs(spacePx - usual) / 2,
    });
  });
}

/** Whether two boxes with room on both sides meet, of which the others show one side each. */
function isOfBothSides(
  { tree }: Analysis,
  { before, after, px: px }: Space,
  usual: number,
  axis: Axis,
): boolean {
  const sides = [laidAreas(tree, before).margin, laidAreas(tree, after).margin] as const;
  const [end, begin] = axis === 'x' ? [sides[0].right, sides[1].left] : [sides[0].bottom, sides[1].top];
  const [start, far] = axis === 'x' ? [sides[0].left, sides[1].right] : [sides[0].top, sides[1].bottom];
  const isEven = [begin, start, far].every((value) => Math.abs(value - end) < 0.5);
  return isEven && Math.abs(end - usual) < 0.5 && Math.abs(px - 2 * usual) < 0.5;
}

/** Of the same sort: the same tag, a class in common where both have any, and neither alone a heading of what follows. */
function isAlike({ tree }: Analysis, a: number, b: number): boolean {
  if (tagOf(tree.reading, a) !== tagOf(tree.reading, b) || isHead(tree, a) !== isHead(tree, b)) return false;
  const [first, other] = [classesOf(tree.reading, a), classesOf(tree.reading, b)];
  return first.length === 0 || other.length === 0 || first.some((text) => other.includes(text));
}

const isHead = (tree: BoxTree, element: number): boolean => {
  const within = childrenOf(tree, element);
  return within.length === 1 && /^h[1-6]$/.test(tagOf(tree.reading, within[0]!));
};

/** Whether a box begins or ends a row with a class that no other in it has: a head or a foot of it. */
function isOfItsOwn({ tree }: Analysis, element: number, all: readonly number[]): boolean {
  if (element !== all[0] && element !== all.at(-1)) return false;
  const rest = all.filter((value) => value !== element).map((element) => classesOf(tree.reading, element));
  return classesOf(tree.reading, element).some((className) => rest.every((list) => !list.includes(className)));
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
    const tally = counts.get(key) ?? { at, count: 0 };
    tally.count++;
    counts.set(key, tally);
    if (tally.count > best.count) best = tally;
  }
  return best.at;
}

/** Whoever shares out free room in rows that are not equally full. */
function suspects(analysis: Analysis, { subject, axis }: Observation): Suspect[] {
  const container = analysis.reading.parent[subject]!;
  const layout = layoutOf(analysis.tree, container);
  if (layout !== 'flex' && layout !== 'grid') return [];
  const isMain =
    layout === 'grid' ? axis === 'x' : (axis === 'y') === isMainAxisVertical(analysis.tree, container);
  const property = isMain ? 'justify-content' : 'align-content';
  const value = authorDeclaration(analysis, container, property)?.value ?? '';
  return /^space-|stretch/.test(value)
    ? [
        suspect(
          analysis,
          container,
          property,
          `${value} shares out what is free, in each ${isMain ? 'line' : 'container'} by itself`,
          [fix('put them at the start', container, property, layout === 'flex' ? 'flex-start' : 'start', 104)],
        ),
      ]
    : [];
}

export const rule: Rule<'gap/uneven-spacing'> = {
  id: 'gap/uneven-spacing',
  kind: 'gap',
  title: 'One of several like boxes stands further off or closer',
  spec: ['CSS 2.2 §8.3'],
  why: 'Boxes that are alike stand at one distance, but for one that has another margin.',
  usual: 'Give it the margin that the others have.',
  example: `<style>.card { height: 40px; background: linen; margin: 0 0 16px } .card:nth-child(3) { margin-bottom: 40px }</style><section><div class="card">1</div><div class="card">2</div><div class="card">3</div><div class="card">4</div><div class="card">5</div><div class="card">6</div></section>`,
  suspects,
  observe: inContainers(rhythm),
  drawn: (analysis, observation) =>
    observation.variant === 'closer' ? fromStart(analysis, observation) : beforeStart(analysis, observation),
};
