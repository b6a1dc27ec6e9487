/** Small changes to the declarations of a page's style sheets, as a slip of the hand or a change of mind makes them. */
import { generate, parse, walk, type CssNode, type Declaration, type Rule } from 'css-tree';
import type { Draw } from '../conformance/families.ts';

export interface Mutation {
  name: string;
  /** The whole sheet with the change in it. */
  css: string;
  line: number;
  was: string;
  becomes: string;
  selector: string;
  property: string;
}

const SIZE = /^(width|height|(min|max)-(width|height)|inline-size|block-size|flex-basis)$/;
const EDGE = /^(margin|padding)(-|$)|^(top|left|right|bottom|inset)/;
const SPACE = /^(gap|row-gap|column-gap|line-height|font-size|letter-spacing)$/;

/** Of one word another of the same property. */
const OTHERS: Record<string, Record<string, readonly string[]>> = {
  display: {
    flex: ['block', 'inline-flex'],
    grid: ['block', 'flex'],
    block: ['inline'],
    'inline-block': ['inline', 'block'],
  },
  position: {
    relative: ['static', 'absolute'],
    absolute: ['relative', 'static', 'fixed'],
    sticky: ['fixed', 'absolute'],
    fixed: ['absolute'],
  },
  overflow: { hidden: ['visible', 'auto'], auto: ['hidden', 'visible'] },
  'overflow-x': { auto: ['hidden', 'visible'], hidden: ['visible'] },
  'overflow-y': { auto: ['hidden', 'visible'], hidden: ['visible'] },
  'flex-wrap': { wrap: ['nowrap'] },
  'flex-direction': { column: ['row'], row: ['column'] },
  'box-sizing': { 'border-box': ['content-box'] },
  'align-items': { center: ['flex-end', 'stretch'], 'flex-start': ['stretch'], stretch: ['center'] },
  'white-space': { nowrap: ['normal'], normal: ['nowrap'], pre: ['normal'], 'pre-wrap': ['pre'] },
  'border-collapse': { collapse: ['separate'] },
  'table-layout': { fixed: ['auto'] },
  float: { left: ['none', 'right'], right: ['none', 'left'] },
};

/** What somebody adds to a rule. */
const ADDED: readonly ((draw: Draw) => [string, string])[] = [
  () => ['white-space', 'nowrap'],
  ({ int }) => ['width', `${int(10, 60) * 10}px`],
  ({ int }) => ['min-width', `${int(10, 60) * 10}px`],
  ({ int }) => ['height', `${int(2, 20) * 10}px`],
  ({ int }) => ['max-height', `${int(2, 16) * 10}px`],
  () => ['overflow', 'hidden'],
  () => ['width', '100%'],
  () => ['width', '100vw'],
  () => ['height', '100%'],
  () => ['position', 'absolute'],
  () => ['float', 'left'],
  () => ['flex-shrink', '0'],
  () => ['flex', 'none'],
  () => ['display', 'inline'],
  ({ int }) => ['margin-top', `-${int(1, 6) * 8}px`],
  ({ int }) => ['margin-left', `-${int(1, 6) * 8}px`],
  ({ int }) => ['transform', `translateY(${int(1, 6) * 10}px)`],
  ({ int }) => ['padding', `${int(2, 8) * 8}px`],
  () => ['box-sizing', 'content-box'],
  ({ int }) => ['line-height', `0.${int(4, 8)}`],
  ({ int }) => ['letter-spacing', `${int(2, 8)}px`],
  ({ int }) => ['font-size', `${int(20, 60)}px`],
];

const dimension = /^(-?[\d.]+)(px|rem|em|%|vw|vh|ch|fr)$/;
const scaled = (text: string, by: number): string => {
  const [, number, unit] = dimension.exec(text)!;
  return `${Math.round(Number(number) * by * 100) / 100}${unit}`;
};

function changeOf(property: string, value: string, draw: Draw): [string, string] | null {
  const other = OTHERS[property]?.[value];
  if (other && draw.chance(0.8)) return ['another word', draw.pick(other)];
  const parts = value.split(' ');
  const sized = parts.flatMap((part, at) =>
    dimension.test(part) && Number.parseFloat(part) !== 0 ? [at] : [],
  );
  if (sized.length > 0 && (SIZE.test(property) || EDGE.test(property) || SPACE.test(property))) {
    const at = draw.pick(sized);
    const swap = (text: string): string => parts.map((part, n) => (n === at ? text : part)).join(' ');
    const part = parts[at]!;
    const unit = dimension.exec(part)![2]!;
    if (draw.chance(0.15) && unit !== 'px') return ['another unit', swap(part.replace(unit, 'px'))];
    if (EDGE.test(property) && !property.startsWith('padding') && draw.chance(0.35))
      return ['the other sign', swap(scaled(part, -1))];
    return SIZE.test(property)
      ? ['another size', swap(scaled(part, draw.pick([0.4, 0.6, 0.8, 1.25, 1.6, 2.5])))]
      : ['another length', swap(scaled(part, draw.pick([0.2, 0.5, 2, 3, 5])))];
  }
  if (/^grid-template-columns$/.test(property)) {
    if (value.includes('minmax(0')) return ['tracks', value.replace(/minmax\(0(px)?, *1fr\)/g, '1fr')];
    if (/auto-(fill|fit)/.test(value))
      return ['tracks', value.replace(/auto-(fill|fit)/, String(draw.int(3, 6)))];
    if (/\bfr\b|\dfr/.test(value)) return ['tracks', value.replace(/[\d.]+fr/, `${draw.int(20, 60) * 10}px`)];
  }
  return null;
}

/** One change to a sheet, or null where the declaration drawn has none that would be likely. */
export function mutate(css: string, draw: Draw): Mutation | null {
  const tree = parse(css, { positions: true });
  const rules: { rule: Rule; declarations: Declaration[] }[] = [];
  walk(tree, {
    visit: 'Rule',
    enter(rule: Rule) {
      const declarations: Declaration[] = [];
      rule.block.children.forEach((node: CssNode) => {
        if (node.type === 'Declaration' && !node.property.startsWith('--')) declarations.push(node);
      });
      if (declarations.length > 0) rules.push({ rule, declarations });
    },
  });
  if (rules.length === 0) return null;
  const { rule, declarations } = draw.pick(rules);
  const selector = generate(rule.prelude);
  if (/:(hover|focus|active|root)|^(html|body|\*)$|before|after|@/.test(selector)) return null;
  const splice = (from: number, to: number, text: string): string => css.slice(0, from) + text + css.slice(to);
  const lineAt = (offset: number): number => css.slice(0, offset).split('\n').length;
  if (draw.chance(0.4)) {
    const [property, value] = draw.pick(ADDED)(draw);
    const last = declarations.at(-1)!.loc!.end.offset;
    const text = `; ${property}: ${value}`;
    return {
      name: `added ${property}`,
      css: splice(last, last, text),
      line: lineAt(last),
      was: '',
      becomes: `${property}: ${value}`,
      selector,
      property,
    };
  }
  const declaration = draw.pick(declarations);
  const { start, end } = declaration.loc!;
  const was = css.slice(start.offset, end.offset);
  const { property } = declaration;
  const change = draw.chance(0.25) ? null : changeOf(property, generate(declaration.value), draw);
  if (change)
    return {
      name: `${change[0]} of ${property}`,
      css: splice(start.offset, end.offset, `${property}: ${change[1]}`),
      line: lineAt(start.offset),
      was,
      becomes: `${property}: ${change[1]}`,
      selector,
      property,
    };
  if (
    !/^(box-sizing|overflow|position|display|flex|grid|align|justify|min-|max-|width|height|white|float|clear|object|aspect|margin|padding|line|table|border-c|vertical|place|top|left|right|bottom|inset|z-index|gap)/.test(
      property,
    )
  )
    return null;
  return {
    name: `without ${property}`,
    css: splice(start.offset, end.offset, `/* ${' '.repeat(Math.max(0, was.length - 6))} */`),
    line: lineAt(start.offset),
    was,
    becomes: '',
    selector,
    property,
  };
}
