/** Because of which declaration or condition something changes at a width. */
import { authorDeclaration } from '../accounts/author-declaration.ts';
import type { Analysis } from '../analysis.ts';
import { resolve } from '../css/cascade/cascade.ts';
import { placeIn } from '../css/syntax/source-positions.ts';
import type { PlannedRule } from '../css/cascade/plan.ts';
import type { Source } from '../css/cascade/styles.ts';
import { childrenOf, pxOf } from '../boxes/tree.ts';
import type { Snapshot } from './snapshot.ts';
import type { Part } from './layout-signature.ts';

/** Conditions that hold on one side of a flip alone, by their index in the plan. */
export interface Turned {
  media: number[];
  containers: number[];
}

/** Properties that can make a part of the shape another one, those that decide first. */
const DECIDING: Record<Part, RegExp[]> = {
  page: [/^(width|min-width|flex|grid|display|white-space|overflow)/],
  media: [],
  container: [],
  shown: [/^(display|visibility|content-visibility)$/],
  flow: [/^(display|position|float)$/],
  rows: [
    /^(grid-template|grid-auto|flex-wrap|flex-flow|flex-direction|display|float|columns?)/,
    /^(flex|width|min-width|max-width|grid|gap|padding|margin|order)/,
  ],
  lines: [
    /^(font|white-space|letter-spacing|overflow-wrap|word-break)/,
    /^(width|min-width|max-width|padding|flex)/,
  ],
  scroll: [/^(overflow|width|min-width|white-space|display)/],
};

/** Properties that make boxes break into rows or texts into lines without any condition. */
const STANDING: Partial<Record<Part, string[]>> = {
  rows: ['grid-template-columns', 'flex-wrap', 'float'],
  lines: ['white-space'],
};

/** `part` null: of a finding. `rects`: border boxes at the width at hand; null: it is no matter of the room across. */
export function causeOf(
  analysis: Analysis,
  turned: Turned,
  element: number | null,
  part: Part | null,
  rects: Snapshot['rects'] | null,
): { condition: string | null; source: Source | null } {
  const none = { condition: null, source: null };
  const { media, containers } = analysis.sources.plan.request;
  const isTurned = (rule: PlannedRule): boolean =>
    rule.conditions.some(
      ({ kind, index }) =>
        (kind === 'media' && turned.media.includes(index)) ||
        (kind === 'container' && turned.containers.includes(index)),
    );
  const first =
    turned.media[0] !== undefined
      ? `@media ${media[turned.media[0]]}`
      : turned.containers[0] !== undefined
        ? `@container ${containers[turned.containers[0]]}`
        : null;
  if (first === null) return { condition: null, source: standing(analysis, element, part, rects) };
  const rules = analysis.sources.plan.rules.filter(isTurned);
  const sorts = part ? DECIDING[part] : [/^(?!--)/];
  for (const sort of sorts)
    for (const box of nearOf(analysis, element)) {
      const found = declarationOn(analysis, rules, box, sort);
      if (found) return found;
    }
  const [any] = rules;
  return any ? { condition: conditionOf(any, turned), source: null } : { ...none, condition: first };
}

/** The element, what lies directly in it, and what it lies in, in the order in which they are asked. */
function nearOf({ reading, tree }: Analysis, element: number | null): number[] {
  if (element === null) return Array.from({ length: reading.count }, (_, i) => i);
  const out = [element, ...childrenOf(tree, element)];
  for (let at = reading.parent[element]!; at >= 0; at = reading.parent[at]!) out.push(at);
  return out;
}

/** The declaration of the last of some rules that matches an element and says something of a sort of properties. */
function declarationOn(
  { sources, reading }: Analysis,
  rules: readonly PlannedRule[],
  element: number,
  sort: RegExp,
): { condition: string; source: Source } | null {
  for (const rule of [...rules].reverse()) {
    if (!rule.selectors.some(({ query }) => reading.matches[query]?.includes(element))) continue;
    const declaration = rule.rule.declarations.findLast(({ property }) => sort.test(property));
    if (!declaration) continue;
    const sheet = sources.plan.sheets[rule.sheet]!;
    return {
      condition: conditionText(rule),
      source: {
        origin: 'author',
        sheet: sheet.file,
        ...placeIn(sheet, declaration.start),
        selector: rule.rule.prelude,
        property: declaration.property,
        value: declaration.value,
      },
    };
  }
  return null;
}

const conditionText = ({ conditions }: PlannedRule): string =>
  conditions.map(({ kind, text }) => `@${kind} ${text}`).join(' ');

function conditionOf(rule: PlannedRule, { media, containers }: Turned): string {
  const condition = rule.conditions.find(
    ({ kind, index }) =>
      (kind === 'media' && media.includes(index)) || (kind === 'container' && containers.includes(index)),
  );
  return condition ? `@${condition.kind} ${condition.text}` : conditionText(rule);
}

/** Where no condition turns: the declaration by which boxes or lines break as the room asks, or else the one that gives the room. */
function standing(
  analysis: Analysis,
  element: number | null,
  part: Part | null,
  rects: Snapshot['rects'] | null,
): Source | null {
  if (element === null) return null;
  const inner = part === 'rows' ? childrenOf(analysis.tree, element) : [];
  for (const property of (part && STANDING[part]) ?? [])
    for (const box of [element, ...inner]) {
      const { winner } = resolve(analysis.styles, box, property);
      if (winner && !/^(none|nowrap|normal)$/.test(winner.value ?? '')) return winner.source;
    }
  const block = inner.find((element) => analysis.tree.kinds[element] === 'inline-block');
  const set = block === undefined ? null : authorDeclaration(analysis, block, 'display');
  if (set) return set.source;
  const isOfRoom = part === 'rows' || part === 'lines' || part === null;
  return rects && isOfRoom ? roomOf(analysis, element, rects) : null;
}

/** What is no size of its own: it leaves the width to what is around or inside. */
const LEFT_OPEN = /^(auto|none|100%|0(px|%)?|(min|max|fit)-content|initial|inherit|unset)$/;

/** The declaration that says how wide a box is, or the nearest one around it of which something does. */
function roomOf(analysis: Analysis, element: number, rects: Snapshot['rects']): Source | null {
  const { reading, tree } = analysis;
  let inside = -1;
  for (let at = element; at > 0; inside = at, at = reading.parent[at]!) {
    const properties = ['width', ...(tree.kinds[at] === 'flex-item' ? ['flex-basis', 'flex-grow'] : [])];
    if (inside >= 0 && tree.kinds[inside] === 'grid-item') properties.push('grid-template-columns');
    for (const property of properties) {
      const declaration = authorDeclaration(analysis, at, property);
      if (declaration?.owner === at && !LEFT_OPEN.test(declaration.value)) return declaration.source;
    }
    const most = authorDeclaration(analysis, at, 'max-width');
    // A limit has a say where the box has come to it.
    if (most?.owner === at && Math.abs(pxOf(most.value) - rects[at * 4 + 2]!) < 1) return most.source;
  }
  return null;
}
