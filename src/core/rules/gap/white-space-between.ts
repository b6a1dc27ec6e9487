/** Inline-blocks that would fit in one line but for the white space between them (CSS Text 3 §4.1). */
import { isLength, authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas, outerWidth } from '../../boxes/areas.ts';
import { rectOf, usedText } from '../../boxes/tree.ts';
import { px } from '../../geometry/rect.ts';
import { beforeStart } from '../drawn.ts';
import { inFlowContainers } from './containers.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { flowContents } from '../../visibility/flow-contents.ts';
import { boxName, selfAndAncestors } from '../../visibility/visibility.ts';
import { stopsByGeometry } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

/** Inline-blocks that would fit in one line but for the white space between them. */
function pushedDown(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  const all = flowContents(analysis, container);
  if (!all?.some((element) => tree.kinds[element] === 'inline-block')) {
    stopsByGeometry(analysis, container, 'it holds no inline-blocks, or text beside them');
    return [];
  }
  if (
    stopsByGeometry(
      analysis,
      container,
      usedText(reading, 'white-space', container) === 'nowrap' && 'its lines may not wrap',
    )
  )
    return [];
  const { content } = laidAreas(tree, container);
  const top = (element: number) => rectOf(reading, element).y;
  const out: Observed[] = [];
  let run: number[] = [];
  for (const element of [...all, -1]) {
    if (element >= 0 && tree.kinds[element] === 'inline-block') {
      run.push(element);
      continue;
    }
    const down = run.find((at) => top(at) >= top(run[0]!) + rectOf(reading, run[0]!).height - 1);
    const sum = run.reduce((width, at) => width + outerWidth(tree, at), 0);
    // Boxes as wide as their words go on in the next line by design, however nearly they fill one; a bar has but one line.
    const isMeasured = run.every((at) => isLength(authorDeclaration(analysis, at, 'width')?.value ?? ''));
    const isBar = selfAndAncestors(analysis, container).some((at) =>
      /^(nav|menu)$/.test(tagOf(tree.reading, at)),
    );
    if (
      down !== undefined &&
      (isMeasured || isBar) &&
      sum <= content.width + 0.5 &&
      sum >= content.width * 0.9
    ) {
      const by = top(down) - top(run[0]!);
      out.push(
        observed({
          px: by,
          axis: 'y',
          subject: down,
          other: container,
          what: `${boxName(analysis, down)} goes ${px(by)} px down to a line of its own: with the white space between them the boxes are wider than ${boxName(analysis, container)}`,
          boxes: [down, container],
          weight: 60 + by,
        }),
      );
    }
    run = [];
  }
  return out;
}

export const rule: Rule<'gap/white-space-between'> = {
  id: 'gap/white-space-between',
  kind: 'gap',
  title: 'White space between inline-blocks pushes one to the next line',
  spec: ['CSS Text 3 §4.1'],
  why: 'The white space of the source between inline-blocks is rendered as a space, and takes room in the line.',
  usual: 'Lay the container out as a flex container.',
  example: `<style>div { width: 300px } span { display: inline-block; width: 33.33%; background: tan }</style><div><span>1</span> <span>2</span> <span>3</span></div>`,
  observe: inFlowContainers(pushedDown),
  drawn: beforeStart,
};
