/** What gives a declaration without effect the effect that it asks for, by the conditions of its property's definition. */
import type { Analysis } from '../analysis.ts';
import { isMainAxisVertical, layoutOf } from '../boxes/formatting-contexts.ts';
import { childrenOf, hasBox, usedText } from '../boxes/tree.ts';
import { resolve } from '../css/cascade/cascade.ts';
import { put, type Step } from './model.ts';

export interface Enabling {
  words: string;
  steps: Step[];
  /** The likelier it is what was wanted, the higher. */
  rank: number;
}

const BLOCK = /^(block|list-item|float|flow-root)$/;

/** The likeliest first. Empty: nothing is known that would help. */
export function enabling(analysis: Analysis, element: number, property: string, value: string): Enabling[] {
  const { tree, reading } = analysis;
  const parent = reading.parent[element]!;
  const kind = tree.kinds[element]!;
  const own = layoutOf(tree, element);
  const outer = parent < 0 ? 'flow' : layoutOf(tree, parent);
  const to = (at: number, name: string, as: string): Step => put(analysis, at, name, as);
  const one = (words: string, rank: number, ...steps: Step[]): Enabling => ({ words, steps, rank });
  const isBlock = BLOCK.test(kind) || kind === 'flex-item' || kind === 'grid-item';

  if (/^(top|right|bottom|left)$/.test(property)) return offsets(analysis, element, property, one);
  if (property === 'z-index') return [one('position it', 92, to(element, 'position', 'relative'))];
  if (/-gap$/.test(property)) {
    const stacked = childrenOf(tree, element).every(
      (child) => !hasBox(tree, child) || BLOCK.test(tree.kinds[child]!),
    );
    const grid = one(
      'lay it out as a grid, which keeps its items below each other',
      90,
      to(element, 'display', 'grid'),
    );
    const flex = one('lay it out as a flex container', 88, to(element, 'display', 'flex'));
    return stacked
      ? [grid, flex]
      : [
          { ...flex, rank: 90 },
          { ...grid, rank: 88 },
        ];
  }
  if (/^(justify-content|align-items|justify-items)$/.test(property))
    return [one('lay it out as a flex container', 90, to(element, 'display', 'flex'))];
  if (/^flex-(direction|wrap)$/.test(property))
    return [one('lay it out as a flex container', 86, to(element, 'display', 'flex'))];
  if (/^grid-(template|auto)/.test(property))
    return [one('lay it out as a grid', 90, to(element, 'display', 'grid'))];
  if (property === 'align-content' && own === 'flex')
    return [
      one(
        'align the items of its one line',
        90,
        to(element, isMainAxisVertical(tree, element) ? 'justify-content' : 'align-items', value),
      ),
      one('let its items wrap', 70, to(element, 'flex-wrap', 'wrap')),
    ];
  if (/^(flex-(grow|shrink|basis)|order|align-self)$/.test(property) && parent > 0)
    return [one('lay the box around it out as a flex container', 74, to(parent, 'display', 'flex'))];
  if (/^(grid-(row|column)|justify-self)/.test(property) && parent > 0)
    return [one('lay the box around it out as a grid', 74, to(parent, 'display', 'grid'))];
  if (property === 'vertical-align') {
    const place = value === 'middle' ? 'center' : value === 'bottom' ? 'end' : 'start';
    if (kind === 'flex-item') return [one('align it in its line', 90, to(element, 'align-self', place))];
    return isBlock
      ? [
          one('align what is in it', 92, to(element, 'align-content', place)),
          one(
            'lay it out as a flex column',
            86,
            to(element, 'display', 'flex'),
            to(element, 'flex-direction', 'column'),
            to(element, 'justify-content', place),
          ),
        ]
      : [];
  }
  if (property === 'text-overflow') {
    const steps: Step[] = [];
    if (kind === 'inline') steps.push(to(element, 'display', 'block'));
    if (!/hidden|clip|auto|scroll/.test(usedText(reading, 'overflow', element).split(' ')[0]!))
      steps.push(to(element, 'overflow', 'hidden'));
    if (!/nowrap|pre$/.test(usedText(reading, 'white-space', element)))
      steps.push(to(element, 'white-space', 'nowrap'));
    return own === 'flex' || own === 'grid'
      ? [one('let it lay out its text as a block', 84, to(element, 'display', 'block'), ...steps)]
      : [one('keep its text on one line that it clips', 92, ...steps)];
  }
  if (
    /^(min-|max-)?(width|height)$|^margin-(top|bottom)$|^overflow-|^transform$/.test(property) &&
    kind === 'inline'
  )
    return [
      one('make it an inline-block', 90, to(element, 'display', 'inline-block')),
      one('make it a block', 78, to(element, 'display', 'block')),
    ];
  if (property === 'text-align' && kind === 'inline')
    return [one('make it a block, as wide as what is around it', 88, to(element, 'display', 'block'))];
  if (/^margin-(left|right)$/.test(property) && value === 'auto') {
    if (kind === 'float')
      return [
        one(
          'leave it in the flow',
          88,
          to(element, 'float', 'none'),
          ...(isAutoWidth(analysis, element) ? [to(element, 'width', 'fit-content')] : []),
        ),
      ];
    return [
      one(
        'make it a block as wide as what is in it',
        92,
        to(element, 'display', 'block'),
        ...(isAutoWidth(analysis, element) ? [to(element, 'width', 'fit-content')] : []),
      ),
    ];
  }
  if (/^margin-(top|bottom)$/.test(property) && value === 'auto' && parent > 0)
    return [
      one(
        'lay the box around it out as a flex column',
        90,
        to(parent, 'display', 'flex'),
        to(parent, 'flex-direction', 'column'),
      ),
      one('centre it by the box around it', 84, to(parent, 'align-content', 'center')),
    ];
  if (/^margin-/.test(property) && /^table-/.test(kind)) {
    const table = tableAbove(analysis, element);
    return table < 0
      ? []
      : [
          one(
            'space its rows and cells by the table',
            90,
            to(table, 'border-collapse', 'separate'),
            to(table, 'border-spacing', /left|right/.test(property) ? `${value} 0` : `0 ${value}`),
          ),
        ];
  }
  if (property === 'border-spacing')
    return [one('let the borders be apart', 88, to(element, 'border-collapse', 'separate'))];
  if (property === 'float' && outer === 'flex')
    return /right|inline-end/.test(value)
      ? [one('push it to that side', 90, to(element, 'margin-left', 'auto'))]
      : [];
  if (property === 'clear' && kind === 'inline')
    return [one('make it a block', 88, to(element, 'display', 'block'))];
  if (property === 'table-layout') return [one('give the table a width', 88, to(element, 'width', '100%'))];
  if (property === 'aspect-ratio')
    return kind === 'inline'
      ? [one('make it an inline-block', 84, to(element, 'display', 'inline-block'))]
      : [
          one('let the ratio give its height', 92, to(element, 'height', 'auto')),
          one('let the ratio give its width', 78, to(element, 'width', 'auto')),
        ];
  if (/^border-\w+-width$/.test(property))
    return [one('draw the line', 88, to(element, property.replace('width', 'style'), 'solid'))];
  return [];
}

/** How a box is to be positioned that says where it is to be: at a corner of what is around it, at the edge of the view, or moved. */
function offsets(
  analysis: Analysis,
  element: number,
  property: string,
  one: (words: string, rank: number, ...steps: Step[]) => Enabling,
): Enabling[] {
  const { tree, reading } = analysis;
  const set = ['top', 'right', 'bottom', 'left'].filter(
    (side) => !/^(auto|initial|)$/.test(resolve(analysis.styles, element, side).value),
  );
  const relative = one('move it from its place', 86, put(analysis, element, 'position', 'relative'));
  const parent = reading.parent[element]!;
  const isAtCorner = set.some((side) => /top|bottom/.test(side)) && set.some((side) => /left|right/.test(side));
  if (isAtCorner) {
    const isHeld = tree.containingBlock[element]! >= 0 && usedText(reading, 'position', parent) !== 'static';
    return [
      one(
        'place it at that corner',
        94,
        ...(isHeld ? [] : [put(analysis, parent, 'position', 'relative')]),
        put(analysis, element, 'position', 'absolute'),
      ),
      relative,
    ];
  }
  const value = resolve(analysis.styles, element, property).value;
  if (property === 'top' && set.length === 1 && !value.startsWith('-'))
    return [one('let it stick there', 92, put(analysis, element, 'position', 'sticky')), relative];
  return [{ ...relative, rank: 90 }];
}

const isAutoWidth = ({ styles }: Analysis, element: number): boolean =>
  /^(auto|initial|)$/.test(resolve(styles, element, 'width').value);

function tableAbove({ reading }: Analysis, element: number): number {
  let at = element;
  while (at >= 0 && !/^(inline-)?table$/.test(usedText(reading, 'display', at))) at = reading.parent[at]!;
  return at;
}
