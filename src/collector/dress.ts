/** Dresses the document as a trial wants it: texts of style sheets, attributes. Each request says all of it. */
import type { Requests } from './protocol.ts';
import { walk } from './walk.ts';

type Owner = HTMLStyleElement | HTMLLinkElement;

/** What style elements and links said before they were first changed. */
const originals = new Map<Owner, string>();
const shown = new Map<Owner, string>();
const attributes = new Map<Element, Map<string, string | null>>();
const addresses = new Map<Owner, string>();

/** Rules that were put in the place of a sheet's own, by their index. */
const replaced = new Map<Owner, Map<number, string>>();

type Rules = Requests['dress']['ask']['sheets'][number]['rules'];

/** What a rule is about: its selector, its condition, or just its kind. */
const headOf = (rule: CSSRule | undefined): string => {
  const { selectorText, conditionText, name } = (rule ?? {}) as unknown as Record<string, string | undefined>;
  return `${rule?.constructor.name} ${selectorText ?? conditionText ?? name ?? ''}`;
};

/** Puts rules in the place of others in a sheet; false where it does not stand as expected, so that all of it must come anew. */
function replaceRules(owner: Owner, { count, list }: NonNullable<Rules>): boolean {
  try {
    const { sheet } = owner;
    const known = replaced.get(owner) ?? new Map<number, string>();
    if (sheet?.cssRules.length !== count) return false;
    replaced.set(owner, known);
    for (const { index, text } of list) {
      if (known.get(index) === text) continue;
      const head = headOf(sheet.cssRules[index]);
      known.set(index, text);
      sheet.insertRule(text, index);
      const fits = headOf(sheet.cssRules[index]) === head;
      sheet.deleteRule(index + 1);
      if (!fits) return false;
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
  return (roots[root]?.querySelectorAll(selector)[owner] as Owner | undefined) ?? null;
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

async function show(owner: Owner, text: string | null, rules: Rules): Promise<void> {
  if ((shown.get(owner) ?? null) === text) return;
  const original =
    originals.get(owner) ?? (isStyle(owner) ? owner.textContent : owner.getAttribute('href')) ?? '';
  originals.set(owner, original);
  if (text === null) shown.delete(owner);
  else shown.set(owner, text);
  if (text !== null && rules && replaceRules(owner, rules)) return;
  replaced.set(owner, new Map(rules?.list.map((one) => [one.index, one.text])));
  if (isStyle(owner)) {
    owner.textContent = text ?? original;
    return;
  }
  const old = addresses.get(owner);
  const address = text === null ? null : URL.createObjectURL(new Blob([text], { type: 'text/css' }));
  await loaded(owner, () => owner.setAttribute('href', address ?? original));
  if (old) URL.revokeObjectURL(old);
  if (address) addresses.set(owner, address);
  else addresses.delete(owner);
}

function set(element: Element, name: string, value: string | null): void {
  if (value === null) element.removeAttribute(name);
  else element.setAttribute(name, value);
}

export async function dress(last: readonly Element[], ask: Requests['dress']['ask']): Promise<boolean> {
  const wanted = new Map<Owner, { text: string; rules: Rules }>();
  for (const sheet of ask.sheets) {
    const owner = ownerOf(sheet);
    if (!owner) throw new Error(`The document has no style sheet ${sheet.owner} of this kind any more.`);
    wanted.set(owner, sheet);
  }
  const all = new Set([...shown.keys(), ...wanted.keys()]);
  await Promise.all(
    [...all].map((owner) => show(owner, wanted.get(owner)?.text ?? null, wanted.get(owner)?.rules ?? null)),
  );
  for (const [element, before] of attributes) for (const [name, value] of before) set(element, name, value);
  attributes.clear();
  for (const { element, name, value } of ask.attributes) {
    const target = last[element];
    if (!target) throw new Error(`The last reading has no element ${element}.`);
    const own = attributes.get(target) ?? new Map<string, string | null>();
    if (!own.has(name)) own.set(name, target.getAttribute(name));
    attributes.set(target, own);
    set(target, name, value);
  }
  return true;
}
