/** What the engine gives each element when the author says nothing, measured in this document, which is bare. */
import type { Defaults } from '../../core/reading/reading.ts';

/**
 * Values that no engine has as a default: what a child shares with them it has inherited. Most are inherited by
 * themselves; `vertical-align` is where the engine's sheet says `inherit`.
 */
const ODD =
  'font-size:1000px;line-height:37px;font-family:cursive;font-weight:300;font-style:oblique;color:rgb(1,2,3);' +
  'text-align:right;text-indent:7px;letter-spacing:3px;word-spacing:5px;white-space:pre-line;vertical-align:text-top;' +
  'visibility:hidden;border-collapse:collapse;caption-side:bottom;list-style-type:upper-roman;list-style-position:inside;' +
  'overflow-wrap:anywhere;word-break:break-all;font-size-adjust:0.4';
/** These turn the sides that other defaults lie on, so they are told apart in a document part of their own. */
const FLOW = 'direction:rtl;writing-mode:vertical-lr';
const FLOW_PROPERTIES = new Set(['direction', 'writing-mode']);

const SVG = 'http://www.w3.org/2000/svg';

const pxOf = (value: string): number | null => (/^-?[\d.]+px$/.test(value) ? Number.parseFloat(value) : null);

/** The key under which an element's defaults stand: as `defaultKey` of the core makes it. */
export function defaultKeysOf(element: Element): string[] {
  const tag = element.localName;
  if (element.namespaceURI === SVG) return [`svg:${tag}`];
  if (tag === 'input' || tag === 'button')
    return [`${tag}[type=${(element.getAttribute('type') ?? '').toLowerCase() || 'text'}]`];
  if (tag === 'ul' || tag === 'ol') return [0, 1, 2].map((depth) => `${tag}/${depth}`);
  if (tag === 'a' || tag === 'area') return [tag, `${tag}[href]`];
  if (tag === 'select') return [tag, 'select[multiple]'];
  if (tag === 'dialog') return [tag, 'dialog[open]'];
  if (tag === 'option' || tag === 'optgroup' || tag === 'summary') return [tag, `${tag}/1`];
  return /^[a-z][a-z0-9]*$/.test(tag) ? [tag] : [];
}

const PARENTS: Record<string, string> = {
  option: 'select',
  optgroup: 'select',
  tr: 'tbody',
  td: 'tr',
  th: 'tr',
  li: 'ul',
  summary: 'details',
  legend: 'fieldset',
};

/** `style` goes on the element's own parent, whatever the engine's sheet says of that. */
function make(key: string, into: Element, style: string): Element {
  const [, space, tag = 'div', attribute, value, depth] =
    /^(svg:)?([^[/]+)(?:\[(\w+)(?:=([^\]]*))?\])?(?:\/(\d))?$/.exec(key) ?? [];
  if (space) {
    const svg = tag === 'svg' ? into : into.appendChild(document.createElementNS(SVG, 'svg'));
    svg.setAttribute('style', style);
    return svg.appendChild(document.createElementNS(SVG, tag));
  }
  if (tag === 'html') return document.documentElement;
  if (tag === 'head' || tag === 'body') return document[tag];
  let parent = into;
  const listed = tag === 'ul' || tag === 'ol';
  for (let i = 0; listed && i < Number(depth ?? 0); i++)
    parent = parent.appendChild(document.createElement('ul'));
  const outer: string[] = [];
  for (let at = PARENTS[tag]; at; at = PARENTS[at]) outer.unshift(at);
  for (const text of outer) parent = parent.appendChild(document.createElement(text));
  // In a list box, in an open disclosure.
  if (depth === '1' && !listed) parent.setAttribute(tag === 'summary' ? 'open' : 'multiple', '');
  parent.setAttribute('style', style);
  const element = document.createElement(tag);
  if (attribute) element.setAttribute(attribute, value ?? (attribute === 'href' ? '#' : ''));
  return parent.appendChild(element);
}

export function defaults({ keys, properties }: { keys: string[]; properties: string[] }): Defaults {
  const root = document.documentElement;
  const plain = document.body.appendChild(document.createElement('div'));
  const odd = document.body.appendChild(document.createElement('div'));
  odd.setAttribute('style', ODD);
  const turned = document.body.appendChild(document.createElement('div'));
  turned.setAttribute('style', FLOW);
  const result = keys.map(
    (key) => [make(key, plain, ''), make(key, odd, ODD), make(key, turned, FLOW)] as const,
  );
  root.style.display = 'none';
  const values = (element: Element): string[] => {
    const style = getComputedStyle(element);
    return properties.map((property) => style.getPropertyValue(property));
  };
  const fontSize = properties.indexOf('font-size');
  const out: Defaults = {};
  keys.forEach((key, k) => {
    const [first, second, third] = result[k]!;
    const a = values(first);
    const b = values(second);
    const c = values(third);
    const alone = first === second;
    const plainParent = alone ? a : values(first.parentElement!);
    const oddParent = alone ? b : values(second.parentElement!);
    const turnedParent = alone ? c : values(third.parentElement!);
    out[key] = Object.fromEntries(
      properties.map((property, p) => {
        const entry: Defaults[string][string] = { value: a[p]! };
        if (alone) return [property, entry];
        const flow = FLOW_PROPERTIES.has(property);
        const otherParent = flow ? turnedParent : oddParent;
        if (
          otherParent[p] !== plainParent[p] &&
          (flow ? c : b)[p] === otherParent[p] &&
          // Engines set monospace text smaller where its size comes from a keyword: it is inherited all the same.
          (a[p] === plainParent[p] || p === fontSize)
        )
          entry.inherited = true;
        else {
          const em = ratio(
            a[p]!,
            b[p]!,
            pxOf((p === fontSize ? plainParent : a)[fontSize]!),
            pxOf((p === fontSize ? oddParent : b)[fontSize]!),
          );
          if (em !== null) entry.em = em;
        }
        return [property, entry];
      }),
    );
  });
  root.style.removeProperty('display');
  plain.remove();
  odd.remove();
  turned.remove();
  return out;
}

/** By how many times the font size two px values are alike; null where they are not, or are both the same px. */
function ratio(a: string, b: string, sizeA: number | null, sizeB: number | null): number | null {
  const pxA = pxOf(a);
  const pxB = pxOf(b);
  if (pxA === null || pxB === null || !sizeA || !sizeB || pxA === 0 || a === b) return null;
  // The second size is the larger, so its ratio is the more exact one.
  const em = pxB / sizeB;
  return Math.abs(em - pxA / sizeA) < 0.002 ? Math.round(em * 1e7) / 1e7 : null;
}
