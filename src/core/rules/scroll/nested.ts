/** A box as tall as the view that scrolls, on a page that scrolls as well (CSS Overflow 3 §2.2). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { rectOf, usedText } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { boxName, selfAndAncestors } from '../../visibility/visibility.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { scrollers } from './scrollers.ts';

/** Part of the view from which on a box takes hold of most of the wheel. */
const PART = 0.55;

const SIZES = ['height', 'max-height'];

function nested(analysis: Analysis): Observed[] {
  const { reading } = analysis;
  const all = scrollers(analysis);
  const page = all.find(({ element, axis }) => element < 0 && axis === 'y');
  if (!page) return [];
  const { height, width } = reading.viewport;
  return all.flatMap(({ element, axis, scroll, client }): Observed[] => {
    if (element < 0 || axis !== 'y') return [];
    const isLarge = client >= PART * height && rectOf(reading, element).width >= 0.5 * width;
    if (stopsByGeometry(analysis, element, !isLarge && 'it takes no more than a part of the view')) return [];
    const stays = selfAndAncestors(analysis, element).some((at) =>
      /fixed|sticky|absolute/.test(usedText(reading, 'position', at)),
    );
    if (
      stopsByGeometry(analysis, element, stays && 'it is placed, or stays in its place while the page scrolls')
    )
      return [];
    const size = SIZES.flatMap((property) => authorDeclaration(analysis, element, property) ?? []).find(
      ({ owner, value }) => owner === element && !/^(auto|none)$/.test(value),
    );
    return [
      observed({
        px: scroll - client,
        axis,
        subject: element,
        what: `${boxName(analysis, element)} scrolls by ${px(scroll - client)} px in itself, and the page around it by ${px(page.scroll - page.client)} px`,
        evidence: facts([
          'as-tall-as-the-view-and-scrolls',
          size !== undefined &&
            /v[hb]|%/.test(size.value) &&
            `${size.source.property}: ${size.value} makes it about as tall as the view, and the page is taller`,
        ]),
        boxes: [element],
        weight: 50,
        source: size?.source ?? null,
      }),
    ];
  });
}

export const rule: Rule<'scroll/nested'> = {
  id: 'scroll/nested',
  kind: 'stray-scroll',
  title: 'A box scrolls within a page that scrolls',
  spec: ['CSS Overflow 3 §2.2'],
  why: 'A box of the height of the view, with more above or below it, makes the page scroll beside its own scroll.',
  usual: 'Let the box be as tall as what is in it, or make the whole page as tall as the view.',
  example: `<style>main { height: calc(100vh - 60px); overflow-y: auto } article, footer { height: 1500px } footer { height: 300px }</style><main><article>Text</article></main><footer>Foot</footer>`,
  observe: nested,
  suspects: (analysis, { subject }) =>
    SIZES.filter((property) => authorDeclaration(analysis, subject, property)?.owner === subject).map(
      (property) =>
        suspect(
          analysis,
          subject,
          property,
          `${boxName(analysis, subject)} is kept lower than what is in it, and scrolls`,
          [
            fix(
              'let it be as tall as what is in it',
              subject,
              property,
              property === 'height' ? 'auto' : 'none',
              104,
            ),
          ],
        ),
    ),
};
