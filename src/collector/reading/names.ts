/** What elements are called and what stands in their tags, told by numbers of texts. */
import type { Ints } from './reused-values.ts';

/** Attributes that can carry style, or say what a box is for; `style` itself is read for every element. */
const ATTRIBUTES = new Set(
  (
    'style align valign width height border cellpadding cellspacing bgcolor nowrap hspace vspace size rowspan colspan span color face noshade ' +
    'marginwidth marginheight topmargin bottommargin leftmargin rightmargin text clear frame rules bordercolor type dir hidden frameborder wrap ' +
    'href multiple open font-size letter-spacing word-spacing font-family font-weight font-style opacity visibility display overflow direction ' +
    'writing-mode filter title role popover value cols'
  ).split(' '),
);

/** Strings by number, each once. */
export interface Interner {
  strings: string[];
  of: (text: string) => number;
}

export function interner(): Interner {
  const strings: string[] = [];
  const byKey = new Map<string, number>();
  return {
    strings,
    of: (text) => {
      let index = byKey.get(text);
      if (index === undefined) {
        index = strings.push(text) - 1;
        byKey.set(text, index);
      }
      return index;
    },
  };
}

/** Names and attributes of the elements. */
export interface Named {
  tag: Ints;
  idName: Ints;
  classes: Ints;
  attributes: Ints;
  closed: Ints;
  names: Set<string>;
  styled: [number, string][];
}

export function readNames(elements: Element[], of: (text: string) => number, column: () => Ints): Named {
  const names = new Set<string>();
  const styled: [number, string][] = [];
  const [attributes, closed]: [number[], number[]] = [[], []];
  const out = { tag: column(), idName: column(), classes: column() };
  elements.forEach((element, i) => {
    const tag = element.localName;
    out.tag[i] = of(tag);
    names.add(tag);
    for (const { name, value } of Array.from(element.attributes)) {
      if (name === 'id') {
        out.idName[i] = of(value);
        names.add(`#${value}`);
      } else if (name === 'class') {
        out.classes[i] = of(value);
        for (const text of element.classList) names.add(`.${text}`);
      } else if (ATTRIBUTES.has(name)) {
        attributes.push(i, of(name), of(value));
        if (name === 'style') styled.push([i, value]);
      }
    }
    const why = closedBecause(element, tag);
    if (why) closed.push(i, of(why));
  });
  return { ...out, attributes: Int32Array.from(attributes), closed: Int32Array.from(closed), names, styled };
}

/** Why an element's inside cannot be listed; null where there is nothing inside or it is listed. */
function closedBecause(element: Element, tag: string): string | null {
  if (tag === 'iframe' || tag === 'frame') return 'a frame with a document of its own';
  if (tag === 'object' || tag === 'embed') return 'a document or plug-in of its own';
  return tag.includes('-') && !element.shadowRoot && customElements.get(tag)
    ? 'possibly a closed shadow root'
    : null;
}
