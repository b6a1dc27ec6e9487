/** Ink that lies over ink though neither of the two boxes holds the other (CSS 2.2 Appendix E). */
import { sharedCells } from './shared-cells.ts';
import { common } from '../drawn.ts';
import Flatbush from 'flatbush';
import type { Analysis } from '../../analysis.ts';
import { rectOf, usedText } from '../../boxes/tree.ts';
import { isUnreadable, overlapIntent } from '../../evidence/overlap-intent.ts';
import type { Rect } from '../../geometry/rect.ts';
import { suspectsOfPlaced } from './room-for-placed.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isBlock, isDrawnAway, followVertically } from '../../visibility/placement.ts';
import {
  intersection,
  isSelfOrAncestor,
  inkOf,
  isReplacedOrControl,
  isTransformed,
  letterBand,
  boxName,
  visibleInk,
  selfAndAncestors,
} from '../../visibility/visibility.ts';
import { isUnseen, stopsByEvidence, stopsByGeometry, stopsByVisibility } from '../stops.ts';

interface Ink {
  element: number;
  rect: Rect;
}

function inked(analysis: Analysis): Observed[] {
  const { tree, reading, order } = analysis;
  const inks: Ink[] = [];
  /** Whether a block that is drawn out of its place holds it: nobody set its lines between those of others. */
  const strays = new Array<boolean>(tree.count).fill(false);
  for (let i = 0; i < tree.count; i++) {
    if (isUnseen(analysis, i)) continue;
    strays[i] = strays[reading.parent[i]!] === true || (isBlock(tree, i) && isDrawnAway(analysis, i));
    for (const rect of inkOf(analysis, i)) {
      const seen = visibleInk(
        analysis,
        i,
        isReplacedOrControl(tree, i) ? rect : strays[i] ? tall(rect) : letterBand(rect),
      );
      if (seen && seen.width > 1 && seen.height > 1) inks.push({ element: i, rect: seen });
      else stopsByVisibility(analysis, i, 'its text is cut off altogether');
    }
    if (inkOf(analysis, i).length === 0)
      stopsByVisibility(analysis, i, 'it has no text, picture or control of its own');
    else
      stopsByGeometry(analysis, i, 'no text, picture or control of another box lies over its own, or under it');
  }
  if (inks.length < 2) return [];
  const index = new Flatbush(inks.length);
  for (const { rect } of inks) index.add(rect.x, rect.y, rect.x + rect.width, rect.y + rect.height);
  index.finish();
  const pairs = new Map<string, { a: number; b: number; from: number; to: number; area: number }>();
  inks.forEach(({ element, rect }, n) => {
    for (const m of index.search(rect.x, rect.y, rect.x + rect.width, rect.y + rect.height)) {
      if (m <= n) continue;
      const other = inks[m]!;
      if (other.element === element) continue;
      const common = intersection(rect, other.rect);
      if (!common || common.width < 2 || common.height < 2) {
        stopsByVisibility(
          analysis,
          element,
          common !== null && 'it shares less than 2 px with another, letters that touch nothing',
        );
        continue;
      }
      const lifted = lift(analysis, element, other.element) ?? placedIn(analysis, element, other.element);
      if (!lifted) {
        stopsByEvidence(analysis, element, 'it lies in the box that it lies over, and both can be read');
        continue;
      }
      const key = `${lifted[0]} ${lifted[1]}`;
      const last = pairs.get(key);
      if (!last || common.width * common.height > last.area)
        pairs.set(key, {
          a: lifted[0],
          b: lifted[1],
          from: element,
          to: other.element,
          area: common.width * common.height,
        });
    }
  });
  const out: Observed[] = [];
  for (const { a, b, from, to } of pairs.values()) {
    const parent = reading.parent[a]!;
    const [first, second] = order[from]! > order[to]! ? [from, to] : [to, from];
    const [ra, rb] = [rectOf(reading, a), rectOf(reading, b)];
    const vertical =
      followVertically(analysis, a, b) ||
      (Math.abs(ra.x - rb.x) < Math.max(ra.width, rb.width) / 2 && Math.abs(ra.y - rb.y) > 1);
    const [outA, outB] = [sticksOut(analysis, a, from), sticksOut(analysis, b, to)];
    const subject = isSelfOrAncestor(analysis, b, a)
      ? a
      : Math.max(outA, outB) <= 0.5
        ? pulled(analysis, a, b)
        : outA >= outB
          ? a
          : b;
    const other = subject === a ? b : a;
    const deep = subject === a ? from : to;
    const by = covered(analysis, deep, other, vertical);
    out.push(
      observed({
        px: by,
        axis: vertical ? 'y' : 'x',
        subject,
        other,
        what: `${boxName(analysis, first)} lies over ${boxName(analysis, second)}`,
        evidence: overlapIntent(analysis, a, b, from, to),
        boxes: [
          ...new Set([
            ...selfAndAncestors(analysis, deep, parent),
            ...selfAndAncestors(analysis, subject === a ? to : from, parent),
          ]),
        ],
        weight: 120 + by,
      }),
    );
  }
  return out;
}

/** The part of a line that its letters take with what goes above and below the small ones. */
const tall = ({ x, y, width, height }: Rect): Rect => ({
  x: x + 0.5,
  y: y + height * 0.12,
  width: width - 1,
  height: height * 0.76,
});

/** The two children of what holds both that hold one each; null: one holds the other. */
function lift({ reading }: Analysis, a: number, b: number): [number, number] | null {
  /** What lies around `a`, with the child through which it does. */
  const through = new Map<number, number>();
  for (let at = a; at >= 0; at = reading.parent[at]!) through.set(reading.parent[at]!, at);
  for (let element = b; element >= 0; element = reading.parent[element]!) {
    const child = through.get(reading.parent[element]!);
    if (child === undefined) continue;
    if (child === element) return null;
    return child < element ? [child, element] : [element, child];
  }
  return null;
}

/** What is placed by hand over the text of the box around it, and that box; null: nothing is. */
function placedIn(analysis: Analysis, a: number, b: number): [number, number] | null {
  const [outer, inner] = isSelfOrAncestor(analysis, a, b) ? [a, b] : [b, a];
  const placed = selfAndAncestors(analysis, inner, outer).find((at) => analysis.tree.kinds[at] === 'absolute');
  return placed !== undefined && isUnreadable(analysis, placed, inner, outer) ? [placed, outer] : null;
}

const seenInksOf = (analysis: Analysis, element: number): Rect[] =>
  inkOf(analysis, element).flatMap((ink) => visibleInk(analysis, element, ink) ?? []);

/** Px by which ink reaches out of a box that it lies in. */
function sticksOut(analysis: Analysis, box: number, deep: number): number {
  const around = rectOf(analysis.reading, box);
  return Math.max(
    0,
    ...seenInksOf(analysis, deep).map(({ x, y, width, height }) =>
      Math.max(
        x + width - around.x - around.width,
        y + height - around.y - around.height,
        around.x - x,
        around.y - y,
      ),
    ),
  );
}

/** Of two boxes the one that something pulls from its place; else the later one. */
function pulled(analysis: Analysis, a: number, b: number): number {
  const { reading } = analysis;
  const isPulled = (element: number) =>
    /-\d/.test(usedText(reading, 'margin', element)) ||
    /absolute|fixed|relative|sticky/.test(usedText(reading, 'position', element)) ||
    isTransformed(analysis, element);
  return isPulled(b) || !isPulled(a) ? b : a;
}

/** Px by which ink reaches into another box. */
function covered(analysis: Analysis, deep: number, other: number, vertical: boolean): number {
  const box = rectOf(analysis.reading, other);
  let most = 0;
  for (const ink of seenInksOf(analysis, deep)) {
    const common = intersection(ink, box);
    if (common) most = Math.max(most, vertical ? common.height : common.width);
  }
  return most;
}

export const rule: Rule<'overlap/ink'> = {
  id: 'overlap/ink',
  kind: 'overlap',
  title: 'Text, a picture or a control lies over another',
  spec: ['CSS 2.2 Appendix E'],
  why: 'Boxes that are placed, pulled or too wide for their room are painted where others have their text or pictures.',
  usual:
    'Give each its room: let text wrap, take out the offset or the negative margin, make the column wide enough.',
  example: `<style>td { width: 60px } table { table-layout: fixed; width: 120px } td { white-space: nowrap }</style><table><tr><td>Gannet Steps, Fallow<td>10:25 sharp</table>`,
  observe: inked,
  suspects: (analysis, observation) => [
    ...sharedCells(analysis, observation),
    ...suspectsOfPlaced(analysis, observation),
  ],
  drawn: common,
};
