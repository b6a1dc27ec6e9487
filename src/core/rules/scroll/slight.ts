/** Boxes that scroll by so little that nobody can have meant it (CSS Overflow 3 §3.1). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { rectOf, usedPx, usedText } from '../../boxes/tree.ts';
import { facts } from '../../evidence/model.ts';
import type { Observation, Suspect } from '../../finding.ts';
import { endOf, px } from '../../geometry/rect.ts';
import { boxName, inkOf, isSelfOrAncestor } from '../../visibility/visibility.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { stopsByGeometry } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';
import { wishFor } from '../wishes.ts';
import { scrollers } from './scrollers.ts';

/** CSS px, and lines of its text, up to which a scroll brings nothing out. */
const MOST = 24;

function slight(analysis: Analysis): Observed[] {
  const { reading } = analysis;
  return scrollers(analysis).flatMap(({ element, axis, scroll, client, boxes, start }): Observed[] => {
    if (element < 0) return [];
    const by = scroll - client;
    const property = `overflow-${axis}`;
    const declaration = authorDeclaration(analysis, element, property);
    const isAsked = declaration !== null && /auto|scroll/.test(declaration.value);
    const isLong = by > Math.min(MOST, 1.2 * usedPx(reading, 'font-size', element));
    if (
      stopsByGeometry(
        analysis,
        element,
        isAsked && isLong && 'it is declared to scroll, and does so by a line and more',
      )
    )
      return [];
    const isOfBoth =
      isAsked && declaration.source.property === 'overflow' && !/\s/.test(declaration.source.value.trim());
    const far = boxes.filter((box) => endOf(rectOf(reading, box), axis) - start > client + 0.5);
    const subject = far[0] ?? element;
    return [
      observed({
        px: by,
        axis,
        subject: element,
        other: subject === element ? null : subject,
        what: `${boxName(analysis, element)} scrolls ${axis === 'x' ? 'sideways' : 'down'} by ${px(by)} px`,
        evidence: facts(
          [
            'nobody-asked-to-scroll',
            !isAsked && `Nobody declares that it scrolls on this axis: overflow on the other makes it so`,
          ],
          [
            'asked-to-scroll-sideways',
            isAsked && axis === 'x' && 'It is declared to scroll sideways, as code and tables do',
          ],
          ['by-a-hairline', by <= 6 && 'It scrolls by no more than a border or a rounding'],
          ['asked-on-both-axes', isOfBoth && 'overflow is declared for both axes at once'],
        ),
        boxes: [...new Set([element, ...far])].slice(0, 12),
        weight: 60 + by,
      }),
    ];
  });
}

function suspects(analysis: Analysis, { subject, boxes, axis, px: by }: Observation): Suspect[] {
  const { tree } = analysis;
  const [size, end, other] =
    axis === 'y' ? (['height', 'bottom', 'x'] as const) : (['width', 'right', 'y'] as const);
  const name = boxName(analysis, subject);
  const own = (property: string) => {
    const declaration = authorDeclaration(analysis, subject, property);
    return declaration?.owner === subject ? declaration : null;
  };
  const { padding } = laidAreas(tree, subject);
  const out: Suspect[] = [];
  const height = own(size);
  if (height && !/auto|100%/.test(height.value))
    out.push(
      suspect(analysis, subject, size, `${name} has ${px(by)} px too little room in its ${size}`, [
        fix('let it be as large as what is in it', subject, size, 'auto', 106),
        usedText(analysis.reading, 'box-sizing', subject) === 'border-box'
          ? fix('let the size be that of its content', subject, 'box-sizing', 'content-box', 90)
          : null,
      ]),
    );
  // What can be read or used beyond the end would be lost.
  const view = laidAreas(tree, subject).rect;
  const hidesInk = boxes.some(
    (box) => box !== subject && inkOf(analysis, box).some((ink) => endOf(ink, axis) > endOf(view, axis) + 1),
  );
  const isAsked = /auto|scroll/.test(own(`overflow-${axis}`)?.value ?? '');
  if (!isAsked)
    out.push(
      suspect(
        analysis,
        subject,
        `overflow-${other}`,
        `overflow-${other} of ${name} makes visible on the other axis auto`,
        [
          fix(
            'leave room for what reaches beyond',
            subject,
            `padding-${end}`,
            `${Math.ceil(padding[end] + by)}px`,
            104,
          ),
          fix('do not scroll on that axis', subject, `overflow-${axis}`, 'hidden', hidesInk ? 50 : 94),
        ],
      ),
    );
  else
    out.push(
      suspect(analysis, subject, `overflow-${axis}`, `${name} may scroll`, [
        fix(
          'leave room for what reaches beyond',
          subject,
          `padding-${end}`,
          `${Math.ceil(padding[end] + by)}px`,
          80,
        ),
        fix('do not scroll on that axis', subject, `overflow-${axis}`, 'hidden', 70),
      ]),
    );
  for (const box of boxes) {
    if (box === subject || !isSelfOrAncestor(analysis, subject, box)) continue;
    for (const property of [end, `margin-${end}`, size]) {
      const declaration = authorDeclaration(analysis, box, property);
      if (declaration?.owner !== box || !/[1-9]/.test(declaration.value)) continue;
      out.push(
        suspect(analysis, box, property, `${boxName(analysis, box)} reaches beyond by its ${property}`, [
          fix('let it end inside', box, property, property === size ? 'auto' : '0', 92),
        ]),
      );
    }
  }
  return out;
}

export const rule: Rule<'scroll/slight'> = {
  id: 'scroll/slight',
  kind: 'stray-scroll',
  title: 'A box scrolls by a few px',
  spec: ['CSS Overflow 3 §3.1'],
  why: 'A box that scrolls on one axis clips and scrolls on the other as well: `visible` becomes `auto` there.',
  usual: 'Give what reaches beyond its room, or say that the other axis does not scroll.',
  example: `<style>nav { overflow-x: auto } a { display: inline-block; position: relative; padding: 8px } a::after { content: ''; position: absolute; left: 0; right: 0; bottom: -3px; height: 3px; background: teal }</style><nav><a>One</a><a>Two</a></nav>`,
  observe: slight,
  wish: (analysis, { subject, axis }) => wishFor(analysis, subject, { is: 'no-scroll', axis }),
  suspects,
};
