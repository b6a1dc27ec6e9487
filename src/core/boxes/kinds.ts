/** What a box is in layout, and which of width, height and margins that kind of box takes. */
import type { RawReading } from '../reading/reading.ts';
import { tagOf } from '../reading/labels.ts';

export type Kind =
  | 'none'
  | 'contents'
  | 'root'
  | 'block'
  | 'inline'
  | 'inline-block'
  | 'replaced'
  | 'inline-replaced'
  | 'float'
  | 'absolute'
  | 'fixed'
  | 'flex-item'
  | 'grid-item'
  | 'list-item'
  | 'table'
  | 'table-caption'
  | 'table-row-group'
  | 'table-row'
  | 'table-column'
  | 'table-cell'
  | 'other';

/** Elements that a visitor operates (HTML §3.2.5.2.7, interactive content). */
export const OPERATED = /^(a|button|input|select|textarea|summary)$/;

const REPLACED = new Set([
  'img',
  'video',
  'canvas',
  'iframe',
  'embed',
  'object',
  'audio',
  'svg',
  'input',
  'textarea',
  'select',
]);
const DISPLAYS: Record<string, Kind> = {
  none: 'none',
  contents: 'contents',
  table: 'table',
  'inline-table': 'table',
  'table-caption': 'table-caption',
  'table-row': 'table-row',
  'table-cell': 'table-cell',
  'table-row-group': 'table-row-group',
  'table-header-group': 'table-row-group',
  'table-footer-group': 'table-row-group',
  'table-column': 'table-column',
  'table-column-group': 'table-column',
  'list-item': 'list-item',
  inline: 'inline',
};

/** Whether an element's inside is none of layout's business: images, frames, and controls that draw themselves. */
/** CSS 2.2 §9.5.1; flow-relative sides: CSS Logical 1 §3.2. */
export const isFloating = (value: string | undefined): boolean =>
  /^(left|right|inline-start|inline-end)$/.test(value ?? '');

export const isReplaced = (reading: RawReading, element: number): boolean =>
  REPLACED.has(tagOf(reading, element));

/**
 * The resolved width of a box that is laid out is in px (CSSOM §9): `auto` with no extent is said of what is not, as
 * what lies in something that has no box, and the options of a closed list.
 */
function isUnrendered(reading: RawReading, element: number, display: string): boolean {
  if (display === 'inline' || display.startsWith('table-column')) return false;
  const width = reading.strings[reading.used['width']?.[element] ?? -1];
  return width === 'auto' && reading.rects[element * 4 + 2] === 0 && reading.rects[element * 4 + 3] === 0;
}

export function kindOf(reading: RawReading, element: number): Kind {
  const text = (property: string, of = element) => reading.strings[reading.used[property]?.[of] ?? -1] ?? '';
  const display = text('display');
  if (display === 'none' || display === '') return 'none';
  if (display === 'contents') return 'contents';
  const parent = reading.parent[element]!;
  if (parent < 0) return 'root';
  if (isUnrendered(reading, element, display)) return 'none';
  const position = text('position');
  if (position === 'absolute' || position === 'fixed') return position;
  let above = parent;
  while (above >= 0 && text('display', above) === 'contents') above = reading.parent[above]!;
  const outer = above >= 0 ? text('display', above) : '';
  if (outer.endsWith('flex')) return 'flex-item';
  if (outer.endsWith('grid')) return 'grid-item';
  if (isFloating(text('float'))) return 'float';
  if (isReplaced(reading, element)) return display.startsWith('inline') ? 'inline-replaced' : 'replaced';
  return DISPLAYS[display] ?? (display.startsWith('inline') ? 'inline-block' : 'block');
}

/** The kind in words, for sentences. */
export const KIND_WORDS: Record<Kind, string> = {
  none: 'no box',
  contents: 'no box of its own',
  root: 'root',
  block: 'block',
  inline: 'inline',
  'inline-block': 'inline-block',
  replaced: 'replaced, block',
  'inline-replaced': 'replaced, inline',
  float: 'float',
  absolute: 'absolutely positioned',
  fixed: 'fixed',
  'flex-item': 'flex item',
  'grid-item': 'grid item',
  'list-item': 'list item',
  table: 'table',
  'table-caption': 'table caption',
  'table-row-group': 'table row group',
  'table-row': 'table row',
  'table-column': 'table column',
  'table-cell': 'table cell',
  other: 'other',
};

export type Taken = 'width' | 'height' | 'vertical margins' | 'horizontal margins' | 'padding';

/** Null: the kind takes the property; otherwise why it does not, with the specification. */
export function refusal(kind: Kind, property: Taken): string | null {
  switch (kind) {
    case 'inline':
      if (property === 'width' || property === 'height')
        return `an inline box takes its ${property} from its text (CSS 2.2 §10.${property === 'width' ? '2' : '5'})`;
      return property === 'vertical margins'
        ? 'the vertical margins of an inline box move nothing (CSS 2.2 §8.3)'
        : null;
    case 'table-row':
    case 'table-row-group':
      if (property === 'width') return 'columns decide the width of rows (CSS 2.2 §10.2)';
      return property === 'height'
        ? null
        : `rows have no ${property === 'padding' ? 'padding' : 'margins'} (CSS 2.2 §8.3, §8.4)`;
    case 'table-column':
      if (property === 'height') return 'rows decide the height of columns (CSS 2.2 §10.5)';
      return property === 'width'
        ? null
        : `columns have no ${property === 'padding' ? 'padding' : 'margins'} (CSS 2.2 §8.3, §8.4)`;
    case 'table-cell':
      return property.endsWith('margins')
        ? 'cells have no margins; spacing is the table’s (CSS 2.2 §8.3, §17.6)'
        : null;
    case 'none':
    case 'contents':
      return 'there is no box';
    default:
      return null;
  }
}
