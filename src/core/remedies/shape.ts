/** Give a picture its own shape back (CSS Images 3 §4.2, §5.5). */
import type { Analysis } from '../analysis.ts';
import { usedText } from '../boxes/tree.ts';
import { name as labelOf } from '../findings/sight.ts';
import type { Proposal, Suspect } from '../findings/finding.ts';
import { cite, put, said } from './proposal.ts';

export const name = 'shape';

export function propose(analysis: Analysis, { form, subject }: Suspect): Proposal[] {
  if (form !== 'shape') return [];
  const label = labelOf(analysis, subject);
  const out: Proposal[] = [];
  for (const [property, rank] of [
    ['height', 90],
    ['width', 70],
    ['min-height', 68],
    ['max-height', 66],
  ] as const) {
    const own = said(analysis, subject, property);
    if (!own || own.owner !== subject || /^(auto|none|0)/.test(own.value)) continue;
    out.push({
      element: subject,
      property: own.source.property,
      source: own.source,
      rule: 'shape',
      because: `${label} has a ${property} of ${own.value} whatever its other side comes to ${cite(own)}`,
      words: `let its ${property} follow its shape`,
      steps: [
        put(
          analysis,
          subject,
          property,
          property.startsWith('m') ? (property === 'max-height' ? 'none' : '0') : 'auto',
        ),
      ],
      rank,
    });
  }
  const around = analysis.reading.parent[subject]!;
  const isStretched =
    analysis.tree.kinds[subject] === 'flex-item' &&
    /^(auto|stretch|normal)$/.test(usedText(analysis.reading, 'align-self', subject) || 'auto');
  if (isStretched) {
    const own = said(analysis, subject, 'align-self') ?? said(analysis, around, 'align-items');
    out.push({
      element: subject,
      property: own?.source.property ?? 'align-self',
      source: own?.source ?? null,
      rule: 'stretch',
      because: `${label} is stretched to the height of its row${own ? ` ${cite(own)}` : ', which is the default'}`,
      words: 'let it keep its height',
      steps: [put(analysis, subject, 'align-self', 'flex-start')],
      rank: 80,
    });
  }
  const fit = said(analysis, subject, 'object-fit');
  out.push({
    element: subject,
    property: 'object-fit',
    source: fit?.source ?? null,
    rule: 'fill',
    because: `${label} fills its box from side to side in both directions`,
    words: 'cut it to its box',
    steps: [put(analysis, subject, 'object-fit', 'cover')],
    rank: 50,
  });
  return out;
}
