/**
 * The cascade held against the engine. For every element and property the core's answer is put on the element with
 * a declaration that beats all others: where the answer is right, no computed value changes.
 */
import type { Page } from 'playwright-core';
import { labelOf } from '../../../src/core/reading/labels.ts';
import type { Analysis } from '../../../src/core/analysis.ts';
import { candidates } from '../../../src/core/css/cascade/candidates.ts';
import { resolve, sourceOf } from '../../../src/core/css/cascade/cascade.ts';
import type { Candidate } from '../../../src/core/css/cascade/styles.ts';
import { GEOMETRY } from '../../../src/core/css/cascade/properties.ts';

export interface Disagreement {
  element: string;
  property: string;
  answer: string;
  from: string;
  before: string;
  after: string;
  place: string;
}

export interface Agreement {
  compared: number;
  agreed: number;
  disagreements: Disagreement[];
}

interface Row {
  element: number;
  property: number;
  before: string;
  after: string;
}

/** Runs inside the specimen; `answers` holds, for each element, an index into `texts` for each property. */
function compareInPage({
  properties,
  texts,
  answers,
  from,
}: {
  properties: string[];
  texts: string[];
  answers: number[][];
  from: number;
}): Row[] {
  const elements: Element[] = [];
  const stack: Element[] = [document.documentElement];
  while (stack.length > 0) {
    const element = stack.pop()!;
    elements.push(element);
    for (let child = element.lastElementChild; child; child = child.previousElementSibling) stack.push(child);
  }
  const root = document.documentElement;
  const written = root.getAttribute('style');
  root.style.setProperty('display', 'none', 'important');
  const rows: Row[] = [];
  answers.forEach((answer, at) => {
    const element = elements[from + at] as HTMLElement;
    const values = () => {
      const style = getComputedStyle(element);
      return properties.map((property) => style.getPropertyValue(property));
    };
    const before = values();
    const attribute = element.getAttribute('style');
    const refused: number[] = [];
    properties.forEach((property, p) => {
      if (element === root && property === 'display') return;
      const value = texts[answer[p]!]!;
      element.style.setProperty(property, value, 'important');
      if (element.style.getPropertyValue(property) === '') refused.push(p);
    });
    const after = values();
    if (attribute === null) element.removeAttribute('style');
    else element.setAttribute('style', attribute);
    properties.forEach((_, p) => {
      if (refused.includes(p))
        rows.push({ element: from + at, property: p, before: before[p]!, after: '(refused)' });
      else if (before[p] !== after[p])
        rows.push({ element: from + at, property: p, before: before[p]!, after: after[p]! });
    });
  });
  if (written === null) root.removeAttribute('style');
  else root.setAttribute('style', written);
  return rows;
}

const isContained = ({ conditions }: Candidate): boolean =>
  conditions.some((condition) => condition.startsWith('@container'));

const CHUNK = 400;

export async function compareCascade(page: Page, address: string, analysis: Analysis): Promise<Agreement> {
  const frame = page.frames().find((frame) => frame.url() === address);
  if (!frame) throw new Error(`The station has no frame at ${address}.`);
  // The loader names functions through a helper that the page does not have.
  await frame.evaluate('globalThis.__name = (f) => f');
  const { reading, styles } = analysis;
  const out: Agreement = { compared: reading.count * GEOMETRY.length, agreed: 0, disagreements: [] };
  for (let from = 0; from < reading.count; from += CHUNK) {
    const texts: string[] = [];
    const index = new Map<string, number>();
    const answers: number[][] = [];
    for (let element = from; element < Math.min(reading.count, from + CHUNK); element++)
      answers.push(
        GEOMETRY.map((property) => {
          const found = resolve(styles, element, property);
          const text = found.from === 'inherited' ? 'inherit' : found.value;
          const previous = index.get(text) ?? texts.push(text) - 1;
          index.set(text, previous);
          return previous;
        }),
      );
    const contained = new Set(reading.containers.flatMap((list) => Array.from(list)));
    for (const { element, property, before, after } of await frame.evaluate(compareInPage, {
      properties: [...GEOMETRY],
      texts,
      answers,
      from,
    })) {
      const found = resolve(styles, element, GEOMETRY[property]!);
      // While the root has no box there are no containers, so what a container condition decides cannot be compared.
      if (contained.has(element) && candidates(styles, element).get(GEOMETRY[property]!)?.some(isContained)) {
        out.compared--;
        continue;
      }
      const source = sourceOf(styles, element, found);
      out.disagreements.push({
        element: labelOf(reading, element),
        property: GEOMETRY[property]!,
        answer: found.value,
        from: found.from,
        before,
        after,
        place: `${source.sheet}:${source.line} ${source.selector}`,
      });
    }
  }
  out.agreed = out.compared - out.disagreements.length;
  return out;
}
