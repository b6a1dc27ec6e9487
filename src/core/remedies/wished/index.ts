/** Changes that would give what is wished for, as a practitioner would write them; each is proved before it is told. */
import type { Analysis } from '../../analysis.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import type { Fix } from '../../finding.ts';
import type { Relation } from '../../wishes/model.ts';
import { put, type Proposal, type Step } from '../model.ts';
import type { Wished } from './model.ts';
import { apart, centred, flush, parted } from './place.ts';
import { inRatio, sized, sizedAs } from './size.ts';
import { inLines, wholeText } from './text.ts';

function fixesFor(wished: Wished, relation: Relation): Fix[] {
  switch (relation.is) {
    case 'size':
      return sized(wished, relation.axis, relation.bound, relation.px);
    case 'size-of':
      return sizedAs(wished, relation.axis);
    case 'ratio':
      return inRatio(wished, relation.ratio);
    case 'lines':
      return inLines(wished, relation.count);
    case 'whole-text':
      return wholeText(wished);
    case 'distance':
      return apart(wished, relation.side, relation.px);
    case 'flush':
      return flush(wished, relation.side);
    case 'centred':
      return centred(wished, relation.axis);
    case 'not-over':
      return parted(wished);
    case 'no-scroll':
      return [];
  }
}

/**
 * `elements`: all boxes that the wish is about, with the one farthest from it; a change of that one is made to all of them.
 * They say what helps, and not who is to blame.
 */
export function wishedProposals(
  analysis: Analysis,
  elements: readonly number[],
  worst: number,
  other: number,
  relation: Relation,
): Proposal[] {
  return fixesFor({ analysis, element: worst, other }, relation).flatMap(({ words, puts, rank }) => {
    const steps = puts
      .filter(({ element, property, value }) => !isSo(analysis, element, property, value))
      .flatMap(({ element, property, value }) =>
        (element === worst ? elements : [element]).map((owner) => put(analysis, owner, property, value)),
      );
    if (steps.length === 0) return [];
    return [
      {
        element: worst,
        property: puts[0]!.property,
        source: null,
        rule: 'wished',
        because: '',
        words,
        steps: once(steps),
        rank,
      },
    ];
  });
}

/** Whether a property has a value already, declared or initial. */
const isSo = (analysis: Analysis, element: number, property: string, value: string): boolean =>
  resolve(analysis.styles, element, property).value.replace(/^0px$/, '0') === value;

/** Boxes of one rule are changed there, once. */
function once(steps: readonly Step[]): Step[] {
  const out = new Map<string, Step>();
  for (const step of steps) {
    const { source, beside, element, property } = step;
    const key = JSON.stringify([source ?? beside ?? element, property]);
    if (!out.has(key)) out.set(key, step);
  }
  return [...out.values()];
}
