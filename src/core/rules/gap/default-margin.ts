/** Margins of the browser at the ends of boxes that show where they end (HTML §15.3, CSS 2.2 §8.3.1). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { layoutOf } from '../../boxes/formatting-contexts.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { tagOf } from '../../reading/labels.ts';
import { boxName, hasBackground, visibleChildren } from '../../visibility/visibility.ts';
import { sortOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { inContainers } from './containers.ts';

const LEAST = 6;

/** Elements to which browsers give margins down the page. */
const SPACED = /^(p|h[1-6]|ul|ol|dl|blockquote|figure|pre|menu|hr|fieldset)$/;
/** Elements to which they give margins on both sides of their text. */
const INSET = /^(dd|blockquote|figure)$/;

const isDefault = (analysis: Analysis, element: number, property: string): boolean =>
  authorDeclaration(analysis, element, property) === null;

function atEnds(analysis: Analysis, box: number): Observed[] {
  const { tree, reading } = analysis;
  const layout = layoutOf(tree, box);
  if (
    stopsByGeometry(
      analysis,
      box,
      (layout === 'table' || layout === 'lines' || /^(body|html)$/.test(tagOf(reading, box))) &&
        'it lays out lines or a table, or is body',
    )
  )
    return [];
  const { border, padding, content } = laidAreas(tree, box);
  const isSolid = hasBackground(analysis, box) || border.top + border.bottom > 0;
  const all = visibleChildren(analysis, box).filter(
    (child) => !/absolute|fixed|float|^inline/.test(tree.kinds[child]!),
  );
  const [first, last] = [all[0], all.at(-1)];
  if (
    stopsByVisibility(
      analysis,
      box,
      (!isSolid || first === undefined) &&
        'it has no background or border to show where it ends, or nothing in it',
    )
  )
    return [];
  const [above, below] = [laidAreas(tree, first!), laidAreas(tree, last!)];
  const top = above.rect.y - content.y;
  const bottom = content.y + content.height - below.rect.y - below.rect.height;
  const isRow =
    layout === 'flex' &&
    all.length > 1 &&
    above.rect.y < below.rect.y + below.rect.height &&
    below.rect.y < above.rect.y + above.rect.height;
  return (
    [
      ['top', first!, top, bottom],
      ['bottom', last!, bottom, top],
    ] as const
  ).flatMap(([side, child, by, other]): Observed[] => {
    if (isRow || !SPACED.test(tagOf(reading, child)) || !isDefault(analysis, child, `margin-${side}`))
      return [];
    const { margin } = laidAreas(tree, child);
    const isThere = by >= LEAST && Math.abs(by - margin[side]) < 1;
    if (stopsByGeometry(analysis, child, !isThere && 'no margin of it lies at the end of its container'))
      return [];
    const isUneven = Math.abs(by + padding[side] - other - padding[side === 'top' ? 'bottom' : 'top']) >= LEAST;
    return [
      observed({
        px: by,
        axis: 'y',
        subject: child,
        other: box,
        variant: side,
        what: `The browser’s margin of ${boxName(analysis, child)} adds ${px(by)} px to the ${side === 'top' ? 'upper' : 'lower'} end of ${boxName(analysis, box)}`,
        evidence: facts(
          [
            'ends-are-uneven',
            isUneven &&
              `${px(top + padding.top)} px are empty above what is in it, and ${px(bottom + padding.bottom)} px below`,
          ],
          [
            'padding-beside-it',
            padding[side] >= LEAST && `It comes on top of a padding of ${px(padding[side])} px`,
          ],
        ),
        boxes: [child, box],
        weight: 12 + by / 2,
      }),
    ];
  });
}

function atSides(analysis: Analysis, box: number): Observed[] {
  const { tree, reading } = analysis;
  if (layoutOf(tree, box) !== 'flow' && tagOf(reading, box) !== 'dl') return [];
  return visibleChildren(analysis, box).flatMap((child): Observed[] => {
    if (!INSET.test(tagOf(reading, child)) || !isDefault(analysis, child, 'margin-left')) return [];
    const { margin } = laidAreas(tree, child);
    if (margin.left < LEAST) return [];
    return [
      observed({
        px: margin.left,
        axis: 'x',
        subject: child,
        other: box,
        variant: 'left',
        what: `The browser sets ${boxName(analysis, child)} ${px(margin.left)} px in`,
        evidence: facts([
          'set-in-by-its-meaning',
          /^(dd|blockquote)$/.test(tagOf(reading, child)) &&
            !hasBackground(analysis, child) &&
            'Browsers set definitions and quotations in, and readers know them by it',
        ]),
        boxes: [child],
        weight: 10,
      }),
    ];
  });
}

const everywhere = inContainers((analysis, box) => [...atEnds(analysis, box), ...atSides(analysis, box)]);

/** What is so at the same end of boxes of one sort is one matter, with many places. */
function oneOfEachSort(analysis: Analysis, all: readonly Observed[]): Observed[] {
  const out = new Map<string, Observed>();
  for (const observation of all) {
    const { subject, other, variant, evidence } = observation;
    const signals = evidence.map(({ signal }) => signal).join(' ');
    const key = `${variant} ${sortOf(analysis, subject)} ${sortOf(analysis, other!)} ${signals}`;
    const first = out.get(key);
    if (first) first.places.push(subject);
    else out.set(key, observation);
  }
  return [...out.values()];
}

export const rule: Rule<'gap/default-margin'> = {
  id: 'gap/default-margin',
  kind: 'gap',
  title: 'A margin of the browser adds to the end of a box',
  spec: ['HTML §15.3.3', 'CSS 2.2 §8.3.1'],
  why: 'Browsers give paragraphs, headings and lists margins, and inside of a padding or a border these collapse with nothing.',
  usual: 'Take out the margin of the first and of the last child.',
  example: `<style>div { padding: 20px; background: linen } h2 { margin-top: 0 }</style><div><h2>Title</h2><p>Text</p></div>`,
  observe: (analysis) => oneOfEachSort(analysis, everywhere(analysis)),
  suspects: (analysis, { subject, variant }) => {
    const property = `margin-${variant}`;
    return [
      suspect(
        analysis,
        subject,
        property,
        `the browser gives ${tagOf(analysis.reading, subject)} a margin, and nobody changes it`,
        [fix('take it out', subject, property, '0', 104)],
      ),
    ];
  },
};
