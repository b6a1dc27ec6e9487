/** Fields of a form that keep the size of the browser beside others that are sized (HTML §15.5). */
import { sizeWish } from '../wishes.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { attribute, rectOf } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { tagOf } from '../../reading/labels.ts';
import { boxName, selfAndAncestors } from '../../visibility/visibility.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

const LEAST = 24;
const TEXTUAL = /^(|text|search|email|url|tel|number|password|date|time|month|week)$/i;

const isSized = (analysis: Analysis, field: number): boolean =>
  attribute(analysis.tree, field, 'cols') !== null ||
  (tagOf(analysis.reading, field) === 'input' && attribute(analysis.tree, field, 'size') !== null) ||
  ['width', 'min-width', 'flex-grow', 'flex-basis', 'justify-self'].some((property) => {
    const declaration = authorDeclaration(analysis, field, property);
    return declaration?.owner === field && !/^(auto|0)$/.test(declaration.value);
  });

/** Fields by the form, or the part of the page, that they belong to. */
function formsOf(analysis: Analysis): Map<number, number[]> {
  const { tree, reading } = analysis;
  const out = new Map<number, number[]>();
  for (let i = 1; i < tree.count; i++) {
    const tag = tagOf(reading, i);
    if (
      !/^(input|textarea|select)$/.test(tag) ||
      (tag === 'input' && !TEXTUAL.test(attribute(tree, i, 'type') ?? ''))
    )
      continue;
    if (isUnseen(analysis, i)) continue;
    const form =
      selfAndAncestors(analysis, i).find((at) =>
        /^(form|fieldset|section|main|body)$/.test(tagOf(reading, at)),
      ) ?? 0;
    out.set(form, [...(out.get(form) ?? []), i]);
  }
  return out;
}

function unlike(analysis: Analysis): Observed[] {
  const { reading } = analysis;
  return [...formsOf(analysis).values()].flatMap((fields): Observed[] => {
    const sized = fields.filter((field) => isSized(analysis, field));
    return fields.flatMap((field): Observed[] => {
      if (isSized(analysis, field) || sized.length === 0) {
        stopsByGeometry(analysis, field, 'its width is declared, or that of no other field beside it');
        return [];
      }
      const { x, width } = rectOf(reading, field);
      // Those that begin where it does are of its column.
      const others = sized.filter((other) => Math.abs(rectOf(reading, other).x - x) < 2);
      const usual = others.map((other) => rectOf(reading, other).width).sort((a, b) => b - a)[0] ?? width;
      const by = Math.abs(usual - width);
      if (
        stopsByGeometry(
          analysis,
          field,
          (others.length === 0 || by < LEAST) && 'it is as wide as those above and below it',
        )
      )
        return [];
      const font = authorDeclaration(analysis, field, 'font-family');
      return [
        observed({
          px: by,
          axis: 'x',
          subject: field,
          other: others[0]!,
          what: `${boxName(analysis, field)} is ${px(width)} px wide by the browser, and ${boxName(analysis, others[0]!)} in its column ${px(usual)} px`,
          evidence: facts(
            [
              'browser-font',
              tagOf(reading, field) === 'textarea' && font === null && 'It has the font of the browser as well',
            ],
            ['few-characters', tagOf(reading, field) === 'select' && 'A choice of a few may well be narrower'],
          ),
          boxes: [field],
          weight: 30 + by / 8,
        }),
      ];
    });
  });
}

export const rule: Rule<'size/unlike-fields'> = {
  id: 'size/unlike-fields',
  kind: 'size',
  title: 'A field has the width of the browser beside others that are sized',
  spec: ['HTML §15.5.2', 'HTML §15.5.17'],
  why: 'A field without a width is as wide as its `size` or `cols` in its own font, which is another in each browser.',
  usual: 'Size it by the rule that sizes the others.',
  example: `<style>input { width: 400px; display: block } textarea { display: block }</style><form><input><textarea></textarea></form>`,
  observe: unlike,
  // Once it is sized it is another field to this rule, as wide as it may be.
  wish: (analysis, { subject, other, px: off }) => {
    const [width, usual] = [subject, other!].map((field) => rectOf(analysis.reading, field).width) as [
      number,
      number,
    ];
    return width < usual
      ? sizeWish(analysis, subject, 'x', 'at-least', usual - off / 8)
      : sizeWish(analysis, subject, 'x', 'at-most', usual + off / 8);
  },
  suspects: (analysis, { subject, other }) => {
    const width = authorDeclaration(analysis, other!, 'width')?.value ?? '100%';
    return [
      suspect(
        analysis,
        subject,
        'width',
        `nobody sizes ${boxName(analysis, subject)}, and its default is of its characters`,
        [
          {
            words: 'size it as the others',
            puts: [
              { element: subject, property: 'width', value: width },
              { element: subject, property: 'box-sizing', value: 'border-box' },
            ],
            rank: 104,
          },
          fix('let it take all of its container', subject, 'width', '100%', 98),
        ],
      ),
    ];
  },
};
