/** Sizes and margins of inline boxes, which take none (CSS 2.2 §10.2, §10.3.1). */
import { inertDeclarations } from './inert.ts';
import type { Rule } from '../model.ts';

export const rule: Rule<'declaration/inert-on-inline'> = {
  id: 'declaration/inert-on-inline',
  kind: 'inert',
  title: 'A size or margin does nothing on an inline box',
  spec: ['CSS 2.2 §10.2', 'CSS 2.2 §10.6.1'],
  why: 'An inline box is as wide as its text and as tall as its font.',
  usual: 'Make it an inline-block.',
  example: `<style>.badge { width: 120px; height: 40px; background: tan }</style><p><span class="badge">new</span> text</p>`,
  observe: (analysis) => inertDeclarations(analysis).inline,
};
