/** Heights in percent of html or body, which have none (CSS 2.2 §10.5). */
import type { Rule } from '../model.ts';
import { percentHeights } from './percent-height.ts';

export const rule: Rule<'size/percent-height-of-page'> = {
  id: 'size/percent-height-of-page',
  kind: 'percent-height',
  title: 'A percentage height is of a page without a height',
  spec: ['CSS 2.2 §10.5'],
  why: 'html and body are as tall as what is in them, so a percentage of their height is auto.',
  usual: 'Take it of the viewport: `min-height: 100vh`.',
  example: `<style>main { height: 100%; background: linen }</style><main>as tall as its text</main>`,
  observe: (analysis) => percentHeights(analysis).ofPage,
};
