/** Boxes that are as wide as if nothing were in them (CSS Containment 2 §3.1). */
import { cite, authorDeclaration } from '../../accounts/author-declaration.ts';
import { alter, put, type Proposal } from '../model.ts';
import type { SizeQuestion } from './size-question.ts';

/** Room for a box whose size is contained. */
export function containedSize({ analysis, observation, element, label, used }: SizeQuestion): Proposal[] {
  const out: Proposal[] = [];
  const { tree } = analysis;
  const { kind, axis, px } = observation;
  const contained =
    axis === 'x' && used < px + 1
      ? ['container-type', 'contain']
          .map((property) => authorDeclaration(analysis, element, property))
          .find(
            (declaration) =>
              declaration?.owner === element && /\b(inline-size|size|strict)\b/.test(declaration.value),
          )
      : null;
  if (contained && kind !== 'stray-scroll') {
    const base: Omit<Proposal, 'words' | 'steps' | 'rank'> = {
      element,
      property: contained.property,
      source: contained.source,
      rule: 'contained-size',
      because: `${label} is as wide as if nothing were in it ${cite(contained)}`,
    };
    if (tree.kinds[element] === 'flex-item')
      out.push({
        ...base,
        words: 'let it take the room that there is',
        steps: [put(analysis, element, 'flex', '1 1 0')],
        rank: 93,
      });
    out.push({
      ...base,
      words: 'give it the width of its container',
      steps: [put(analysis, element, 'width', '100%')],
      rank: 92,
    });
    out.push({ ...base, words: 'do not contain its size', steps: [alter(contained, '')], rank: 91 });
  }
  return out;
}
