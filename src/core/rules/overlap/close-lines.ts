/** Lines of one box that lie over each other (CSS Inline 3 §5.1). */
import type { Analysis } from '../../analysis.ts';
import { layoutPiece } from '../../boxes/transforms.ts';
import { frames, inside, usedPx } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { suspect, type Suspect } from '../model.ts';
import { isThing, name, sightOf } from '../../visibility/visibility.ts';

/** Lines set closer than letters are tall: this part of the font size from one to the next, and they touch. */
const CLOSE = 0.82;

/** Lines of one box that lie over each other (CSS Inline 3 §5.1). */
export function closeLines(analysis: Analysis): Suspect[] {
  const { tree, reading } = analysis;
  const { visible } = sightOf(analysis);
  const out: Suspect[] = [];
  for (const [element, runs] of inside(tree).texts) {
    if (!visible[element] || isThing(tree, element)) continue;
    if (runs.length === 1 && runs[0]!.pieces.length < 2) continue;
    const size = usedPx(reading, 'font-size', element);
    // As laid out: a transform scales lines and letters alike.
    const pieces = runs
      .filter(({ blank }) => !blank)
      .flatMap((run) => run.pieces.filter(({ width }) => width > 1))
      .map((piece) => layoutPiece(frames(tree), element, piece));
    // A first letter that is larger than its line begins beside it, and is no line of its own.
    const tall = Math.min(...pieces.map(({ height }) => height)) * 1.2;
    const tops = [
      ...new Set(pieces.filter(({ height }) => height <= tall).map(({ y }) => Math.round(y * 4) / 4)),
    ].sort((a, b) => a - b);
    const steps = tops.slice(1).map((top, n) => top - tops[n]!);
    const closest = Math.min(...steps.filter((step) => step > size * 0.3));
    if (steps.length === 0 || !(closest < size * CLOSE)) continue;
    out.push(
      suspect({
        kind: 'overlap',
        px: size - closest,
        axis: 'y',
        subject: element,
        what: `Lines of ${name(analysis, element)} lie over each other: they are ${px(closest)} px apart, and the letters ${px(size)} px large`,
        form: 'lines',
        weight: 90 + size - closest,
      }),
    );
  }
  return out;
}
