/** Let the items of a flex container stand in several lines (Flexbox 1 §5.2). */
import { cite, isLength, authorDeclaration } from '../../accounts/author-declaration.ts';
import { childrenOf, usedText } from '../../boxes/tree.ts';
import { put, type Proposal } from '../model.ts';
import { itemsAround, type SizeQuestion } from './size-question.ts';

/** Items that wrap, and where that is not enough are no wider than their line. */
export function wrappingItems({ analysis, observation, element, label }: SizeQuestion): Proposal[] {
  const out: Proposal[] = [];
  const { reading, tree } = analysis;
  const { kind, axis, subject } = observation;
  const display = usedText(reading, 'display', element);
  if (
    /flex$/.test(display) &&
    axis === 'x' &&
    usedText(reading, 'flex-wrap', element) === 'nowrap' &&
    kind !== 'stray-scroll'
  ) {
    // Where nothing is said of wrapping, what makes a line of them is that they are flex items.
    const declaration = authorDeclaration(analysis, element, 'flex-wrap');
    const line = declaration ?? authorDeclaration(analysis, element, 'display');
    const place = line ? ` ${cite(line)}` : '';
    out.push({
      element,
      property: 'flex-wrap',
      source: line?.source ?? null,
      rule: 'one-line',
      because: `the items of ${label} must stand in one line${place}`,
      words: 'let its items wrap',
      steps: [put(analysis, element, 'flex-wrap', 'wrap')],
      rank: declaration ? 76 : 45,
    });
    const fixed = childrenOf(tree, element).filter((child) => {
      const width = authorDeclaration(analysis, child, 'width');
      return width !== null && width.owner === child && isLength(width.value) && !/%/.test(width.value);
    });
    if (fixed.length > 0)
      out.push({
        element,
        property: 'flex-wrap',
        source: line?.source ?? null,
        rule: 'one-line',
        because: `the items of ${label} have widths of their own and must stand in one line${place}`,
        words: 'let its items wrap, none wider than it',
        steps: [
          put(analysis, element, 'flex-wrap', 'wrap'),
          ...fixed.map((element) => put(analysis, element, 'max-width', '100%')),
          ...itemsAround(analysis, element, subject),
        ],
        rank: 44,
      });
  }
  return out;
}
