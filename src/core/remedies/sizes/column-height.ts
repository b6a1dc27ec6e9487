/** Columns that go on beside their box since its height is set (CSS Multicol 1 §8.1). */
import { cite, isLength, authorDeclaration } from '../../accounts/author-declaration.ts';
import { usedText } from '../../boxes/tree.ts';
import { put, type Proposal } from '../model.ts';
import type { SizeQuestion } from './size-question.ts';
import type { Analysis } from '../../analysis.ts';

/** Columns that are as tall as they must be. */
export function columnHeight({ analysis, observation, element, label }: SizeQuestion): Proposal[] {
  const out: Proposal[] = [];
  const { kind, axis } = observation;
  if (axis === 'x' && kind === 'overflow' && isInColumns(analysis, element)) {
    const tall = ['height', 'max-height']
      .map((property) => authorDeclaration(analysis, element, property))
      .find((declaration) => declaration?.owner === element && isLength(declaration.value));
    if (tall)
      out.push({
        element,
        property: tall.property,
        source: tall.source,
        rule: 'column-height',
        because: `the columns of ${label} end at ${tall.value}, and what is left goes on in further columns beside them ${cite(tall)}`,
        words: 'let its columns be as tall as they must',
        steps: [put(analysis, element, tall.property, tall.property === 'height' ? 'auto' : 'none')],
        rank: 87,
      });
  }
  return out;
}

const isInColumns = ({ reading }: Analysis, element: number): boolean =>
  ['column-count', 'column-width'].some((text) => !/^(auto|)$/.test(usedText(reading, text, element)));
