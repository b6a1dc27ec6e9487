/** Space that nobody asked for: under pictures, from margins that leave their box, from white space between inline-blocks. */
import type { Analysis } from '../analysis.ts';
import { laidAreas } from '../boxes/areas.ts';
import { isReplaced } from '../boxes/kind.ts';
import { childrenOf, hasBox, inside, rectOf, usedText } from '../boxes/tree.ts';
import { layoutOf } from '../boxes/context.ts';
import { declaredOf } from '../accounts/declared.ts';
import { px } from '../geometry/rect.ts';
import { suspect, type Suspect } from './finding.ts';
import { hasGround, name, sightOf, tagOf } from './sight.ts';

export const kind = 'gap';

const LEAST = 1.5;

export function detect(analysis: Analysis): Suspect[] {
  const { tree } = analysis;
  const { visible } = sightOf(analysis);
  const out: Suspect[] = [];
  for (let i = 1; i < tree.count; i++) {
    if (!visible[i] || !hasBox(tree, i) || layoutOf(tree, i) !== 'flow') continue;
    out.push(...underPicture(analysis, i), ...pushedDown(analysis, i), ...escaped(analysis, i));
  }
  return out;
}

/** Boxes in the flow of a container that are not blank text. */
function contents({ tree }: Analysis, container: number): number[] | null {
  const hasText = (inside(tree).texts.get(container) ?? []).some(({ blank }) => !blank);
  return hasText
    ? null
    : childrenOf(tree, container).filter(
        (one) => hasBox(tree, one) && !/absolute|fixed|float/.test(tree.kinds[one]!),
      );
}

/** A picture alone in its box stands on a baseline, with room for descenders below it (CSS 2.2 §10.8). */
function underPicture(analysis: Analysis, container: number): Suspect[] {
  const { tree, reading } = analysis;
  const own = contents(analysis, container);
  const [only] = own ?? [];
  if (own?.length !== 1 || only === undefined) return [];
  // It may be wrapped in inline boxes: a link around a picture.
  let picture = only;
  while (tree.kinds[picture] === 'inline') {
    const inner = contents(analysis, picture);
    if (inner?.length !== 1) return [];
    picture = inner[0]!;
  }
  if (tree.kinds[picture] !== 'inline-replaced' || !isReplaced(reading, picture)) return [];
  if (!/^(img|svg|video|canvas|iframe)$/.test(tagOf(tree, picture))) return [];
  if (usedText(reading, 'vertical-align', picture) !== 'baseline') return [];
  const { content } = laidAreas(tree, container);
  const { rect, margin } = laidAreas(tree, picture);
  const by = content.y + content.height - (rect.y + rect.height + Math.max(0, margin.bottom));
  const over = rect.y - content.y;
  // In a line that is taller than the picture, the picture has its place beside text to come: an icon.
  if (
    by < LEAST ||
    over > by ||
    rect.height < 24 ||
    declaredOf(analysis, container, 'height').source.origin !== 'browser' ||
    !showsEnd(analysis, container)
  )
    return [];
  return [
    suspect({
      kind,
      px: by,
      axis: 'y',
      subject: picture,
      other: container,
      what: `There are ${px(by)} px below ${name(analysis, picture)} in ${name(analysis, container)} that nothing asks for`,
      form: 'picture',
      boxes: [picture, container],
      weight: 15 + by,
    }),
  ];
}

/** Whether the lower end of a box can be seen: it, or one that ends with it, has a ground or a border there. */
function showsEnd(analysis: Analysis, container: number): boolean {
  const { tree, reading } = analysis;
  const end = (one: number) => rectOf(reading, one).y + rectOf(reading, one).height;
  for (let at = container; at > 0 && tagOf(tree, at) !== 'body'; at = reading.parent[at]!) {
    const { border, padding } = laidAreas(tree, at);
    if (border.bottom > 0 || hasGround(analysis, at)) return true;
    if (padding.bottom > 0 || Math.abs(end(at) - end(container)) > 1) return false;
  }
  return false;
}

/** Inline-blocks that would fit in one line but for the white space between them. */
function pushedDown(analysis: Analysis, container: number): Suspect[] {
  const { tree, reading } = analysis;
  const all = contents(analysis, container);
  if (!all || usedText(reading, 'white-space', container) === 'nowrap') return [];
  const { content } = laidAreas(tree, container);
  const outer = (one: number) => {
    const { rect, margin } = laidAreas(tree, one);
    return rect.width + margin.left + margin.right;
  };
  const top = (one: number) => rectOf(reading, one).y;
  const out: Suspect[] = [];
  let run: number[] = [];
  for (const one of [...all, -1]) {
    if (one >= 0 && tree.kinds[one] === 'inline-block') {
      run.push(one);
      continue;
    }
    const down = run.find((at) => top(at) >= top(run[0]!) + rectOf(reading, run[0]!).height - 1);
    const sum = run.reduce((width, at) => width + outer(at), 0);
    if (down !== undefined && sum <= content.width + 0.5 && sum >= content.width * 0.9) {
      const by = top(down) - top(run[0]!);
      out.push(
        suspect({
          kind,
          px: by,
          axis: 'y',
          subject: down,
          other: container,
          what: `${name(analysis, down)} goes ${px(by)} px down to a line of its own: with the white space between them the boxes are wider than ${name(analysis, container)}`,
          form: 'white-space',
          boxes: [down, container],
          weight: 60 + by,
        }),
      );
    }
    run = [];
  }
  return out;
}

/** A margin that leaves its box at the start, where the box has a ground of its own to be seen (CSS 2.2 §8.3.1). */
function escaped(analysis: Analysis, container: number): Suspect[] {
  const { tree, reading } = analysis;
  if (!hasGround(analysis, container)) return [];
  const own = contents(analysis, container);
  if (!own || own.length === 0 || /^(html|body)$/.test(tagOf(tree, container))) return [];
  const areas = laidAreas(tree, container);
  const ground = (one: number) => usedText(reading, 'background-color', one);
  const parent = reading.parent[container]!;
  if (parent >= 0 && ground(parent) === ground(container)) return [];
  const out: Suspect[] = [];
  for (const [child, side] of [
    [own[0]!, 'top'],
    [own.at(-1)!, 'bottom'],
  ] as const) {
    const { rect, margin } = laidAreas(tree, child);
    const flush =
      side === 'top' ? rect.y - areas.content.y : areas.content.y + areas.content.height - rect.y - rect.height;
    if (margin[side] < 4 || Math.abs(flush) > 0.5 || areas.padding[side] > 0 || areas.border[side] > 0)
      continue;
    if (/flex-item|grid-item|float|inline-block|table-cell|absolute|fixed/.test(tree.kinds[container]!))
      continue;
    if (!/^(block|list-item)$/.test(usedText(reading, 'display', child)) || areas.margin[side] >= margin[side])
      continue;
    out.push(
      suspect({
        kind,
        px: margin[side] - Math.max(0, areas.margin[side]),
        axis: 'y',
        subject: container,
        other: child,
        what: `The ${side} margin of ${name(analysis, child)}, ${px(margin[side])} px, lies outside of ${name(analysis, container)}, whose ground ends without it`,
        form: `escaped-${side}`,
        boxes: [child, container],
        weight: 12 + margin[side] / 2,
      }),
    );
  }
  return out;
}
