/** Let items become smaller than what is in them (Flexbox 1 §4.5, Grid 2 §6.6, HTML §15.3.13). */
import { cite, authorDeclaration } from '../../accounts/author-declaration.ts';
import { isMainAxisVertical } from '../../boxes/formatting-contexts.ts';
import { put, type Proposal } from '../model.ts';
import { clips, isSelfOrAncestor } from '../../visibility/visibility.ts';
import type { Analysis } from '../../analysis.ts';
import { tagOf } from '../../reading/labels.ts';
import type { SizeQuestion } from './size-question.ts';

/** The automatic minimum of a flex or grid item, taken away. */
export function automaticMinimum({ analysis, observation, element, label, used }: SizeQuestion): Proposal[] {
  const out: Proposal[] = [];
  const { reading, tree } = analysis;
  const { kind, axis, rule } = observation;
  const isItem = /flex-item|grid-item/.test(tree.kinds[element]!);
  if (isItem && axis === 'x' && !authorDeclaration(analysis, element, 'min-width') && kind !== 'stray-scroll')
    out.push({
      element,
      property: 'min-width',
      source: null,
      rule: 'automatic-minimum',
      because: `${label} may not become narrower than what is in it (min-width is auto on a ${tree.kinds[element]!.replace('-', ' ')})`,
      words: 'let it shrink',
      // Every item from it down to the text keeps its content's width by default, and each must let go of it.
      steps: [element, ...itemsIn(analysis, element)].map((item) => put(analysis, item, 'min-width', '0')),
      rank: asksToGiveWay(analysis, element) ? 95 : 50,
      gives: kind === 'overflow' ? used : Infinity,
    });
  const isGrown =
    tree.kinds[element] === 'grid-item' ||
    (tree.kinds[element] === 'flex-item' && isMainAxisVertical(tree, reading.parent[element]!));
  if (
    isGrown &&
    axis === 'y' &&
    /clip|overflow/.test(kind) &&
    !authorDeclaration(analysis, element, 'min-height')
  )
    out.push({
      element,
      property: 'min-height',
      source: null,
      rule: 'automatic-minimum',
      because: `${label} may not become lower than what is in it (min-height is auto on a ${tree.kinds[element]!.replace('-', ' ')})`,
      words: 'let it shrink, so that what is in it scrolls',
      steps: [put(analysis, element, 'min-height', '0')],
      rank: rule === 'overflow/never-scrolls' ? 92 : 50,
    });
  return out;
}

/** Items of rows in a box that have an automatic minimum of their own, on the way to a text that ends in an ellipsis or may break. */
function itemsIn(analysis: Analysis, element: number): number[] {
  const { tree, reading } = analysis;
  const out: number[] = [];
  for (let i = element + 1; i < tree.count && isSelfOrAncestor(analysis, element, i); i++) {
    if (!givesWay(analysis, i)) continue;
    for (let at = i; at > element; at = reading.parent[at]!)
      if (
        tree.kinds[at] === 'flex-item' &&
        !authorDeclaration(analysis, at, 'min-width') &&
        !clips(tree, at, 'x') &&
        !out.includes(at)
      )
        out.push(at);
  }
  return out;
}

/** Whether a text is declared to end in an ellipsis, or to break anywhere (CSS Overflow 3 §5, CSS Text 3 §5.2). */
const givesWay = (analysis: Analysis, element: number): boolean =>
  authorDeclaration(analysis, element, 'text-overflow')?.value === 'ellipsis' ||
  /break-word|anywhere/.test(authorDeclaration(analysis, element, 'overflow-wrap')?.value ?? '') ||
  (clips(analysis.tree, element, 'x') && authorDeclaration(analysis, element, 'overflow-x')?.owner === element);

/** Whether what is in an item, or the item, asks for less room than its content takes. */
function asksToGiveWay(analysis: Analysis, element: number): boolean {
  const { tree } = analysis;
  for (let i = element; i < tree.count && isSelfOrAncestor(analysis, element, i); i++)
    if (givesWay(analysis, i)) return true;
  return false;
}

/** The minimum that a fieldset has by default, taken away. */
export function fieldsetMinimum({ analysis, observation, element, label }: SizeQuestion): Proposal[] {
  const out: Proposal[] = [];
  const { axis } = observation;
  if (
    tagOf(analysis.reading, element) === 'fieldset' &&
    axis === 'x' &&
    !authorDeclaration(analysis, element, 'min-width')
  )
    out.push({
      element,
      property: 'min-width',
      source: null,
      rule: 'fieldset-minimum',
      because: `${label} may not become narrower than what is in it (min-inline-size of a fieldset is min-content by default)`,
      words: 'let it shrink',
      steps: [put(analysis, element, 'min-width', '0')],
      rank: 86,
    });
  return out;
}

/** An item that may not shrink, allowed to. */
export function noShrink({ analysis, observation, element, label }: SizeQuestion): Proposal[] {
  const out: Proposal[] = [];
  const { tree } = analysis;
  const { kind } = observation;
  const shrink =
    tree.kinds[element] === 'flex-item' ? authorDeclaration(analysis, element, 'flex-shrink') : null;
  if (shrink?.value === '0' && kind !== 'stray-scroll')
    out.push({
      element,
      property: 'flex-shrink',
      source: shrink.source,
      rule: 'no-shrink',
      because: `${label} may not shrink ${cite(shrink)}`,
      words: 'let it shrink',
      steps: [put(analysis, element, 'flex-shrink', '1'), put(analysis, element, 'min-width', '0')],
      rank: 72,
    });
  return out;
}
