/** Pages that are laid out at another width than that of the device (CSS Viewport 1 §3). */
import { viewportContents } from '../../html/viewport-contents.ts';
import type { Rule } from '../model.ts';
import { notAsWide } from './phones.ts';

export const rule: Rule<'viewport/device-width'> = {
  id: 'viewport/device-width',
  kind: 'viewport',
  title: 'The viewport meta element gives another width than that of the device',
  spec: ['CSS Viewport 1 §3'],
  why: 'A fixed width or an initial scale of another value makes the layout viewport another one than the device.',
  usual: '`width=device-width, initial-scale=1`',
  example: `<meta name="viewport" content="width=1024"><p>Text</p>`,
  observe: (analysis) => (viewportContents(analysis.sources.document).length > 0 ? notAsWide(analysis) : []),
};
