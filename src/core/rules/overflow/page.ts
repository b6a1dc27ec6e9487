/** Boxes that make the page wider than its viewport (CSS Overflow 3 §2.2). */
import { facts } from '../../evidence/model.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { fix, suspect } from '../suspects.ts';
import type { Analysis } from '../../analysis.ts';
import { viewportScrolls } from '../../boxes/viewport-overflow.ts';
import { px } from '../../geometry/rect.ts';
import { pastPage } from '../drawn.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { beyondPage, beyondThePage, LEAST } from './ends.ts';
import { boxName, selfAndAncestors } from '../../visibility/visibility.ts';
import { stopsByGeometry } from '../stops.ts';
import { tagOf } from '../../reading/labels.ts';

function beyondTheViewport(analysis: Analysis): Observed[] {
  const { reading, tree } = analysis;
  const { scrollWidth, clientWidth } = reading.document;
  if (
    stopsByGeometry(analysis, 0, scrollWidth - clientWidth < LEAST && 'the page is no wider than its viewport')
  )
    return [];
  const hidden = !viewportScrolls(reading, 'x');
  const stuck = beyondThePage(analysis);
  const out = new Map<number, Observed>();
  for (const element of stuck) {
    if (tagOf(tree.reading, element) === 'body') continue;
    const above = selfAndAncestors(analysis, element).find((at) => out.has(at));
    if (above !== undefined) {
      stopsByGeometry(analysis, element, 'it is told of a box around it');
      out.get(above)!.boxes.push(element);
      continue;
    }
    const by = Math.min(beyondPage(analysis, element), scrollWidth - clientWidth);
    out.set(
      element,
      observed({
        px: by,
        axis: 'x',
        subject: element,
        what: hidden
          ? `${boxName(analysis, element)} reaches ${px(by)} px beyond the viewport, which does not scroll sideways`
          : `The page is ${px(scrollWidth - clientWidth)} px wider than its viewport: ${boxName(analysis, element)} reaches ${px(by)} px beyond it`,
        evidence: facts(['page-hides-it', hidden && 'The page hides what is beyond its width']),
        weight: by * 4 + 200,
      }),
    );
  }
  // What is around them can be too wide as well.
  for (const value of out.values())
    value.boxes.push(...selfAndAncestors(analysis, reading.parent[value.subject]!));
  return [...out.values()];
}

/** Lengths of the viewport, which count the scrollbar in: a page that scrolls down has less room (CSS Values 4 §6.1.2.1). */
function ofViewportUnits(analysis: Analysis, { boxes, subject, px: by }: Observation): Suspect[] {
  const bar = analysis.reading.viewport.width - analysis.reading.document.clientWidth;
  if (bar <= 0 || by > bar + 1) return [];
  return [subject, ...boxes].flatMap((box) =>
    ['width', 'min-width', 'margin-left', 'margin-right'].flatMap((property) => {
      const declaration = authorDeclaration(analysis, box, property);
      if (declaration?.owner !== box || !/\d[sld]?vw/.test(declaration.value)) return [];
      const isWhole = /^100[sld]?vw$/.test(declaration.value);
      return [
        suspect(
          analysis,
          box,
          property,
          `the viewport that ${declaration.value} is of has the scrollbar of ${px(bar)} px in it`,
          [
            isWhole ? fix('take it of the room that there is', box, property, '100%', 104) : null,
            fix('clip what lies under the scrollbar', 0, 'overflow-x', 'clip', 92),
          ],
        ),
      ];
    }),
  );
}

export const rule: Rule<'overflow/page'> = {
  id: 'overflow/page',
  kind: 'overflow',
  title: 'A box makes the page wider than its viewport',
  spec: ['CSS Overflow 3 §2.2'],
  why: 'A box that is wider than the viewport, or that is pushed beyond its end, adds to the scrollable overflow of the page: the page scrolls sideways.',
  usual:
    'Let the box be as wide as what is around it: take out a fixed width or a minimum, let text wrap, count padding and border in.',
  example: `<style>body { margin: 0 } .wide { width: 120vw; background: tan }</style><p class="wide">A band wider than the view</p>`,
  observe: beyondTheViewport,
  suspects: ofViewportUnits,
  drawn: pastPage,
};
