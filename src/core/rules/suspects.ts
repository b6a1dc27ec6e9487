/** How rules name what they suspect. */
import { authorDeclaration, cite } from '../accounts/author-declaration.ts';
import type { Analysis } from '../analysis.ts';
import type { Fix, Suspect } from '../finding.ts';

/** One change of one declaration. */
export const fix = (words: string, element: number, property: string, value: string, rank: number): Fix => ({
  words,
  puts: [{ element, property, value }],
  rank,
});

/** A suspect, cited where the author declares the property. `because`: a clause without a subject before it. */
export function suspect(
  analysis: Analysis,
  element: number,
  property: string,
  because: string,
  fixes: readonly (Fix | null)[],
): Suspect {
  const declaration = authorDeclaration(analysis, element, property);
  return {
    element,
    property,
    rule: 'declared',
    because: declaration ? `${because} ${cite(declaration)}` : because,
    fixes: fixes.filter((entry) => entry !== null),
  };
}
