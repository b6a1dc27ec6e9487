/** Columns of a grid that nobody declared, made because an item reaches beyond those that there are (Grid 2 §7.5, §8.3). */
import { explicitTracks } from '../../accounts/grid/grid.ts';
import type { Analysis } from '../../analysis.ts';
import { tracksOf } from '../../boxes/grid-tracks.ts';
import { childrenOf, hasBox, usedText } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { said } from '../../remedies/model.ts';
import { suspect, type Suspect } from '../model.ts';
import { name, sightOf } from '../../visibility/visibility.ts';

const LEAST = 1;

export function implicitColumns(analysis: Analysis, container: number): Suspect[] {
  const { tree, reading } = analysis;
  if (!/grid$/.test(usedText(reading, 'display', container))) return [];
  const declared = explicitTracks(analysis, container, 'columns');
  // Where further columns are asked for they are meant.
  const isAsked =
    said(analysis, container, 'grid-auto-columns') !== null ||
    /column/.test(usedText(reading, 'grid-auto-flow', container));
  if (declared === null || declared < 1 || isAsked) return [];
  const { sizes, gap } = tracksOf(tree, container, 'columns');
  const beyond = sizes.slice(declared);
  const by = beyond.reduce((sum, size) => sum + size + gap, 0);
  if (beyond.length === 0 || by < LEAST) return [];
  const { visible } = sightOf(analysis);
  const items = childrenOf(tree, container).filter((one) => hasBox(tree, one) && visible[one]);
  const reaching = items.filter((one) => reachOf(analysis, one) > declared);
  const [item] = [...reaching].sort((a, b) => reachOf(analysis, b) - reachOf(analysis, a));
  const own = item === undefined ? null : placing(analysis, item);
  if (item === undefined || !own) return [];
  const some = (count: number, word: string) => `${count} ${word}${count === 1 ? '' : 's'}`;
  return [
    suspect({
      kind: 'gap',
      px: by,
      axis: 'x',
      subject: item,
      other: container,
      what: `${name(analysis, item)} reaches beyond the ${some(declared, 'column')} of ${name(analysis, container)}: ${some(beyond.length, 'more column')} that nobody declared take${beyond.length === 1 ? 's' : ''} ${px(by)} px with ${beyond.length === 1 ? 'its gap' : 'their gaps'}`,
      form: 'implicit',
      places: [item, ...reaching.filter((one) => one !== item)],
      boxes: [item, ...reaching.filter((one) => one !== item)],
      source: own.source,
      weight: 60 + by,
    }),
  ];
}

/** The declaration that says which columns an item takes. */
export const placing = (analysis: Analysis, item: number) =>
  ['grid-column-end', 'grid-column-start']
    .map((property) => said(analysis, item, property))
    .find((own) => own !== null && own.owner === item && own.value !== 'auto');

/** Columns up to the last that an item asks for by number, counted from the first. */
function reachOf({ reading }: Analysis, item: number): number {
  const text = (side: string) => usedText(reading, `grid-column-${side}`, item);
  const [start, end] = [text('start'), text('end')];
  const line = (value: string) => (/^\d+$/.test(value) ? Number(value) : 0);
  const span = Math.max(1, ...[start, end].map((value) => Number(/^span (\d+)$/.exec(value)?.[1] ?? 1)));
  return Math.max(line(end) - 1, line(start) > 0 ? line(start) + span - 1 : span);
}
