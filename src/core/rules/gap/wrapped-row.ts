/** Boxes that should stand in one row, and of which one goes down to the next. */
import type { Analysis } from '../../analysis.ts';
import { laidAreas, outerWidth } from '../../boxes/areas.ts';
import { rectOf, usedPx, usedText } from '../../boxes/tree.ts';
import { declaredPx } from '../../accounts/sizing/declared.ts';
import { px } from '../../geometry/rect.ts';
import { isLength, said } from '../../remedies/model.ts';
import { suspect, type Suspect } from '../model.ts';
import { name, shownIn, tagOf, upward } from '../../visibility/visibility.ts';
import { contents } from '../../visibility/flow-contents.ts';

/** Inline-blocks that would fit in one line but for the white space between them. */
export function pushedDown(analysis: Analysis, container: number): Suspect[] {
  const { tree, reading } = analysis;
  const all = contents(analysis, container);
  if (!all?.some((one) => tree.kinds[one] === 'inline-block')) return [];
  if (usedText(reading, 'white-space', container) === 'nowrap') return [];
  const { content } = laidAreas(tree, container);
  const top = (one: number) => rectOf(reading, one).y;
  const out: Suspect[] = [];
  let run: number[] = [];
  for (const one of [...all, -1]) {
    if (one >= 0 && tree.kinds[one] === 'inline-block') {
      run.push(one);
      continue;
    }
    const down = run.find((at) => top(at) >= top(run[0]!) + rectOf(reading, run[0]!).height - 1);
    const sum = run.reduce((width, at) => width + outerWidth(tree, at), 0);
    // Boxes as wide as their words go on in the next line by design, however nearly they fill one; a bar has but one line.
    const isMeasured = run.every((at) => isLength(said(analysis, at, 'width')?.value ?? ''));
    const isBar = upward(analysis, container).some((at) => /^(nav|menu)$/.test(tagOf(tree, at)));
    if (
      down !== undefined &&
      (isMeasured || isBar) &&
      sum <= content.width + 0.5 &&
      sum >= content.width * 0.9
    ) {
      const by = top(down) - top(run[0]!);
      out.push(
        suspect({
          kind: 'gap',
          px: by,
          axis: 'y',
          subject: down,
          other: container,
          what: `${name(analysis, down)} goes ${px(by)} px down to a line of its own: with the white space between them the boxes are wider than ${name(analysis, container)}`,
          form: 'white-space',
          boxes: [down, container],
          weight: 60 + by,
        }),
      );
    }
    run = [];
  }
  return out;
}

/** The part of a row that the narrowest column of a common grid has: a margin as wide is a column left out. */
const COLUMN = 0.08;

/** Whether a box is to be a part of its row. */
const isPart = (analysis: Analysis, element: number): boolean =>
  ['flex-basis', 'width'].some((property) => /%|calc\(/.test(said(analysis, element, property)?.value ?? ''));

/**
 * Whether a box, or one around it, is as wide as somebody declared, of itself or of the column that it stands in, so that the
 * room in it is not what the view leaves.
 */
const isRoomGiven = (analysis: Analysis, container: number): boolean =>
  upward(analysis, container).some((at) => {
    const { rect, margin, content } = laidAreas(analysis.tree, at);
    const outer = rect.width + margin.left + margin.right;
    const isGiven = (element: number, property: string, widths: number[]): boolean => {
      const own = said(analysis, element, property);
      if (own?.owner !== element) return false;
      return own.value.split(/[\s,()]+/).some((part) => {
        if (!isLength(part) || /%|v(w|i|b|h|min|max)$/.test(part)) return false;
        const wanted = declaredPx(analysis, element, property, part);
        return widths.some((width) => Math.abs(width - wanted) < 0.5);
      });
    };
    return (
      ['width', 'max-width', 'flex-basis'].some((one) => isGiven(at, one, [rect.width, content.width])) ||
      (analysis.tree.kinds[at] === 'grid-item' &&
        isGiven(analysis.reading.parent[at]!, 'grid-template-columns', [outer]))
    );
  });

/** Boxes whose declared widths come to the whole row, and which with their edges and margins are wider than it. */
export function fallen(analysis: Analysis, container: number): Suspect[] {
  const { tree, reading } = analysis;
  const all = shownIn(analysis, container);
  if (all.length < 2) return [];
  const wraps = usedText(reading, 'flex-wrap', container).startsWith('wrap');
  const stands = (one: number) => {
    const kinds = tree.kinds[one]!;
    return kinds === 'float' || kinds === 'inline-block' || (kinds === 'flex-item' && wraps);
  };
  if (!all.some(stands)) return [];
  const room = laidAreas(tree, container).content.width;
  const asked = (one: number): number => {
    for (const property of ['flex-basis', 'width']) {
      if (property === 'flex-basis' && tree.kinds[one] !== 'flex-item') continue;
      const own = said(analysis, one, property);
      if (own && isLength(own.value)) return declaredPx(analysis, one, property, own.value);
    }
    return NaN;
  };
  /** Room that a box is to leave free beside it: a column that is left out. */
  const keptFree = (one: number): number =>
    ['margin-left', 'margin-right'].reduce((sum, property) => {
      const own = said(analysis, one, property);
      const part = own && /%$/.test(own.value) ? declaredPx(analysis, one, property, own.value) : 0;
      return part >= room * COLUMN ? sum + part : sum;
    }, 0);
  const out: Suspect[] = [];
  for (let n = 0; n + 1 < all.length; n++) {
    const first = all[n]!;
    const line = [first];
    const { y, height } = rectOf(reading, first);
    if (!stands(first)) continue;
    while (stands(all[n + line.length] ?? 0) && rectOf(reading, all[n + line.length]!).y < y + height - 1)
      line.push(all[n + line.length]!);
    const down = all[n + line.length];
    n += line.length - 1;
    if (down === undefined || !stands(down)) continue;
    const row = [...line, down];
    // Boxes of fixed widths go on in further rows by design, where there are more of them or the room is what it happens to be.
    const isFixed = row.some((one) => !isPart(analysis, one));
    if (isFixed && (row.length < all.length || !isRoomGiven(analysis, container))) continue;
    const sum = row.reduce((width, one) => width + asked(one) + keptFree(one), 0);
    const gap = wraps ? usedPx(reading, 'column-gap', container) || 0 : 0;
    const used = row.reduce((width, one) => width + outerWidth(tree, one), gap * (row.length - 1));
    const isWhole = Math.abs(sum - room) < Math.max(1, room * 0.005);
    // Columns of different widths that come to a little more than all: one was made for less beside it.
    const isMore =
      sum > room && sum < room * 1.12 && row.length <= 3 && Math.abs(asked(down) - asked(first)) > 1;
    if (!(isWhole || isMore) || used <= room + 0.01) continue;
    const by = rectOf(reading, down).y - y;
    out.push(
      suspect({
        kind: 'gap',
        px: by,
        axis: 'y',
        subject: down,
        other: container,
        what: `${name(analysis, down)} goes ${px(by)} px down to a row of its own: the declared widths of its row come to ${isWhole ? 'the whole' : `${px(sum - room)} px more than the whole`} of ${name(analysis, container)}${isWhole ? ', and with their edges, margins and gaps they are wider' : ''}`,
        form: isWhole ? 'fallen' : 'fallen-more',
        boxes: [...row, container],
        weight: 60 + Math.min(by, 400),
      }),
    );
  }
  return out;
}
