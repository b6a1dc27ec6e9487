/** Declarations that variables make invalid at computed-value time (CSS Variables 1 §3.1). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import type { Analysis } from '../../analysis.ts';
import { candidates } from '../../css/cascade/candidates.ts';
import { resolve } from '../../css/cascade/cascade.ts';
import { GEOMETRY } from '../../css/cascade/properties.ts';
import { matchesSyntax } from '../../css/syntax/property-syntax.ts';
import type { Candidate, Source } from '../../css/cascade/styles.ts';
import { usesVariables } from '../../css/values/variables.ts';
import { boxName } from '../../visibility/visibility.ts';
import { type Observed, type Rule, observed } from '../model.ts';
import { isUnseen } from '../stops.ts';
import { fix, suspect } from '../suspects.ts';

const FOLLOWED = new Set(GEOMETRY);

const cache = new WeakMap<ReturnType<typeof candidates>, [string, Candidate][]>();
/** The declarations that have the say and use a variable; elements of which the same is said have them in common. */
function withVariables(declared: ReturnType<typeof candidates>): [string, Candidate][] {
  let out = cache.get(declared);
  if (!out) {
    out = [...declared].flatMap(([property, [winner]]): [string, Candidate][] =>
      winner && FOLLOWED.has(property) && usesVariables(winner.declaration.value) ? [[property, winner]] : [],
    );
    cache.set(declared, out);
  }
  return out;
}

/** Of each element what is declared of it, and its variables: where both are the same, so are its values. */
function environmentsOf({ tree, styles, reading }: Analysis): string[] {
  const declarations = numbering<ReturnType<typeof candidates>>();
  const environments = numbering<string>();
  const inherited: number[] = [];
  return Array.from({ length: tree.count }, (_, i) => {
    const declared = candidates(styles, i);
    const number = declarations(declared);
    const above = inherited[reading.parent[i]!] ?? 0;
    inherited[i] = hasVariables(declared) ? environments(`${above} ${number}`) : above;
    return `${number} ${inherited[i]}`;
  });
}

/** Gives the same number, from 1, for the same thing. */
function numbering<T>(): (thing: T) => number {
  const numbers = new Map<T, number>();
  return (thing) => {
    let number = numbers.get(thing);
    if (number === undefined) numbers.set(thing, (number = numbers.size + 1));
    return number;
  };
}

const declares = new WeakMap<ReturnType<typeof candidates>, boolean>();
function hasVariables(declared: ReturnType<typeof candidates>): boolean {
  let has = declares.get(declared);
  if (has === undefined)
    declares.set(declared, (has = [...declared.keys()].some((name) => name.startsWith('--'))));
  return has;
}

function invalid(analysis: Analysis): Observed[] {
  const { tree, styles } = analysis;
  const found = new Map<string, { source: Source; elements: number[]; property: string; value: string }>();
  const environments = environmentsOf(analysis);
  /** By what is said of an element and the variables that it has: the winners that come to no value there. */
  const wrong = new Map<string, [string, Candidate, string][]>();
  for (let i = 1; i < tree.count; i++) {
    const using = withVariables(candidates(styles, i));
    if (using.length === 0) continue;
    const sort = environments[i]!;
    let list = wrong.get(sort);
    if (!list) {
      list = using.flatMap(([property, winner]): [string, Candidate, string][] => {
        const { value, from } = resolve(styles, i, property);
        const isValue =
          from !== 'declared' || value === '' || usesVariables(value) || matchesSyntax(property, value);
        return isValue ? [] : [[property, winner, value]];
      });
      wrong.set(sort, list);
    }
    if (list.length === 0 || isUnseen(analysis, i)) continue;
    for (const [property, { source }, value] of list) {
      const key = `${source.sheet} ${source.line} ${source.column}`;
      const previous = found.get(key) ?? { source, elements: [], property, value };
      previous.elements.push(i);
      found.set(key, previous);
    }
  }
  return [...found.values()].map(({ source, elements, value }) =>
    observed({
      px: 0,
      axis: 'x',
      subject: elements[0]!,
      what: `${source.property}: ${source.value} comes to “${value}” on ${elements.length === 1 ? boxName(analysis, elements[0]!) : `${elements.length} boxes`}, which is no value of it`,
      places: elements,
      weight: 30,
      source,
    }),
  );
}

/** The value with the unit that it lacks; null: that does not make it valid. */
function withUnit(property: string, value: string): string | null {
  const text = value.replace(/(^|[\s,(])(\d*\.?\d+)(?=$|[\s,)])/g, '$1$2px');
  return text !== value && matchesSyntax(property, text) ? text : null;
}

export const rule: Rule<'declaration/invalid-variable'> = {
  id: 'declaration/invalid-variable',
  kind: 'dropped',
  title: 'A variable makes a declaration invalid',
  spec: ['CSS Variables 1 §3.1'],
  why: 'A declaration with a variable is valid until the variable is put in: if that makes no value, the property is unset.',
  usual: 'Give the variable a value that the property takes, with its unit.',
  example: `<style>div { --w: 20; width: var(--w); background: tan }</style><div>As wide as its container</div>`,
  observe: invalid,
  suspects: (analysis, { subject, source }) => {
    if (!source) return [];
    const property = [...candidates(analysis.styles, subject)].find(
      ([name, [winner]]) =>
        FOLLOWED.has(name) && winner?.source.line === source.line && winner.source.column === source.column,
    )?.[0];
    if (property === undefined) return [];
    const { value } = resolve(analysis.styles, subject, property);
    const right = withUnit(property, value);
    const variable = /var\(\s*(--[\w-]+)/.exec(source.value)?.[1];
    const definition = variable ? authorDeclaration(analysis, subject, variable) : null;
    const plain = variable && definition ? withUnit(property, definition.value) : null;
    return [
      suspect(analysis, subject, property, `with its variable it is “${value}”`, [
        variable && definition && plain
          ? fix(`give ${variable} a unit`, definition.owner, variable, plain, 110)
          : null,
        right ? fix('write the value with its unit', subject, property, right, 100) : null,
        { words: 'take it out', puts: [{ element: subject, property, value: '' }], rank: 40 },
      ]),
    ];
  },
};
