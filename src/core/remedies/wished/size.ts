/** Give a box a size that is wished for: in px, that of another, or by its ratio (CSS Sizing 3 §3, CSS Sizing 4 §5). */
import { laidAreas } from '../../boxes/areas.ts';
import { hasBox, childrenOf, rectOf, usedText } from '../../boxes/tree.ts';
import type { Fix } from '../../finding.ts';
import { sizeOn, type Axis } from '../../geometry/rect.ts';
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { change, cssNumber, displayOf, isAlongMainAxis, parentOf, type Wished } from './model.ts';

type Bound = 'equal' | 'at-least' | 'at-most';

const SIZE = { x: 'width', y: 'height' } as const;

export function sized(wished: Wished, axis: Axis, bound: Bound, size: number): Fix[] {
  const { analysis, element } = wished;
  const { tree, reading } = analysis;
  const out: Fix[] = [];
  const { border, padding } = laidAreas(tree, element);
  const edges =
    axis === 'x'
      ? border.left + border.right + padding.left + padding.right
      : border.top + border.bottom + padding.top + padding.bottom;
  const isContentBox = usedText(reading, 'box-sizing', element) !== 'border-box';
  const value = `${cssNumber(isContentBox ? Math.max(0, size - edges) : size)}px`;
  const name = SIZE[axis];
  const isInline = tree.kinds[element] === 'inline';
  const asBlock: Record<string, string> = isInline ? { display: 'inline-block' } : {};
  const now = sizeOn(rectOf(reading, element), axis);
  if (bound === 'at-most')
    out.push(change(`limit its ${name}`, 82, element, { ...asBlock, [`max-${name}`]: value }));
  if (bound === 'at-least')
    out.push(change(`give it a minimum`, 82, element, { ...asBlock, [`min-${name}`]: value }));
  if (isAlongMainAxis(wished, axis) && bound !== 'at-most')
    out.push(
      change(`give it its ${name} and let it neither grow nor shrink`, 84, element, { flex: `0 0 ${value}` }),
    );
  out.push(change(`set its ${name}`, 80, element, { ...asBlock, [name]: value }));
  if (isContentBox && edges > 0)
    out.push(
      change(`set its ${name} with padding and border in it`, 70, element, {
        ...asBlock,
        'box-sizing': 'border-box',
        [name]: `${cssNumber(size)}px`,
      }),
    );
  if (now > size + 0.5) out.push(...smaller(wished, axis, value));
  return out;
}

/** What holds a box open beyond a size: its content, and minimums. */
function smaller(wished: Wished, axis: Axis, value: string): Fix[] {
  const { element } = wished;
  const name = SIZE[axis];
  const isFlexible = /flex-item|grid-item/.test(wished.analysis.tree.kinds[element]!);
  const out: Fix[] = [
    change('set it, and let its text wrap', 66, element, {
      [name]: value,
      ...(axis === 'x' ? { 'white-space': 'normal', 'overflow-wrap': 'anywhere' } : {}),
    }),
    change('take its minimum away', 68, element, { [`min-${name}`]: '0', [name]: value }),
  ];
  if (isFlexible) out.push(change('let it be smaller than its content', 72, element, { [`min-${name}`]: '0' }));
  return out;
}

export function sizedAs(wished: Wished, axis: Axis): Fix[] {
  const { analysis, element, other } = wished;
  const { reading, tree } = analysis;
  const parent = parentOf(wished);
  const out: Fix[] = [];
  const name = SIZE[axis];
  const isBeside = reading.parent[other] === parent;
  const display = displayOf(analysis, parent);
  if (isBeside && /flex/.test(display)) {
    if (isAlongMainAxis(wished, axis)) {
      const even = { flex: '1 1 0', [`min-${name}`]: '0' };
      out.push(change('let both share the line evenly', 86, element, even, [[other, even]]));
      out.push(
        change('let both share the line by one basis', 76, element, { flex: '1 1 0' }, [
          [other, { flex: '1 1 0' }],
        ]),
      );
    } else
      out.push(
        change('stretch all that is in the line', 86, parent, { 'align-items': 'stretch' }),
        change('stretch it', 82, element, { 'align-self': 'stretch', [name]: 'auto' }),
        change('stretch both', 78, element, { 'align-self': 'stretch', [name]: 'auto' }, [
          [other, { 'align-self': 'stretch', [name]: 'auto' }],
        ]),
      );
  }
  if (isBeside && /grid/.test(display)) {
    const items = childrenOf(tree, parent).filter((item) => hasBox(tree, item));
    const { y } = rectOf(reading, items[0]!);
    const columns = items.filter((item) => Math.abs(rectOf(reading, item).y - y) < 1).length;
    if (axis === 'x') {
      const count = new Set(items.map((item) => Math.round(rectOf(reading, item).x))).size || columns;
      out.push(
        change('make all columns equal', 86, parent, {
          'grid-template-columns': `repeat(${count}, minmax(0, 1fr))`,
        }),
        change('let it fill its column', 74, element, {
          'justify-self': 'stretch',
          width: 'auto',
          'max-width': 'none',
        }),
      );
    } else
      out.push(
        change('make all rows equal', 84, parent, { 'grid-auto-rows': '1fr' }),
        change('let it fill its row', 82, element, { 'align-self': 'stretch', height: 'auto' }),
      );
  }
  const boxSizing = usedText(reading, 'box-sizing', other);
  if (boxSizing !== usedText(reading, 'box-sizing', element))
    out.push(change('count padding and border as in the other', 64, element, { 'box-sizing': boxSizing }));
  out.push(
    change('let it fill what is around it', 72, element, { [name]: '100%', 'box-sizing': 'border-box' }),
    change('let it be as large as what is around allows', 60, element, {
      [name]: 'auto',
      [`max-${name}`]: 'none',
      [`min-${name}`]: '0',
    }),
  );
  // Today's px of the other would be right today: what is declared of it is right as long as that is.
  for (const property of [name, `min-${name}`, 'flex-basis']) {
    const declaration = authorDeclaration(analysis, other, property);
    if (declaration)
      out.push(
        change(`give it the ${property} of the other`, 78, element, {
          [property]: declaration.value,
          'box-sizing': boxSizing,
        }),
      );
  }
  return out;
}

export function inRatio(wished: Wished, ratio: number): Fix[] {
  const { analysis, element } = wished;
  const { reading, tree } = analysis;
  const { width, height } = rectOf(reading, element);
  const inline: Record<string, string> = tree.kinds[element] === 'inline' ? { display: 'inline-block' } : {};
  const shape = { ...inline, 'aspect-ratio': cssNumber(ratio) };
  const isItem = /flex|grid/.test(displayOf(analysis, parentOf(wished)));
  const unstretched: Record<string, string> = isItem ? { 'align-self': 'start' } : {};
  const out = [
    change('give it the ratio, and let its height follow', 86, element, { ...shape, height: 'auto' }),
    change('give it the ratio, and let its width follow', 82, element, {
      ...shape,
      width: 'auto',
      ...(isItem && { 'justify-self': 'start' }),
    }),
    change('let it not shrink', 80, element, { 'flex-shrink': '0' }),
    change('count padding and border in, with the ratio', 78, element, {
      ...shape,
      height: 'auto',
      'box-sizing': 'border-box',
      'min-height': '0',
      'min-width': '0',
      ...unstretched,
    }),
    change('give it the ratio without padding', 50, element, {
      ...shape,
      padding: '0',
      'box-sizing': 'border-box',
      height: 'auto',
    }),
  ];
  if (isItem)
    out.push(
      change('give it the ratio, and stretch it no more', 84, element, {
        ...shape,
        height: 'auto',
        ...unstretched,
      }),
      change('give it the ratio, and let nothing shrink or stretch it', 76, element, {
        ...shape,
        height: 'auto',
        'min-height': '0',
        'flex-shrink': '0',
        ...unstretched,
      }),
    );
  // As the page speaks in numbers, one of the two is made the other.
  const byRatio = ratio === 1 ? '' : ' by the ratio';
  for (const [name, way, size] of [
    ['height', `make it as tall as it is wide${byRatio}`, width / ratio],
    ['width', `make it as wide as it is tall${byRatio}`, height * ratio],
  ] as const)
    if (/px$/.test(authorDeclaration(analysis, element, name)?.value ?? ''))
      out.push(
        change(way, 60, element, { ...inline, [name]: `${cssNumber(size)}px`, 'box-sizing': 'border-box' }),
      );
  return out;
}
