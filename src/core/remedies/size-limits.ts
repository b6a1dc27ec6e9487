/** Take out or limit what fixes a size: a width, a minimum, a height (CSS Sizing 3 §3). */
import { cite, isLength, authorDeclaration } from '../accounts/author-declaration.ts';
import type { Observation } from '../finding.ts';
import type { Analysis } from '../analysis.ts';
import { childrenOf, rectOf, usedText } from '../boxes/tree.ts';
import { isReplaced } from '../boxes/kinds.ts';
import { matchesSyntax } from '../css/syntax/property-syntax.ts';
import { isMainAxisVertical } from '../boxes/formatting-contexts.ts';
import { boxName as labelOf, selfAndAncestors } from '../visibility/visibility.ts';
import { alter, put, type Proposal, type Step } from './model.ts';
import { tagOf } from '../reading/labels.ts';

export const name = 'loosen';

/** What lets the flex and grid items around a box shrink, up to the box that a finding is about. */
const itemsAround = (analysis: Analysis, element: number, subject: number): Step[] =>
  selfAndAncestors(analysis, analysis.reading.parent[element]!, analysis.reading.parent[subject]!)
    .filter((at) => /flex-item|grid-item/.test(analysis.tree.kinds[at]!))
    .map((at) => put(analysis, at, 'min-width', '0'));

export function propose(
  analysis: Analysis,
  { kind, boxes, axis, px, subject, other, rule }: Observation,
): Proposal[] {
  if (!/overflow|overlap|clip|stray-scroll/.test(kind)) return [];
  const { reading, tree } = analysis;
  const size = axis === 'x' ? 'width' : 'height';
  const out: Proposal[] = [];
  // A box that what is in it takes all of is not to blame for what comes on top of that.
  const isFilled = boxes.some(
    (box) =>
      box !== subject && axis === 'y' && /%/.test(authorDeclaration(analysis, box, 'height')?.value ?? ''),
  );
  for (const element of boxes) {
    const label = labelOf(analysis, element);
    const used = rectOf(reading, element)[size];
    for (const property of [size, `min-${size}`, `max-${size}`, 'flex-basis', 'aspect-ratio']) {
      if (property === 'flex-basis' && tree.kinds[element] !== 'flex-item') continue;
      const declaration = authorDeclaration(analysis, element, property);
      if (
        !declaration ||
        declaration.owner !== element ||
        !(isLength(declaration.value) || property === 'aspect-ratio')
      )
        continue;
      if (property === `max-${size}` && kind === 'overflow' && axis === 'x') continue;
      if (property === 'aspect-ratio' && (declaration.value === 'auto' || axis === 'x')) continue;
      const fixed = !/%/.test(declaration.value);
      const isAround =
        element === other && (rule === 'overflow/container' || rule === 'overflow/scroll-container');
      const base =
        property === size ? 80 : property === `min-${size}` ? 88 : property === `max-${size}` ? 78 : 60;
      const make = (words: string, value: string, less: number): Proposal => ({
        element,
        property,
        source: declaration.source,
        rule: property.startsWith('min-') ? 'minimum' : property.startsWith('max-') ? 'maximum' : 'declared',
        because: `${label} is ${property === size ? 'set to' : property === `min-${size}` ? 'at least' : property === `max-${size}` ? 'at most' : 'based on'} ${declaration.value} ${cite(declaration)}`,
        words,
        steps: [put(analysis, element, property, value)],
        rank:
          base +
          (fixed ? 5 : 0) +
          (used > px ? 3 : 0) -
          less -
          (isFilled && element === subject ? 12 : 0) -
          (isAround ? 30 : 0),
        gives: property.startsWith('max-') || axis === 'y' ? Infinity : used,
        isAround,
      });
      if (declaration.source.origin === 'attribute') {
        out.push({
          ...make('limit it to its container', 'auto', 0),
          steps: [put(analysis, element, 'max-width', '100%')],
        });
        continue;
      }
      if (property === 'height' && /overlap|clip|^overflow/.test(kind)) {
        out.push({
          ...make('make it a minimum', 'auto', 0),
          steps: [
            put(analysis, element, 'height', 'auto'),
            put(analysis, element, 'min-height', declaration.value),
          ],
        });
        out.push(make('let it be as tall as its content', 'auto', 1));
      } else if (property === 'width' && kind === 'overflow' && fixed) {
        out.push({
          ...make('limit it to its container', 'auto', 0),
          steps: [put(analysis, element, 'max-width', '100%')],
        });
        out.push(make('let it be as wide as it must', 'auto', 1));
        const items = itemsAround(analysis, element, subject);
        if (items.length > 0)
          out.push({
            ...make('limit it to its container, and let that shrink', 'auto', 2),
            steps: [put(analysis, element, 'max-width', '100%'), ...items],
          });
      } else
        out.push(
          make(
            'take it out',
            property.startsWith('min-') ? '0' : property.startsWith('max-') ? 'none' : 'auto',
            0,
          ),
        );
    }
    for (const property of axis === 'y' && kind !== 'stray-scroll'
      ? ['grid-auto-rows', 'grid-template-rows']
      : []) {
      const rows = /grid$/.test(usedText(reading, 'display', element))
        ? authorDeclaration(analysis, element, property)
        : null;
      const growing = rows?.value.replace(/(^|\s|,)(\d*\.?\d+(?:px|rem|em|%))/g, '$1minmax($2, auto)') ?? '';
      if (!rows || growing === rows.value || !matchesSyntax(property, growing)) continue;
      out.push({
        element,
        property,
        source: rows.source,
        rule: 'tracks',
        because: `the rows of ${label} do not grow ${cite(rows)}`,
        words: 'let its rows grow',
        steps: [put(analysis, element, property, growing)],
        rank: 86,
      });
    }
    const isPicture = isReplaced(reading, element) && axis === 'x' && kind === 'overflow';
    const limit = isPicture ? authorDeclaration(analysis, element, 'max-width') : null;
    if (isPicture && (!limit || limit.value === 'none')) {
      const items = itemsAround(analysis, element, subject);
      const base: Omit<Proposal, 'words' | 'steps' | 'rank'> = {
        element,
        property: 'width',
        source: limit?.source ?? authorDeclaration(analysis, element, 'width')?.source ?? null,
        rule: 'replaced',
        because: `${label} is ${Math.round(used)} px wide by itself and has no limit`,
        gives: used,
      };
      const limited = put(analysis, element, 'max-width', '100%');
      out.push({ ...base, words: 'limit it to its container', steps: [limited], rank: 75 });
      out.push({
        ...base,
        words: '',
        steps: [put(analysis, element, 'max-width', '0')],
        rank: 73,
        isProof: true,
      });
      // What it lies in must not be as wide as it for the limit to be one.
      if (items.length > 0)
        out.push({
          ...base,
          words: 'limit it to its container, and let that shrink',
          steps: [limited, ...items],
          rank: 74,
        });
    }
    const isItem = /flex-item|grid-item/.test(tree.kinds[element]!);
    if (isItem && axis === 'x' && !authorDeclaration(analysis, element, 'min-width') && kind !== 'stray-scroll')
      out.push({
        element,
        property: 'min-width',
        source: null,
        rule: 'automatic-minimum',
        because: `${label} may not become narrower than what is in it (min-width is auto on a ${tree.kinds[element]!.replace('-', ' ')})`,
        words: 'let it shrink',
        steps: [put(analysis, element, 'min-width', '0')],
        rank: 50,
        gives: kind === 'overflow' ? used : Infinity,
      });
    const isGrown =
      tree.kinds[element] === 'grid-item' ||
      (tree.kinds[element] === 'flex-item' && isMainAxisVertical(tree, reading.parent[element]!));
    if (
      isGrown &&
      axis === 'y' &&
      /clip|overflow/.test(kind) &&
      !authorDeclaration(analysis, element, 'min-height')
    )
      out.push({
        element,
        property: 'min-height',
        source: null,
        rule: 'automatic-minimum',
        because: `${label} may not become lower than what is in it (min-height is auto on a ${tree.kinds[element]!.replace('-', ' ')})`,
        words: 'let it shrink, so that what is in it scrolls',
        steps: [put(analysis, element, 'min-height', '0')],
        rank: rule === 'overflow/never-scrolls' ? 92 : 50,
      });
    const contained =
      axis === 'x' && used < px + 1
        ? ['container-type', 'contain']
            .map((property) => authorDeclaration(analysis, element, property))
            .find(
              (declaration) =>
                declaration?.owner === element && /\b(inline-size|size|strict)\b/.test(declaration.value),
            )
        : null;
    if (contained && kind !== 'stray-scroll') {
      const base: Omit<Proposal, 'words' | 'steps' | 'rank'> = {
        element,
        property: contained.property,
        source: contained.source,
        rule: 'contained-size',
        because: `${label} is as wide as if nothing were in it ${cite(contained)}`,
      };
      if (tree.kinds[element] === 'flex-item')
        out.push({
          ...base,
          words: 'let it take the room that there is',
          steps: [put(analysis, element, 'flex', '1 1 0')],
          rank: 93,
        });
      out.push({
        ...base,
        words: 'give it the width of its container',
        steps: [put(analysis, element, 'width', '100%')],
        rank: 92,
      });
      out.push({ ...base, words: 'do not contain its size', steps: [alter(contained, '')], rank: 91 });
    }
    if (axis === 'x' && kind === 'overflow' && isInColumns(analysis, element)) {
      const tall = ['height', 'max-height']
        .map((property) => authorDeclaration(analysis, element, property))
        .find((declaration) => declaration?.owner === element && isLength(declaration.value));
      if (tall)
        out.push({
          element,
          property: tall.property,
          source: tall.source,
          rule: 'column-height',
          because: `the columns of ${label} end at ${tall.value}, and what is left goes on in further columns beside them ${cite(tall)}`,
          words: 'let its columns be as tall as they must',
          steps: [put(analysis, element, tall.property, tall.property === 'height' ? 'auto' : 'none')],
          rank: 87,
        });
    }
    if (
      tagOf(tree.reading, element) === 'fieldset' &&
      axis === 'x' &&
      !authorDeclaration(analysis, element, 'min-width')
    )
      out.push({
        element,
        property: 'min-width',
        source: null,
        rule: 'fieldset-minimum',
        because: `${label} may not become narrower than what is in it (min-inline-size of a fieldset is min-content by default)`,
        words: 'let it shrink',
        steps: [put(analysis, element, 'min-width', '0')],
        rank: 86,
      });
    const shrink =
      tree.kinds[element] === 'flex-item' ? authorDeclaration(analysis, element, 'flex-shrink') : null;
    if (shrink?.value === '0' && kind !== 'stray-scroll')
      out.push({
        element,
        property: 'flex-shrink',
        source: shrink.source,
        rule: 'no-shrink',
        because: `${label} may not shrink ${cite(shrink)}`,
        words: 'let it shrink',
        steps: [put(analysis, element, 'flex-shrink', '1'), put(analysis, element, 'min-width', '0')],
        rank: 72,
      });
    const display = usedText(reading, 'display', element);
    if (
      /flex$/.test(display) &&
      axis === 'x' &&
      usedText(reading, 'flex-wrap', element) === 'nowrap' &&
      kind !== 'stray-scroll'
    ) {
      // Where nothing is said of wrapping, what makes a line of them is that they are flex items.
      const declaration = authorDeclaration(analysis, element, 'flex-wrap');
      const line = declaration ?? authorDeclaration(analysis, element, 'display');
      const place = line ? ` ${cite(line)}` : '';
      out.push({
        element,
        property: 'flex-wrap',
        source: line?.source ?? null,
        rule: 'one-line',
        because: `the items of ${label} must stand in one line${place}`,
        words: 'let its items wrap',
        steps: [put(analysis, element, 'flex-wrap', 'wrap')],
        rank: declaration ? 76 : 45,
      });
      const fixed = childrenOf(tree, element).filter((child) => {
        const width = authorDeclaration(analysis, child, 'width');
        return width !== null && width.owner === child && isLength(width.value) && !/%/.test(width.value);
      });
      if (fixed.length > 0)
        out.push({
          element,
          property: 'flex-wrap',
          source: line?.source ?? null,
          rule: 'one-line',
          because: `the items of ${label} have widths of their own and must stand in one line${place}`,
          words: 'let its items wrap, none wider than it',
          steps: [
            put(analysis, element, 'flex-wrap', 'wrap'),
            ...fixed.map((element) => put(analysis, element, 'max-width', '100%')),
            ...itemsAround(analysis, element, subject),
          ],
          rank: 44,
        });
    }
    const columns =
      /grid$/.test(display) && axis === 'x'
        ? authorDeclaration(analysis, element, 'grid-template-columns')
        : null;
    const shrinking =
      columns?.value
        .replace(/(^|\s|,)(\d*\.?\d+fr)/g, '$1minmax(0, $2)')
        .replace(/(^|\s|,)(\d+(?:px|rem|em))/g, '$1minmax(0, $2)') ?? '';
    if (
      columns &&
      columns.source.property.startsWith('grid') &&
      !/minmax\(\s*0/.test(columns.value) &&
      shrinking !== columns.value &&
      matchesSyntax('grid-template-columns', shrinking)
    )
      out.push({
        element,
        property: 'grid-template-columns',
        source: columns.source,
        rule: 'tracks',
        because: `the columns of ${label} do not shrink ${cite(columns)}`,
        words: 'let its columns shrink',
        steps: [put(analysis, element, 'grid-template-columns', shrinking)],
        rank: 79,
      });
  }
  return out;
}

const isInColumns = ({ reading }: Analysis, element: number): boolean =>
  ['column-count', 'column-width'].some((text) => !/^(auto|)$/.test(usedText(reading, text, element)));
