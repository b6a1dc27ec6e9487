/** Let text break: where it may not, and where a word is too long (CSS Text 3 §3, §5). */
import { cite, authorDeclaration } from '../accounts/author-declaration.ts';
import type { Observation } from '../finding.ts';
import { declaredPx } from '../accounts/sizing/declared.ts';
import type { Analysis } from '../analysis.ts';
import { inside, rectOf, usedPx, usedText } from '../boxes/tree.ts';
import { px } from '../geometry/rect.ts';
import { clips, boxName as labelOf, scrollsOn, selfAndAncestors } from '../visibility/visibility.ts';
import { alter, put, used, type Proposal } from './model.ts';

export const name = 'wrap';

export function propose(analysis: Analysis, { kind, boxes, axis, subject }: Observation): Proposal[] {
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
    const scrolls = selfAndAncestors(analysis, element, subject).some((at) => scrollsOn(tree, at, 'x'));
    const less = scrolls && kind === 'overflow' ? 50 : 0;
    const indent = authorDeclaration(analysis, element, 'text-indent');
    const indented = indent ? declaredPx(analysis, element, 'text-indent', indent.value) : 0;
    if (indent && indented > 0.5)
      out.push({
        element: indent.owner,
        property: 'text-indent',
        source: indent.source,
        rule: 'text-indent',
        because: `the first line of ${label} begins ${px(indented)} px further in ${cite(indent)}`,
        words: 'begin it where the others do',
        steps: [put(analysis, element, 'text-indent', '0')],
        rank: 91 - less,
        gives: indented,
      });
    for (const property of ['letter-spacing', 'word-spacing']) {
      const spacing = authorDeclaration(analysis, element, property);
      if (!spacing || !(usedPx(reading, property, element) > 0.5)) continue;
      out.push({
        element: spacing.owner,
        property,
        source: spacing.source,
        rule: property,
        because: `the ${property === 'letter-spacing' ? 'letters' : 'words'} of ${label} are set ${spacing.value} further apart ${cite(spacing)}`,
        words: 'set it as close as the font does',
        steps: [put(analysis, element, property, 'normal')],
        rank: 66 - less,
      });
    }
    const longest = Math.max(...texts.flatMap(({ pieces }) => pieces.map((piece) => piece.width)));
    const gives = kind === 'overflow' ? longest : Infinity;
    const space = usedText(reading, 'white-space', element);
    if (/^(nowrap|pre)$/.test(space)) {
      const declaration = authorDeclaration(analysis, element, 'white-space');
      const because = `${label} may not wrap`;
      const ending = authorDeclaration(analysis, element, 'text-overflow');
      if (ending?.value === 'ellipsis' && ending.owner === element && !clips(tree, element, 'x'))
        out.push({
          element: declaration?.owner ?? element,
          property: 'white-space',
          source: declaration?.source ?? null,
          rule: 'nowrap',
          because: `${because}, and the ellipsis that it asks for comes only where its overflow is hidden ${cite(declaration ?? ending)}`,
          words: 'hide what does not fit, behind its ellipsis',
          steps: [put(analysis, element, 'overflow', 'hidden')],
          rank: 91 - less,
          gives,
        });
      if (declaration)
        out.push({
          element: declaration.owner,
          property: 'white-space',
          source: declaration.source,
          rule: 'nowrap',
          because: `${because} ${cite(declaration)}`,
          words: 'let it wrap',
          steps: [
            declaration.source.property === 'white-space'
              ? alter(declaration, space === 'pre' ? 'pre-wrap' : 'normal')
              : put(analysis, element, 'white-space', 'normal'),
          ],
          rank: 90 - less,
          gives,
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
            gives,
          });
      continue;
    }
    const { width } = rectOf(reading, element);
    // A box that grows with its word is as wide as it, and both are wider than the view.
    const isLong = longest > Math.min(width + 0.5, reading.document.clientWidth);
    if (longest > width + 0.5 || kind === 'overflow') {
      const broken = used(analysis, 'white-space', element) === 'normal' || space.startsWith('pre');
      const size = authorDeclaration(analysis, element, 'font-size');
      const parent = reading.parent[element]!;
      const [ownSize, around] = [element, parent].map((element) => usedPx(reading, 'font-size', element)) as [
        number,
        number,
      ];
      // A word that would fit in the letters of what is around is set too large.
      if (
        size?.owner === element &&
        ownSize > around * 1.4 &&
        longest > width + 0.5 &&
        (longest * around) / ownSize <= width
      )
        out.push({
          element,
          property: size.source.property,
          source: size.source,
          rule: 'font-size',
          because: `the letters of ${label} are so large that a word of it does not fit ${cite(size)}`,
          words: 'let its letters be smaller where there is less room',
          steps: [
            put(
              analysis,
              element,
              'font-size',
              `min(${size.value}, ${px(Math.floor((1000 * ownSize * width) / longest / reading.viewport.width) / 10)}vw)`,
            ),
          ],
          rank: 72 - less,
        });
      if (broken)
        out.push({
          element,
          property: 'overflow-wrap',
          source: authorDeclaration(analysis, element, 'overflow-wrap')?.source ?? null,
          rule: 'long-word',
          because: `${label} has a word that is too long for it and may not break`,
          words: 'let a long word break',
          steps: [put(analysis, element, 'overflow-wrap', 'anywhere')],
          rank: isLong ? 70 - less : 30,
          gives,
        });
    }
  }
  return out;
}
