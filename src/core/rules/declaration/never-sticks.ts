/** Boxes that are told to stick and never do (CSS Positioned Layout 3 §3.4). */
import { inertDeclarations } from './inert.ts';
import type { Rule } from '../model.ts';

export const rule: Rule<'declaration/never-sticks'> = {
  id: 'declaration/never-sticks',
  kind: 'inert',
  title: 'A sticky box never sticks',
  spec: ['CSS Positioned Layout 3 §3.4'],
  why: 'A sticky box sticks within its nearest scroll container, and one with `overflow: hidden` is such a container too.',
  usual: 'Let what is around it clip and not scroll: `overflow: clip`. Or say at which edge it sticks.',
  example: `<style>.wrap { overflow: hidden } nav { position: sticky; top: 0 } main { height: 3000px }</style><div class="wrap"><nav>menu</nav><main>text</main></div>`,
  observe: (analysis) => inertDeclarations(analysis).sticky,
};
