/**
 * What the core needs to know from the engine about a page's style sheets: which elements each selector
 * matches, which conditions hold, which declarations it takes. The plan is sent to the collector once; the
 * answers that depend on the viewport come back with every reading.
 */
import { z } from 'zod';
import { FULL, type Described } from '../../reading/reading.ts';
import type { SourceDocument } from '../../html/document.ts';
import { selectorsOf, type Selector } from '../syntax/selectors.ts';
import {
  parseSheet,
  type Condition,
  type Registration,
  type Rule,
  type Sheet,
} from '../syntax/style-sheets.ts';

export interface Query {
  root: number;
  selector: string;
  /** Set for rules in `@scope`: selector lists of its roots and limits, null where none is given. */
  scope?: { roots: string | null; limits: string | null };
}

export interface PlannedRule {
  sheet: number;
  root: number;
  rule: Rule;
  /** Place in the order of appearance over all sheets (CSS Cascade 5 §6.1). */
  order: number;
  /** `support`: index in `plan.request.supports` of the question whether the engine has its pseudo-element; −1: all have it. */
  selectors: { selector: Selector; query: number; support: number }[];
  conditions: PlannedCondition[];
  /** Key of the layer in its root; null: in no layer. */
  layer: string[] | null;
  /** Index in `plan.request.declarations` of each declaration, −1 for a custom property. */
  asked: number[];
}

export interface PlannedCondition {
  kind: 'media' | 'supports' | 'container' | 'never';
  index: number;
  text: string;
}

export interface PlannedLayer {
  root: number;
  path: string[];
  conditions: PlannedCondition[];
}

export interface PlanRequest {
  queries: Query[];
  media: string[];
  supports: string[];
  containers: string[];
  /** Property and value of every declaration, each pair once. */
  declarations: [string, string][];
  /** Queries of the rules that give generated boxes their content, and of those that let first letters float. */
  generated: { before: number[]; after: number[]; letters: number[] };
  /** By property that few pages use: queries of the rules that say something about it. */
  rare: Record<string, number[]>;
}

export interface Plan {
  sheets: Sheet[];
  rules: PlannedRule[];
  layers: PlannedLayer[];
  registrations: Map<string, Registration>;
  /** Conditions of what else sheets say of the whole document, and of sheets that are not among the files. */
  others: PlannedCondition[][];
  request: PlanRequest;
  /** Sheets that the page asks for and that are not among its files. */
  missing: string[];
}

/** Whether two plans ask a page the same but for the declarations, so that a reading answers both. */
export function asksTheSame(a: PlanRequest, b: PlanRequest): boolean {
  const isSame = (entry: readonly string[], other: readonly string[]) =>
    entry.length === other.length && entry.every((text, i) => text === other[i]);
  return (
    a.queries.length === b.queries.length &&
    a.queries.every((query, i) => {
      const { root, selector, scope } = b.queries[i]!;
      return (
        query.selector === selector &&
        query.root === root &&
        query.scope?.roots === scope?.roots &&
        query.scope?.limits === scope?.limits
      );
    }) &&
    isSame(a.media, b.media) &&
    isSame(a.supports, b.supports) &&
    isSame(a.containers, b.containers) &&
    JSON.stringify([a.generated, a.rare]) === JSON.stringify([b.generated, b.rare])
  );
}

/** The engine's answers that depend on the engine alone. */
export const validitySchema = z.object({ supports: z.array(z.boolean()), declarations: z.array(z.boolean()) });
export type Validity = z.infer<typeof validitySchema>;

export interface PlanInput {
  described: Described;
  document: SourceDocument;
  /** Text of a file of the specimen, or null when there is none by that path. */
  textOf: (path: string) => string | null;
  /** The file that an address points at from a file of the specimen; null when it is none of the specimen's. */
  pathOf: (address: string, fromPath: string) => string | null;
}

/** Shorthands by which the properties that few pages use may be set. */
const SHORTHANDS: Record<string, string[]> = {
  'container-type': ['container'],
  'column-count': ['columns'],
  'column-width': ['columns'],
  'column-gap': ['gap', 'grid-gap', 'grid-column-gap'],
  'justify-self': ['place-self'],
  'align-self': ['place-self'],
  'align-content': ['place-content'],
};

/**
 * Whether every engine takes a selector's pseudo-element: those of CSS 2, and whatever begins with `-webkit-`, which counts as
 * valid wherever it is parsed (Selectors 4, on compatibility).
 */
const hasEverywhere = ({ pseudo }: Selector): boolean =>
  pseudo === null || /^(before|after|first-line|first-letter|-webkit-.*)$/.test(pseudo);

/** Properties of which a rule speaks; `named`: those of them that few pages use. */
function spokenOf({ declarations }: Rule): { names: Set<string>; named: string[] } {
  const names = new Set(declarations.map(({ property }) => property));
  const named = FULL.rare.filter(
    (name) => names.has(name) || SHORTHANDS[name]?.some((text) => names.has(text)),
  );
  return { names, named };
}

const askedOf = ({ declarations }: Rule, of: (pair: string) => number): number[] =>
  declarations.map(({ property, value }) => (property.startsWith('--') ? -1 : of(`${property}\n${value}`)));

/** Numbers texts, each text once. */
function numbering(): { list: string[]; of: (text: string) => number } {
  const list: string[] = [];
  const index = new Map<string, number>();
  const of = (text: string): number => {
    let at = index.get(text);
    if (at === undefined) {
      at = list.push(text) - 1;
      index.set(text, at);
    }
    return at;
  };
  return { list, of };
}

/** `@scope (roots)? [to (limits)]?` (CSS Cascade 6 §2.5). */
export function parseScope(prelude: string): { roots: string | null; limits: string | null } {
  const match = /^\s*(?:\(([\s\S]*?)\))?\s*(?:to\s*\(([\s\S]*)\))?\s*$/i.exec(prelude);
  return { roots: match?.[1]?.trim() || null, limits: match?.[2]?.trim() || null };
}

export function makePlan({ described, document, textOf, pathOf }: PlanInput): Plan {
  const media = numbering();
  const supports = numbering();
  const containers = numbering();
  const declarations = numbering();
  const queries = numbering();
  const plan: Plan = {
    sheets: [],
    rules: [],
    layers: [],
    registrations: new Map(),
    others: [],
    request: {
      queries: [],
      media: media.list,
      supports: supports.list,
      containers: containers.list,
      declarations: [],
      generated: { before: [], after: [], letters: [] },
      rare: {},
    },
    missing: [],
  };

  const planned = (conditions: Condition[]): PlannedCondition[] =>
    conditions.flatMap((condition): PlannedCondition[] => {
      const { kind, text } = condition;
      if (kind === 'media') return [{ kind, text, index: media.of(text) }];
      if (kind === 'supports') return [{ kind, text, index: supports.of(text) }];
      if (kind === 'container') return [{ kind, text, index: containers.of(text) }];
      return kind === 'starting-style' ? [{ kind: 'never', text, index: -1 }] : [];
    });

  const query = (root: number, selector: string, scope: Query['scope']): number => {
    const index = queries.of(`${root}\n${selector}\n${scope ? JSON.stringify(scope) : ''}`);
    plan.request.queries[index] ??= scope ? { root, selector, scope } : { root, selector };
    return index;
  };

  const generated = { before: new Set<number>(), after: new Set<number>(), letters: new Set<number>() };
  const rare: Record<string, Set<number>> = {};
  const addSheet = (
    sheet: Sheet,
    root: number,
    outer: Condition[],
    layer: string[] | null,
    path: string,
    seen: string[],
  ) => {
    const within = (selectors: string[] | null): string[] | null =>
      layer || selectors ? [...(layer ?? []), ...(selectors ?? [])] : null;
    const index = plan.sheets.push(sheet) - 1;
    for (const registration of sheet.registrations) plan.registrations.set(registration.name, registration);
    for (const conditions of sheet.others) plan.others.push(planned([...outer, ...conditions]));
    for (const mention of sheet.layers)
      plan.layers.push({
        root,
        path: within(mention.path)!,
        conditions: planned([...outer, ...mention.conditions]),
      });
    for (const wanted of sheet.imports) {
      const target = pathOf(wanted.address, path);
      const text = target === null || seen.includes(target) ? null : textOf(target);
      const inner = within(wanted.layer);
      if (inner) plan.layers.push({ root, path: inner, conditions: planned([...outer, ...wanted.conditions]) });
      if (target === null || text === null) {
        if (target === null || !seen.includes(target)) plan.missing.push(wanted.address);
        plan.others.push(planned([...outer, ...wanted.conditions]));
        continue;
      }
      const imported = parseSheet({ file: target, text, line: 1, column: 1, form: 'file' });
      addSheet(imported, root, [...outer, ...wanted.conditions], inner, target, [...seen, target]);
    }
    for (const rule of sheet.rules) {
      const scopes = rule.conditions.filter((condition) => condition.kind === 'scope');
      const last = scopes[scopes.length - 1];
      const scope = last ? parseScope(last.text) : undefined;
      const { names, named } = spokenOf(rule);
      plan.rules.push({
        sheet: index,
        root,
        rule,
        order: plan.rules.length,
        selectors: selectorsOf(rule.prelude, rule.parents, scope !== undefined).map((selector) => {
          const number = query(root, selector.query, scope);
          const { pseudo } = selector;
          if ((pseudo === 'before' || pseudo === 'after') && names.has('content'))
            generated[pseudo].add(number);
          if (pseudo === 'first-letter' && (names.has('float') || names.has('all')))
            generated.letters.add(number);
          if (pseudo === null) for (const name of named) (rare[name] ??= new Set()).add(number);
          const support = hasEverywhere(selector) ? -1 : supports.of(`selector(*${selector.end})`);
          return { selector, query: number, support };
        }),
        conditions: planned([...outer, ...rule.conditions]),
        layer: within(rule.layer),
        asked: askedOf(rule, declarations.of),
      });
    }
  };

  for (const found of described.sheets) {
    const outer: Condition[] = found.media ? [{ kind: 'media', text: found.media }] : [];
    if (found.form === 'link') {
      const path = pathOf(found.address, '');
      const text = path === null ? null : textOf(path);
      if (path === null || text === null) {
        plan.missing.push(found.address);
        plan.others.push(planned(outer));
      } else
        addSheet(
          parseSheet({ file: path, text, line: 1, column: 1, form: 'file' }),
          found.root,
          outer,
          null,
          path,
          [path],
        );
      continue;
    }
    const source = found.form === 'style' ? document.styles[found.root]?.[found.owner]?.text : undefined;
    const previous = source && source.value === found.text;
    const sheet = parseSheet({
      file: found.form === 'constructed' ? '(made by script)' : document.path,
      text: found.text,
      // A style element that a script has made or changed stands nowhere in the file.
      line: previous ? source.line : found.form === 'style' ? 0 : 1,
      column: previous ? source.column : 1,
      form: 'element',
    });
    addSheet(sheet, found.root, outer, null, document.path, []);
  }
  const stack = document.root ? [document.root] : [];
  for (let element = stack.pop(); element; element = stack.pop()) {
    const style = element.attributes['style'];
    if (style) {
      const { value: text, line, column } = style;
      const sheet = parseSheet({ file: document.path, text, line, column, form: 'attribute' });
      for (const { property, value } of sheet.rules[0]?.declarations ?? [])
        declarations.of(`${property}\n${value}`);
    }
    for (const child of element.children) stack.push(child);
    for (const child of element.shadow ?? []) stack.push(child);
  }
  plan.request.rare = Object.fromEntries(Object.entries(rare).map(([name, set]) => [name, [...set]]));
  const { before, after, letters } = generated;
  plan.request.generated = { before: [...before], after: [...after], letters: [...letters] };
  plan.request.declarations = declarations.list.map((pair) => {
    const cut = pair.indexOf('\n');
    return [pair.slice(0, cut), pair.slice(cut + 1)];
  });
  return plan;
}

const numbered = new WeakMap<Plan, Map<string, number>>();

/**
 * The plan with other texts of its files' sheets, where these differ in the declarations of some rules alone, so that a
 * page is asked the same but for what it takes; null: the plan must be made anew.
 */
export function patchedPlan(plan: Plan, textOf: (path: string) => string | null): Plan | null {
  const sheets = plan.sheets.map((sheet) => {
    const text = sheet.form === 'file' ? textOf(sheet.file) : sheet.text;
    const { file, line, column, form } = sheet;
    return text === null || text === sheet.text ? sheet : parseSheet({ file, text, line, column, form });
  });
  const index =
    numbered.get(plan) ?? new Map(plan.request.declarations.map((pair, i) => [pair.join('\n'), i] as const));
  const declarations = [...plan.request.declarations];
  const of = (pair: string): number => {
    const cached = index.get(pair);
    if (cached !== undefined) return cached;
    const cut = pair.indexOf('\n');
    const at = declarations.push([pair.slice(0, cut), pair.slice(cut + 1)]) - 1;
    index.set(pair, at);
    return at;
  };
  const rules = [...plan.rules];
  for (const [number, sheet] of plan.sheets.entries()) {
    const result = sheets[number]!;
    if (result === sheet) continue;
    if (result.rules.length !== sheet.rules.length || result.conditions !== sheet.conditions) return null;
    // Sheets come before those that they import, so that their rules stand anywhere in the plan, but in their order.
    let next = 0;
    for (const [i, planned] of plan.rules.entries()) {
      if (planned.sheet !== number) continue;
      const [was, is] = [planned.rule, result.rules[next++]!];
      if (was === is) continue;
      if (was.prelude !== is.prelude || !isSameContext(was, is)) return null;
      const isSame =
        was.declarations.length === is.declarations.length &&
        was.declarations.every(
          ({ property, value }, n) =>
            property === is.declarations[n]!.property && value === is.declarations[n]!.value,
        );
      if (!isSame) {
        const [before, after] = [spokenOf(was), spokenOf(is)];
        if (before.names.has('content') !== after.names.has('content')) return null;
        if (before.named.join() !== after.named.join()) return null;
      }
      rules[i] = { ...planned, rule: is, asked: isSame ? planned.asked : askedOf(is, of) };
    }
  }
  const out: Plan = { ...plan, sheets, rules, request: { ...plan.request, declarations } };
  numbered.set(out, index);
  return out;
}

const isSameContext = (a: Rule, b: Rule): boolean =>
  a.parents.join('\n') === b.parents.join('\n') &&
  a.conditions.length === b.conditions.length &&
  a.conditions.every(({ kind, text }, i) => kind === b.conditions[i]!.kind && text === b.conditions[i]!.text);
