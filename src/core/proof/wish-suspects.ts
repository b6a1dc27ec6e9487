/** Who may keep a wish from being met: what its accounts go along with, and what is declared of the boxes around. */
import { authorDeclaration, cite, placeWords } from '../accounts/author-declaration.ts';
import type { Effects } from '../accounts/model/effects.ts';
import type { Analysis } from '../analysis.ts';
import { childrenOf, usedPx } from '../boxes/tree.ts';
import { resolve } from '../css/cascade/cascade.ts';
import { dimensionOf, shortNumber } from '../css/values/lengths.ts';
import { labelOf } from '../reading/labels.ts';
import { put, type Proposal } from '../remedies/model.ts';
import { selfAndAncestors } from '../visibility/visibility.ts';
import { shortfall, type Standing } from '../wishes/quantities.ts';

/** A declaration whose number can be another: the px at which the account says that the wish is met, and how it is written. */
export interface Solvable {
  /** Which of the wish's numbers it is about, by its place among them. */
  quantity: number;
  /** What its used value is now, in CSS px. */
  now: number;
  /** Px of the wish's number for every px of it. */
  rate: number;
  /** The proposal with another used value. */
  at: (px: number) => Proposal;
}

/** What an account goes along with by less than this is not changed for it. */
const LEAST_RATE = 0.05;

/** Properties that no one would change to move or resize another box. */
const UNASKED = /^(font-|line-height|border-|letter-|word-|text-indent)/;

const NEVER_NEGATIVE = /^(width|height|min-|max-|padding|row-gap|column-gap|flex-basis|border)/;

/** The declarations that a number goes along with, with the value that would give what is wished. */
export function solvablesOf(analysis: Analysis, { element, quantities }: Standing, other: number): Solvable[] {
  const out: Solvable[] = [];
  for (const [index, quantity] of quantities.entries()) {
    const missing = shortfall(quantity);
    if (missing === 0 || !quantity.effects) continue;
    const effects: Effects = quantity.effects();
    for (const [key, rate] of effects) {
      const [box, property] = [Number(key.slice(0, key.indexOf(' '))), key.slice(key.indexOf(' ') + 1)];
      if (Math.abs(rate) < LEAST_RATE || UNASKED.test(property)) continue;
      const now = usedPx(analysis.reading, property, box);
      if (!Number.isFinite(now)) continue;
      const solvable = solvableOf(analysis, box, property, now, rate);
      const nearness = box === element ? 0 : box === other ? 4 : 8;
      if (solvable)
        out.push({
          quantity: index,
          now,
          rate,
          at: (px) => {
            const proposal = solvable(px);
            return { ...proposal, rank: proposal.rank - nearness };
          },
        });
    }
  }
  return out;
}

function solvableOf(
  analysis: Analysis,
  box: number,
  property: string,
  now: number,
  rate: number,
): ((px: number) => Proposal) | null {
  const label = labelOf(analysis.reading, box);
  const { from } = resolve(analysis.styles, box, property);
  const declaration = authorDeclaration(analysis, box, property);
  if (!declaration && from !== 'default') return null;
  const dimension = declaration ? dimensionOf(declaration.value) : null;
  // A length in the author's own unit; a percentage of nothing has none.
  const perUnit = dimension && dimension.unit !== 'px' && dimension.number !== 0 ? now / dimension.number : 1;
  const unit = perUnit === 1 ? 'px' : dimension!.unit;
  if (declaration && (!Number.isFinite(perUnit) || perUnit === 0)) return null;
  return (target) => {
    const px = NEVER_NEGATIVE.test(property) ? Math.max(0, target) : target;
    const number = Math.round((px / perUnit) * 1000) / 1000;
    const value = number === 0 ? '0' : `${number}${unit}`;
    return {
      element: box,
      property: declaration?.source.property ?? property,
      source: declaration?.source ?? null,
      rule: 'account',
      because: declaration
        ? `${label} has ${property}: ${declaration.value} ${cite(declaration)}, and ${rate === 1 || rate === -1 ? 'every px of it counts' : `every px of it counts ${shortNumber(Math.abs(rate))} times`}`
        : `${label} has ${property} ${shortNumber(now)}px by the browser’s default styles`,
      words: value === '0' ? `take its ${property} out` : `make its ${property} ${value}`,
      steps: [put(analysis, box, property, value)],
      rank: value === '0' && !declaration ? 74 : 62,
    };
  };
}

/** Properties by which one box has a say in the layout of another. */
const LAYOUT = [
  'display',
  'position',
  'float',
  'clear',
  'box-sizing',
  'width',
  'min-width',
  'max-width',
  'height',
  'min-height',
  'max-height',
  'margin-top',
  'margin-right',
  'margin-bottom',
  'margin-left',
  'padding-top',
  'padding-right',
  'padding-bottom',
  'padding-left',
  'top',
  'right',
  'bottom',
  'left',
  'flex-grow',
  'flex-shrink',
  'flex-basis',
  'flex-direction',
  'flex-wrap',
  'align-items',
  'align-self',
  'align-content',
  'justify-content',
  'justify-items',
  'justify-self',
  'row-gap',
  'column-gap',
  'grid-template-columns',
  'grid-template-rows',
  'grid-auto-rows',
  'grid-auto-columns',
  'grid-column-start',
  'grid-column-end',
  'grid-row-start',
  'grid-row-end',
  'aspect-ratio',
  'white-space',
  'overflow-wrap',
  'word-break',
  'overflow-x',
  'overflow-y',
  'text-align',
  'vertical-align',
  'line-height',
  'font-size',
  'letter-spacing',
  'border-spacing',
  'table-layout',
  'transform',
  'translate',
  'scale',
  'columns',
  'object-fit',
  '-webkit-line-clamp',
  'text-overflow',
  'zoom',
  'order',
];

/** Boxes of a container that are looked at beside one. */
const MOST_BESIDE = 6;

/** Every declaration of the boxes of a wish, and of those around them, taken out: what changes the wish's number is to blame for it. */
export function takenOut(analysis: Analysis, { element }: Standing, other: number): Proposal[] {
  const { tree, reading } = analysis;
  const near = (box: number): number[] => (box < 0 ? [] : selfAndAncestors(analysis, box).slice(0, 4));
  const beside = childrenOf(tree, reading.parent[element]!).slice(0, MOST_BESIDE);
  const boxes = [
    ...new Set([
      ...near(element),
      ...near(other),
      ...beside,
      ...childrenOf(tree, element).slice(0, MOST_BESIDE),
    ]),
  ];
  const out: Proposal[] = [];
  for (const [n, box] of boxes.entries())
    for (const property of LAYOUT) {
      const declaration = authorDeclaration(analysis, box, property);
      if (!declaration || declaration.owner !== box) continue;
      const label = labelOf(reading, box);
      out.push({
        element: box,
        property: declaration.source.property,
        source: declaration.source,
        rule: 'declared',
        because: `${label} has ${property}: ${declaration.value} (${placeWords(declaration.source)})`,
        words: `take ${declaration.source.property}: ${declaration.source.value} of ${label} out`,
        steps: [
          {
            element: box,
            source: declaration.source,
            beside: null,
            property: declaration.source.property,
            value: '',
          },
        ],
        rank: 44 - n,
      });
    }
  return out;
}
