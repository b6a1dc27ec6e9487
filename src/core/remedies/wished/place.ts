/** Put a box where it is wished: centred, flush, or off another (CSS Box Alignment 3, CSS 2.2 §9 and §10.3). */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { usedText } from '../../boxes/tree.ts';
import type { Fix } from '../../finding.ts';
import type { Axis, Side } from '../../geometry/rect.ts';
import { selfAndAncestors } from '../../visibility/visibility.ts';
import { change, cssNumber, displayOf, isAlongMainAxis, isPlaced, parentOf, type Wished } from './model.ts';

/** The child of the box that holds both, on the way to a box. */
function branch({ analysis, element, other }: Wished): number {
  const above = new Set(selfAndAncestors(analysis, other));
  let at = element;
  for (let up = analysis.reading.parent[at]!; up >= 0 && !above.has(up); up = analysis.reading.parent[at]!)
    at = up;
  return at;
}

export function centred(wished: Wished, axis: Axis | 'both'): Fix[] {
  const { analysis, element, other } = wished;
  const parent = parentOf(wished);
  const outs: Fix[] = [];
  const isX = axis !== 'y';
  const isY = axis !== 'x';
  if (isPlaced(wished)) {
    const sides = { ...(isX && { left: '0', right: '0' }), ...(isY && { top: '0', bottom: '0' }) };
    // A size that is declared stays what it is.
    const isAuto = (property: string): boolean => authorDeclaration(analysis, element, property) === null;
    const sizes = {
      ...(isX && isAuto('width') && { width: 'fit-content' }),
      ...(isY && isAuto('height') && { height: 'fit-content' }),
    };
    const margins = {
      ...(isX && { 'margin-left': 'auto', 'margin-right': 'auto' }),
      ...(isY && { 'margin-top': 'auto', 'margin-bottom': 'auto' }),
    };
    const back = { translate: `${isX ? '-50%' : '0'} ${isY ? '-50%' : '0'}` };
    outs.push(
      change('pull it back by half of itself', 86, element, back),
      change('lay it between the edges, with margins that share what is left', 84, element, {
        ...sides,
        ...margins,
      }),
      change('lay it between the edges, as large as its content', 78, element, {
        ...sides,
        ...margins,
        ...sizes,
      }),
      change('place its middle at the middle', 74, element, {
        ...(isX && { left: '50%', right: 'auto' }),
        ...(isY && { top: '50%', bottom: 'auto' }),
        margin: '0',
        ...back,
      }),
    );
    return outs;
  }
  const display = displayOf(analysis, parent);
  const isRow = isAlongMainAxis(wished, 'x');
  const isFlex = /flex/.test(display);
  const isGrid = /grid/.test(display);
  const at = [parent, ...(other !== parent ? [other] : [])].filter((box) => box >= 0);
  const across = isFlex && !isRow ? 'align-items' : 'justify-content';
  const down = isFlex && !isRow ? 'justify-content' : 'align-items';
  if (isFlex)
    outs.push(
      change('centre what is in the container', 86, parent, {
        ...(isX && { [across]: 'center' }),
        ...(isY && { [down]: 'center' }),
      }),
      change('give it margins that share what is left', 80, element, {
        ...(isX && { 'margin-left': 'auto', 'margin-right': 'auto' }),
        ...(isY && { 'margin-top': 'auto', 'margin-bottom': 'auto' }),
      }),
      change('centre this one', 82, element, { 'align-self': 'center' }),
    );
  if (isGrid)
    outs.push(
      change('centre it in its area', 84, element, {
        ...(isX && { 'justify-self': 'center' }),
        ...(isY && { 'align-self': 'center' }),
      }),
      change('centre all that is in the grid', 80, parent, {
        ...(isX && { 'justify-items': 'center' }),
        ...(isY && { 'align-items': 'center' }),
      }),
      change('centre the tracks', 70, parent, {
        ...(isX && { 'justify-content': 'center' }),
        ...(isY && { 'align-content': 'center' }),
      }),
    );
  for (const [n, box] of at.entries())
    outs.push(
      ...(isX && !isY ? [change('centre the text', 78 - n * 4, box, { 'text-align': 'center' })] : []),
      ...(isY && !isX ? [change('centre what is in it', 76 - n * 4, box, { 'align-content': 'center' })] : []),
      change('lay its container out as a grid that centres', 66 - n * 4, box, {
        display: /inline/.test(displayOf(analysis, box)) ? 'inline-grid' : 'grid',
        ...(isX && isY
          ? { 'place-items': 'center' }
          : isX
            ? { 'justify-items': 'center' }
            : { 'align-items': 'center' }),
      }),
      change('centre what is in it, and its text', 64 - n * 4, box, {
        ...(isX && { 'text-align': 'center' }),
        ...(isY && { 'align-content': 'center' }),
      }),
    );
  outs.push(
    ...(isX
      ? [
          change('centre its own text', 74, element, { 'text-align': 'center' }),
          change('give it margins that share what is left', 77, element, {
            'margin-left': 'auto',
            'margin-right': 'auto',
          }),
          change('make it as wide as its content, with margins that share what is left', 68, element, {
            display: 'block',
            width: 'fit-content',
            'margin-left': 'auto',
            'margin-right': 'auto',
          }),
        ]
      : []),
    ...(isY
      ? [
          change('stand it at the middle of its line', 60, element, { 'vertical-align': 'middle' }),
          change('take its margins out', 58, element, { 'margin-top': '0', 'margin-bottom': '0' }),
        ]
      : []),
  );
  return outs;
}

const TO: Record<Side, string> = { left: 'start', top: 'start', right: 'end', bottom: 'end' };

export function flush(wished: Wished, side: Side): Fix[] {
  const { analysis, element, other } = wished;
  const axis: Axis = side === 'left' || side === 'right' ? 'x' : 'y';
  const outs: Fix[] = [];
  for (const [n, at] of [...new Set([element, branch(wished)])].entries()) {
    const here = { ...wished, element: at };
    const parent = parentOf(here);
    const display = displayOf(analysis, parent);
    const to = TO[side];
    if (/flex/.test(display) && !isAlongMainAxis(here, axis))
      outs.push(
        change('align it in its line', 84 - n, at, { 'align-self': `flex-${to}` }),
        change('align all that is in the line', 80 - n, parent, { 'align-items': `flex-${to}` }),
        change('stretch it along the line', 76 - n, at, { 'align-self': 'stretch' }),
        change('stretch all that is in the line', 75 - n, parent, { 'align-items': 'stretch' }),
      );
    if (/flex/.test(display) && isAlongMainAxis(here, axis))
      outs.push(
        change('push it there', 78 - n, at, {
          [`margin-${to === 'end' ? sideBefore(side) : side}`]: to === 'end' ? 'auto' : '0',
        }),
        change('keep what is first and last at the ends', 74 - n, parent, {
          'justify-content': 'space-between',
        }),
        change('align what is in the line', 72 - n, parent, { 'justify-content': `flex-${to}` }),
      );
    if (/grid/.test(display))
      outs.push(
        change('align it in its area', 82 - n, at, { [axis === 'x' ? 'justify-self' : 'align-self']: to }),
        change('stretch it in its area', 78 - n, at, {
          [axis === 'x' ? 'justify-self' : 'align-self']: 'stretch',
        }),
      );
    outs.push(
      change(`take its ${side} margin out`, 79 - n, at, { [`margin-${side}`]: '0' }),
      change(`take the ${side} padding around it out`, 62 - n, parent, { [`padding-${side}`]: '0' }),
      change('align the text', 58 - n, parent, { 'text-align': side === 'right' ? 'right' : 'left' }),
    );
    if (axis === 'y')
      outs.push(change('align the lines at their tops', 56 - n, at, { 'vertical-align': side }));
    if (isPlaced(here) && parent === analysis.tree.containingBlock[other])
      outs.push(
        change('place it at the same edge', 70 - n, at, { [side]: usedText(analysis.reading, side, other) }),
      );
    if (isPlaced(here)) outs.push(change('place it at the edge', 68 - n, at, { [side]: '0' }));
  }
  if (axis === 'x')
    outs.push(
      change('let it fill what is around it', 54, element, {
        width: 'auto',
        'max-width': 'none',
        [`margin-${side}`]: '0',
      }),
    );
  return outs;
}

const sideBefore = (side: Side): Side => (side === 'right' ? 'left' : 'top');

export function apart(wished: Wished, side: 'above' | 'below' | 'left' | 'right', px: number): Fix[] {
  const { analysis, element, other } = wished;
  const at = branch(wished);
  const back = branch({ ...wished, element: other, other: element });
  const parent = analysis.reading.parent[at]!;
  const facing: Record<typeof side, [own: Side, others: Side]> = {
    below: ['top', 'bottom'],
    above: ['bottom', 'top'],
    right: ['left', 'right'],
    left: ['right', 'left'],
  };
  const [own, others] = facing[side];
  const value = px === 0 ? '0' : `${cssNumber(px)}px`;
  const display = displayOf(analysis, parent);
  const outs: Fix[] = [];
  if (/flex|grid/.test(display))
    outs.push(
      change('set the gap between them', 84, parent, {
        [own === 'top' || own === 'bottom' ? 'row-gap' : 'column-gap']: value,
      }),
      change(
        'set the gap, and take the margins between them out',
        80,
        parent,
        {
          [own === 'top' || own === 'bottom' ? 'row-gap' : 'column-gap']: value,
        },
        [
          [at, { [`margin-${own}`]: '0' }],
          [back, { [`margin-${others}`]: '0' }],
        ],
      ),
    );
  outs.push(
    change('set the margin between them', 76, at, { [`margin-${own}`]: value }),
    change('set the margin of the other', 72, back, { [`margin-${others}`]: value }),
    change('set one margin, and take the other out', 74, at, { [`margin-${own}`]: value }, [
      [back, { [`margin-${others}`]: '0' }],
    ]),
    change('set the margin of the other, and take its own out', 70, back, { [`margin-${others}`]: value }, [
      [at, { [`margin-${own}`]: '0' }],
    ]),
  );
  if (at !== element)
    outs.push(
      change('set its margin, and take that of what is around it out', 60, at, { [`margin-${own}`]: value }, [
        [element, { [`margin-${own}`]: '0' }],
        [back, { [`margin-${others}`]: '0' }],
      ]),
    );
  return outs;
}

/** What parts two boxes that lie over each other, as far as no finding of an overlap knows more. */
export function parted(wished: Wished): Fix[] {
  const { analysis, element, other } = wished;
  const at = branch(wished);
  const back = branch({ ...wished, element: other, other: element });
  const parent = analysis.reading.parent[at]!;
  return [
    ...[...new Set([element, at, other, back])].flatMap((box, n) => {
      const position = usedText(analysis.reading, 'position', box);
      return [
        ...(position !== 'static' && position !== ''
          ? [
              change('put it back into the flow', 80 - n, box, { position: 'static' }),
              change('leave it where the flow puts it', 78 - n, box, {
                position: 'relative',
                top: 'auto',
                left: 'auto',
                right: 'auto',
                bottom: 'auto',
              }),
            ]
          : []),
        change('take its negative margins out', 70 - n, box, {
          'margin-top': '0',
          'margin-bottom': '0',
        }),
        change('let it be as tall as its content', 72 - n, box, { height: 'auto', 'max-height': 'none' }),
        change('move it by no transform', 60 - n, box, { transform: 'none', translate: 'none' }),
      ];
    }),
    ...(/flex/.test(displayOf(analysis, parent))
      ? [change('let the line wrap', 74, parent, { 'flex-wrap': 'wrap' })]
      : []),
  ];
}
