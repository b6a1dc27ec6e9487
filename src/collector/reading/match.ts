/** Answers which elements each selector matches, and what the engine makes of conditions and declarations. */
import type { PlanRequest, Query, Validity } from '../../core/css/cascade/plan.ts';
import type { Walk } from './walk.ts';

/** The names that an element must bear to match a selector: its last compound's; null where that is not plain to see. */
interface Key {
  names: string[];
}

export interface Prepared extends PlanRequest {
  keys: (Key | null)[];
}

/** An identifier (CSS Syntax 3 §4.3.11): a name may have any letters beyond ASCII in it, but not begin with a digit. */
const NAME = String.raw`(?:--|-?(?:[a-z_]|[^\0-\x7f]))(?:[\w-]|[^\0-\x7f])*`;
const COMPOUND = String.raw`(?:${NAME}|(?=[.#:]))(?:[.#]${NAME}|:[\w-]+)*`;
const PLAIN = new RegExp(String.raw`^${COMPOUND}(?:(?:\s+|\s*[>+~]\s*)${COMPOUND})*$`, 'i');
/** What every engine takes after a colon. */
const KNOWN =
  /^:(active|after|before|checked|disabled|empty|enabled|first-(child|letter|line|of-type)|focus(-visible|-within)?|hover|invalid|last-(child|of-type)|link|only-(child|of-type)|optional|read-(only|write)|required|target|valid|visited)$/;

function keyOf({ selector, scope }: Query): Key | null {
  // Whether it takes any other selector only the engine can say, even where no element bears the names in it.
  if (scope || !PLAIN.test(selector) || document.compatMode !== 'CSS1Compat') return null;
  const last = /[^\s>+~]+$/.exec(selector)?.[0];
  if (!last || !(selector.match(/:[\w-]+/g) ?? []).every((text) => KNOWN.test(text))) return null;
  const plain = last.replace(/:[\w-]+/g, '');
  const tag = /^[a-z](?:[\w-]|[^\0-\x7f])*/i.exec(plain)?.[0];
  const names: string[] = plain.match(/[.#](?:[\w-]|[^\0-\x7f])+/g) ?? [];
  if (tag) names.push(tag.toLowerCase());
  return names.length > 0 ? { names } : null;
}

export function prepare(request: PlanRequest): Prepared {
  return { ...request, keys: request.queries.map(keyOf) };
}

/** What the engine said of a declaration: it says the same again, and a trial asks for thousands anew at every step. */
const taken = new Map<string, boolean>();

function isTaken([property, value]: [string, string]): boolean {
  const key = `${property}:${value}`;
  let cached = taken.get(key);
  if (cached === undefined) taken.set(key, (cached = CSS.supports(property, value)));
  return cached;
}

export function validity({ supports, declarations }: PlanRequest): Validity {
  return {
    supports: supports.map((condition) => CSS.supports(condition)),
    declarations: declarations.map(isTaken),
  };
}

type Ints = Int32Array<ArrayBuffer>;

export interface Matches {
  matches: (Ints | null)[];
  hops: Record<string, Ints>;
  media: boolean[];
  containers: Ints[];
}

export function match(
  plan: Prepared,
  { elements, roots }: Walk,
  names: Set<string>,
  indexOf: Map<Element, number>,
): Omit<Matches, 'media'> {
  const none = new Int32Array(0);
  const hops: Record<string, Ints> = {};
  const indexes = (found: Iterable<Element>): Ints => {
    const out: number[] = [];
    for (const element of found) {
      const index = indexOf.get(element);
      if (index !== undefined) out.push(index);
    }
    return Int32Array.from(out);
  };
  const matches = plan.queries.map((query, i) => {
    const key = plan.keys[i];
    if (key && query.root === 0 && !key.names.every((name) => names.has(name))) return none;
    const root = roots[query.root];
    if (!root) return none;
    try {
      if (query.scope) {
        const scoped = inScope(query, root, indexOf);
        hops[i] = scoped.hops;
        return scoped.matches;
      }
      if (root instanceof ShadowRoot) return indexes(inShadow(query.selector, root));
      return indexes(root.querySelectorAll(query.selector));
    } catch {
      return null;
    }
  });
  return {
    matches,
    hops,
    containers: containers(plan.containers, elements),
  };
}

/** `:host` and `::slotted()` reach out of the shadow tree, where `querySelectorAll` does not (CSS Scoping 1 §3.2). */
function inShadow(selector: string, root: ShadowRoot): Iterable<Element> {
  const host = /^:host(?:\((.*)\))?$/.exec(selector);
  if (host) return !host[1] || root.host.matches(host[1]) ? [root.host] : [];
  const slotted = /^(.*)::slotted\((.*)\)$/.exec(selector);
  if (slotted) {
    const slots = Array.from(root.querySelectorAll<HTMLSlotElement>(slotted[1]!.trim() || 'slot')).filter(
      (slot) => slot.localName === 'slot',
    );
    return slots.flatMap((slot) => slot.assignedElements().filter((element) => element.matches(slotted[2]!)));
  }
  return root.querySelectorAll(selector);
}

/** Matches within the scopes of `@scope`, with the steps up to the nearest scoping root (CSS Cascade 6 §2.5). */
function inScope(
  { selector, scope }: Query,
  root: Document | ShadowRoot,
  indexOf: Map<Element, number>,
): { matches: Ints; hops: Ints } {
  const found = new Map<number, number>();
  const scopes = scope?.roots ? Array.from(root.querySelectorAll(scope.roots)) : [document.documentElement];
  for (const top of scopes) {
    const limits = scope?.limits ? new Set(top.querySelectorAll(scope.limits)) : null;
    const inside = Array.from(top.querySelectorAll(selector));
    if (top.matches(selector)) inside.push(top);
    for (const element of inside) {
      let steps = 0;
      let beyond = false;
      for (let at: Element | null = element; at && at !== top; at = at.parentElement, steps++)
        if (limits?.has(at)) beyond = true;
      const index = indexOf.get(element);
      if (!beyond && index !== undefined) found.set(index, Math.min(steps, found.get(index) ?? Infinity));
    }
  }
  const order = Array.from(found.keys()).sort((a, b) => a - b);
  return { matches: Int32Array.from(order), hops: Int32Array.from(order, (index) => found.get(index)!) };
}

/** Which elements each container condition holds for, asked of the engine with a sheet that exists for a moment. */
function containers(conditions: string[], elements: Element[]): Ints[] {
  if (conditions.length === 0) return [];
  const sheet = new CSSStyleSheet();
  const name = (i: number) => `--normetra-probe-${i}`;
  sheet.replaceSync(
    conditions
      .map((condition, i) => `* { ${name(i)}: 0 } @container ${condition} { * { ${name(i)}: 1 } }`)
      .join('\n'),
  );
  document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
  try {
    const styles = elements.map((element) => getComputedStyle(element));
    return conditions.map((_, i) => {
      const out: number[] = [];
      styles.forEach((style, index) => {
        if (style.getPropertyValue(name(i)) === '1') out.push(index);
      });
      return Int32Array.from(out);
    });
  } finally {
    document.adoptedStyleSheets = document.adoptedStyleSheets.filter((entry) => entry !== sheet);
  }
}
