/** Give a picture its own shape back (CSS Images 3 §4.2, §5.5). */
import { cite, authorDeclaration } from '../accounts/author-declaration.ts';
import type { Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { usedText } from '../boxes/tree.ts';
import { boxName as labelOf } from '../visibility/visibility.ts';
import { put, type Proposal } from './model.ts';

export const name = 'shape';

export function propose(analysis: Analysis, observation: Observation): Proposal[] {
  if (observation.rule === 'size/aspect-ratio') return ofRatio(analysis, observation);
  return observation.rule === 'size/object-fit' ? ofPicture(analysis, observation) : [];
}

/** A box that should keep an aspect ratio: what is in it asks for more, or its row stretches it. */
function ofRatio(analysis: Analysis, { subject, variant }: Observation): Proposal[] {
  const label = labelOf(analysis, subject);
  const ratio = authorDeclaration(analysis, subject, 'aspect-ratio');
  if (!ratio) return [];
  const stretch = stretchOf(analysis, subject);
  const out: Proposal[] = stretch ? [stretch] : [];
  // With its height declared and its width stretched the ratio has no say (CSS Sizing 4 §5.1).
  const height = authorDeclaration(analysis, subject, 'height');
  if (height?.owner === subject && height.value !== 'auto' && isStretchedAcross(analysis, subject))
    out.push({
      element: subject,
      property: height.source.property,
      source: height.source,
      rule: 'declared',
      because: `${label} has a height of its own, and its width comes from its container ${cite(height)}`,
      words: 'let its height follow the ratio',
      steps: [put(analysis, subject, 'height', 'auto')],
      rank: 92,
    });
  if (variant === 'larger')
    out.push({
      element: subject,
      property: ratio.source.property,
      source: ratio.source,
      rule: 'automatic-minimum',
      because: `a ratio gives way where what is in ${label} needs more height (min-height is auto) ${cite(ratio)}`,
      words: 'let it keep its shape, and scroll what does not fit',
      steps: [put(analysis, subject, 'overflow', 'auto')],
      rank: 70,
    });
  out.push({
    element: subject,
    property: ratio.source.property,
    source: ratio.source,
    rule: 'declared',
    because: `${label} should be ${ratio.value} ${cite(ratio)}`,
    words: 'ask for no ratio',
    steps: [put(analysis, subject, 'aspect-ratio', 'auto')],
    rank: 50,
  });
  return out;
}

function ofPicture(analysis: Analysis, { subject }: Observation): Proposal[] {
  const label = labelOf(analysis, subject);
  const out: Proposal[] = [];
  for (const [property, rank] of [
    ['height', 90],
    ['width', 70],
    ['min-height', 68],
    ['max-height', 66],
  ] as const) {
    const declaration = authorDeclaration(analysis, subject, property);
    if (!declaration || declaration.owner !== subject || /^(auto|none|0)/.test(declaration.value)) continue;
    out.push({
      element: subject,
      property: declaration.source.property,
      source: declaration.source,
      rule: 'shape',
      because: `${label} has a ${property} of ${declaration.value} whatever its other side comes to ${cite(declaration)}`,
      words: `let its ${property} follow its shape`,
      steps: [
        put(
          analysis,
          subject,
          property,
          property.startsWith('m') ? (property === 'max-height' ? 'none' : '0') : 'auto',
        ),
      ],
      rank,
    });
  }
  const stretch = stretchOf(analysis, subject);
  if (stretch) out.push(stretch);
  const fit = authorDeclaration(analysis, subject, 'object-fit');
  out.push({
    element: subject,
    property: 'object-fit',
    source: fit?.source ?? null,
    rule: 'fill',
    because: `${label} fills its box from side to side in both directions`,
    words: 'cut it to its box',
    steps: [put(analysis, subject, 'object-fit', 'cover')],
    rank: 50,
  });
  return out;
}

/** Whether its width is that of the column or the area that it stands in. */
function isStretchedAcross({ tree, reading }: Analysis, element: number): boolean {
  return tree.kinds[element] === 'grid-item' || isInColumn({ tree, reading }, element);
}

const isInColumn = ({ tree, reading }: Pick<Analysis, 'tree' | 'reading'>, element: number): boolean =>
  tree.kinds[element] === 'flex-item' &&
  usedText(reading, 'flex-direction', reading.parent[element]!).startsWith('column');

/** What stretches a box to its row or its column; null: nothing does. */
function stretchOf(analysis: Analysis, element: number): Proposal | null {
  const { tree, reading } = analysis;
  const isStretched =
    /^(flex|grid)-item$/.test(tree.kinds[element]!) &&
    /^(auto|stretch|normal)$/.test(usedText(reading, 'align-self', element) || 'auto');
  if (!isStretched) return null;
  const parent = reading.parent[element]!;
  const isColumn = isInColumn(analysis, element);
  const declaration =
    authorDeclaration(analysis, element, 'align-self') ?? authorDeclaration(analysis, parent, 'align-items');
  return {
    element,
    property: declaration?.source.property ?? 'align-self',
    source: declaration?.source ?? null,
    rule: 'stretch',
    because: `${labelOf(analysis, element)} is stretched to the ${isColumn ? 'width of its column' : 'height of its row'}${declaration ? ` ${cite(declaration)}` : ', which is the default'}`,
    words: `let it keep its ${isColumn ? 'width' : 'height'}`,
    steps: [put(analysis, element, 'align-self', tree.kinds[element] === 'grid-item' ? 'start' : 'flex-start')],
    rank: 80,
  };
}
