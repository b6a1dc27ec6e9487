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
  /** What is in its declarative shadow root; null where it has none. */
  shadow: SourceElement[] | null;
  /** Text of a style element and where it begins. */
  text: (SourcePlace & { value: string; start: number; end: number }) | null;
  /** Offsets of the element, and of what is between its tags; null for what the parser put in. */
  range: { start: number; end: number; inner: number; innerEnd: number } | null;
}

export interface SourceDocument {
  path: string;
  html: string;
  root: SourceElement | null;
  /** Style elements of the document and of each declarative shadow root, in the order in which the roots are met. */
  styles: SourceElement[][];
}

const childElements = (node: Node): Element[] =>
  'childNodes' in node ? (node.childNodes.filter((child) => 'tagName' in child) as Element[]) : [];

const isShadow = (element: Element): boolean =>
  element.tagName === 'template' && element.attrs.some((attr) => attr.name === 'shadowrootmode');

export function parseDocument(path: string, html: string): SourceDocument {
  const tree = parse(html, { sourceCodeLocationInfo: true });
  const styles: SourceElement[][] = [[]];
  const read = (element: Element, root: number): SourceElement => {
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
      shadow: null,
      text: null,
      range: location
        ? {
            start: location.startOffset,
            end: location.endOffset,
            inner: location.startTag?.endOffset ?? location.endOffset,
            innerEnd: location.endTag?.startOffset ?? location.endOffset,
          }
        : null,
    };
    if (element.tagName === 'style') {
      const child = element.childNodes[0];
      const at = child?.sourceCodeLocation;
      const value = child && 'value' in child ? child.value : '';
      const from = at?.startOffset ?? out.range?.inner ?? 0;
      out.text = {
        value,
        line: at?.startLine ?? start?.startLine ?? 1,
        column: at?.startCol ?? 1,
        start: from,
        end: at?.endOffset ?? from,
      };
      styles[root]!.push(out);
    }
    return out;
  };
  // Pages nest deeper than a call stack does, so the walk keeps its own: what to read, its root, and what takes it.
  const visit = (top: Element): SourceElement => {
    let whole: SourceElement | null = null;
    const stack: [Element, number, SourceElement[]][] = [[top, 0, []]];
    for (let next = stack.pop(); next; next = stack.pop()) {
      const [element, root, into] = next;
      const out = read(element, root);
      into.push(out);
      whole ??= out;
      if (element.tagName === 'template') continue;
      const inner = childElements(element);
      for (const child of inner.filter((element) => !isShadow(element)).reverse())
        stack.push([child, root, out.children]);
      const shadow = inner.find(isShadow);
      if (!shadow || !('content' in shadow)) continue;
      out.shadow = [];
      const styleList = styles.push([]) - 1;
      for (const child of childElements(shadow.content as Node).reverse())
        stack.push([child, styleList, out.shadow]);
    }
    return whole!;
  };
  const html5 = childElements(tree).find((element) => element.tagName === 'html');
  return { path, html, root: html5 ? visit(html5) : null, styles };
}
