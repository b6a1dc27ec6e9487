/** Text, pictures and controls that lie over each other though neither holds the other. */
import type { Analysis } from '../../analysis.ts';
import type { Suspect } from '../finding.ts';
import { overhangs } from './hangs.ts';
import { inked } from './inked.ts';
import { closeLines } from './lines.ts';
import { siblings } from './siblings.ts';
import { stays } from './stays.ts';
import { sticks } from './sticks.ts';
import { undersides } from './underside.ts';

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
