/** Pages that phones lay out at another width than their own (CSS Viewport 1 §3). */
import type { Analysis } from '../../analysis.ts';
import { layoutViewport, viewportWords } from '../../css/media/viewport-meta.ts';
import { viewportContents } from '../../html/viewport-contents.ts';
import { type Observed, observed } from '../model.ts';
import { tagOf } from '../../reading/labels.ts';

/** Two phones: what gives only one of them its own width is as wrong. */
export const PHONES = [
  { width: 360, height: 800 },
  { width: 412, height: 915 },
];

/** The head element, which speaks for the whole page. */
export function headOf({ tree }: Analysis): number {
  let head = 0;
  for (let i = 0; i < tree.count; i++) if (tagOf(tree.reading, i) === 'head') head = i;
  return head;
}

/** Says so where a phone lays the page out at another width than its own. */
export function notAsWide(analysis: Analysis): Observed[] {
  const contents = viewportContents(analysis.sources.document);
  for (const phone of PHONES) {
    const { width } = layoutViewport(contents, phone);
    if (Math.abs(width - phone.width) < 1) continue;
    return [
      observed({
        px: Math.round(Math.abs(width - phone.width)),
        axis: 'x',
        subject: headOf(analysis),
        what: `${viewportWords(contents, phone)} (a phone of ${phone.width} px)`,
        weight: 90,
      }),
    ];
  }
  return [];
}
