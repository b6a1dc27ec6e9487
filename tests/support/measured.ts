/** What a harness has measured, held against what the page has: a figure of an empty frame is no figure. */
import type { Analysis } from '../../src/core/analysis.ts';
import { hasBox } from '../../src/core/boxes/tree.ts';
import type { Opened } from '../../src/lib/server/engines/headless.ts';

export interface Measured {
  elements: number;
  boxes: number;
  /** Sides of boxes that were read. */
  numbers: number;
}

export const nothing = (): Measured => ({ elements: 0, boxes: 0, numbers: 0 });

export const measuredWords = ({ elements, boxes, numbers }: Measured): string =>
  `${elements} elements, ${boxes} boxes, ${numbers} numbers measured`;

/** Elements that a page has in the engine itself; `ask`: what an expression comes to there. */
export const elementsIn = (ask: (expression: string) => Promise<number>): Promise<number> =>
  ask('document.querySelectorAll("*").length');

/** Throws where an analysis is of fewer elements than the page has, or of none with a box. */
export async function checkMeasured(opened: Opened, analysis: Analysis, name: string): Promise<Measured> {
  const { reading, tree } = analysis;
  const there =
    reading.engine.name === 'chromium'
      ? await elementsIn((expression) => opened.evaluate('html', expression))
      : (await opened.ask('find', { selector: '*' })).length;
  let boxes = 0;
  for (let i = 0; i < reading.count; i++) if (hasBox(tree, i)) boxes++;
  if (there < 1 || reading.count + reading.unread < there)
    throw new Error(`${name}: ${reading.count} elements were measured, and the page has ${there}.`);
  if (boxes === 0)
    throw new Error(`${name}: none of ${reading.count} elements has a box: nothing was measured.`);
  return { elements: reading.count, boxes, numbers: reading.rects.length };
}

export function addMeasured(total: Measured, part: Measured): void {
  total.elements += part.elements;
  total.boxes += part.boxes;
  total.numbers += part.numbers;
}
