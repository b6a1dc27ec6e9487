/** Boxes with a picture, a ground or a border that have no size to show it (CSS 2.2 §10.3, §10.6). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { childrenOf, hasBox, inside, rectOf, usedText } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { px } from '../../geometry/rect.ts';
import { tagOf } from '../../reading/labels.ts';
import { boxName, hasBackground, hasGroundPicture } from '../../visibility/visibility.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen, stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

/** CSS px on the other axis from which on something would be seen of it. */
const LEAST = 8;

function collapsed(analysis: Analysis): Observed[] {
  const { tree, reading } = analysis;
  const out: Observed[] = [];
  for (let i = 1; i < tree.count; i++) {
    const { width, height } = rectOf(reading, i);
    if (Math.min(width, height) >= 1 || Math.max(width, height) < LEAST) continue;
    if (isUnseen(analysis, i)) continue;
    if (
      stopsByGeometry(
        analysis,
        i,
        /^(inline$|table-|none|contents)/.test(tree.kinds[i]!) && 'it is a part of a line or a table',
      )
    )
      continue;
    // A picture that did not come has no size to lose.
    const isPicture = /^(img|video)$/.test(tagOf(reading, i)) && (inside(tree).natural.get(i)?.width ?? 0) > 0;
    const hasPicture = hasGroundPicture(analysis, i);
    if (
      stopsByVisibility(
        analysis,
        i,
        !isPicture &&
          !hasPicture &&
          !hasBackground(analysis, i) &&
          'it has no picture and no ground that would be seen',
      )
    )
      continue;
    const axis = height < 1 ? 'y' : 'x';
    const property = axis === 'y' ? 'height' : 'width';
    const isClosed = ['height', 'width', 'max-height', 'max-width'].some((name) => {
      const declaration = authorDeclaration(analysis, i, name);
      return declaration?.owner === i && /^0(px|%)?$/.test(declaration.value);
    });
    const holds =
      childrenOf(tree, i).some((child) => hasBox(tree, child)) ||
      (inside(tree).texts.get(i) ?? []).some(({ blank }) => !blank);
    const scale = /scale[XY]?\(0|translate/.test(usedText(reading, 'transform', i));
    out.push(
      observed({
        px: 0,
        axis,
        subject: i,
        what: `${boxName(analysis, i)} has ${isPicture || hasPicture ? 'a picture' : 'a ground'} and is 0 px ${axis === 'y' ? 'tall' : 'wide'}: nothing of it shows`,
        evidence: facts(
          ['closed', (isClosed || scale) && `A ${property} of 0 is declared, or a transform closes it`],
          ['picture-is-lost', (isPicture || hasPicture) && 'Its picture cannot be seen'],
          ['holds-what-is-out-of-flow', holds && 'What is in it floats or is placed, and gives it no size'],
        ),
        boxes: [i],
        weight: 60 + Math.max(width, height) / 8,
      }),
    );
  }
  return out;
}

function suspects(analysis: Analysis, { subject, axis }: Observation): Suspect[] {
  const { tree, reading } = analysis;
  const property = axis === 'y' ? 'height' : 'width';
  const name = boxName(analysis, subject);
  const natural = inside(tree).natural.get(subject);
  const floats = childrenOf(tree, subject).some((child) => tree.kinds[child] === 'float');
  const declared = authorDeclaration(analysis, subject, property);
  const isItem = tree.kinds[subject] === 'flex-item';
  return [
    suspect(
      analysis,
      subject,
      property,
      declared ? `${property}: ${declared.value} comes to 0` : `nothing gives ${name} a ${property}`,
      [
        floats ? fix('let it hold its floats', subject, 'display', 'flow-root', 104) : null,
        natural && natural.width > 0 && natural.height > 0
          ? fix('give it its own shape', subject, 'aspect-ratio', `${natural.width} / ${natural.height}`, 100)
          : null,
        isItem && axis === 'x' ? fix('let it keep its size', subject, 'flex', 'none', 98) : null,
        declared ? fix('let it be as large as what is in it', subject, property, 'auto', 92) : null,
        fix('give it a shape', subject, 'aspect-ratio', '16 / 9', 80),
        axis === 'y'
          ? fix(
              'give it a least height',
              subject,
              'min-height',
              `${px(Math.round(laidAreas(tree, reading.parent[subject]!).content.width * 0.3))}px`,
              50,
            )
          : null,
      ],
    ),
  ];
}

export const rule: Rule<'size/no-size'> = {
  id: 'size/no-size',
  kind: 'size',
  title: 'A picture or a ground has no size to show it',
  spec: ['CSS 2.2 §10.6.3', 'CSS 2.2 §9.5'],
  why: 'A box is as tall as what is in its flow: a picture on its ground, floats and what is placed in it give it no height.',
  usual: 'Give it a height or an `aspect-ratio`, or let it hold its floats (`display: flow-root`).',
  example: `<style>.hero { background: url(cliff.jpg) center / cover }</style><div class="hero"></div>`,
  observe: collapsed,
  suspects,
};
