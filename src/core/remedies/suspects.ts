/** What a rule itself suspects, as changes to be tried. */
import { authorDeclaration } from '../accounts/author-declaration.ts';
import type { Analysis } from '../analysis.ts';
import type { Suspect } from '../finding.ts';
import { alter, put, type Proposal, type Step } from './model.ts';

export const proposalsOf = (analysis: Analysis, suspects: readonly Suspect[]): Proposal[] =>
  suspects.flatMap(({ element, property, rule, because, fixes }) => {
    const declaration = authorDeclaration(analysis, element, property);
    const source = declaration?.source ?? null;
    return fixes.map(({ words, puts, rank }) => ({
      element,
      property: source?.property ?? property,
      source,
      rule,
      because,
      words,
      steps: puts.map((entry) => stepOf(analysis, entry)),
      rank,
    }));
  });

function stepOf(
  analysis: Analysis,
  { element, property, value }: Suspect['fixes'][number]['puts'][number],
): Step {
  if (value !== '') return put(analysis, element, property, value);
  const declaration = authorDeclaration(analysis, element, property);
  return declaration ? alter(declaration, '') : put(analysis, element, property, 'unset');
}
