/** Limit pictures that are as large as they are by themselves (CSS 2.2 §10.3.2). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { usedText } from '../../boxes/tree.ts';
import { isReplaced } from '../../boxes/kinds.ts';
import { put, type Proposal } from '../model.ts';
import { itemsAround, type SizeQuestion } from './size-question.ts';

/** A picture that is no wider than its container. */
export function pictureWithoutLimit({ analysis, observation, element, label, used }: SizeQuestion): Proposal[] {
  const out: Proposal[] = [];
  const { reading } = analysis;
  const { kind, axis, subject } = observation;
  const isPicture = isReplaced(reading, element) && axis === 'x' && kind === 'overflow';
  const limit = isPicture ? authorDeclaration(analysis, element, 'max-width') : null;
  if (isPicture && (!limit || limit.value === 'none')) {
    const items = itemsAround(analysis, element, subject);
    const base: Omit<Proposal, 'words' | 'steps' | 'rank'> = {
      element,
      property: 'width',
      source: limit?.source ?? authorDeclaration(analysis, element, 'width')?.source ?? null,
      rule: 'replaced',
      because: `${label} is ${Math.round(used)} px wide by itself and has no limit`,
      gives: used,
    };
    const limited = put(analysis, element, 'max-width', '100%');
    const { border, padding } = laidAreas(analysis.tree, element);
    const edges = border.left + border.right + padding.left + padding.right;
    // Of a content box its edges come on top of the limit.
    const isTooWide = edges > 0.5 && usedText(reading, 'box-sizing', element) !== 'border-box';
    out.push({
      ...base,
      words: 'limit it to its container',
      steps: [limited, ...(isTooWide ? [put(analysis, element, 'box-sizing', 'border-box')] : [])],
      rank: 75,
    });
    out.push({
      ...base,
      words: '',
      steps: [put(analysis, element, 'max-width', '0')],
      rank: 73,
      isProof: true,
    });
    // What it lies in must not be as wide as it for the limit to be one.
    if (items.length > 0)
      out.push({
        ...base,
        words: 'limit it to its container, and let that shrink',
        steps: [limited, ...items],
        rank: 74,
      });
  }
  return out;
}
