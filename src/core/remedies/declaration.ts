/** Mend a declaration that is of no use where it stands: right its name or value, give it what it needs, or take it out. */
import { cite, placeWords, authorDeclaration, type AuthorDeclaration } from '../accounts/author-declaration.ts';
import type { Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { matchesSyntax, propertyNames } from '../css/syntax/property-syntax.ts';
import { boxName as labelOf } from '../visibility/visibility.ts';
import { neverSticks } from '../accounts/positioned/sticky.ts';
import { alter, put, type Proposal } from './model.ts';

export const name = 'declaration';

export function propose(analysis: Analysis, { kind, source, subject, other, rule }: Observation): Proposal[] {
  if (kind === 'viewport') return [ofViewport(subject, rule === 'viewport/missing')];
  if (!source) return [];
  const declaration: AuthorDeclaration = {
    element: subject,
    owner: subject,
    property: source.property,
    value: source.value,
    source,
  };
  const base = { element: subject, property: source.property, source };
  const where = `(${placeWords(source)})`;
  if (kind === 'dropped') {
    const right = righted(source.property, source.value);
    const because = `“${source.property}: ${source.value}” is not a declaration ${where}`;
    return [
      ...(right
        ? [
            {
              ...base,
              rule: 'dropped',
              because,
              words: `write ${right.property}: ${right.value}`,
              steps: [
                alter(declaration, ''),
                { ...alter(declaration, right.value), source: null, beside: source, property: right.property },
              ],
              rank: 90,
            },
          ]
        : []),
      { ...base, rule: 'dropped', because, words: 'take it out', steps: [alter(declaration, '')], rank: 40 },
    ];
  }
  if (kind === 'inert') {
    const because = `${source.property}: ${source.value} has no say there ${where}`;
    const needsBlock =
      rule === 'declaration/inert-on-inline' && /^((min-|max-)?(width|height)|margin)/.test(source.property);
    const stuck = rule === 'declaration/never-sticks' ? neverSticks(analysis, subject) : null;
    const holder =
      stuck && stuck.holder !== subject ? authorDeclaration(analysis, stuck.holder, 'overflow-y') : null;
    return [
      ...(stuck?.holder === subject
        ? [
            {
              ...base,
              rule: 'inert',
              because,
              words: 'let it stick at the top',
              steps: [put(analysis, subject, 'top', '0')],
              rank: 85,
            },
          ]
        : []),
      ...(holder
        ? [
            {
              element: stuck!.holder,
              property: holder.source.property,
              source: holder.source,
              rule: 'scroll-container',
              because: `${labelOf(analysis, stuck!.holder)} is what it sticks in, and never scrolls ${cite(holder)}`,
              words: 'let what is around it clip and not scroll',
              steps: [put(analysis, stuck!.holder, 'overflow', 'clip')],
              rank: 85,
            },
          ]
        : []),
      ...(needsBlock
        ? [
            {
              ...base,
              rule: 'inert',
              because,
              words: 'make it an inline-block',
              steps: [put(analysis, subject, 'display', 'inline-block')],
              rank: 80,
            },
          ]
        : []),
      { ...base, rule: 'inert', because, words: 'take it out', steps: [alter(declaration, '')], rank: 60 },
    ];
  }
  if (kind === 'percent-height') {
    const because = `${other === null ? 'what is around it' : labelOf(analysis, other)} has no height of its own, so ${source.value} of it is auto ${where}`;
    const height = other === null ? 0 : Math.round(laidAreas(analysis.tree, other).rect.height);
    return [
      ...(rule === 'size/percent-height-of-page'
        ? [
            {
              ...base,
              rule: 'indefinite',
              because,
              words: 'take it of the viewport',
              steps: [put(analysis, subject, 'min-height', source.value.replace('%', 'vh'))],
              rank: 72,
            },
          ]
        : []),
      ...(other !== null && height > 0 && rule !== 'size/percent-height-of-page'
        ? [
            {
              ...base,
              rule: 'indefinite',
              because,
              words: `give ${labelOf(analysis, other)} a height`,
              steps: [put(analysis, other, 'height', `${height}px`)],
              rank: 70,
            },
          ]
        : []),
      { ...base, rule: 'indefinite', because, words: 'take it out', steps: [alter(declaration, '')], rank: 60 },
    ];
  }
  if (kind === 'size' && analysis.tree.kinds[subject] === 'flex-item')
    return [
      {
        ...base,
        rule: 'shrunk',
        because: `a flex item gives way or grows with the line it stands in, whatever ${source.property}: ${source.value} says ${where}`,
        words: 'let it keep its size',
        steps: [put(analysis, subject, 'flex', 'none')],
        rank: 65,
      },
    ];
  return [];
}

function ofViewport(subject: number, isMissing: boolean): Proposal {
  return {
    element: subject,
    property: 'viewport',
    source: null,
    rule: 'viewport',
    because: isMissing ? 'nothing tells a phone to use its own width' : 'the viewport meta element says so',
    words: 'lay the page out as wide as the device',
    steps: [
      {
        element: subject,
        source: null,
        beside: null,
        property: 'viewport',
        value: 'width=device-width, initial-scale=1',
      },
    ],
    rank: 90,
  };
}

/** The declaration that was probably wanted; null: there is none that is near. */
export function righted(property: string, value: string): { property: string; value: string } | null {
  const values = [
    value,
    value.replace(/(\d)\s+(px|rem|em|%|vw|vh|pt|ch)\b/gi, '$1$2'),
    value.replace(/(^|[\s,])(\d+)(?=$|[\s,])/g, '$1$2px'),
  ];
  const names = matchesSyntaxAny(property) ? [property] : nearest(property);
  for (const name of names)
    for (const value of values) if (matchesSyntax(name, value)) return { property: name, value };
  return null;
}

const matchesSyntaxAny = (property: string): boolean => propertyNames().includes(property);

/** Known properties that differ by two letters at most, the nearest first. */
function nearest(property: string): string[] {
  return propertyNames()
    .map((name) => ({ name, far: distance(name, property) }))
    .filter(({ far }) => far <= 2)
    .sort((a, b) => a.far - b.far)
    .map(({ name }) => name);
}

/** Letters to be changed, put in, left out or swapped with the next. */
function distance(a: string, b: string): number {
  if (Math.abs(a.length - b.length) > 2) return 9;
  const rows = Array.from({ length: a.length + 1 }, (_, i) =>
    Array.from({ length: b.length + 1 }, (_, j) => (i === 0 ? j : j === 0 ? i : 0)),
  );
  for (let i = 1; i <= a.length; i++)
    for (let j = 1; j <= b.length; j++) {
      const swap =
        i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1] ? rows[i - 2]![j - 2]! + 1 : Infinity;
      rows[i]![j] = Math.min(
        rows[i - 1]![j]! + 1,
        rows[i]![j - 1]! + 1,
        rows[i - 1]![j - 1]! + Number(a[i - 1] !== b[j - 1]),
        swap,
      );
    }
  return rows[a.length]![b.length]!;
}
