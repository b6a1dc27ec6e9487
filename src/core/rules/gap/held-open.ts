/** Room that a minimum or a height holds open behind what is in a box (CSS Sizing 3 §3.1, CSS 2.2 §10.7). */
import { sizeWish } from '../wishes.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { childrenOf, hasBox, rectOf } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { px } from '../../geometry/rect.ts';
import { tagOf } from '../../reading/labels.ts';
import { contentEnds } from '../../visibility/content-extent.ts';
import { boxName, hasBackground, isReplacedOrControl, scrollsOn } from '../../visibility/visibility.ts';
import { beforeEnd } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry, stopsByVisibility } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { inDeclaring } from './containers.ts';

/** CSS px that are empty, and their part of the box, from which on it is seen. */
const LEAST = 40;
const PART = 0.3;

function heldOpen(analysis: Analysis, box: number): Observed[] {
  const { tree } = analysis;
  if (
    stopsByGeometry(
      analysis,
      box,
      (isReplacedOrControl(tree, box) ||
        /^(inline|table-)/.test(tree.kinds[box]!) ||
        tagOf(tree.reading, box) === 'body') &&
        'it is a picture, a control or a part of a line or table',
    )
  )
    return [];
  const own = (property: string) => {
    const declaration = authorDeclaration(analysis, box, property);
    return declaration?.owner === box &&
      !/^(auto|none|0\D*|min-content|fit-content|max-content)$/.test(declaration.value)
      ? declaration
      : null;
  };
  const [minimum, height] = [own('min-height'), own('height')];
  if (!minimum && !height) {
    stopsByGeometry(analysis, box, 'no height and no minimum of it is declared');
    return [];
  }
  const held = minimum ?? height!;
  const ends = contentEnds(analysis, box);
  if (!ends) {
    stopsByGeometry(analysis, box, 'nothing is in it');
    return [];
  }
  const { content, rect } = laidAreas(tree, box);
  const blank = content.y + content.height - ends.bottom;
  if (
    stopsByVisibility(analysis, box, (blank < LEAST || blank < PART * rect.height) && 'little of it is empty')
  )
    return [];
  if (
    stopsByGeometry(
      analysis,
      box,
      ends.top - content.y > blank / 3 && 'what is in it stands in the middle or at the end',
    )
  )
    return [];
  if (stopsByGeometry(analysis, box, scrollsOn(tree, box, 'y') && 'it scrolls what is in it')) return [];
  // What is positioned in it may well be what the room is for.
  const holdsPlaced = childrenOf(tree, box).some(
    (child) => tree.kinds[child] === 'absolute' && hasBox(tree, child),
  );
  const isOfView = /v[hwb]|vmin|vmax|%/.test(held.value);
  return [
    observed({
      px: blank,
      axis: 'y',
      subject: box,
      what: `${px(blank)} px at the end of ${boxName(analysis, box)} are empty: ${held.property}: ${held.value} holds them open`,
      evidence: facts(
        ['as-tall-as-the-view', isOfView && `${held.value} makes it a part of the view, whatever is in it`],
        ['height-is-declared', !minimum && 'Its height is declared, not a minimum'],
        ['room-for-what-is-placed', holdsPlaced && 'What is placed in it may need the room'],
        ['seen-by-its-ground', hasBackground(analysis, box) && 'Its ground shows the empty room'],
        ['mostly-empty', blank > 0.5 * rect.height && 'More than half of it is empty'],
      ),
      boxes: [box],
      weight: 20 + blank / 4,
      source: held.source,
    }),
  ];
}

const suspects = (analysis: Analysis, { subject, source }: Observation): Suspect[] => {
  const property = source?.property.startsWith('min-') ? 'min-height' : 'height';
  return [
    suspect(analysis, subject, property, `${boxName(analysis, subject)} is kept taller than what is in it`, [
      fix('let it be as tall as what is in it', subject, property, property === 'height' ? 'auto' : '0', 100),
    ]),
  ];
};

export const rule: Rule<'gap/held-open'> = {
  id: 'gap/held-open',
  kind: 'gap',
  title: 'A minimum holds empty room open',
  spec: ['CSS Sizing 3 §3.1', 'CSS 2.2 §10.7'],
  why: 'A minimum or a height that was made for more, or for another layout, keeps the box taller than what is in it.',
  usual: 'Take the minimum out where the layout is another, or put it under the condition that it is for.',
  example: `<style>div { min-height: 400px; background: linen }</style><div><p>Two words</p></div>`,
  observe: inDeclaring(['height', 'min-height'], heldOpen),
  wish: (analysis, { subject, px: blank }) =>
    sizeWish(analysis, subject, 'y', 'at-most', rectOf(analysis.reading, subject).height - blank / 2),
  suspects,
  drawn: beforeEnd,
};
