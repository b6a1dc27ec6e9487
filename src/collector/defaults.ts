/** What the engine gives each element when the author says nothing, measured in this document, which is bare. */
import type { Defaults } from '../core/boxes/reading.ts';

/** Inherited values that no engine has as a default: what a child shares with them it has inherited. */
const ODD =
  'font-size:10px;line-height:37px;font-family:cursive;font-weight:300;font-style:oblique;color:rgb(1,2,3);direction:rtl;' +
  'writing-mode:vertical-lr;text-align:right;text-indent:7px;letter-spacing:3px;word-spacing:5px;white-space:pre-line;' +
  'visibility:hidden;border-collapse:collapse;caption-side:bottom;list-style-type:upper-roman;list-style-position:inside;' +
  'overflow-wrap:anywhere;word-break:break-all';

const pxOf = (value: string): number | null => (/^-?[\d.]+px$/.test(value) ? Number.parseFloat(value) : null);

/** `key` is a tag, with `[type=...]` or the depth of lists around it where the engine looks at these. */
function make(key: string, into: Element): Element {
  const [, tag = 'div', type, depth] = /^([^[/]+)(?:\[type=([^\]]*)\])?(?:\/(\d))?$/.exec(key) ?? [];
  if (tag === 'html') return document.documentElement;
  if (tag === 'head' || tag === 'body') return document[tag];
  let parent = into;
  for (let i = 0; i < Number(depth ?? 0); i++) parent = parent.appendChild(document.createElement('ul'));
  const element = document.createElement(tag);
  if (type) element.setAttribute('type', type);
  return parent.appendChild(element);
}

export function defaults({ keys, properties }: { keys: string[]; properties: string[] }): Defaults {
  const root = document.documentElement;
  const plain = document.body.appendChild(document.createElement('div'));
  const odd = document.body.appendChild(document.createElement('div'));
  odd.setAttribute('style', ODD);
  const made = keys.map((key) => [make(key, plain), make(key, odd)] as const);
  root.style.display = 'none';
  const values = (element: Element): string[] => {
    const style = getComputedStyle(element);
    return properties.map((property) => style.getPropertyValue(property));
  };
  const plainParent = values(plain);
  const oddParent = values(odd);
  const fontSize = properties.indexOf('font-size');
  const out: Defaults = {};
  keys.forEach((key, k) => {
    const [first, second] = made[k]!;
    const a = values(first);
    const b = values(second);
    const alone = first === second;
    out[key] = Object.fromEntries(
      properties.map((property, p) => {
        const one: Defaults[string][string] = { value: a[p]! };
        if (alone) return [property, one];
        if (oddParent[p] !== plainParent[p] && b[p] === oddParent[p] && a[p] === plainParent[p]) one.inherited = true;
        else {
          const em = ratio(a[p]!, b[p]!, p === fontSize ? 16 : pxOf(a[fontSize]!), p === fontSize ? 10 : pxOf(b[fontSize]!));
          if (em !== null) one.em = em;
        }
        return [property, one];
      }),
    );
  });
  root.style.removeProperty('display');
  plain.remove();
  odd.remove();
  return out;
}

/** By how many times the font size two px values are alike; null where they are not, or are both the same px. */
function ratio(a: string, b: string, sizeA: number | null, sizeB: number | null): number | null {
  const pxA = pxOf(a);
  const pxB = pxOf(b);
  if (pxA === null || pxB === null || !sizeA || !sizeB || pxA === 0 || a === b) return null;
  const em = pxA / sizeA;
  return Math.abs(em - pxB / sizeB) < 0.002 ? Math.round(em * 10000) / 10000 : null;
}
