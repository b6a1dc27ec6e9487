/** Let text break: where it may not, and where a word is too long (CSS Text 3 §3, §5). */
import type { Analysis } from '../analysis.ts';
import { inside, rectOf, usedText } from '../boxes/tree.ts';
import { clips, name as labelOf, scrollsOn, upward } from '../findings/sight.ts';
import type { Proposal, Suspect } from '../findings/finding.ts';
import { alter, cite, put, said, used } from './proposal.ts';

export const name = 'wrap';

export function propose(analysis: Analysis, { kind, boxes, axis, subject }: Suspect): Proposal[] {
  if (axis !== 'x' || !/overflow|overlap|clip/.test(kind)) return [];
  const { tree, reading } = analysis;
  const out: Proposal[] = [];
  for (const element of boxes) {
    const texts =
      inside(tree)
        .texts.get(element)
        ?.filter(({ blank }) => !blank) ?? [];
    if (texts.length === 0) continue;
    const label = labelOf(analysis, element);
    // Text that may scroll in a box of its own is not what should wrap.
    const scrolls = upward(analysis, element, subject).some((at) => scrollsOn(tree, at, 'x'));
    const less = scrolls && kind === 'overflow' ? 50 : 0;
    const space = usedText(reading, 'white-space', element);
    if (/^(nowrap|pre)$/.test(space)) {
      const own = said(analysis, element, 'white-space');
      const because = `${label} may not wrap`;
      const ending = said(analysis, element, 'text-overflow');
      if (ending?.value === 'ellipsis' && ending.owner === element && !clips(tree, element, 'x'))
        out.push({
          element: own?.owner ?? element,
          property: 'white-space',
          source: own?.source ?? null,
          rule: 'nowrap',
          because: `${because}, and the ellipsis that it asks for comes only where its overflow is hidden ${cite(own ?? ending)}`,
          words: 'hide what does not fit, behind its ellipsis',
          steps: [put(analysis, element, 'overflow', 'hidden')],
          rank: 91 - less,
        });
      if (own)
        out.push({
          element: own.owner,
          property: 'white-space',
          source: own.source,
          rule: 'nowrap',
          because: `${because} ${cite(own)}`,
          words: 'let it wrap',
          steps: [
            own.source.property === 'white-space'
              ? alter(own, space === 'pre' ? 'pre-wrap' : 'normal')
              : put(analysis, element, 'white-space', 'normal'),
          ],
          rank: 90 - less,
        });
      else
        for (const [property, value, words] of [
          ['white-space', 'pre-wrap', 'let its lines wrap'],
          ['overflow-x', 'auto', 'let it scroll by itself'],
        ] as const)
          out.push({
            element,
            property: 'white-space',
            source: null,
            rule: 'default',
            because: `${because}: white-space is ${space} by default`,
            words,
            steps: [put(analysis, element, property, value)],
            rank: (value === 'auto' ? 84 : 85) - less,
          });
      continue;
    }
    const { width } = rectOf(reading, element);
    const longest = Math.max(...texts.flatMap(({ pieces }) => pieces.map((piece) => piece.width)));
    if (longest > width + 0.5 || kind === 'overflow') {
      const broken = used(analysis, 'white-space', element) === 'normal' || space.startsWith('pre');
      if (broken)
        out.push({
          element,
          property: 'overflow-wrap',
          source: said(analysis, element, 'overflow-wrap')?.source ?? null,
          rule: 'long-word',
          because: `${label} has a word that is too long for it and may not break`,
          words: 'let a long word break',
          steps: [put(analysis, element, 'overflow-wrap', 'anywhere')],
          rank: longest > width + 0.5 ? 70 - less : 30,
        });
    }
  }
  return out;
}
