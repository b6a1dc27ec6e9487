/** Space that nobody asked for, or that breaks the rhythm of what it stands between. */
import type { Analysis } from '../../analysis.ts';
import { layoutOf } from '../../boxes/formatting-contexts.ts';
import { hasBox } from '../../boxes/tree.ts';
import type { Suspect } from '../model.ts';
import { sightOf } from '../../visibility/visibility.ts';
import { basisAsHeight } from './flex-basis-as-height.ts';
import { belowFloat } from './below-float.ts';
import { breaks } from './line-breaks.ts';
import { cleared } from './clearance.ts';
import { ofDefaults } from './default-spacing.ts';
import { empty } from './empty-boxes.ts';
import { escaped } from './escaped-margins.ts';
import { underPicture } from './picture-on-baseline.ts';
import { implicitColumns } from './implicit-columns.ts';
import { rhythm } from './uneven-spacing.ts';
import { fallen, pushedDown } from './wrapped-row.ts';

export const kind = 'gap';

export function detect(analysis: Analysis): Suspect[] {
  const { tree } = analysis;
  const { visible } = sightOf(analysis);
  const out: Suspect[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (!visible[i] || !hasBox(tree, i)) continue;
    out.push(
      ...ofDefaults(analysis, i),
      ...rhythm(analysis, i),
      ...fallen(analysis, i),
      ...basisAsHeight(analysis, i),
      ...implicitColumns(analysis, i),
    );
    if (layoutOf(tree, i) !== 'flow') continue;
    for (const find of [underPicture, pushedDown, escaped, empty, breaks, cleared, belowFloat])
      out.push(...find(analysis, i));
  }
  return out;
}
