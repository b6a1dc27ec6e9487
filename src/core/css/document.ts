/** Where the elements, style elements and attributes of an HTML file stand in its text (HTML parsing by parse5). */
import { parse, type DefaultTreeAdapterMap } from 'parse5';

type Node = DefaultTreeAdapterMap['node'];
type Element = DefaultTreeAdapterMap['element'];

export interface SourcePlace {
  line: number;
  column: number;
}

export interface SourceElement {
  tag: string;
  /** Where the start tag begins; null for an element that the parser put in (an implied `tbody`, say). */
  place: SourcePlace | null;
  /** Where each attribute begins. */
  attributes: Record<string, SourcePlace & { start: number; end: number; value: string }>;
  children: SourceElement[];
  /** Text of a style element and where it begins. */
  text: (SourcePlace & { value: string }) | null;
}

export interface SourceDocument {
  path: string;
  html: string;
  root: SourceElement | null;
  /** Style elements and links to style sheets in document order, shadow roots and templates left out. */
  styles: SourceElement[];
  links: SourceElement[];
}

const childElements = (node: Node): Element[] =>
  'childNodes' in node ? (node.childNodes.filter((child) => 'tagName' in child) as Element[]) : [];

const isShadow = (element: Element): boolean =>
  element.tagName === 'template' && element.attrs.some((attr) => attr.name === 'shadowrootmode');

export function parseDocument(path: string, html: string): SourceDocument {
  const tree = parse(html, { sourceCodeLocationInfo: true });
  const styles: SourceElement[] = [];
  const links: SourceElement[] = [];
  const read = (element: Element): SourceElement => {
    const location = element.sourceCodeLocation;
    const start = location?.startTag ?? location;
    const attributes: SourceElement['attributes'] = {};
    for (const { name, value } of element.attrs) {
      const at = location?.attrs?.[name];
      if (at)
        attributes[name] = {
          line: at.startLine,
          column: at.startCol,
          start: at.startOffset,
          end: at.endOffset,
          value,
        };
    }
    const out: SourceElement = {
      tag: element.tagName,
      place: start ? { line: start.startLine, column: start.startCol } : null,
      attributes,
      children: [],
      text: null,
    };
    if (element.tagName === 'style') {
      const child = element.childNodes[0];
      const at = child?.sourceCodeLocation;
      const value = child && 'value' in child ? child.value : '';
      out.text = { value, line: at?.startLine ?? start?.startLine ?? 1, column: at?.startCol ?? 1 };
      styles.push(out);
    }
    const rel = element.attrs.find((attr) => attr.name === 'rel')?.value ?? '';
    if (element.tagName === 'link' && /\bstylesheet\b/i.test(rel)) links.push(out);
    return out;
  };
  // Pages nest deeper than a call stack does, so the walk keeps its own.
  const visit = (top: Element): SourceElement => {
    let root: SourceElement | null = null;
    const stack: [Element, SourceElement | null][] = [[top, null]];
    for (let next = stack.pop(); next; next = stack.pop()) {
      const [element, parent] = next;
      const out = read(element);
      parent?.children.push(out);
      root ??= out;
      if (element.tagName === 'template') continue;
      for (const child of childElements(element).reverse()) if (!isShadow(child)) stack.push([child, out]);
    }
    return root!;
  };
  const html5 = childElements(tree).find((element) => element.tagName === 'html');
  return { path, html, root: html5 ? visit(html5) : null, styles, links };
}
