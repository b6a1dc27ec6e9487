/** Space that nobody asked for, or that breaks the rhythm of what it stands between. */
import type { Analysis } from '../../analysis.ts';
import { layoutOf } from '../../boxes/context.ts';
import { hasBox } from '../../boxes/tree.ts';
import type { Suspect } from '../finding.ts';
import { sightOf } from '../sight.ts';
import { basisAsHeight } from './basis.ts';
import { belowFloat } from './below.ts';
import { breaks } from './breaks.ts';
import { cleared } from './cleared.ts';
import { ofDefaults } from './defaults.ts';
import { empty } from './empty.ts';
import { escaped } from './escaped.ts';
import { underPicture } from './picture.ts';
import { implicitColumns } from './implicit.ts';
import { rhythm } from './rhythm.ts';
import { fallen, pushedDown } from './row.ts';

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
