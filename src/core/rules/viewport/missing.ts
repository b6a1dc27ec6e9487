/** Pages that say nothing of the width of the device they are shown on (CSS Viewport 1 §3). */
import { viewportContents } from '../../html/viewport-contents.ts';
import type { Rule } from '../model.ts';
import { notAsWide } from './phones.ts';

export const rule: Rule<'viewport/missing'> = {
  id: 'viewport/missing',
  kind: 'viewport',
  title: 'The viewport meta element is missing',
  spec: ['CSS Viewport 1 §3'],
  why: 'Without a viewport meta element a phone lays the page out 980 px wide and shows it small.',
  usual: '`<meta name="viewport" content="width=device-width, initial-scale=1">`',
  example: `<title>No viewport</title><p>Text</p>`,
  observe: (analysis) => (viewportContents(analysis.sources.document).length === 0 ? notAsWide(analysis) : []),
};
