/** Pages that forbid to zoom (CSS Viewport 1 §3, WCAG 2.2 §1.4.4). */
import type { Analysis } from '../../analysis.ts';
import { layoutViewport } from '../../css/media/viewport-meta.ts';
import { viewportContents } from '../../html/viewport-contents.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { PHONES, headOf, notAsWide } from './phones.ts';
import { stopsByGeometry } from '../stops.ts';

function zoomForbidden(analysis: Analysis): Observed[] {
  const contents = viewportContents(analysis.sources.document);
  if (
    stopsByGeometry(
      analysis,
      headOf(analysis),
      notAsWide(analysis).length > 0 && 'the page is not as wide as a phone, which another rule tells of',
    )
  )
    return [];
  const { userZoom, maxZoom } = layoutViewport(contents, PHONES[0]!);
  if (stopsByGeometry(analysis, headOf(analysis), userZoom && maxZoom >= 2 && 'it can be zoomed')) return [];
  return [
    observed({
      px: 0,
      axis: 'x',
      subject: headOf(analysis),
      what: `The viewport meta element says “${contents.at(-1)}”: it forbids to zoom in, which WCAG 1.4.4 asks for`,
      weight: 20,
    }),
  ];
}

export const rule: Rule<'viewport/no-zoom'> = {
  id: 'viewport/no-zoom',
  kind: 'viewport',
  title: 'The viewport meta element forbids to zoom',
  spec: ['CSS Viewport 1 §3', 'WCAG 2.2 §1.4.4'],
  why: '`user-scalable=no` or a small maximum keeps visitors from enlarging the text.',
  usual: 'Take `user-scalable` and `maximum-scale` out.',
  example: `<meta name="viewport" content="width=device-width, initial-scale=1, user-scalable=no"><p>Text</p>`,
  observe: zoomForbidden,
};
