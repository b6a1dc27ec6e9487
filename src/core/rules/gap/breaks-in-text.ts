/** Line breaks in a row within text: lines with nothing in them (HTML §4.5.27). */
import type { Analysis } from '../../analysis.ts';
import { childrenOf, inside, rectOf, usedPx } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { tagOf } from '../../reading/labels.ts';
import { boxName } from '../../visibility/visibility.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { suspect } from '../suspects.ts';
import { inFlowContainers } from './containers.ts';

/** Two breaks make one empty line, as between paragraphs; from three on there are several. */
const FEW = 3;

function breaksInText(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  const all = childrenOf(tree, container);
  if (!all.some((child) => tagOf(reading, child) === 'br')) {
    stopsByGeometry(analysis, container, 'no line break is in it');
    return [];
  }
  const texts = (inside(tree).texts.get(container) ?? []).filter(({ blank }) => !blank);
  // Told by another rule where blocks stand on both sides.
  if (texts.length === 0) return [];
  const out: Observed[] = [];
  for (let n = 0; n < all.length; n++) {
    if (tagOf(reading, all[n]!) !== 'br') continue;
    let end = n + 1;
    while (
      end < all.length &&
      tagOf(reading, all[end]!) === 'br' &&
      !texts.some(({ before }) => before === end)
    )
      end++;
    const count = end - n;
    const run = all.slice(n, end);
    n = end - 1;
    if (stopsByGeometry(analysis, run[0]!, count < FEW && 'it makes no more than one empty line')) continue;
    const first = rectOf(reading, run[0]!);
    const last = rectOf(reading, run.at(-1)!);
    const by = last.y - first.y;
    if (by < 4) continue;
    out.push(
      observed({
        px: by,
        axis: 'y',
        subject: container,
        other: run[0]!,
        what: `${count} line breaks in a row make ${count - 1} empty lines of ${px(usedPx(reading, 'line-height', container) || by / (count - 1))} px in ${boxName(analysis, container)}`,
        evidence: facts(['many-breaks', count > FEW && `${count} of them stand in a row`]),
        places: [container, ...run],
        boxes: run,
        weight: 20 + by / 4,
      }),
    );
  }
  return out;
}

export const rule: Rule<'gap/breaks-in-text'> = {
  id: 'gap/breaks-in-text',
  kind: 'gap',
  title: 'Line breaks in a row make empty lines',
  spec: ['HTML §4.5.27', 'CSS 2.2 §9.4.2'],
  why: 'Each line break ends a line, and a line with nothing in it is as tall as any other.',
  usual: 'Make paragraphs of the text, and space them by margins.',
  example: `<div>Some words<br><br><br><br>and more</div>`,
  observe: inFlowContainers(breaksInText),
  suspects: (analysis, { boxes }) => [
    suspect(analysis, boxes[0]!, 'display', 'line breaks in a row end lines with nothing in them', [
      {
        words: 'leave one empty line of them',
        puts: boxes.slice(2).map((element) => ({ element, property: 'display', value: 'none' })),
        rank: 100,
      },
    ]),
  ],
};
