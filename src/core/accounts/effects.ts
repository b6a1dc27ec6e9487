/** How a number goes along with the properties of boxes: its sum followed through the sums of the boxes that it names. */
import type { Analysis } from '../analysis.ts';
import type { Axis } from '../geometry/rect.ts';
import { bothEdges, once } from './parts.ts';
import { areaAccount, sizeAccount } from './size.ts';
import type { Cause, Link, Term } from './term.ts';

/** By `box property`: px of the number for every px of the property's used value. 0: it has a part in it that is no length. */
export type Effects = Map<string, number>;

export const effectKey = ({ box, property }: Pick<Cause, 'box' | 'property'>): string => `${box} ${property}`;

function add(into: Effects, key: string, rate: number): void {
  into.set(key, (into.get(key) ?? 0) + rate);
}

/** Effects of a list of terms. `open`: sizes that are being worked out, which do not count twice. */
export function effectsOf(
  analysis: Analysis,
  terms: readonly Pick<Term, 'causes' | 'links' | 'rivals'>[],
  open: ReadonlySet<string> = new Set(),
): Effects {
  const out: Effects = new Map();
  for (const { causes = [], links = [], rivals = [] } of terms) {
    for (const cause of causes) add(out, effectKey(cause), cause.rate);
    for (const link of links)
      for (const [key, rate] of linked(analysis, link, open)) add(out, key, rate * link.rate);
    if (rivals.length === 0) continue;
    const own = effectsOf(analysis, [{ causes, links }], open);
    for (const { terms: others, tie } of rivals)
      for (const [key, rate] of effectsOf(analysis, others, open)) {
        const known = own.get(key) ?? 0;
        const more = tie && rate > known ? rate - known : 0;
        own.set(key, known + more);
        add(out, key, more);
      }
  }
  return out;
}

function linked(analysis: Analysis, { box, axis, area }: Link, open: ReadonlySet<string>): Effects {
  if (box < 0) return new Map();
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
