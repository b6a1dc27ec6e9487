/**
 * Reads HTML as the standard does (HTML §13.2) without keeping the tree: memory grows with the depth of the document, not
 * with its length, and every element is seen once its start tag has been read.
 */
import { parse, type DefaultTreeAdapterMap, type Token, type TreeAdapter, type html } from 'parse5';

type Attributes = readonly { name: string; value: string }[];

export interface ScannedElement {
  tag: string;
  isHtml: boolean;
  attributes: Attributes;
  /** Where its start tag stands. */
  location: Token.ElementLocation;
}

export interface Scan {
  /** Called for every element that has a start tag in the text, in the order of these tags. */
  element?: (element: ScannedElement) => void;
  /** Called for each style or title element with its text and the line on which that begins, from 1. */
  text?: (tag: 'style' | 'title', text: string, line: number) => void;
}

/** Offsets in UTF-16 units from the beginning of the text; null: there is no such tag. */
export interface ScannedPlaces {
  doctypeEnd: number | null;
  htmlTagEnd: number | null;
  headTagEnd: number | null;
  /** Where `</head>` begins. */
  headEnd: number | null;
}

interface Item {
  kind: 'document' | 'fragment' | 'element' | 'text' | 'comment' | 'doctype';
  tag: string;
  namespace: html.NS | '';
  attributes: Token.Attribute[];
  parent: Item | null;
  /** Children are kept of the document alone, which asks for them. */
  children: Item[] | null;
  content: Item | null;
  location: Token.ElementLocation | null;
  mode: html.DOCUMENT_MODE | null;
  text: string;
  /** The line of its first character; 0: not known yet. */
  textLine: number;
}

const HTML = 'http://www.w3.org/1999/xhtml';

const item = (kind: Item['kind'], tag = '', attributes: Token.Attribute[] = []): Item => ({
  kind,
  tag,
  namespace: '',
  attributes,
  parent: null,
  children: kind === 'document' ? [] : null,
  content: null,
  location: null,
  mode: null,
  text: '',
  textLine: 0,
});

/** Texts are not kept as nodes, and the parser asks for the last one to tell it where it stands: it is always this one. */
const ANY_TEXT = item('text');
const SIBLINGS = Object.assign([ANY_TEXT], { lastIndexOf: () => 1 });

const isKeepingText = ({ tag, namespace }: Item): boolean =>
  namespace === HTML && (tag === 'style' || tag === 'title');

/** Goes through `text`, tells what it meets, and says where the tags are that begin a document. */
export function scanHtml(text: string, { element, text: tellText }: Scan = {}): ScannedPlaces {
  const places: ScannedPlaces = { doctypeEnd: null, htmlTagEnd: null, headTagEnd: null, headEnd: null };
  const hold = (parent: Item, child: Item): void => {
    child.parent = parent;
    parent.children?.push(child);
  };
  /** Whose text was put in last: its place is told after it. */
  let written: Item | null = null;
  const adapter = {
    createDocument: () => item('document'),
    createDocumentFragment: () => item('fragment'),
    createElement: (tag: string, namespace: html.NS, attributes: Token.Attribute[]) => ({
      ...item('element', tag, attributes),
      namespace,
    }),
    createCommentNode: () => item('comment'),
    createTextNode: () => item('text'),
    appendChild: hold,
    insertBefore: hold,
    setTemplateContent: (template: Item, content: Item) => {
      template.content = content;
    },
    getTemplateContent: (template: Item) => template.content!,
    setDocumentType: (document: Item) => {
      if (!document.children!.some(({ kind }) => kind === 'doctype')) hold(document, item('doctype'));
    },
    setDocumentMode: (document: Item, mode: html.DOCUMENT_MODE) => {
      document.mode = mode;
    },
    getDocumentMode: (document: Item) => document.mode!,
    detachNode: (node: Item) => {
      if (node.parent?.children) node.parent.children = node.parent.children.filter((child) => child !== node);
      node.parent = null;
    },
    insertText: (parent: Item, more: string) => {
      written = isKeepingText(parent) ? parent : null;
      if (written) written.text += more;
    },
    insertTextBefore: () => {
      written = null;
    },
    adoptAttributes: () => undefined,
    getFirstChild: (node: Item) => node.children?.[0] ?? null,
    getChildNodes: (node: Item) => node.children ?? SIBLINGS,
    getParentNode: (node: Item) => node.parent,
    getAttrList: (node: Item) => node.attributes,
    getTagName: (node: Item) => node.tag,
    getNamespaceURI: (node: Item) => node.namespace as html.NS,
    getTextNodeContent: (node: Item) => node.text,
    getCommentNodeContent: () => '',
    getDocumentTypeNodeName: () => 'html',
    getDocumentTypeNodePublicId: () => '',
    getDocumentTypeNodeSystemId: () => '',
    isTextNode: (node: Item): node is Item => node.kind === 'text',
    isCommentNode: (node: Item): node is Item => node.kind === 'comment',
    isDocumentTypeNode: (node: Item): node is Item => node.kind === 'doctype',
    isElementNode: (node: Item): node is Item => node.kind === 'element',
    setNodeSourceCodeLocation: (node: Item, location: Token.ElementLocation | null) => {
      if (node === ANY_TEXT) {
        if (written && written.textLine === 0) written.textLine = location?.startLine ?? 1;
        return;
      }
      node.location = location;
      if (!location) return;
      if (node.kind === 'doctype') places.doctypeEnd ??= location.endOffset;
      if (node.kind !== 'element') return;
      if (node.tag === 'html') places.htmlTagEnd ??= location.startTag?.endOffset ?? location.endOffset;
      if (node.tag === 'head') places.headTagEnd ??= location.startTag?.endOffset ?? location.endOffset;
      const { tag, namespace, attributes } = node;
      element?.({ tag, isHtml: namespace === HTML, attributes, location });
    },
    getNodeSourceCodeLocation: (node: Item) => node.location,
    updateNodeSourceCodeLocation: (node: Item, location: Partial<Token.ElementLocation>) => {
      if (node.tag === 'head') places.headEnd ??= location.endTag?.startOffset ?? null;
    },
    onItemPop: (node: Item) => {
      if (isKeepingText(node) && node.text !== '')
        tellText?.(node.tag as 'style' | 'title', node.text, node.textLine);
      // What has been read is let go.
      node.text = '';
    },
  };
  parse(text, {
    sourceCodeLocationInfo: true,
    treeAdapter: adapter as unknown as TreeAdapter<DefaultTreeAdapterMap>,
  });
  return places;
}
