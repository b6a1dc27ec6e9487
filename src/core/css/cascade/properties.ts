/** What the specifications say of properties as such: which are inherited, and how logical ones map. */

/** Inherited properties that have to do with geometry, fonts or text (each per its own specification's table). */
export const INHERITED = new Set(
  (
    'border-collapse border-spacing caption-side color direction empty-cells font-family font-size font-stretch ' +
    'font-style font-variant font-weight hyphens letter-spacing line-height line-break list-style-image ' +
    'list-style-position list-style-type orphans overflow-wrap pointer-events quotes tab-size text-align ' +
    'text-align-last text-indent text-orientation text-transform text-wrap visibility white-space widows ' +
    'word-break word-spacing writing-mode cursor font-size-adjust font-kerning hanging-punctuation'
  ).split(' '),
);

export const isInherited = (property: string): boolean => property.startsWith('--') || INHERITED.has(property);

/** A block flow direction and an inline base direction, as computed (Writing Modes 4 §2, §3). */
export interface Flow {
  writingMode: string;
  direction: string;
}

type Physical = 'top' | 'right' | 'bottom' | 'left';

/** Which physical side each flow-relative side is (Writing Modes 4 §6.4). */
function sides({ writingMode, direction }: Flow): Record<string, Physical> {
  const rtl = direction === 'rtl';
  if (writingMode === 'vertical-rl' || writingMode === 'sideways-rl')
    return {
      'block-start': 'right',
      'block-end': 'left',
      'inline-start': rtl ? 'bottom' : 'top',
      'inline-end': rtl ? 'top' : 'bottom',
    };
  if (writingMode === 'vertical-lr')
    return {
      'block-start': 'left',
      'block-end': 'right',
      'inline-start': rtl ? 'bottom' : 'top',
      'inline-end': rtl ? 'top' : 'bottom',
    };
  if (writingMode === 'sideways-lr')
    return {
      'block-start': 'left',
      'block-end': 'right',
      'inline-start': rtl ? 'top' : 'bottom',
      'inline-end': rtl ? 'bottom' : 'top',
    };
  return {
    'block-start': 'top',
    'block-end': 'bottom',
    'inline-start': rtl ? 'right' : 'left',
    'inline-end': rtl ? 'left' : 'right',
  };
}

const SIZES = /^((?:min-|max-)?)(inline|block)-size$/;
const SIDES = /^(margin-|padding-|inset-|border-)(block-start|block-end|inline-start|inline-end)(-\w+)?$/;

const isRelative = (property: string): boolean => property.includes('block') || property.includes('inline');

/** The physical longhand that a flow-relative one is in this flow; any other property is itself (CSS Logical 1 §4). */
export function physical(property: string, flow: Flow): string {
  if (!isRelative(property)) return property;
  const size = SIZES.exec(property);
  if (size) {
    const vertical = flow.writingMode !== 'horizontal-tb' && flow.writingMode !== '';
    return size[1]! + ((size[2] === 'inline') !== vertical ? 'width' : 'height');
  }
  const side = SIDES.exec(property);
  if (side) return (side[1] === 'inset-' ? '' : side[1]!) + sides(flow)[side[2]!] + (side[3] ?? '');
  const axis = /^overflow-(inline|block)$/.exec(property);
  if (axis) {
    const vertical = flow.writingMode !== 'horizontal-tb' && flow.writingMode !== '';
    return (axis[1] === 'inline') !== vertical ? 'overflow-x' : 'overflow-y';
  }
  return property;
}

const HORIZONTAL: Flow = { writingMode: 'horizontal-tb', direction: 'ltr' };
const FLOW_SIDES = ['block-start', 'block-end', 'inline-start', 'inline-end'] as const;

/**
 * The longhand that stands for the same flow-relative side in horizontal left-to-right text. Engines give their
 * defaults for margins and paddings by flow-relative side (HTML §15.3), and they are measured in such text.
 */
export function sameSideOf(property: string, flow: Flow): string {
  const side = /^(margin-|padding-)(top|right|bottom|left)$/.exec(property);
  if (!side || (flow.writingMode === 'horizontal-tb' && flow.direction !== 'rtl')) return property;
  const logical = FLOW_SIDES.find((word) => physical(`${side[1]}${word}`, flow) === property);
  return logical ? physical(`${side[1]}${logical}`, HORIZONTAL) : property;
}

/** The properties that the accounts follow: geometry, fonts and text, and what is needed for contrast. */
export const GEOMETRY: readonly string[] = (
  'display position float clear box-sizing width height min-width min-height max-width max-height ' +
  'margin-top margin-right margin-bottom margin-left padding-top padding-right padding-bottom padding-left ' +
  'border-top-width border-right-width border-bottom-width border-left-width ' +
  'border-top-style border-right-style border-bottom-style border-left-style ' +
  'top right bottom left overflow-x overflow-y font-size line-height font-family font-weight font-style ' +
  'color background-color writing-mode direction vertical-align z-index transform opacity visibility white-space ' +
  'text-align text-indent letter-spacing word-spacing flex-grow flex-shrink flex-basis flex-direction flex-wrap order ' +
  'align-items align-self align-content justify-items justify-self justify-content row-gap column-gap ' +
  'grid-template-columns grid-template-rows grid-template-areas grid-auto-flow grid-auto-rows grid-auto-columns ' +
  'grid-row-start grid-row-end grid-column-start grid-column-end table-layout border-collapse ' +
  'caption-side contain will-change filter aspect-ratio object-fit list-style-type list-style-position ' +
  'column-count column-width overflow-wrap word-break'
).split(' ');
