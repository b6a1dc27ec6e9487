/** Tables and fieldsets that are wider than declared, since what is in them needs more (CSS Tables 3 §4.3, HTML §15.3.13). */
import { boxesInRatio } from './aspect-ratio.ts';
import type { Analysis } from '../../analysis.ts';
import { px } from '../../geometry/rect.ts';
import { afterEnd } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { offDeclared, LEAST } from './declared-sizes.ts';
import { boxName, widestIn } from '../../visibility/visibility.ts';
import { stopsByGeometry } from '../stops.ts';

function tooNarrow(analysis: Analysis, element: number): Observed[] {
  const axis = 'x';
  const found = offDeclared(analysis, element, axis);
  if (!found?.needsMore) {
    stopsByGeometry(analysis, element, found !== null && 'it is neither a table nor a fieldset');
    return [];
  }
  const { off, used, wanted, value, source, isBorderBox, edges } = found;
  const more = off - (isBorderBox ? 0 : edges);
  if (stopsByGeometry(analysis, element, more < LEAST && 'it is as wide as declared')) return [];
  return [
    observed({
      px: more,
      axis,
      subject: element,
      what: `${boxName(analysis, element)} is ${px(used)} px wide, and width: ${value} says ${px(wanted)}: what is in it needs more`,
      boxes: [element, ...widestIn(analysis, element)],
      weight: 20 + more,
      source,
    }),
  ];
}

export const rule: Rule<'size/content-minimum'> = {
  id: 'size/content-minimum',
  kind: 'size',
  title: 'A table or fieldset is wider than declared',
  spec: ['CSS Tables 3 §4.3', 'HTML §15.3.13'],
  why: 'A table or a fieldset is by default no narrower than what is in it, whatever is declared.',
  usual: 'Let what is in it be narrower: let text wrap, or set `min-width: 0` on the fieldset.',
  example: `<style>fieldset { width: 200px } input { width: 300px }</style><fieldset><input></fieldset>`,
  observe: (analysis) => boxesInRatio(analysis).flatMap((box) => tooNarrow(analysis, box)),
  drawn: afterEnd,
};
