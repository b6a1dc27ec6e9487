/** How a number goes along with the properties of boxes: its sum followed through the sums of the boxes that it names. */
import type { Analysis } from '../../analysis.ts';
import type { Axis } from '../../geometry/rect.ts';
import { atomHome, firstHome } from '../../boxes/line-boxes.ts';
import { flowSides } from '../../geometry/writing-modes.ts';
import { sinceFloat } from '../sizing/auto-block-size.ts';
import { fieldGrounds, partGrounds } from '../inline/line-heights.ts';
import { blockFlowOf } from '../block/margins.ts';
import { bothEdges, edgeTerms, marginTerms, once } from './term-builders.ts';
import { isLow } from '../positioned/placement.ts';
import { holderOf, stepOf } from '../position.ts';
import { areaAccount, sizeAccount } from '../sizing/size.ts';
import type { Along, Cause, Link } from './term.ts';

/** By `box property`: px of the number for every px of the property's used value. 0: it has a part in it that is no length. */
export type Effects = Map<string, number>;

export const effectKey = ({ box, property }: Pick<Cause, 'box' | 'property'>): string => `${box} ${property}`;

function add(into: Effects, key: string, rate: number): void {
  into.set(key, (into.get(key) ?? 0) + rate);
}

/** Effects of a list of terms. `open`: sizes that are being worked out, which do not count twice. */
export function effectsOf(
  analysis: Analysis,
  terms: readonly Along[],
  open: ReadonlySet<string> = new Set(),
): Effects {
  const out: Effects = new Map();
  for (const { causes = [], links = [], rivals = [] } of terms) {
    for (const cause of causes) add(out, effectKey(cause), cause.rate);
    for (const link of links)
      for (const [key, rate] of linked(analysis, link, open)) add(out, key, rate * link.rate);
    if (rivals.length === 0) continue;
    const whole: Along = { causes, links };
    const standing = new Map<Along, Effects>();
    for (const { terms: others, tie, against = whole, rate: share = 1 } of rivals) {
      const effects = standing.get(against) ?? effectsOf(analysis, [against], open);
      standing.set(against, effects);
      for (const [key, rate] of effectsOf(analysis, others, open)) {
        const previous = effects.get(key) ?? 0;
        const more = tie && rate > previous ? rate - previous : 0;
        effects.set(key, previous + more);
        add(out, key, more * share);
      }
    }
  }
  return out;
}

function linked(analysis: Analysis, link: Link, open: ReadonlySet<string>): Effects {
  const { box, axis, area } = link;
  if (box < 0) return new Map();
  if (area === 'reach') return reachEffects(analysis, link, open);
  if (area === 'baseline') return baselineEffects(analysis, link, open);
  if (area === 'area') return effectsOf(analysis, areaAccount(analysis, box, axis).terms, open);
  const whole = sizeEffects(analysis, box, axis, open);
  if (area === 'border') return whole;
  const edges = bothEdges(analysis, box, axis).filter(
    ({ what }) => area === 'content' || what.startsWith('border'),
  );
  const out: Effects = new Map(whole);
  for (const [key, rate] of effectsOf(analysis, edges, open)) add(out, key, -rate);
  return out;
}

/** From the start of a container's content to the margin edge of a box somewhere in it, along the container's block axis. */
function reachEffects(analysis: Analysis, { box, axis, from = -1 }: Link, open: ReadonlySet<string>): Effects {
  const key = `reach ${box} ${from}`;
  if (open.has(key)) return new Map();
  return once(analysis, key, () => {
    const inner = new Set([...open, key]);
    const { blockStart, blockEnd } = flowSides(analysis.reading, from);
    const low = isLow(blockStart);
    const out: Effects = new Map();
    const put = (effects: Effects, rate: number) => {
      for (const [name, slope] of effects) add(out, name, slope * rate);
    };
    // Steps go from low border edge to low border edge.
    const sign = low ? 1 : -1;
    const above = new Set<number>();
    for (let at = from; at >= 0; at = holderOf(analysis, at)) above.add(at);
    let at = box;
    for (; at >= 0 && !above.has(at); at = holderOf(analysis, at)) {
      const { terms } = stepOf(analysis, at, axis);
      put(
        effectsOf(analysis, at === box ? terms.filter(({ rule }) => rule !== 'relative') : terms, inner),
        sign,
      );
    }
    for (let element = from; element !== at; element = holderOf(analysis, element))
      put(effectsOf(analysis, stepOf(analysis, element, axis).terms, inner), -sign);
    put(effectsOf(analysis, edgeTerms(analysis, from, blockStart), inner), -1);
    if (low) put(sizeEffects(analysis, box, axis, inner), 1);
    else put(sizeEffects(analysis, from, axis, inner), 1);
    put(effectsOf(analysis, marginTerms(analysis, box, blockEnd, 1), inner), 1);
    return out;
  });
}

/** From the border edge at the start of an inline-level box to the baseline that it stands on. */
function baselineEffects(analysis: Analysis, { box, axis }: Link, open: ReadonlySet<string>): Effects {
  const { tree, reading } = analysis;
  const inline = tree.kinds[box]!.startsWith('inline');
  const home = inline ? atomHome(tree, box) : firstHome(tree, box, flowSides(reading, box));
  if (!home) return effectsOf(analysis, [fieldGrounds(analysis, box)], open);
  const sides = flowSides(reading, home.box);
  if (!isLow(sides.blockStart) || sides.block !== axis) return new Map();
  const key = `baseline ${box}`;
  if (open.has(key)) return new Map();
  return once(analysis, key, () => {
    const inner = new Set([...open, key]);
    const terms: Along[] = [];
    for (let at = home.box; at !== box; at = holderOf(analysis, at)) {
      if (at < 0) return new Map();
      terms.push(...stepOf(analysis, at, axis).terms);
    }
    const blockFlow = home.item < 0 ? null : blockFlowOf(analysis, home.box);
    const line = blockFlow?.lines[home.item]?.[home.line];
    if (blockFlow && line) {
      const count = blockFlow.betweens.findIndex(({ after }) => after === home.item) + 1;
      terms.push(
        ...edgeTerms(analysis, home.box, sides.blockStart),
        ...sinceFloat(analysis, blockFlow, count, home.line),
        partGrounds(analysis, home.box, line.above, 'over'),
      );
    } else terms.push({ links: [{ box: home.box, axis, area: 'border', rate: 1 }] });
    return effectsOf(analysis, terms, inner);
  });
}

/** What the border box of a box goes along with. */
export function sizeEffects(
  analysis: Analysis,
  box: number,
  axis: Axis,
  open: ReadonlySet<string> = new Set(),
): Effects {
  const key = `effects ${box} ${axis}`;
  if (open.has(key)) return new Map();
  return once(analysis, key, () =>
    effectsOf(analysis, sizeAccount(analysis, box, axis).terms, new Set([...open, key])),
  );
}
