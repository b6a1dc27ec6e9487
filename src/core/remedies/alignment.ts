/** Change how a box stands in its line or among its siblings: pictures off the baseline, boxes in a row (CSS 2.2 §10.8). */
import { cite, authorDeclaration } from '../accounts/author-declaration.ts';
import type { Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { boxName as labelOf } from '../visibility/visibility.ts';
import { put, type Proposal } from './model.ts';

export const name = 'align';

export function propose(analysis: Analysis, { kind, subject, other, rule }: Observation): Proposal[] {
  if (rule === 'overlap/close-lines') return closeLines(analysis, subject);
  if (kind !== 'gap' || other === null) return [];
  if (rule === 'gap/picture-on-baseline') {
    const base = {
      element: subject,
      property: 'vertical-align',
      source: authorDeclaration(analysis, subject, 'vertical-align')?.source ?? null,
      rule: 'baseline',
      because: `${labelOf(analysis, subject)} stands on the baseline of a line, and the room below it is for descenders`,
    };
    return [
      { ...base, words: 'make it a block', steps: [put(analysis, subject, 'display', 'block')], rank: 80 },
      {
        ...base,
        words: 'take it off the baseline',
        steps: [put(analysis, subject, 'vertical-align', 'bottom')],
        rank: 75,
      },
    ];
  }
  if (rule !== 'gap/white-space-between') return [];
  const declaration = authorDeclaration(analysis, subject, 'display');
  const base = {
    element: subject,
    property: 'display',
    source: declaration?.source ?? null,
    rule: 'white-space-between',
    because: `inline-blocks have the white space of the source between them${declaration ? ` ${cite(declaration)}` : ''}`,
  };
  return [
    {
      ...base,
      words: 'lay their container out as a row that wraps',
      steps: [put(analysis, other, 'display', 'flex'), put(analysis, other, 'flex-wrap', 'wrap')],
      rank: 75,
    },
    {
      ...base,
      words: 'set them side by side without it',
      steps: [put(analysis, subject, 'display', 'block'), put(analysis, subject, 'float', 'left')],
      rank: 60,
    },
  ];
}

function closeLines(analysis: Analysis, element: number): Proposal[] {
  const declaration = authorDeclaration(analysis, element, 'line-height');
  if (!declaration) return [];
  return [
    {
      element: declaration.owner,
      property: 'line-height',
      source: declaration.source,
      rule: 'line-height',
      because: `its lines are ${declaration.value} tall ${cite(declaration)}`,
      words: 'set its lines apart',
      steps: [put(analysis, declaration.owner, 'line-height', 'normal')],
      rank: 90,
    },
  ];
}
