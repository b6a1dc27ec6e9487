/** Controls whose middle lies under another box, so that a click does not reach them (CSSOM View §5, CSS 2.2 Appendix E). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { OPERATED } from '../../boxes/kinds.ts';
import { hit, makeHitIndex } from '../../boxes/hit-test.ts';
import { rectOf, usedText } from '../../boxes/tree.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { layerFacts } from '../../evidence/layers.ts';
import { facts } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { inFixed } from '../../reading/column-predicates.ts';
import { tagOf } from '../../reading/labels.ts';
import {
  boxName,
  hasSolidGround,
  intersection,
  isSelfOrAncestor,
  selfAndAncestors,
  visiblePart,
} from '../../visibility/visibility.ts';
import { common } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

function outOfReach(analysis: Analysis): Observed[] {
  const { tree, reading, order } = analysis;
  const controls: number[] = [];
  for (let i = 1; i < tree.count; i++)
    if (OPERATED.test(tagOf(reading, i)) && !isUnseen(analysis, i)) controls.push(i);
  if (controls.length === 0) return [];
  const index = makeHitIndex(reading, order);
  const out: Observed[] = [];
  for (const control of controls) {
    const shown = visiblePart(analysis, control, rectOf(reading, control));
    if (!shown || shown.width < 4 || shown.height < 4 || inFixed(reading)[control] === 1) continue;
    // Of an inline box in pieces the middle of its rectangle may be no part of it.
    if (
      tree.kinds[control] === 'inline' &&
      shown.height > 2 * parseFloat(usedText(reading, 'font-size', control))
    )
      continue;
    const over = hit(index, shown.x + shown.width / 2, shown.y + shown.height / 2);
    const isReached =
      over < 0 ||
      over === control ||
      isSelfOrAncestor(analysis, control, over) ||
      isSelfOrAncestor(analysis, over, control) ||
      selfAndAncestors(analysis, over).some((at) => /^(label|a|button|summary)$/.test(tagOf(reading, at))) ||
      selfAndAncestors(analysis, over).some((at) => tagOf(reading, at) === 'label') ||
      OPERATED.test(tagOf(reading, over));
    if (stopsByGeometry(analysis, control, isReached && 'nothing lies over its middle')) continue;
    const passes =
      resolve(analysis.styles, over, 'pointer-events').value === 'none' ||
      resolve(analysis.styles, over, 'visibility').value === 'hidden';
    if (
      stopsByGeometry(
        analysis,
        control,
        (passes || inFixed(reading)[over] === 1) &&
          'what lies over it lets clicks through, or stays in the view',
      )
    )
      continue;
    // A ground over it hides it, which another rule tells of.
    if (stopsByGeometry(analysis, control, hasSolidGround(analysis, over) && 'what lies over it has a ground'))
      continue;
    const cut = intersection(shown, rectOf(reading, over)) ?? shown;
    out.push(
      observed({
        px: Math.min(cut.width, cut.height),
        axis: cut.width <= cut.height ? 'x' : 'y',
        subject: control,
        other: over,
        what: `${boxName(analysis, over)} lies over the middle of ${boxName(analysis, control)}, which no click reaches there`,
        evidence: [
          ...layerFacts(analysis, selfAndAncestors(analysis, over)),
          ...facts([
            'fades-out',
            Number(usedText(reading, 'opacity', over) || '1') < 1 &&
              `${boxName(analysis, over)} is not opaque, and may come and go`,
          ]),
        ],
        boxes: [...new Set([over, ...selfAndAncestors(analysis, over).slice(0, 3)])],
        weight: 130,
      }),
    );
  }
  return out;
}

function suspects(analysis: Analysis, { boxes, subject }: Observation): Suspect[] {
  const out: Suspect[] = [];
  for (const at of boxes) {
    if (isSelfOrAncestor(analysis, at, subject)) continue;
    const position = authorDeclaration(analysis, at, 'position');
    const name = boxName(analysis, at);
    if (position?.owner === at && /absolute|relative|fixed/.test(position.value))
      out.push(
        suspect(analysis, at, 'position', `${name} is placed over it`, [
          fix('let clicks through', at, 'pointer-events', 'none', 100),
          fix('leave it in the flow', at, 'position', 'static', 90),
        ]),
      );
    for (const property of ['margin-top', 'margin-left', 'margin-bottom']) {
      const margin = authorDeclaration(analysis, at, property);
      if (margin?.owner === at && /-\d/.test(margin.value))
        out.push(
          suspect(analysis, at, property, `a negative margin pulls ${name} over it`, [
            fix('take the negative margin out', at, property, '0', 102),
          ]),
        );
    }
    for (const property of ['height', 'width', 'padding-bottom', 'padding-top']) {
      const size = authorDeclaration(analysis, at, property);
      if (size?.owner === at && /[1-9]/.test(size.value))
        out.push(
          suspect(analysis, at, property, `${name} is as large as that`, [
            fix('let it be as large as what is in it', at, property, /pad/.test(property) ? '0' : 'auto', 70),
          ]),
        );
    }
  }
  out.push(
    suspect(analysis, subject, 'z-index', `${boxName(analysis, subject)} is painted below it`, [
      {
        words: 'lift it above',
        puts: [
          { element: subject, property: 'position', value: 'relative' },
          { element: subject, property: 'z-index', value: '1' },
        ],
        rank: 84,
      },
    ]),
  );
  return out;
}

export const rule: Rule<'overlap/out-of-reach'> = {
  id: 'overlap/out-of-reach',
  kind: 'overlap',
  title: 'A control cannot be clicked at its middle',
  spec: ['CSS 2.2 Appendix E', 'CSSOM View 1 §5'],
  why: 'A box without a ground lies over the control: nothing is hidden, and clicks go to that box.',
  usual: 'Move or shrink what lies over it, or let clicks through (`pointer-events: none`).',
  example: `<style>.veil { position: absolute; inset: 0 0 auto 0; height: 120px }</style><button>Book</button><div class="veil"></div>`,
  observe: outOfReach,
  suspects,
  drawn: common,
};
