/** Boxes that should stand in one row, and of which one goes down to the next (CSS 2.2 §9.5, Flexbox 1 §9.3). */
import { isLength, authorDeclaration } from '../../accounts/author-declaration.ts';
import { declaredPx } from '../../accounts/sizing/declared.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas, outerWidth } from '../../boxes/areas.ts';
import { rectOf, usedPx, usedText } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { beforeStart } from '../drawn.ts';
import { inContainers } from './containers.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { boxName, visibleChildren, selfAndAncestors } from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry } from '../stops.ts';

/** The part of a row that the narrowest column of a common grid has: a margin as wide is a column left out. */
const COLUMN = 0.08;

/** The part of a row from which on boxes that share it are meant to stand beside each other. */
const MOSTLY = 0.8;

/** CSS px that a box takes in the line before anything grows: a flex item has its basis for that (Flexbox 1 §9.3). */
function widthInLine({ tree, reading }: Analysis, element: number, asked: number): number {
  if (tree.kinds[element] !== 'flex-item' || !Number.isFinite(asked)) return outerWidth(tree, element);
  const { margin, padding, border } = laidAreas(tree, element);
  const edges = padding.left + padding.right + border.left + border.right;
  const borderBox =
    usedText(reading, 'box-sizing', element) === 'border-box' ? Math.max(asked, edges) : asked + edges;
  return borderBox + margin.left + margin.right;
}

/** Whether a box is to be a part of its row. */
const isPart = (analysis: Analysis, element: number): boolean =>
  ['flex-basis', 'width'].some((property) =>
    /%|calc\(/.test(authorDeclaration(analysis, element, property)?.value ?? ''),
  );

/**
 * Whether a box, or one around it, is as wide as somebody declared, of itself or of the column that it stands in, so that the
 * room in it is not what the view leaves.
 */
const isRoomGiven = (analysis: Analysis, container: number): boolean =>
  selfAndAncestors(analysis, container).some((at) => {
    const { rect, margin, content } = laidAreas(analysis.tree, at);
    const outer = rect.width + margin.left + margin.right;
    const isGiven = (element: number, property: string, widths: number[]): boolean => {
      const declaration = authorDeclaration(analysis, element, property);
      if (declaration?.owner !== element) return false;
      return declaration.value.split(/[\s,()]+/).some((part) => {
        if (!isLength(part) || /%|v(w|i|b|h|min|max)$/.test(part)) return false;
        const wanted = declaredPx(analysis, element, property, part);
        return widths.some((width) => Math.abs(width - wanted) < 0.5);
      });
    };
    return (
      ['width', 'max-width', 'flex-basis'].some((text) => isGiven(at, text, [rect.width, content.width])) ||
      (analysis.tree.kinds[at] === 'grid-item' &&
        isGiven(analysis.reading.parent[at]!, 'grid-template-columns', [outer]))
    );
  });

/** Boxes whose declared widths come to the whole row, and which with their edges and margins are wider than it. */
function fallen(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  const all = visibleChildren(analysis, container);
  if (stopsByGeometry(analysis, container, all.length < 2 && 'it holds fewer than two boxes')) return [];
  const wraps = usedText(reading, 'flex-wrap', container).startsWith('wrap');
  const stands = (element: number) => {
    const kinds = tree.kinds[element]!;
    return kinds === 'float' || kinds === 'inline-block' || (kinds === 'flex-item' && wraps);
  };
  if (stopsByGeometry(analysis, container, !all.some(stands) && 'nothing in it stands in rows that wrap'))
    return [];
  const room = laidAreas(tree, container).content.width;
  const asked = (element: number): number => {
    for (const property of ['flex-basis', 'width']) {
      if (property === 'flex-basis' && tree.kinds[element] !== 'flex-item') continue;
      const declaration = authorDeclaration(analysis, element, property);
      if (declaration && isLength(declaration.value))
        return declaredPx(analysis, element, property, declaration.value);
    }
    return NaN;
  };
  /** Room that a box is to leave free beside it: a column that is left out. */
  const keptFree = (element: number): number =>
    ['margin-left', 'margin-right'].reduce((sum, property) => {
      const declaration = authorDeclaration(analysis, element, property);
      const part =
        declaration && /%$/.test(declaration.value)
          ? declaredPx(analysis, element, property, declaration.value)
          : 0;
      return part >= room * COLUMN ? sum + part : sum;
    }, 0);
  const out: Observed[] = [];
  for (let n = 0; n + 1 < all.length; n++) {
    const first = all[n]!;
    const line = [first];
    const { y, height } = rectOf(reading, first);
    if (stopsByGeometry(analysis, first, !stands(first) && 'it does not stand in a row that wraps')) continue;
    while (stands(all[n + line.length] ?? 0) && rectOf(reading, all[n + line.length]!).y < y + height - 1)
      line.push(all[n + line.length]!);
    const down = all[n + line.length];
    n += line.length - 1;
    if (down === undefined || !stands(down)) {
      stopsByGeometry(analysis, first, 'nothing goes down from its row');
      continue;
    }
    const row = [...line, down];
    // Boxes of fixed widths go on in further rows by design, where there are more of them or the room is what it happens to be.
    const isFixed = row.some((element) => !isPart(analysis, element));
    if (
      stopsByEvidence(
        analysis,
        down,
        isFixed &&
          (row.length < all.length || !isRoomGiven(analysis, container)) &&
          'boxes of fixed widths go on in further rows by design',
      )
    )
      continue;
    const sum = row.reduce((width, element) => width + asked(element) + keptFree(element), 0);
    const gap = wraps ? usedPx(reading, 'column-gap', container) || 0 : 0;
    const used = row.reduce(
      (width, element) => width + widthInLine(analysis, element, asked(element)),
      gap * (row.length - 1),
    );
    const near = Math.max(1, room * 0.005);
    const isWhole = Math.abs(sum - room) < near;
    // Parts that would stand beside each other, were it not for what comes on top of them.
    const isFilled = !isFixed && sum < room + near && sum >= room * MOSTLY;
    // Columns of different widths that come to a little more than all: one was made for less beside it.
    const isMore =
      sum > room && sum < room * 1.12 && row.length <= 3 && Math.abs(asked(down) - asked(first)) > 1;
    if (
      stopsByGeometry(
        analysis,
        down,
        !(isWhole || isMore || isFilled) && 'the declared widths of its row do not come to the whole',
      )
    )
      continue;
    if (stopsByGeometry(analysis, down, used <= room + 0.01 && 'its row has room for it')) continue;
    const by = rectOf(reading, down).y - y;
    const sums = isWhole
      ? 'the whole'
      : `${px(Math.abs(sum - room))} px ${sum > room ? 'more' : 'less'} than the whole`;
    out.push(
      observed({
        px: by,
        axis: 'y',
        subject: down,
        other: container,
        what: `${boxName(analysis, down)} goes ${px(by)} px down to a row of its own: the declared widths of its row come to ${sums} of ${boxName(analysis, container)}${isWhole || isFilled ? ', and with their edges, margins and gaps they are wider' : ''}`,
        variant: isWhole || isFilled ? 'whole' : 'more',
        boxes: [...row, container],
        weight: 60 + Math.min(by, 400),
      }),
    );
  }
  return out;
}

export const rule: Rule<'gap/wrapped-row'> = {
  id: 'gap/wrapped-row',
  kind: 'gap',
  title: 'A box goes down to a row of its own',
  spec: ['CSS 2.2 §9.5', 'Flexbox 1 §9.3'],
  why: 'The declared widths of a row come to the whole of their container or a little more, and with their edges, margins and gaps they are wider.',
  usual: 'Count padding and border in, take the gap off the widths, or share the row out by `flex`.',
  example: `<style>.row { width: 400px; overflow: hidden } .row div { float: left; width: 50%; padding: 10px; background: linen }</style><div class="row"><div>1</div><div>2</div></div>`,
  observe: inContainers(fallen),
  drawn: beforeStart,
};
