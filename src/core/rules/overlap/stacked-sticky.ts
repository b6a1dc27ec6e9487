/** Boxes that stick to the top of the view under another that stays there, so that a part of them is never seen (CSS Positioned Layout 3 §3.4). */
import { facts } from '../../evidence/model.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { rectOf, usedText } from '../../boxes/tree.ts';
import { type Rect, px } from '../../geometry/rect.ts';
import { labelOf } from '../../reading/labels.ts';
import { fromStart } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import {
  intersection,
  hasBackground,
  isSelfOrAncestor,
  inkOf,
  isReplacedOrControl,
  isTransformed,
  letterBand,
  boxName,
  visibleInk,
  visibilityOf,
  selfAndAncestors,
} from '../../visibility/visibility.ts';
import { isUnseen, stopsByEvidence, stopsByGeometry, stopsByVisibility } from '../stops.ts';

/** A box while it stays in its place: where in the view, and between which offsets of scrolling. */
interface Stuck {
  element: number;
  /** In the view: `y` from its upper edge. */
  rect: Rect;
  from: number;
  to: number;
}

/** CSS px of scrolling below which nobody sees two boxes stay over each other. */
const WHILE = 24;

const LEAST = 4;

function stuck(analysis: Analysis): Stuck[] {
  const { tree, reading } = analysis;
  const { document } = reading;
  const { clipper } = visibilityOf(analysis);
  const last = document.scrollHeight - document.clientHeight;
  if (last < WHILE) return [];
  const out: Stuck[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (isUnseen(analysis, i)) continue;
    if (stopsByGeometry(analysis, i, isTransformed(analysis, i) && 'a transform moves it')) continue;
    const position = usedText(reading, 'position', i);
    if (
      stopsByGeometry(
        analysis,
        i,
        position !== 'sticky' && position !== 'fixed' && 'it is neither sticky nor fixed',
      )
    )
      continue;
    const rect = rectOf(reading, i);
    if (position === 'fixed') {
      const y = rect.y - document.scrollY;
      if (tree.containingBlock[i]! < 0 && y <= 1)
        out.push({ element: i, rect: { ...rect, y }, from: 0, to: last });
      continue;
    }
    const top = Number.parseFloat(usedText(reading, 'top', i));
    // Cells of a table that stick cross each other by design; what sticks in a box that scrolls has another view.
    if (stopsByGeometry(analysis, i, !Number.isFinite(top) && 'it sticks to no upper edge')) continue;
    if (stopsByGeometry(analysis, i, tree.kinds[i]!.startsWith('table') && 'it is a part of a table')) continue;
    if (stopsByGeometry(analysis, i, clipper[i]! >= 0 && 'it lies in a box that clips or scrolls')) continue;
    const around = tree.containingBlock[i]!;
    const { rect: box, border, padding } = laidAreas(tree, Math.max(0, around));
    const foot = box.y + box.height - border.bottom - padding.bottom;
    const end = foot - rect.height - laidAreas(tree, i).margin.bottom;
    const [from, to] = [Math.max(0, rect.y - top), Math.min(last, end - top)];
    if (to - from >= WHILE) out.push({ element: i, rect: { ...rect, y: top }, from, to });
  }
  return out;
}

/** Px of a stuck box's text and controls, from its upper edge, that lie under another; 0: none. */
function hidden(analysis: Analysis, under: Stuck, over: Rect): number {
  const { tree, reading } = analysis;
  const shift = under.rect.y - rectOf(reading, under.element).y;
  let most = 0;
  for (let i = under.element; i < tree.count && isSelfOrAncestor(analysis, under.element, i); i++) {
    if (!visibilityOf(analysis).visible[i]) continue;
    for (const ink of inkOf(analysis, i)) {
      const shown = visibleInk(analysis, i, isReplacedOrControl(tree, i) ? ink : letterBand(ink));
      const common = shown && intersection({ ...shown, y: shown.y + shift }, over);
      if (common && common.width >= 2) most = Math.max(most, common.height);
    }
  }
  return most;
}

function sticks(analysis: Analysis): Observed[] {
  const { reading, order } = analysis;
  const all = stuck(analysis);
  const out: Observed[] = [];
  for (const under of all)
    for (const over of all) {
      if (under === over || usedText(reading, 'position', under.element) !== 'sticky') continue;
      const isBelow = order[over.element]! < order[under.element]!;
      if (stopsByVisibility(analysis, under.element, isBelow && 'it is painted over what sticks with it'))
        continue;
      if (
        stopsByVisibility(
          analysis,
          under.element,
          !hasBackground(analysis, over.element) && 'what sticks over it has no background',
        )
      )
        continue;
      if (
        isSelfOrAncestor(analysis, over.element, under.element) ||
        isSelfOrAncestor(analysis, under.element, over.element)
      )
        continue;
      // What takes most of the view is a page or a dialog over the page.
      const isPage = over.rect.height > reading.document.clientHeight / 2;
      if (
        stopsByEvidence(
          analysis,
          under.element,
          isPage && 'what sticks over it takes most of the view, like a dialog',
        )
      )
        continue;
      const isShort = Math.min(under.to, over.to) - Math.max(under.from, over.from) < WHILE;
      if (
        stopsByVisibility(
          analysis,
          under.element,
          isShort && 'both stick together for less than 24 px of scrolling',
        )
      )
        continue;
      const common = intersection(under.rect, over.rect);
      if (!common || common.height < LEAST || common.width < LEAST) {
        stopsByGeometry(analysis, under.element, 'it sticks beside or below what else stays in the view');
        continue;
      }
      if (
        stopsByVisibility(
          analysis,
          under.element,
          hidden(analysis, under, over.rect) < 2 && 'none of its text is covered',
        )
      )
        continue;
      const by = over.rect.y + over.rect.height - under.rect.y;
      const [a, b] = [under, over].map(({ element }) => labelOf(reading, element).replace(/#[\w-]+/, ''));
      out.push(
        observed({
          px: by,
          axis: 'y',
          subject: under.element,
          other: over.element,
          what: `${boxName(analysis, under.element)} sticks under ${boxName(analysis, over.element)}: ${px(Math.min(by, under.rect.height))} px of it cannot be seen while the page is scrolled`,
          evidence: facts(['sticks-over-the-one-before', a === b && 'Each sticks over the one before']),
          boxes: selfAndAncestors(analysis, under.element, reading.parent[under.element]!),
          weight: 100 + by,
        }),
      );
    }
  return out;
}

export const rule: Rule<'overlap/stacked-sticky'> = {
  id: 'overlap/stacked-sticky',
  kind: 'overlap',
  title: 'A sticky box sticks under another',
  spec: ['CSS Positioned Layout 3 §3.4'],
  why: 'Two boxes stick to the same edge, and the later one is painted over the other.',
  usual: 'Let the second stick below the first: `top` as large as the first is tall.',
  example: `<style>header { position: sticky; top: 0; height: 60px; background: tan; z-index: 2 } nav { position: sticky; top: 0; height: 40px; background: linen } main { height: 3000px }</style><header>Bar</header><nav>Menu</nav><main>Text</main>`,
  observe: sticks,
  drawn: fromStart,
};
