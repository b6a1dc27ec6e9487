/** Dresses the document as a trial wants it: texts of style sheets, attributes. Each request says all of it. */
import type { Requests } from './protocol.ts';
import { walk } from './walk.ts';

type Owner = HTMLStyleElement | HTMLLinkElement;

/** What style elements and links said before they were first changed. */
const originals = new Map<Owner, string>();
const shown = new Map<Owner, string>();
const attributes = new Map<Element, Map<string, string | null>>();
const addresses = new Map<Owner, string>();

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

async function show(owner: Owner, text: string | null): Promise<void> {
  if ((shown.get(owner) ?? null) === text) return;
  const original =
    originals.get(owner) ?? (isStyle(owner) ? owner.textContent : owner.getAttribute('href')) ?? '';
  originals.set(owner, original);
  if (text === null) shown.delete(owner);
  else shown.set(owner, text);
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
  const wanted = new Map<Owner, string>();
  for (const sheet of ask.sheets) {
    const owner = ownerOf(sheet);
    if (!owner) throw new Error(`The document has no style sheet ${sheet.owner} of this kind any more.`);
    wanted.set(owner, sheet.text);
  }
  const all = new Set([...shown.keys(), ...wanted.keys()]);
  await Promise.all([...all].map((owner) => show(owner, wanted.get(owner) ?? null)));
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
