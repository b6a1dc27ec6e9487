/** Boxes of one line that stand at unequal heights, for their baselines are aligned (CSS 2.2 §10.8.1). */
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { usedPx, usedText } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import { px } from '../../geometry/rect.ts';
import { boxName, hasBackground, hasGroundPicture, isReplacedOrControl } from '../../visibility/visibility.ts';
import { beforeStart } from '../drawn.ts';
import { isSameSort, itemsOf } from '../like-boxes.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { inFlowContainers } from './containers.ts';

const LEAST = 4;

function dips(analysis: Analysis, container: number): Observed[] {
  const { tree, reading } = analysis;
  const all = itemsOf(analysis, container).filter((child) =>
    /^inline-(block|replaced)$/.test(tree.kinds[child]!),
  );
  if (stopsByGeometry(analysis, container, all.length < 2 && 'no two inline-blocks stand in it')) return [];
  for (const [n, after] of all.entries()) {
    const before = all[n - 1];
    if (before === undefined || !isSameSort(analysis, before, after)) continue;
    const [a, b] = [laidAreas(tree, before).rect, laidAreas(tree, after).rect];
    const isBeside = a.x + a.width <= b.x + 1 && a.y < b.y + b.height && b.y < a.y + a.height;
    const by = Math.abs(a.y - b.y);
    if (!isBeside || by < LEAST || Math.abs(a.y + a.height - b.y - b.height) < 1) continue;
    const onBaseline = [before, after].every((box) =>
      /^(baseline|)$/.test(usedText(reading, 'vertical-align', box)),
    );
    if (stopsByGeometry(analysis, after, !onBaseline && 'it is not aligned by its baseline')) continue;
    const isSolid = (box: number): boolean => {
      const { border } = laidAreas(tree, box);
      return (
        hasBackground(analysis, box) ||
        hasGroundPicture(analysis, box) ||
        border.top > 0 ||
        isReplacedOrControl(tree, box)
      );
    };
    if (
      stopsByVisibility(
        analysis,
        after,
        !(isSolid(before) && isSolid(after)) && 'nothing shows where it begins',
      )
    )
      continue;
    const lower = b.y > a.y ? after : before;
    return [
      observed({
        px: by,
        axis: 'y',
        subject: lower,
        other: lower === after ? before : after,
        what: `${boxName(analysis, lower)} stands ${px(by)} px lower than the box of its sort beside it: their last baselines are aligned`,
        evidence: facts([
          'one-line-each',
          [a, b].every((rect, k) => rect.height < 3 * usedPx(reading, 'font-size', [before, after][k]!)) &&
            'Each holds one line, and the two lines are level',
        ]),
        places: all,
        boxes: [lower, container],
        weight: 40 + by,
      }),
    ];
  }
  return [];
}

export const rule: Rule<'gap/baseline-dip'> = {
  id: 'gap/baseline-dip',
  kind: 'gap',
  title: 'Boxes of one line stand at unequal heights',
  spec: ['CSS 2.2 §10.8.1'],
  why: 'Inline-blocks are aligned by their last baseline: one with fewer lines, or without any, stands lower.',
  usual: '`vertical-align: top` on each of them, or a flex container around them.',
  example: `<style>div { display: inline-block; width: 80px; background: tan; height: 80px }</style><section><div>one</div><div>one and two and three lines</div></section>`,
  observe: inFlowContainers(dips),
  suspects: (analysis, { subject }) => [
    suspect(
      analysis,
      subject,
      'vertical-align',
      `${boxName(analysis, subject)} is aligned by its last baseline`,
      [
        fix('align their upper edges', subject, 'vertical-align', 'top', 104),
        fix(
          'lay the container out as a flex container',
          analysis.reading.parent[subject]!,
          'display',
          'flex',
          90,
        ),
      ],
    ),
  ],
  drawn: beforeStart,
};
