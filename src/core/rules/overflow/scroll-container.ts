/** Containers that scroll sideways (CSS Overflow 3 §2.2). */
import { facts } from '../../evidence/model.ts';
import type { Analysis } from '../../analysis.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { px } from '../../geometry/rect.ts';
import { pastOther } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { within, LEAST } from './ends.ts';
import { boxName, paddingBox, scrollsOn, visibilityOf } from '../../visibility/visibility.ts';
import { stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

/** What makes a container scroll sideways. */
function scrollingSideways(analysis: Analysis): Observed[] {
  const { reading, tree } = analysis;
  const { visible } = visibilityOf(analysis);
  const out: Observed[] = [];
  const { scrolls } = reading;
  for (let at = 0; at + 4 < scrolls.length; at += 5) {
    const [element, width, , scrollWidth] = scrolls.subarray(at, at + 4) as unknown as number[];
    if (element! <= 0 || stopsByVisibility(analysis, element!, !visible[element!] && 'it cannot be seen'))
      continue;
    if (
      stopsByGeometry(analysis, element!, scrollWidth! - width! < LEAST && 'what is in it is no wider than it')
    )
      continue;
    const isScroller = scrollsOn(tree, element!, 'x') && tagOf(tree.reading, element!) !== 'body';
    if (stopsByGeometry(analysis, element!, !isScroller && 'it does not scroll sideways')) continue;
    const declared = resolve(analysis.styles, element!, 'overflow-x');
    const isOwn = declared.winner !== null && /auto|scroll/.test(declared.value);
    const inner = within(analysis, element!, paddingBox(analysis, element!).x + width!);
    const by = scrollWidth! - width!;
    out.push(
      observed({
        px: by,
        axis: 'x',
        subject: inner[0] ?? element!,
        other: element!,
        what: `${boxName(analysis, element!)} scrolls sideways by ${px(by)} px`,
        evidence: facts([
          'declared-to-scroll',
          isOwn && `overflow-x: ${declared.value} says that it may scroll`,
        ]),
        boxes: inner,
      }),
    );
  }
  return out;
}

export const rule: Rule<'overflow/scroll-container'> = {
  id: 'overflow/scroll-container',
  kind: 'overflow',
  title: 'A container scrolls sideways',
  spec: ['CSS Overflow 3 §2.2'],
  why: 'What is in a scroll container is wider than it.',
  usual: 'Let what is in it be narrower, or let it wrap.',
  example: `<style>div { width: 200px; overflow-y: auto } p { width: 300px }</style><div><p>wider than its container</p></div>`,
  observe: scrollingSideways,
  drawn: pastOther,
};
