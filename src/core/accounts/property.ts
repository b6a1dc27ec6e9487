/** The cascade of one property of one box, in a form to be read: the winner, what it beat, or the default. */
import type { Analysis } from '../analysis.ts';
import { computedText, usedText } from '../boxes/tree.ts';
import { candidates } from '../css/cascade/candidates.ts';
import { resolve } from '../css/cascade/cascade.ts';
import type { Candidate, Source } from '../css/cascade/styles.ts';
import { GEOMETRY } from '../css/cascade/properties.ts';
import { placeIn } from '../css/syntax/source-positions.ts';
import { isShorthand, longhandsOf } from '../css/cascade/shorthands.ts';
import { describeResolution, type Declared } from './sizing/declared.ts';

export interface Contender {
  source: Source;
  value: string;
  important: boolean;
  specificity: string;
  layer: string;
  conditions: string[];
}

export interface PropertyAccount {
  property: string;
  declared: Declared;
  /** As the engine computed or used it, where the reading says. */
  computed: string;
  winner: Contender | null;
  beaten: (Contender & { why: string })[];
  variables: string[];
  sentence: string;
}

const contender = (candidate: Candidate): Contender => ({
  source: candidate.source,
  value: candidate.value ?? candidate.declaration.value,
  important: candidate.declaration.important,
  specificity: candidate.specificity.join(','),
  layer: candidate.layerName,
  conditions: candidate.conditions,
});

export function propertyAccount(
  analysis: Analysis,
  element: number,
  property: string,
  pseudo: string | null = null,
): PropertyAccount {
  const resolution = resolve(analysis.styles, element, property, pseudo);
  const { reading } = analysis;
  const declared = describeResolution(analysis, element, resolution);
  // Computed values are read while nothing has a box: what a container condition gives is not among them.
  const underContainer =
    resolution.winner?.conditions.some((condition) => condition.startsWith('@container')) ?? false;
  return {
    property,
    declared,
    computed: pseudo
      ? ''
      : (underContainer ? '' : computedText(reading, property, element)) ||
        usedText(reading, property, element),
    winner: resolution.winner ? contender(resolution.winner) : null,
    beaten: resolution.beaten.map(({ candidate, why }) => ({ ...contender(candidate), why })),
    variables: resolution.variables,
    sentence: sentenceOf(declared, resolution.winner !== null),
  };
}

function sentenceOf({ from, source, value }: Declared, hasWinner: boolean): string {
  const goesBack = from === 'default' ? 'the browser’s default' : 'the initial value';
  if (hasWinner && from === 'declared') return '';
  if (hasWinner)
    return from === 'inherited'
      ? `It is declared to inherit, and gets ${value}.`
      : `It is declared to go back to ${goesBack}.`;
  if (from === 'inherited')
    return `Nobody set it here; it is inherited${source.origin === 'browser' ? ', and is the browser’s own' : ` from ${source.selector}`}.`;
  return from === 'default'
    ? `Nobody set it; the browser’s default for this element is ${value}.`
    : 'Nobody set it; it has its initial value.';
}

/** Every property for which some declaration asks on this element, those that are followed first and in their order. */
export function declaredProperties(
  analysis: Analysis,
  element: number,
  pseudo: string | null = null,
): PropertyAccount[] {
  const asked = candidates(analysis.styles, element, pseudo);
  const seen = new Set(GEOMETRY);
  const others = [...asked.keys()]
    .filter((name) => !seen.has(name) && name !== 'all' && !name.startsWith('--'))
    .sort();
  const names = [...GEOMETRY.filter((property) => asked.has(property)), ...others];
  return names.map((property) => propertyAccount(analysis, element, property, pseudo));
}

export interface PseudoAccount {
  /** `::before`, `::marker` ... */
  name: string;
  properties: PropertyAccount[];
}

/** Pseudo-elements of an element for which rules ask, with their declared properties. */
export function pseudosOf(analysis: Analysis, element: number): PseudoAccount[] {
  const matches = analysis.styles.matches.get(element) ?? [];
  const names = new Set(matches.flatMap(({ selector }) => (selector.pseudo ? [selector.pseudo] : [])));
  return [...names].map((name) => ({
    name: `::${name}`,
    properties: declaredProperties(analysis, element, name),
  }));
}

/** Property accounts for a name as typed: a longhand, or the longhands of a shorthand. */
export function accountsByName(analysis: Analysis, element: number, name: string): PropertyAccount[] {
  const property = name.trim().toLowerCase();
  const names = isShorthand(property)
    ? longhandsOf(property)
    : [name.startsWith('--') ? name.trim() : property];
  return names.map((text) => propertyAccount(analysis, element, text));
}

/** Elements that the rule of a source affects: those that its selector matches, in the rule that stands in its place. */
export function reachOf({ sources, reading }: Analysis, source: Source): number[] {
  for (const rule of sources.plan.rules) {
    const sheet = sources.plan.sheets[rule.sheet]!;
    if (sheet.file !== source.sheet) continue;
    const stands = rule.rule.declarations.some(({ property, start }) => {
      const { line, column } = placeIn(sheet, start);
      // A sheet that a script has made has no place in a file, so its property must do.
      return (
        property === source.property &&
        (source.line === 0 || (line === source.line && column === source.column))
      );
    });
    const entry = stands ? rule.selectors.find(({ selector }) => selector.text === source.selector) : undefined;
    if (entry) return Array.from(reading.matches[entry.query] ?? []);
  }
  return [];
}
