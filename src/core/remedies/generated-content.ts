/** Limit, or put back into its place, what `::before` and `::after` generate. */
import { cite, isLength } from '../accounts/author-declaration.ts';
import type { Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import type { Axis } from '../geometry/rect.ts';
import { TRANSFORMS } from '../boxes/transforms.ts';
import { inside } from '../boxes/tree.ts';
import { resolve } from '../css/cascade/cascade.ts';
import { boxName as labelOf } from '../visibility/visibility.ts';
import { alter, type Proposal } from './model.ts';

export const name = 'generated';

const SIZES = ['width', 'min-width'];
const MOVES = ['left', 'right', 'margin-left', 'margin-right', ...TRANSFORMS];

export function propose(analysis: Analysis, { rule, boxes, axis }: Observation): Proposal[] {
  if (rule === 'size/round') return boxes.flatMap((element) => asRound(analysis, element, axis));
  if (rule !== 'overflow/generated-content') return [];
  const out: Proposal[] = [];
  for (const [n, element] of boxes.entries())
    for (const { name: pseudo } of inside(analysis.tree).pseudos.get(element) ?? []) {
      const label = `${labelOf(analysis, element)}::${pseudo}`;
      for (const property of [...SIZES, ...MOVES]) {
        const { winner, value } = resolve(analysis.styles, element, property, pseudo);
        if (!winner || winner.source.origin === 'browser' || /^(auto|none|0\D*)$/.test(value)) continue;
        if (!TRANSFORMS.includes(property) && !isLength(value)) continue;
        const declaration = { element, owner: element, property, value, source: winner.source };
        const isSize = SIZES.includes(property);
        const base = {
          element,
          property: declaration.source.property,
          source: declaration.source,
          rule: isSize ? 'declared' : TRANSFORMS.includes(property) ? 'transform' : 'offset',
          because: isSize
            ? `${label} is ${property === 'width' ? 'set to' : 'at least'} ${value} ${cite(declaration)}`
            : `${label} is moved by ${property}: ${value} ${cite(declaration)}`,
        };
        if (property === 'width')
          out.push({
            ...base,
            words: 'limit it to its container',
            steps: [
              { element, source: null, beside: declaration.source, property: 'max-width', value: '100%' },
            ],
            rank: 84 - n,
          });
        out.push({
          ...base,
          words: 'take it out',
          steps: [alter(declaration, '')],
          rank: (isSize ? 82 : 80) - n,
        });
      }
    }
  return out;
}

/** The side that is declared, for the one that comes of lines and padding. */
function asRound(analysis: Analysis, element: number, longer: Axis): Proposal[] {
  const [given, other] = longer === 'x' ? ['width', 'height'] : ['height', 'width'];
  return (inside(analysis.tree).pseudos.get(element) ?? []).flatMap(({ name: pseudo }): Proposal[] => {
    const { winner, value } = resolve(analysis.styles, element, given!, pseudo);
    if (!winner || winner.source.origin === 'browser' || !isLength(value)) return [];
    const declaration = { element, owner: element, property: given!, value, source: winner.source };
    const label = `${labelOf(analysis, element)}::${pseudo}`;
    return [
      {
        element,
        property: winner.source.property,
        source: winner.source,
        rule: 'declared',
        because: `${label} has its ${given} declared and its ${other} from its line ${cite(declaration)}`,
        words: 'give both sides one length',
        steps: [{ element, source: null, beside: winner.source, property: other!, value }],
        rank: 90,
      },
    ];
  });
}
