/** Widths and heights that a minimum or a maximum from elsewhere does not let through (CSS Sizing 3 §3.1). */
import { authorDeclaration, isLength } from '../../accounts/author-declaration.ts';
import { containingSize, declaredPx } from '../../accounts/sizing/declared.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { usedText } from '../../boxes/tree.ts';
import { declaring } from '../../css/cascade/candidates.ts';
import { facts } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { px } from '../../geometry/rect.ts';
import { boxName } from '../../visibility/visibility.ts';
import { afterEnd, beforeEnd } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

const LEAST = 4;

function clampedSizes(analysis: Analysis): Observed[] {
  const { tree, styles } = analysis;
  const out: Observed[] = [];
  for (const [property, axis] of [
    ['width', 'x'],
    ['height', 'y'],
  ] as const)
    for (const element of declaring(styles, property, tree.count)) {
      if (isUnseen(analysis, element)) continue;
      const size = authorDeclaration(analysis, element, property);
      if (!size || size.owner !== element || !isLength(size.value) || /%/.test(size.value)) {
        stopsByGeometry(analysis, element, `no ${property} of it is declared as a length`);
        continue;
      }
      const wanted = declaredPx(analysis, element, property, size.value);
      const { rect, content } = laidAreas(tree, element);
      const box = usedText(analysis.reading, 'box-sizing', element) === 'border-box' ? rect : content;
      const used = axis === 'x' ? box.width : box.height;
      for (const limit of ['max', 'min'] as const) {
        const declaration = authorDeclaration(analysis, element, `${limit}-${property}`);
        if (!declaration || declaration.owner !== element || !isLength(declaration.value)) continue;
        const at = declaredPx(analysis, element, `${limit}-${property}`, declaration.value);
        const isClamped =
          Math.abs(used - at) < 0.5 && (limit === 'max' ? wanted - used >= LEAST : used - wanted >= LEAST);
        const room = axis === 'x' ? containingSize(analysis, element).width : Infinity;
        if (
          stopsByGeometry(
            analysis,
            element,
            limit === 'max' && wanted > room + 1 && 'there is no room for what is declared',
          )
        )
          continue;
        if (
          stopsByGeometry(
            analysis,
            element,
            !isClamped && `its ${limit}-${property} lets its ${property} through`,
          )
        )
          continue;
        const isBeside =
          declaration.source.sheet === size.source.sheet &&
          declaration.source.selector === size.source.selector;
        const isOfRoom = /%|v[wh]/.test(declaration.value);
        out.push(
          observed({
            px: Math.abs(wanted - used),
            axis,
            subject: element,
            variant: limit === 'max' ? 'smaller' : 'larger',
            what: `${boxName(analysis, element)} is ${px(used)} px ${axis === 'x' ? 'wide' : 'tall'}: ${limit}-${property}: ${declaration.value} does not let ${property}: ${size.value} through`,
            evidence: facts(
              ['limit-beside-the-size', isBeside && 'Both are declared in one rule'],
              ['limit-is-of-the-room', isOfRoom && `${declaration.value} keeps it in the room that there is`],
              ['two-rules-disagree', !isBeside && !isOfRoom && 'The two are declared by different rules'],
            ),
            boxes: [element],
            weight: 30 + Math.abs(wanted - used) / 4,
            source: declaration.source,
          }),
        );
      }
    }
  return out;
}

function suspects(analysis: Analysis, { subject, axis, variant }: Observation): Suspect[] {
  const property = axis === 'x' ? 'width' : 'height';
  const limit = `${variant === 'smaller' ? 'max' : 'min'}-${property}`;
  const size = authorDeclaration(analysis, subject, property);
  return [
    suspect(analysis, subject, limit, `${limit} goes before ${property}, whatever their order`, [
      // In the block of the size, so that others keep the limit.
      {
        words: 'let its own size through',
        puts: [{ element: subject, property: limit, value: size?.value ?? 'none' }],
        rank: 104,
      },
      ...(variant === 'smaller'
        ? [fix('let it be no wider than its container', subject, limit, '100%', 100)]
        : []),
    ]),
  ];
}

export const rule: Rule<'size/clamped'> = {
  id: 'size/clamped',
  kind: 'size',
  title: 'A minimum or a maximum does not let a size through',
  spec: ['CSS Sizing 3 §3.1', 'CSS 2.2 §10.4'],
  why: 'min- and max- go before the size itself, whatever the order and the weight of their rules.',
  usual: 'Set the limit where the size is set.',
  example: `<style>.box { max-width: 200px; background: linen } #mine { width: 400px }</style><div class="box" id="mine">200 px</div>`,
  observe: clampedSizes,
  suspects,
  drawn: (analysis, observation) =>
    observation.variant === 'larger' ? beforeEnd(analysis, observation) : afterEnd(analysis, observation),
};
