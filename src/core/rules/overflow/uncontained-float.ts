/** Floats that hang out of a box which does not contain them (CSS 2.2 §10.6.3). */
import { belowEnd } from '../drawn.ts';
import type { Rule } from '../model.ts';
import { hangingOut } from './line-overflow.ts';

export const rule: Rule<'overflow/uncontained-float'> = {
  id: 'overflow/uncontained-float',
  kind: 'overflow',
  title: 'A float hangs out of its box',
  spec: ['CSS 2.2 §10.6.3', 'CSS 2.2 §10.6.7'],
  why: 'The height of a box that makes no block formatting context does not take its floats into account.',
  usual: 'Let the box contain its floats: `display: flow-root`.',
  example: `<style>.media { background: linen } .media div { float: left; width: 80px; height: 80px; background: tan } p { clear: both; padding-top: 90px }</style><div class="media"><div>float</div>short</div>`,
  observe: (analysis) => hangingOut(analysis, true),
  drawn: belowEnd,
};
