/** Text, pictures and controls that lie over each other though neither holds the other. */
import type { Analysis } from '../../analysis.ts';
import type { Suspect } from '../model.ts';
import { overhangs } from './line-overflow.ts';
import { inked } from './ink-over-ink.ts';
import { closeLines } from './close-lines.ts';
import { siblings } from './siblings.ts';
import { stays } from './fixed-bar.ts';
import { sticks } from './stacked-sticky.ts';
import { undersides } from './displaced-background.ts';

export const kind = 'overlap';

export function detect(analysis: Analysis): Suspect[] {
  const out = [
    ...overhangs(analysis),
    ...siblings(analysis),
    ...closeLines(analysis),
    ...stays(analysis),
    ...sticks(analysis),
    ...undersides(analysis),
  ];
  // What two boxes do to each other is told once.
  const told = new Set(out.flatMap(({ subject, other }) => [`${subject} ${other}`, `${other} ${subject}`]));
  return [...out, ...inked(analysis).filter(({ subject, other }) => !told.has(`${subject} ${other}`))];
}
