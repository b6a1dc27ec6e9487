/**
 * Dresses the document as a trial wants it: texts of style sheets or their rules, attributes. Each request says all of it.
 * The answer false: rules alone will not do, and the request must come again with whole texts.
 */
import type { Requests } from '../../protocol/protocol.ts';
import { markChanged } from './forced-relayout.ts';
import { walk } from '../reading/walk.ts';
import { isUnderlay } from './underlay.ts';

type Owner = HTMLStyleElement | HTMLLinkElement;

/** What style elements and links said before they were first changed. */
const originals = new Map<Owner, string>();
/** null: it was changed rule by rule. */
const shown = new Map<Owner, string | null>();
const attributes = new Map<Element, Map<string, string | null>>();
const addresses = new Map<Owner, string>();

/** Rules that were put in the place of a sheet's own, by their index in its text. */
const replaced = new Map<Owner, Map<number, { text: string; at: number }>>();

/**
 * Rules of a whole text that was put in, where they are not the document's own; null: it has other rules than the
 * document's, so that it is no ground for more.
 */
const opened = new Map<Owner, Map<number, string> | null>();

type Rules = NonNullable<Requests['applyPatch']['ask']['sheets'][number]['rules']>;

const parsed = (text: string): CSSRule | undefined => {
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(text);
  return sheet.cssRules.length === 1 ? sheet.cssRules[0] : undefined;
};

/** What a rule is about: its selector, its condition, or just its kind. */
const headOf = (rule: CSSRule): string => {
  const { selectorText, conditionText, name } = rule as unknown as Record<string, string | undefined>;
  return `${rule.constructor.name} ${selectorText ?? conditionText ?? name ?? ''}`;
};

/** Where the rule of a text stands among those that the engine took; −1: not to be told. It may have dropped some before it. */
function placeOf(rules: CSSRuleList, count: number, index: number, was: string): number {
  const cssText = parsed(was)?.cssText;
  let found = -1;
  for (let at = index - (count - rules.length); at <= index; at++) {
    if (cssText === undefined || rules[at]?.cssText !== cssText) continue;
    if (found >= 0) return -1;
    found = at;
  }
  return found;
}

/** Puts rules in the place of others in a sheet; false where it does not stand as expected, so that all of it must come anew. */
function replaceRules(owner: Owner, { count, list }: Rules): boolean {
  try {
    const { sheet } = owner;
    if (!sheet || opened.get(owner) === null) return false;
    const { cssRules } = sheet;
    const previous = replaced.get(owner) ?? new Map<number, { text: string; at: number }>();
    replaced.set(owner, previous);
    const ready = list.map(({ index, text, was }) => {
      const last = previous.get(index);
      const at = last?.at ?? placeOf(cssRules, count, index, opened.get(owner)?.get(index) ?? was);
      const cSSRule = parsed(text);
      return {
        index,
        text,
        at,
        isSame: last?.text === text,
        fits: at >= 0 && cSSRule && headOf(cSSRule) === headOf(cssRules[at]!),
      };
    });
    if (!ready.every(({ fits }) => fits)) return false;
    for (const { index, text, at, isSame } of ready) {
      if (isSame) continue;
      sheet.insertRule(text, at);
      sheet.deleteRule(at + 1);
      previous.set(index, { text, at });
    }
    return true;
  } catch {
    // A sheet of another origin, or a rule that cannot be put in by itself: the whole text tells it just as well.
    return false;
  }
}

const isStyle = (owner: Owner): boolean => owner.tagName.toLowerCase() === 'style';

function ownerOf({ root, owner, form }: { root: number; owner: number; form: 'style' | 'link' }): Owner | null {
  const roots = walk(Infinity).roots;
  const selector = form === 'style' ? 'style' : 'link[rel~="stylesheet" i]';
  const owners = Array.from(roots[root]?.querySelectorAll(selector) ?? []).filter(
    (element) => !isUnderlay(element),
  );
  return (owners[owner] as Owner | undefined) ?? null;
}

/** Resolves once a link has its sheet; rejects where the engine does not take it. */
const loaded = (link: Owner, change: () => void): Promise<void> =>
  new Promise((resolve, reject) => {
    const done = (event: Event) => {
      link.removeEventListener('load', done);
      link.removeEventListener('error', done);
      if (event.type === 'load') resolve();
      else reject(new Error(`The style sheet ${link.getAttribute('href')} could not be changed.`));
    };
    link.addEventListener('load', done);
    link.addEventListener('error', done);
    change();
  });

/** False: it cannot be told rule by rule, and `text` is null. */
async function show(owner: Owner, text: string | null, rules: Rules | null): Promise<boolean> {
  const original =
    originals.get(owner) ?? (isStyle(owner) ? owner.textContent : owner.getAttribute('href')) ?? '';
  originals.set(owner, original);
  if (rules && replaceRules(owner, rules)) {
    shown.set(owner, null);
    return true;
  }
  if (text === null && rules) return false;
  if (text !== null && shown.get(owner) === text) return true;
  if (text === null) shown.delete(owner);
  else shown.set(owner, text);
  replaced.delete(owner);
  opened.set(
    owner,
    text !== null && !rules ? null : new Map(rules?.list.map(({ index, text: text }) => [index, text])),
  );
  if (isStyle(owner)) {
    owner.textContent = text ?? original;
    return true;
  }
  const old = addresses.get(owner);
  const address = text === null ? null : URL.createObjectURL(new Blob([text], { type: 'text/css' }));
  await loaded(owner, () => owner.setAttribute('href', address ?? original));
  if (old) URL.revokeObjectURL(old);
  if (address) addresses.set(owner, address);
  else addresses.delete(owner);
  return true;
}

function set(element: Element, name: string, value: string | null): void {
  if (value === null) element.removeAttribute(name);
  else element.setAttribute(name, value);
}

export async function applyPatch(
  last: readonly Element[],
  ask: Requests['applyPatch']['ask'],
): Promise<boolean> {
  markChanged();
  const wanted = new Map<Owner, { text: string | null; rules: Rules | null }>();
  for (const sheet of ask.sheets) {
    const owner = ownerOf(sheet);
    if (!owner) throw new Error(`The document has no style sheet ${sheet.owner} of this kind any more.`);
    wanted.set(owner, sheet);
  }
  const all = new Set([...shown.keys(), ...wanted.keys()]);
  const reported = await Promise.all(
    [...all].map((owner) => show(owner, wanted.get(owner)?.text ?? null, wanted.get(owner)?.rules ?? null)),
  );
  if (reported.includes(false)) return false;
  for (const [element, before] of attributes) for (const [name, value] of before) set(element, name, value);
  attributes.clear();
  for (const { element, name, value } of ask.attributes) {
    const target = last[element];
    if (!target) throw new Error(`The last reading has no element ${element}.`);
    const attributeValues = attributes.get(target) ?? new Map<string, string | null>();
    if (!attributeValues.has(name)) attributeValues.set(name, target.getAttribute(name));
    attributes.set(target, attributeValues);
    set(target, name, value);
  }
  // What is measured is where a change leads, not the way there.
  for (const animation of document.getAnimations()) if (animation instanceof CSSTransition) animation.finish();
  return true;
}
