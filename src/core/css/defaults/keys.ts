/** Every HTML element, as often as its defaults depend on an attribute or on where it stands: keys as `defaultKey` makes them. */

const TAGS =
  // HTML §4
  'html body article section nav aside h1 h2 h3 h4 h5 h6 hgroup header footer address p hr pre blockquote ol ul menu li dl dt dd ' +
  'figure figcaption main search div a em strong small s cite q dfn abbr ruby rt rp data time code var samp kbd sub sup i b u mark ' +
  'bdi bdo span br wbr ins del picture source img iframe embed object video audio track map area table caption colgroup col tbody ' +
  'thead tfoot tr td th form label input button select datalist optgroup option textarea output progress meter fieldset legend ' +
  'details summary dialog slot canvas noscript head title base link meta style script template ' +
  // HTML §16.2, obsolete, with defaults of their own
  'acronym big center dir font frame frameset listing marquee nobr noembed noframes plaintext strike tt xmp';

const INPUTS =
  'text search tel url email password number date month week time datetime-local range color checkbox radio file submit reset button ' +
  'image hidden';

const keysOf = (tag: string): string[] => {
  if (tag === 'input') return INPUTS.split(' ').map((type) => `input[type=${type}]`);
  if (tag === 'button') return ['text', 'submit', 'reset', 'button'].map((type) => `button[type=${type}]`);
  if (tag === 'ul' || tag === 'ol') return [0, 1, 2].map((depth) => `${tag}/${depth}`);
  if (tag === 'a' || tag === 'area') return [tag, `${tag}[href]`];
  if (tag === 'select') return [tag, 'select[multiple]'];
  if (tag === 'dialog') return [tag, 'dialog[open]'];
  if (tag === 'option' || tag === 'optgroup' || tag === 'summary') return [tag, `${tag}/1`];
  return [tag];
};

export const ATLAS_KEYS: readonly string[] = TAGS.split(' ').flatMap(keysOf);

const LIST_DEEP = /^(ul|ol)\/(\d)$/;
const INSIDE: Record<string, string> = {
  'summary/1': 'details[open] summary',
  'option/1': 'select[multiple] option',
  'optgroup/1': 'select[multiple] optgroup',
};

/** A key as people read it: where the element stands is said as a selector says it, lists as `ul`. */
export function keyName(key: string): string {
  const [, tag, depth] = LIST_DEEP.exec(key) ?? [];
  return tag ? 'ul '.repeat(Number(depth)) + tag : (INSIDE[key] ?? key);
}
