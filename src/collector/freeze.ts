/**
 * Runs in a live page before its own scripts: notes closed shadow roots, tells when the document changes, and freezes on demand
 * what the page has become. It changes nothing of the page.
 */
import {
  DEFINED,
  FREEZE,
  SCROLLED,
  STIRRED,
  TOP_LAYER,
  type Frozen,
  type FrozenPiece,
} from '../protocol/frozen.ts';

const roots = new WeakMap<Element, ShadowRoot>();
/** The place of a frame's frozen document, set from outside on its element. */
type Framed = HTMLIFrameElement & { normetraPlace?: string };

const observer = new MutationObserver(() => {
  (window as unknown as Record<string, undefined | (() => void)>)[STIRRED]?.();
});
const observe = (root: Node): void =>
  observer.observe(root, { subtree: true, childList: true, attributes: true, characterData: true });
observe(document);

const attach = Element.prototype.attachShadow;
Element.prototype.attachShadow = function (this: Element, init: ShadowRootInit): ShadowRoot {
  const root = attach.call(this, init);
  roots.set(this, root);
  observe(root);
  return root;
};

const VOID = new Set('area base br col embed hr img input link meta source track wbr'.split(' '));
const RAW = new Set('style script xmp iframe noembed noframes plaintext noscript'.split(' '));
/** Attributes that are addresses of what is loaded with the page, by element. */
const ADDRESSES: Record<string, readonly string[]> = {
  img: ['src'],
  source: ['src'],
  link: ['href'],
  input: ['src'],
  video: ['src', 'poster'],
  audio: ['src'],
  track: ['src'],
  object: ['data'],
  embed: ['src'],
  image: ['href', 'xlink:href'],
  use: ['href', 'xlink:href'],
  feimage: ['href', 'xlink:href'],
  body: ['background'],
  table: ['background'],
  td: ['background'],
  th: ['background'],
};

const text = (value: string): string =>
  value
    .replace(/&/g, '&amp;')
    .replace(/\u00a0/g, '&nbsp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;');
const quoted = (value: string): string =>
  value
    .replace(/&/g, '&amp;')
    .replace(/\u00a0/g, '&nbsp;')
    .replace(/"/g, '&quot;')
    .replace(/</g, '&lt;');

interface Writing {
  pieces: FrozenPiece[];
  left: Set<string>;
  /** Whether the document is the one that is shown: states count, and what scripts have put into sheets. */
  isLive: boolean;
  base: string;
}

const put = ({ pieces }: Writing, piece: FrozenPiece): void => {
  if (typeof piece === 'string' && typeof pieces.at(-1) === 'string') pieces[pieces.length - 1] += piece;
  else pieces.push(piece);
};

function absolute(address: string, base: string): string | null {
  try {
    return new URL(address, base).href;
  } catch (error) {
    if (error instanceof TypeError) return null;
    throw error;
  }
}

function putAddress(writing: Writing, name: string, written: string): void {
  const address = absolute(written.trim(), writing.base);
  put(writing, ` ${name}="`);
  put(writing, address === null || written.trim() === '' ? quoted(written) : { address, written });
  put(writing, '"');
}

function putSrcset(writing: Writing, name: string, written: string): void {
  put(writing, ` ${name}="`);
  written.split(/,\s+/).forEach((candidate, i) => {
    const [url = '', ...rest] = candidate.trim().split(/\s+/);
    const address = absolute(url, writing.base);
    if (i > 0) put(writing, ', ');
    put(writing, address === null ? quoted(url) : { address, written: url });
    if (rest.length > 0) put(writing, ` ${quoted(rest.join(' '))}`);
  });
  put(writing, '"');
}

/** A picture of what an element shows; null: it may not be read. */
function pictureOf(source: CanvasImageSource, width: number, height: number): string | null {
  try {
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [width, height];
    canvas.getContext('2d')!.drawImage(source, 0, 0, width, height);
    return canvas.toDataURL();
  } catch (error) {
    // What another origin has drawn may not be read (HTML §4.12.5.1.21).
    if (error instanceof DOMException) return null;
    throw error;
  }
}

const rulesOf = (sheet: CSSStyleSheet): string =>
  Array.from(sheet.cssRules, ({ cssText }) => cssText).join('\n');

/** What a style element says: its text, or the rules that scripts have put into its sheet. */
function styleText(element: HTMLStyleElement | SVGStyleElement, { isLive }: Writing): string {
  const written = element.textContent ?? '';
  const { sheet } = element;
  if (!isLive || !sheet || /@import/i.test(written)) return written;
  const rules = rulesOf(sheet);
  const fresh = new CSSStyleSheet();
  fresh.replaceSync(written);
  return rulesOf(fresh) === rules ? written : rules;
}

const isOff = (element: Element, { isLive }: Writing): boolean =>
  isLive && 'sheet' in element && (element.sheet as CSSStyleSheet | null)?.disabled === true;

/** Whether a select has the options chosen that its markup chooses (HTML §4.10.7). */
function isAsReset({ options, multiple, size, selectedIndex }: HTMLSelectElement): boolean {
  const list = Array.from(options);
  if (list.every((option) => option.selected === option.defaultSelected)) return true;
  const isOne = !multiple && size <= 1 && !list.some((option) => option.defaultSelected);
  return isOne && selectedIndex === list.findIndex((option) => !option.disabled);
}

/** Attributes in the place of an element's own, for what is a state and no markup; null: it goes. */
function states(element: Element, writing: Writing): Map<string, string | null> {
  const out = new Map<string, string | null>();
  if (!writing.isLive) return out;
  const flag = (name: string, on: boolean): unknown => out.set(name, on ? '' : null);
  if (element instanceof HTMLInputElement) {
    if (element.type === 'checkbox' || element.type === 'radio') {
      if (element.checked !== element.defaultChecked) flag('checked', element.checked);
    } else if (element.type !== 'file' && element.type !== 'image' && element.value !== element.defaultValue)
      out.set('value', element.value);
  } else if (element instanceof HTMLOptionElement) {
    const select = element.closest('select');
    if (select && !isAsReset(select)) flag('selected', element.selected);
  }
  if (element instanceof HTMLDialogElement && element.matches(':modal')) out.set(TOP_LAYER, 'modal');
  else if (element instanceof HTMLCanvasElement) {
    const picture = pictureOf(element, element.width, element.height);
    if (picture === null) writing.left.add('A canvas holds what another origin has drawn: it is left empty.');
    else
      out.set(
        'style',
        `${element.getAttribute('style') ?? ''};background:url(${picture}) 0 0/100% 100% no-repeat content-box`,
      );
  } else if (element instanceof HTMLVideoElement && element.videoWidth > 0) {
    const picture = pictureOf(element, element.videoWidth, element.videoHeight);
    if (picture === null) writing.left.add('A video is of another origin: it has no picture.');
    else out.set('poster', picture).set('src', null);
  } else if (
    element instanceof HTMLImageElement &&
    element.src.startsWith('blob:') &&
    element.naturalWidth > 0
  ) {
    const picture = pictureOf(element, element.naturalWidth, element.naturalHeight);
    if (picture !== null) out.set('src', picture);
  }
  if (element instanceof HTMLElement && element.popover !== null && element.matches(':popover-open'))
    out.set(TOP_LAYER, 'popover');
  if (element !== document.scrollingElement && (element.scrollLeft !== 0 || element.scrollTop !== 0))
    out.set(SCROLLED, `${element.scrollLeft} ${element.scrollTop}`);
  if (isOff(element, writing)) out.set('media', 'not all');
  if (element === document.documentElement) {
    const names = new Set<string>();
    for (const tag of document.querySelectorAll(':defined'))
      if (tag.localName.includes('-') && customElements.get(tag.localName)) names.add(tag.localName);
    if (names.size > 0) out.set(DEFINED, [...names].join(' '));
  }
  return out;
}

function putAttributes(element: Element, tag: string, writing: Writing): void {
  const other = states(element, writing);
  const values = new Map(
    Array.from(element.attributes, ({ name, value }): [string, string | null] => [name, value]),
  );
  for (const [name, value] of other) values.set(name, value);
  const addresses = ADDRESSES[tag] ?? [];
  for (const [name, value] of values) {
    // Held scripts run no handlers, and a nonce or a digest is of another server's policy.
    if (value === null || /^on/i.test(name) || name === 'nonce' || name === 'integrity') continue;
    if (tag === 'script' && (name === 'src' || name === 'type')) continue;
    if (tag === 'iframe' && (name === 'src' || name === 'srcdoc')) continue;
    if (name === 'srcset' || name === 'imagesrcset') putSrcset(writing, name, value);
    else if (name === 'style') {
      put(writing, ' style="');
      put(writing, { css: value, base: writing.base, isAttribute: true });
      put(writing, '"');
    } else if (addresses.includes(name) && !value.startsWith('data:') && !value.startsWith('#'))
      putAddress(writing, name, value);
    else put(writing, ` ${name}="${quoted(value)}"`);
  }
  if (tag === 'iframe') {
    const place = (element as Framed).normetraPlace;
    if (place !== undefined) put(writing, ` src="${quoted(place)}"`);
  }
}

function putAdopted(sheets: readonly CSSStyleSheet[], writing: Writing): void {
  for (const sheet of sheets) {
    put(writing, sheet.disabled ? '<style media="not all">' : '<style>');
    put(writing, { css: rulesOf(sheet), base: writing.base, isAttribute: false });
    put(writing, '</style>');
  }
}

function putElement(element: Element, writing: Writing): void {
  const isHtml = element.namespaceURI === 'http://www.w3.org/1999/xhtml';
  // Elements of SVG keep the case of their names; the parser knows them.
  const name = element.prefix && isHtml ? element.tagName.toLowerCase() : element.localName;
  const tag = name.toLowerCase();
  put(writing, `<${name}`);
  putAttributes(element, tag, writing);
  put(writing, '>');
  if (isHtml && VOID.has(tag)) return;
  const shadow = writing.isLive ? (element.shadowRoot ?? roots.get(element)) : null;
  if (shadow) {
    put(writing, '<template shadowrootmode="open">');
    for (const child of shadow.childNodes) putNode(child, writing);
    putAdopted(shadow.adoptedStyleSheets, writing);
    put(writing, '</template>');
  }
  if (tag === 'style')
    put(writing, {
      css: styleText(element as HTMLStyleElement, writing),
      base: writing.base,
      isAttribute: false,
    });
  else if (element instanceof HTMLTextAreaElement && writing.isLive && element.value !== element.defaultValue)
    put(writing, `\n${text(element.value)}`);
  else if (tag !== 'script' && tag !== 'iframe') {
    const inside = element instanceof HTMLTemplateElement ? element.content : element;
    // The parser drops a first line break of these.
    if (/^(pre|listing|textarea)$/.test(tag) && inside.firstChild?.nodeValue?.startsWith('\n'))
      put(writing, '\n');
    for (const child of inside.childNodes) putNode(child, writing);
  }
  if (tag === 'head' && writing.isLive) putAdopted(document.adoptedStyleSheets, writing);
  put(writing, `</${name}>`);
}

function putNode(node: Node, writing: Writing): void {
  if (node instanceof Element) putElement(node, writing);
  else if (node instanceof Text) {
    const parent = node.parentElement?.localName ?? '';
    put(writing, RAW.has(parent) ? node.data : text(node.data));
  } else if (node instanceof Comment) put(writing, `<!--${node.data.replace(/--+>?/g, '—')}-->`);
  else if (node instanceof DocumentType) {
    const ids = node.publicId
      ? ` PUBLIC "${node.publicId}"${node.systemId ? ` "${node.systemId}"` : ''}`
      : node.systemId
        ? ` SYSTEM "${node.systemId}"`
        : '';
    put(writing, `<!DOCTYPE ${node.name}${ids}>\n`);
  }
}

function written(of: Document, isLive: boolean): Writing {
  const writing: Writing = { pieces: [], left: new Set(), isLive, base: document.baseURI };
  for (const node of of.childNodes) putNode(node, writing);
  return writing;
}

const plain = (pieces: readonly FrozenPiece[]): string =>
  pieces
    .map((piece) => (typeof piece === 'string' ? piece : quoted('css' in piece ? piece.css : piece.written)))
    .join('');

/** Elements that the parser puts elsewhere than the scripts have put them. */
function misplaced(html: string): boolean {
  const parsed = new DOMParser().parseFromString(html, 'text/html');
  // What adopted sheets say becomes style elements.
  const count = (of: Document): string =>
    Array.from(of.querySelectorAll(':not(style)'), ({ localName }) => localName).join(' ');
  return count(parsed) !== count(document);
}

/** `served`: the text that the document came as; '': it is not known. */
function freeze(served: string): Frozen {
  const { pieces, left } = written(document, true);
  const html = plain(pieces);
  const isAsServed =
    served !== '' &&
    plain(written(new DOMParser().parseFromString(served, 'text/html'), false).pieces) === html;
  if (
    !isAsServed &&
    misplaced(plain(pieces).replace(/<template shadowrootmode="open">[\s\S]*?<\/template>/g, ''))
  )
    left.add('Scripts have put elements where no markup can: some stand elsewhere in the capture.');
  return { pieces, title: document.title, isAsServed, left: [...left] };
}

Object.defineProperty(window, FREEZE, { value: freeze, configurable: true });
