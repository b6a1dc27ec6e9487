/** Hold what is positioned, or let out what is cut off (CSS Overflow 3 §3.1, CSS Positioned Layout 3 §2.1). */
import type { Analysis } from '../analysis.ts';
import { name as labelOf, clips } from '../findings/sight.ts';
import type { Proposal, Suspect } from '../findings/finding.ts';
import { alter, cite, put, said } from './proposal.ts';

export const name = 'hold';

export function propose(analysis: Analysis, { kind, boxes, subject, axis }: Suspect): Proposal[] {
  const out: Proposal[] = [];
  if (kind === 'stray-scroll') {
    const [first] = boxes;
    const own = first === undefined ? null : said(analysis, first, 'position');
    if (first !== undefined && own) {
      const because = `${labelOf(analysis, first)} is positioned ${cite(own)}, and ${subject === first ? 'nothing near it' : labelOf(analysis, subject)} is not its containing block and does not clip it`;
      const base = { element: first, property: 'position', source: own.source, rule: 'escapes', because };
      const holder = subject === first ? analysis.reading.parent[first]! : subject;
      if (holder > 0)
        out.push({
          ...base,
          words: `make ${labelOf(analysis, holder)} its containing block`,
          steps: [put(analysis, holder, 'position', 'relative')],
          rank: 90,
        });
      const parent = analysis.reading.parent[first]!;
      if (parent > 0 && parent !== holder)
        out.push({
          ...base,
          words: `make ${labelOf(analysis, parent)} its containing block`,
          steps: [put(analysis, parent, 'position', 'relative')],
          rank: 80,
        });
      out.push({ ...base, words: 'leave it in the flow', steps: [alter(own, 'static')], rank: 40 });
    }
    for (const element of boxes.slice(0, 6))
      for (const property of axis === 'x'
        ? ['left', 'right', 'width', 'text-indent']
        : ['top', 'bottom', 'height', 'margin-bottom', 'margin-top']) {
        const offset = said(analysis, element, property);
        if (!offset || offset.owner !== element || !/[1-9]/.test(offset.value)) continue;
        out.push({
          element,
          property,
          source: offset.source,
          rule: 'far-off',
          because: `${labelOf(analysis, element)} is put there by ${property}: ${offset.value} ${cite(offset)}`,
          words: 'take it out',
          steps: [
            offset.source.property === property ? alter(offset, '') : put(analysis, element, property, 'auto'),
          ],
          rank: /left|right|top|bottom$/.test(property) ? 94 : 60,
        });
      }
  }
  if (kind === 'clip')
    for (const element of boxes) {
      if (!clips(analysis.tree, element, axis)) continue;
      const own = said(analysis, element, axis === 'x' ? 'overflow-x' : 'overflow-y');
      if (!own) continue;
      out.push({
        element,
        property: 'overflow',
        source: own.source,
        rule: 'clips',
        because: `${labelOf(analysis, element)} cuts off what is beyond it ${cite(own)}`,
        words: 'show what is beyond it',
        steps: [alter(own, 'visible')],
        rank: 93,
      });
    }
  return out;
}
