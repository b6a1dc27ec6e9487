/** Boxes that hold nothing but lines without letters (CSS Text 3 §4.1). */
import { whole } from '../drawn.ts';
import { inFlowContainers } from './containers.ts';
import { emptyBoxes } from './empty-boxes.ts';
import type { Rule } from '../model.ts';

export const rule: Rule<'gap/empty-lines'> = {
  id: 'gap/empty-lines',
  kind: 'gap',
  title: 'A box holds a line without letters',
  spec: ['CSS Text 3 §4.1'],
  why: 'A line break or a space that does not collapse makes a line, though nothing is to be seen in it.',
  usual: 'Take the box out.',
  example: `<section><p>before</p><p>&nbsp;</p><p>after</p></section>`,
  observe: inFlowContainers((analysis, container) => emptyBoxes(analysis, container, true)),
  drawn: whole,
};
