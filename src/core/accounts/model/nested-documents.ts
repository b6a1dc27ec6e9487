/** Accounts of boxes in framed documents, told in the numbers, paths and coordinates of the whole page. */
import { locate, type Placed } from '../../reading/nested-documents.ts';
import type { Analysis } from '../../analysis.ts';
import type { Rect } from '../../geometry/rect.ts';
import { boxAccount, relativeOf, type BoxAccount, type Relative } from '../box.ts';
import { areasOf, type Areas } from '../../boxes/areas.ts';

export interface Documents {
  analyses: Analysis[];
  placed: Placed[];
}

const moved = (rect: Rect, { x, y }: Placed): Rect => ({ ...rect, x: rect.x + x, y: rect.y + y });

export function areasWithin({ analyses, placed }: Documents, element: number): Areas {
  const { document, local } = locate({ placed }, element);
  const areas = areasOf(analyses[document]!.tree, local);
  const at = placed[document]!;
  return { ...areas, rect: moved(areas.rect, at), content: moved(areas.content, at) };
}

export function accountWithin(documents: Documents, element: number): BoxAccount {
  const { analyses, placed } = documents;
  const { document, local } = locate({ placed }, element);
  const box = boxAccount(analyses[document]!, local);
  const at = placed[document]!;
  const shift = (relative: Relative): Relative => ({ ...relative, element: relative.element + at.base });
  const framed = placed.findIndex(({ owner }) => owner === element);
  const inside = framed < 0 ? [] : [{ ...relativeOf(analyses[framed]!, 0), element: placed[framed]!.base }];
  const outer = at.owner < 0 ? null : accountWithin(documents, at.owner);
  const holder = outer && {
    element: at.owner,
    label: outer.label,
    kind: outer.kindWords,
    width: outer.areas.rect.width,
    height: outer.areas.rect.height,
  };
  return {
    ...box,
    element,
    base: at.base,
    path: outer ? `${outer.path} >>> ${box.path.startsWith('html') ? '' : 'html > '}${box.path}` : box.path,
    areas: areasWithin(documents, element),
    closed: framed < 0 ? box.closed : null,
    containingBlock: box.containingBlock && shift(box.containingBlock),
    ancestors: [...box.ancestors.map(shift), ...(holder ? [holder, ...outer.ancestors] : [])],
    children: [...box.children.map(shift), ...inside],
  };
}
