/** Columns of a grid that nobody declared, made because an item reaches beyond those that there are (Grid 2 §7.5, §8.3). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { columnPlacement } from '../../accounts/grid/column-placement.ts';
import { explicitTracks } from '../../accounts/grid/grid.ts';
import type { Analysis } from '../../analysis.ts';
import { tracksOf } from '../../boxes/grid-tracks.ts';
import { childrenOf, hasBox, usedText } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { beforeStart } from '../drawn.ts';
import { inContainers } from './containers.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { boxName, visibilityOf } from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry } from '../stops.ts';

const LEAST = 1;

function implicitColumns(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  if (
    stopsByGeometry(
      analysis,
      container,
      !/grid$/.test(usedText(reading, 'display', container)) && 'it is no grid container',
    )
  )
    return [];
  const declared = explicitTracks(analysis, container, 'columns');
  // Where further columns are asked for they are meant.
  const isAsked =
    authorDeclaration(analysis, container, 'grid-auto-columns') !== null ||
    /column/.test(usedText(reading, 'grid-auto-flow', container));
  if (declared === null || declared < 1) {
    stopsByGeometry(analysis, container, 'how many columns are declared is not known, or none are');
    return [];
  }
  if (stopsByEvidence(analysis, container, isAsked && 'further columns are asked for')) return [];
  const { sizes, gap } = tracksOf(tree, container, 'columns');
  const beyond = sizes.slice(declared);
  const by = beyond.reduce((sum, size) => sum + size + gap, 0);
  if (
    stopsByGeometry(
      analysis,
      container,
      (beyond.length === 0 || by < LEAST) && 'it has no columns but those declared',
    )
  )
    return [];
  const { visible } = visibilityOf(analysis);
  const items = childrenOf(tree, container).filter((child) => hasBox(tree, child) && visible[child]);
  const reaching = items.filter((item) => reachOf(analysis, item) > declared);
  const [item] = [...reaching].sort((a, b) => reachOf(analysis, b) - reachOf(analysis, a));
  const declaration = item === undefined ? null : columnPlacement(analysis, item);
  if (item === undefined || !declaration) {
    stopsByGeometry(analysis, container, 'no item asks for the further columns by a number');
    return [];
  }
  const some = (count: number, word: string) => `${count} ${word}${count === 1 ? '' : 's'}`;
  return [
    observed({
      px: by,
      axis: 'x',
      subject: item,
      other: container,
      what: `${boxName(analysis, item)} reaches beyond the ${some(declared, 'column')} of ${boxName(analysis, container)}: ${some(beyond.length, 'more column')} that nobody declared take${beyond.length === 1 ? 's' : ''} ${px(by)} px with ${beyond.length === 1 ? 'its gap' : 'their gaps'}`,
      places: [item, ...reaching.filter((value) => value !== item)],
      boxes: [item, ...reaching.filter((value) => value !== item)],
      source: declaration.source,
      weight: 60 + by,
    }),
  ];
}

/** Columns up to the last that an item asks for by number, counted from the first. */
function reachOf({ reading }: Analysis, item: number): number {
  const text = (side: string) => usedText(reading, `grid-column-${side}`, item);
  const [start, end] = [text('start'), text('end')];
  const line = (value: string) => (/^\d+$/.test(value) ? Number(value) : 0);
  const span = Math.max(1, ...[start, end].map((value) => Number(/^span (\d+)$/.exec(value)?.[1] ?? 1)));
  return Math.max(line(end) - 1, line(start) > 0 ? line(start) + span - 1 : span);
}

export const rule: Rule<'gap/implicit-columns'> = {
  id: 'gap/implicit-columns',
  kind: 'gap',
  title: 'A grid has columns that nobody declared',
  spec: ['Grid 2 §7.5', 'Grid 2 §8.3'],
  why: 'An item that is placed beyond the last column makes implicit columns.',
  usual: 'Let it go from the first to the last column: `1 / -1`.',
  example: `<style>.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 10px } .wide { grid-column: span 3 }</style><div class="grid"><div class="wide">wide</div><div>1</div><div>2</div></div>`,
  observe: inContainers(implicitColumns),
  drawn: beforeStart,
};
