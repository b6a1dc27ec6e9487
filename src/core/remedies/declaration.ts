/** Mend a declaration that is of no use where it stands: right its name or value, give it what it needs, or take it out. */
import {
  cite,
  placeWords,
  authorDeclaration,
  isLength,
  type AuthorDeclaration,
} from '../accounts/author-declaration.ts';
import type { Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { keywordsOf, knownProperty, matchesSyntax, propertyNames } from '../css/syntax/property-syntax.ts';
import { nearestWords } from '../css/syntax/spelling.ts';
import { evenAreas, invalidAreas } from '../css/values/template-areas.ts';
import { boxName as labelOf } from '../visibility/visibility.ts';
import { resolve } from '../css/cascade/cascade.ts';
import { longhandsOf } from '../css/cascade/shorthands.ts';
import { enabling } from './enabling.ts';
import { hasDefiniteHeight } from '../accounts/sizing/percentage-definiteness.ts';
import { neverSticks } from '../accounts/positioned/sticky.ts';
import { alter, put, type Proposal, type Step } from './model.ts';

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
            {
              ...base,
              rule: 'inert',
              because,
              words: 'let it be no taller than what is in it',
              steps: [put(analysis, subject, 'align-self', 'flex-start')],
              rank: 84,
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
      ...longhandsAsked(source.property).flatMap((property) =>
        enabling(analysis, subject, property, valueOf(analysis, subject, property)).map(
          ({ words, steps, rank }) => ({ ...base, rule: 'inert', because, words, steps, rank }),
        ),
      ),
      { ...base, rule: 'inert', because, words: 'take it out', steps: [alter(declaration, '')], rank: 40 },
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
      ...(other !== null && rule !== 'size/percent-height-of-page'
        ? stretching(analysis, subject, other).map((entry) => ({
            ...base,
            rule: 'indefinite',
            because,
            ...entry,
          }))
        : []),
      ...(other !== null && height > 0 && rule !== 'size/percent-height-of-page'
        ? [
            {
              ...base,
              rule: 'indefinite',
              because,
              words: `give ${labelOf(analysis, other)} a height`,
              steps: [put(analysis, other, 'height', `${height}px`)],
              rank: 50,
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

/** Boxes without a height between one and the nearest whose height is known, at most three; empty: none is near. */
function chainOf(analysis: Analysis, subject: number): number[] {
  const out: number[] = [];
  for (
    let at = analysis.tree.containingBlock[subject]!;
    at > 0 && out.length <= 3;
    at = analysis.tree.containingBlock[at]!
  ) {
    if (hasDefiniteHeight(analysis, at)) return out;
    out.push(at);
  }
  return [];
}

/** Ways in which a percentage height comes to what it asks for, without a number of today's layout. */
function stretching(
  analysis: Analysis,
  subject: number,
  other: number,
): { words: string; steps: Step[]; rank: number }[] {
  const { tree, reading } = analysis;
  const kind = tree.kinds[subject]!;
  const parent = reading.parent[subject]!;
  const name = labelOf(analysis, other);
  const minimum = authorDeclaration(analysis, other, 'min-height');
  const out: { words: string; steps: Step[]; rank: number }[] = [];
  if (/^(flex|grid)-item$/.test(tree.kinds[other]!)) {
    const align = authorDeclaration(analysis, reading.parent[other]!, 'align-items');
    if (align && !/stretch|normal/.test(align.value))
      out.push({
        words: `let the items of ${labelOf(analysis, reading.parent[other]!)} be as tall as their row`,
        steps: [put(analysis, reading.parent[other]!, 'align-items', 'stretch')],
        rank: 88,
      });
  }
  if (minimum?.owner === other && isLength(minimum.value) && !/%/.test(minimum.value))
    out.push({
      words: `make the minimum of ${name} its height`,
      steps: [put(analysis, other, 'height', minimum.value)],
      rank: 82,
    });
  if (parent === other && /^(block|list-item)$/.test(kind))
    out.push({
      words: `let ${name} stretch what is in it`,
      steps: [put(analysis, other, 'display', 'grid')],
      rank: 80,
    });
  const chain = chainOf(analysis, subject);
  if (chain.length > 0)
    out.push({
      words: `hand the height of ${labelOf(analysis, reading.parent[chain.at(-1)!]!)} on to it`,
      steps: chain.map((at) => put(analysis, at, 'height', '100%')),
      rank: 81,
    });
  for (const place of [tree.containingBlock[subject]!])
    if (place >= 0 && place !== other)
      out.push({
        words: `give ${labelOf(analysis, place)} a height`,
        steps: [put(analysis, place, 'height', '100%')],
        rank: 60,
      });
  // A box with a width and no content has the shape that a percentage of the two was to give it.
  if (minimum?.owner !== other && !/^(flex|grid)-item$/.test(kind)) {
    const { width, height } = laidAreas(tree, subject).rect;
    if (width > 40 && height < 24)
      out.push({
        words: 'give it a shape',
        steps: [put(analysis, subject, 'aspect-ratio', '4 / 3')],
        rank: 64,
      });
  }
  return out;
}

/** The longhands that a declaration sets, or itself. */
const longhandsAsked = (property: string): string[] => {
  const names = longhandsOf(property);
  return names.length > 0 ? names : [property];
};

const valueOf = ({ styles }: Analysis, element: number, property: string): string =>
  resolve(styles, element, property).value;

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

/** Ways in which a value was probably meant, the likeliest first. */
function likelyValues(property: string, value: string): string[] {
  const parts = value.trim().split(/\s+(?![^(]*\))/);
  const keywords = keywordsOf(property);
  const spelt = parts.map((part) =>
    /^[a-z-]+$/i.test(part) && !keywords.includes(part.toLowerCase())
      ? (nearestWords(part.toLowerCase(), keywords)[0] ?? part)
      : part,
  );
  return [
    value,
    value.replace(/(\d)\s+(px|rem|em|%|vw|vh|pt|ch|fr)\b/gi, '$1$2'),
    value.replace(/(^|[\s,])(\d*\.?\d+)(?=$|[\s,])/g, '$1$2px'),
    value.replace(
      /(\d)(p|x|pxx|xp|ppx|re|rme|ems)\b/gi,
      (_, digit: string, unit: string) => `${digit}${/r/i.test(unit) ? 'rem' : /e/i.test(unit) ? 'em' : 'px'}`,
    ),
    value.replace(/^(['"])(.*)\1$/, '$2'),
    value.replace(/\s*,\s*/g, ' '),
    value
      .replace(/([\d%a-z)])([-+])(?=[\d(])/gi, '$1 $2 ')
      .replace(/([\d%a-z)])\s*([-+])\s*(?=[\d(])/gi, '$1 $2 '),
    value.replace(/(^|\s)-(?=\d)/g, '$1'),
    value.replace(/\s*[;:!].*$/, ''),
    spelt.join(' '),
    evenAreas(value) ?? value,
    // Of too many values the first are meant.
    ...parts.slice(1).map((_, n) => parts.slice(0, parts.length - 1 - n).join(' ')),
  ];
}

/** The declaration that was probably wanted; null: there is none that is near. */
export function righted(property: string, value: string): { property: string; value: string } | null {
  const names =
    knownProperty(property) && !property.startsWith('-') ? [property] : nearestWords(property, propertyNames());
  for (const name of names)
    for (const text of likelyValues(name, value))
      if (
        matchesSyntax(name, text) &&
        !(name === property && text === value && invalidAreas(value) === null) &&
        !isInvalidAreas(name, text)
      )
        return { property: name, value: text };
  return null;
}

const isInvalidAreas = (property: string, value: string): boolean =>
  property === 'grid-template-areas' && invalidAreas(value) !== null;
