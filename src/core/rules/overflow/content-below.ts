/** What is in a box and hangs out of its lower end, over nothing (CSS 2.2 §10.6.3). */
import { columnMinimum } from './column-minimum.ts';
import { belowEnd } from '../drawn.ts';
import type { Rule } from '../model.ts';
import { hangingOut } from './line-overflow.ts';

export const rule: Rule<'overflow/content-below'> = {
  id: 'overflow/content-below',
  kind: 'overflow',
  title: 'Content hangs out of the lower end of its box',
  spec: ['CSS 2.2 §10.6.3'],
  why: 'A height or a maximum is smaller than what is in the box.',
  usual: 'Let the box be as tall as what is in it: `min-height` in the place of `height`.',
  example: `<style>.card { height: 30px; width: 150px; background: linen; border: 1px solid; margin-bottom: 200px }</style><div class="card">More words than there is room for in a box of this height</div>`,
  observe: (analysis) => hangingOut(analysis, false),
  suspects: columnMinimum,
  drawn: belowEnd,
};
