/** Give space back that nobody asked for, or make it what its neighbours have. */
import { cite, isLength, authorDeclaration } from '../accounts/author-declaration.ts';
import type { Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { laidAreas, outerWidth } from '../boxes/areas.ts';
import { layoutOf } from '../boxes/formatting-contexts.ts';
import { usedPx } from '../boxes/tree.ts';
import { boxName as labelOf } from '../visibility/visibility.ts';
import { px } from '../geometry/rect.ts';
import { columnPlacement } from '../accounts/grid/column-placement.ts';
import { alter, put, used, type Proposal } from './model.ts';

export const name = 'space';

const OF_DEFAULTS = new Set(['gap/body-margin', 'gap/list-padding', 'gap/figure-margin']);

export function propose(analysis: Analysis, observation: Observation): Proposal[] {
  const { kind, rule } = observation;
  if (kind !== 'gap') return [];
  if (rule === 'gap/uneven-spacing') return ofRhythm(analysis, observation);
  if (rule === 'gap/wrapped-row') return ofFallen(analysis, observation);
  if (OF_DEFAULTS.has(rule)) return ofDefault(analysis, observation);
  if (rule === 'gap/flex-basis-as-height') return ofBasis(analysis, observation);
  if (rule === 'gap/empty-box' || rule === 'gap/empty-lines') return ofEmpty(analysis, observation);
  if (rule === 'gap/line-breaks') return ofBreaks(analysis, observation);
  if (rule === 'gap/clearance') return ofCleared(analysis, observation);
  if (rule === 'gap/below-float') return ofBelow(analysis, observation);
  if (rule === 'gap/implicit-columns') return ofImplicit(analysis, observation);
  return [];
}

/** The two boxes around an odd space: the margins of one are not those of the others. */
function ofRhythm(analysis: Analysis, { boxes, axis, subject, other }: Observation): Proposal[] {
  const out: Proposal[] = [];
  const rest = boxes.filter((box) => box !== subject && box !== other);
  const sides = axis === 'y' ? (['bottom', 'top'] as const) : (['right', 'left'] as const);
  for (const [element, side] of [
    [other!, sides[0]],
    [subject, sides[1]],
  ] as const) {
    const property = `margin-${side}`;
    const declaration = authorDeclaration(analysis, element, property);
    const has = laidAreas(analysis.tree, element).margin[side];
    const usual = middle(rest.map((element) => laidAreas(analysis.tree, element).margin[side]));
    if (Math.abs(has - usual) >= 0.5)
      out.push({
        element,
        property: declaration?.source.property ?? property,
        source: declaration?.source ?? null,
        rule: 'odd-margin',
        because: declaration
          ? `${labelOf(analysis, element)} has a margin of ${declaration.value}, and the others have ${px(usual)} px ${cite(declaration)}`
          : `${labelOf(analysis, element)} has no margin of its own, and the others have ${px(usual)} px`,
        words: 'give it the margin of the others',
        steps: [put(analysis, element, property, usual === 0 ? '0' : `${px(usual)}px`)],
        rank: 90,
        gives: Math.abs(has - usual),
      });
  }
  return out;
}

const middle = (list: readonly number[]): number =>
  [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)] ?? 0;

/** Boxes of one row that are wider with their margins and gaps; their edges are counted in elsewhere. */
function ofFallen(analysis: Analysis, { boxes, subject, other, variant }: Observation): Proposal[] {
  const out: Proposal[] = [];
  const rest = boxes.filter((box) => box !== subject && box !== other);
  const left = rest.map((element) => authorDeclaration(analysis, element, 'width')?.value ?? '').join(' - ');
  const width = authorDeclaration(analysis, subject, 'width');
  if (variant === 'more' && width && isLength(width.value) && /^[^ ]+( - [^ ]+)*$/.test(left))
    out.push({
      element: subject,
      property: width.source.property,
      source: width.source,
      rule: 'declared',
      because: `${width.value} and ${left.replaceAll(' - ', ' and ')} come to more than all ${cite(width)}`,
      words: 'give it what the others leave',
      steps: [put(analysis, subject, 'width', `calc(100% - ${left})`)],
      rank: 70,
    });
  // Widths that are alike, and with nothing else beside them are wider than the row by themselves.
  const row = boxes.filter((box) => box !== other);
  const widths = row.map((element) => authorDeclaration(analysis, element, 'width')?.value ?? '');
  const part = `calc(100% / ${row.length})`;
  const sum = row.reduce((all, element) => all + laidAreas(analysis.tree, element).rect.width, 0);
  const room = other === null ? Infinity : laidAreas(analysis.tree, other).content.width;
  if (variant === 'whole' && width && widths.every((text) => text === width.value) && sum > room)
    out.push({
      element: subject,
      property: width.source.property,
      source: width.source,
      rule: 'declared',
      because: `${row.length} times ${width.value} is more than all ${cite(width)}`,
      words: 'give each its part of the row',
      steps: [put(analysis, subject, 'width', part)],
      rank: 78,
    });
  for (const element of boxes) {
    const { margin, padding } = laidAreas(analysis.tree, element);
    const both = authorDeclaration(analysis, element, 'margin-left');
    if (variant === 'whole' && both?.owner === element && margin.left >= 0.5 && margin.right >= 0.5)
      out.push({
        element,
        property: both.source.property,
        source: both.source,
        rule: 'margin',
        because: `the margins of ${labelOf(analysis, element)} come on top of widths that come to the whole row ${cite(both)}`,
        words: 'take the margins out on both sides',
        steps: ['margin-left', 'margin-right'].map((property) => put(analysis, element, property, '0')),
        rank: /%/.test(both.value) ? 42 : 84,
      });
    for (const side of ['left', 'right'] as const)
      for (const [area, has, rank] of [
        ['margin', margin[side], 80],
        ['padding', padding[side], 40],
      ] as const) {
        const declaration = authorDeclaration(analysis, element, `${area}-${side}`);
        if (has < 0.5 || !declaration || declaration.owner !== element || declaration.value === 'auto')
          continue;
        out.push({
          element,
          property: declaration.source.property,
          source: declaration.source,
          rule: area,
          because: `the ${area} of ${labelOf(analysis, element)} comes on top of widths that come to the whole row ${cite(declaration)}`,
          words: `take the ${side} ${area} out`,
          steps: [put(analysis, element, `${area}-${side}`, '0')],
          // A part of the row was counted in when the widths were set.
          rank: /%/.test(declaration.value) ? rank - 40 : rank,
        });
      }
    const gap = authorDeclaration(analysis, element, 'column-gap');
    if (gap && gap.owner === element && /[1-9]/.test(gap.value))
      out.push({
        element,
        property: gap.source.property,
        source: gap.source,
        rule: 'gap',
        because: `the gaps of ${labelOf(analysis, element)} come on top of widths that come to the whole row ${cite(gap)}`,
        words: 'take the gap out',
        steps: [put(analysis, element, 'column-gap', '0')],
        rank: 82,
      });
  }
  return out;
}

function ofDefault(analysis: Analysis, { subject, rule, variant }: Observation): Proposal[] {
  const property =
    rule === 'gap/body-margin'
      ? 'margin'
      : rule === 'gap/figure-margin'
        ? 'margin-inline'
        : `padding-${variant}`;
  const area = property.startsWith('margin') ? 'margin' : 'padding';
  return [
    {
      element: subject,
      property,
      source: null,
      rule: 'default',
      because: `the ${area} of ${labelOf(analysis, subject)} is a default that nothing changes`,
      words: `set the ${area} to 0`,
      steps: [put(analysis, subject, property, '0')],
      rank: 90,
    },
  ];
}

function ofBasis(analysis: Analysis, { subject }: Observation): Proposal[] {
  const declaration = authorDeclaration(analysis, subject, 'flex-basis');
  if (!declaration) return [];
  return [
    {
      element: subject,
      property: declaration.source.property,
      source: declaration.source,
      rule: 'declared',
      because: `${labelOf(analysis, subject)} begins as tall as its flex-basis says ${cite(declaration)}`,
      words: 'let it be as tall as its content',
      steps: [put(analysis, subject, 'flex-basis', 'auto')],
      rank: 90,
    },
  ];
}

function ofEmpty(analysis: Analysis, { subject, rule }: Observation): Proposal[] {
  const label = labelOf(analysis, subject);
  const out: Proposal[] = [];
  const paddings = (['padding-top', 'padding-bottom'] as const).flatMap(
    (property) => authorDeclaration(analysis, subject, property) ?? [],
  );
  const [padding] = paddings;
  if (padding && paddings.length === 2)
    out.push({
      element: subject,
      property: padding.source.property,
      source: padding.source,
      rule: 'empty',
      because: `nothing is in ${label}, and it keeps its padding ${cite(padding)}`,
      words: 'give it no padding while it is empty',
      steps: paddings.map(({ property }) => put(analysis, subject, property, '0')),
      rank: 96,
    });
  for (const property of ['min-height', 'padding-top', 'padding-bottom', 'aspect-ratio', 'height']) {
    const declaration = authorDeclaration(analysis, subject, property);
    if (!declaration || declaration.owner !== subject || /^(auto|none|0)/.test(declaration.value)) continue;
    out.push({
      element: subject,
      property: declaration.source.property,
      source: declaration.source,
      rule: 'empty',
      because: `nothing is in ${label}, and it keeps its ${property} ${cite(declaration)}`,
      words: 'take it out',
      steps: [put(analysis, subject, property, property === 'aspect-ratio' ? 'auto' : '0')],
      rank: 85,
    });
  }
  out.push({
    element: subject,
    property: 'display',
    source: null,
    rule: 'empty',
    because:
      rule === 'gap/empty-lines'
        ? `all that is in ${label} is a line without letters`
        : `nothing is in ${label}, and it takes its room all the same`,
    words: 'show it only when something is in it',
    steps: [put(analysis, subject, 'display', 'none')],
    rank: rule === 'gap/empty-lines' ? 88 : 60,
  });
  return out;
}

function ofBreaks(analysis: Analysis, { subject, boxes }: Observation): Proposal[] {
  return [
    {
      element: subject,
      property: 'display',
      source: null,
      rule: 'empty',
      because: 'nothing stands in the lines that they begin',
      words: 'begin no lines for room alone',
      steps: boxes.map((box) => put(analysis, box, 'display', 'none')),
      rank: 80,
    },
  ];
}

function ofCleared(analysis: Analysis, { subject }: Observation): Proposal[] {
  const declaration = authorDeclaration(analysis, subject, 'clear');
  if (!declaration) return [];
  return [
    {
      element: subject,
      property: 'clear',
      source: declaration.source,
      rule: 'clearance',
      because: `${labelOf(analysis, subject)} may not stand beside a float ${cite(declaration)}`,
      words: 'let it stand beside the float',
      steps: [put(analysis, subject, 'clear', 'none')],
      rank: 85,
    },
  ];
}

/** A box that is too wide for what floats leave, and the floats. */
function ofBelow(analysis: Analysis, { subject, boxes }: Observation): Proposal[] {
  const { tree, reading } = analysis;
  const out: Proposal[] = [];
  const floats = boxes.filter((box) => box !== subject);
  const taken = floats.reduce((sum, float) => sum + outerWidth(tree, float), 0);
  for (const element of boxes) {
    const isOwn = element === subject;
    const { border, padding } = laidAreas(tree, element);
    for (const property of ['width', 'min-width']) {
      const declaration = authorDeclaration(analysis, element, property);
      if (!declaration || declaration.owner !== element || !isLength(declaration.value)) continue;
      const base = {
        element,
        property: declaration.source.property,
        source: declaration.source,
        rule: property === 'width' ? 'declared' : 'minimum',
        because: `${labelOf(analysis, element)} is ${property === 'width' ? 'set to' : 'at least'} ${declaration.value} ${cite(declaration)}`,
      };
      const rank = isOwn ? 86 : 70;
      const edges = border.left + border.right + padding.left + padding.right;
      if (property === 'width' && edges > 0 && used(analysis, 'box-sizing', element) === 'content-box')
        out.push({
          ...base,
          words: 'count padding and border in',
          steps: [put(analysis, element, 'box-sizing', 'border-box')],
          rank: rank + 2,
        });
      if (property === 'min-width')
        out.push({
          ...base,
          words: 'take it out',
          steps: [put(analysis, element, property, '0')],
          rank: rank + 1,
        });
      else if (isOwn && !/table|replaced/.test(layoutOf(tree, element)))
        out.push({
          ...base,
          words: 'let it take what the floats leave',
          steps: [put(analysis, element, property, 'auto')],
          rank,
        });
      else if (isOwn)
        out.push({
          ...base,
          words: 'give it what the floats leave',
          steps: [put(analysis, element, property, `calc(100% - ${px(taken)}px)`)],
          rank,
        });
      else
        out.push({ ...base, words: '', steps: [put(analysis, element, property, '0')], rank, isProof: true });
    }
    for (const side of ['left', 'right'] as const) {
      const declaration = authorDeclaration(analysis, element, `margin-${side}`);
      if (!declaration || declaration.owner !== element || usedPx(reading, `margin-${side}`, element) < 0.5)
        continue;
      out.push({
        element,
        property: declaration.source.property,
        source: declaration.source,
        rule: 'margin',
        because: `the margin of ${labelOf(analysis, element)} takes room beside the float ${cite(declaration)}`,
        words: `take the ${side} margin out`,
        steps: [put(analysis, element, `margin-${side}`, '0')],
        rank: 60,
      });
    }
  }
  return out;
}

/** An item that asks for columns which its grid does not have. */
function ofImplicit(analysis: Analysis, { subject, other, boxes }: Observation): Proposal[] {
  const declaration = columnPlacement(analysis, subject);
  if (!declaration || other === null) return [];
  const base = {
    element: subject,
    property: declaration.source.property,
    source: declaration.source,
    rule: 'implicit-track',
    because: `${labelOf(analysis, subject)} asks for columns that ${labelOf(analysis, other)} does not have ${cite(declaration)}`,
  };
  const all = boxes.flatMap((box) => columnPlacement(analysis, box) ?? []);
  const withValue = (value: string) =>
    all.map((entry) =>
      entry.source.property === 'grid-column'
        ? alter(entry, value)
        : put(analysis, entry.element, 'grid-column', value),
    );
  return [
    { ...base, words: 'let it go from the first to the last column', steps: withValue('1 / -1'), rank: 90 },
    { ...base, words: 'put it where there is room', steps: withValue('auto'), rank: 88 },
  ];
}
