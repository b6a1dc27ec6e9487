/** Items of a flex column that keep it from having the height that is declared of it (Flexbox 1 §4.5). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { isMainAxisVertical } from '../../boxes/formatting-contexts.ts';
import { usedText } from '../../boxes/tree.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { boxName, selfAndAncestors } from '../../visibility/visibility.ts';
import { itemsOf } from '../like-boxes.ts';
import { suspect } from '../suspects.ts';

/** The items that may shrink and do not, for their automatic minimum is the height of what is in them. */
export function columnMinimum(analysis: Analysis, { subject, other }: Observation): Suspect[] {
  const { tree, reading } = analysis;
  const columns = [
    subject,
    ...(other === null ? [] : selfAndAncestors(analysis, other, reading.parent[subject]!)),
  ];
  return [...new Set(columns)]
    .filter((box) => isMainAxisVertical(tree, box))
    .flatMap((column) =>
      itemsOf(analysis, column)
        .filter((item) => {
          const grow = authorDeclaration(analysis, item, 'flex-grow');
          const shrink = Number(usedText(reading, 'flex-shrink', item) || '1');
          return (
            grow !== null &&
            Number(grow.value) > 0 &&
            shrink > 0 &&
            !authorDeclaration(analysis, item, 'min-height')
          );
        })
        .map((item) => {
          const isVisible = /^(visible|)$/.test(usedText(reading, 'overflow', item).split(' ').at(-1)!);
          return suspect(
            analysis,
            item,
            'min-height',
            `${boxName(analysis, item)} is no lower than what is in it (min-height: auto)`,
            [
              {
                words: 'let it be lower, and scroll what is in it',
                puts: [
                  { element: item, property: 'min-height', value: '0' },
                  ...(isVisible ? [{ element: item, property: 'overflow-y', value: 'auto' }] : []),
                ],
                rank: 104,
              },
            ],
          );
        }),
    );
}
