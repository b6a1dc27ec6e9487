/** Boxes that go below a float though nothing of theirs lies beside it (CSS 2.2 §9.5.2). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { flags, type Test } from '../../reading/column-predicates.ts';
import { px } from '../../geometry/rect.ts';
import { suspect, type Suspect } from '../model.ts';
import { holds, inkOf, name, sightOf } from '../../visibility/visibility.ts';
import { contents } from '../../visibility/flow-contents.ts';

/** Clearance below this is a line that makes room for a float beside it. */
const LEAST = 24;

const clears: Test = (text) => /both|left|right/.test(text);

export function cleared(analysis: Analysis, container: number): Suspect[] {
  const { tree, reading } = analysis;
  const { visible } = sightOf(analysis);
  const clearing = flags(reading, 'clear', clears);
  if (!contents(analysis, container)?.some((one) => clearing[one] === 1)) return [];
  const own = (contents(analysis, container) ?? []).filter((one) => visible[one]);
  return own.flatMap((one, n) => {
    const before = own[n - 1];
    if (before === undefined || clearing[one] === 0) return [];
    if (!/^(block|list-item)$/.test(tree.kinds[one]!)) return [];
    if (!shows(analysis, before) || !shows(analysis, one)) return [];
    const [above, below] = [laidAreas(tree, before), laidAreas(tree, one)];
    const between = below.rect.y - above.rect.y - above.rect.height;
    const by = between - Math.max(above.margin.bottom, below.margin.top, 0);
    if (by < LEAST) return [];
    return [
      suspect({
        kind: 'gap',
        px: by,
        axis: 'y',
        subject: one,
        other: before,
        what: `${name(analysis, one)} goes ${px(by)} px down, below a float, and leaves that much room under ${name(analysis, before)}`,
        form: 'cleared',
        weight: 15 + by / 3,
      }),
    ];
  });
}

/** Whether something in a box can be seen. */
function shows(analysis: Analysis, box: number): boolean {
  const { tree } = analysis;
  const { visible } = sightOf(analysis);
  for (let i = box; i < tree.count && holds(analysis, box, i); i++)
    if (visible[i] && inkOf(analysis, i).length > 0) return true;
  return false;
}
