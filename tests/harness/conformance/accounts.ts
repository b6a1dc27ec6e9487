/**
 * Accounts held against the engine. Residuals: how many sums leave none. Counterfactuals: one property of one box is
 * changed in the engine, and every size on the page must change as its sum says, or stay where the sum has no such cause.
 */
import type { Page } from 'playwright-core';
import type { Analysis } from '../../../src/core/analysis.ts';
import { effectKey, sizeEffects } from '../../../src/core/accounts/model/effects.ts';
import { gapsOf } from '../../../src/core/accounts/block/gaps.ts';
import { declaredOf } from '../../../src/core/accounts/sizing/declared.ts';
import { sizeAccount } from '../../../src/core/accounts/sizing/size.ts';
import type { Account } from '../../../src/core/accounts/model/term.ts';
import { pathOf } from '../../../src/core/reading/labels.ts';
import { hasBox, usedText } from '../../../src/core/boxes/tree.ts';
import type { Axis } from '../../../src/core/geometry/rect.ts';
import type { Opened } from '../../../src/lib/server/engines/headless.ts';
import type { Draw } from './families.ts';

export const NEAR = 0.05;

export interface Share {
  all: number;
  open: number;
}

export interface Result {
  widths: Share;
  heights: Share;
  distances: Share;
  counterfactual: Share;
  causes: Share;
  /** Numbers that did not answer in a straight line, so that they were held at the shortest step. */
  bent: number;
  byKind: Map<string, Share>;
  seen: string[];
}

export const newResult = (): Result => ({
  widths: { all: 0, open: 0 },
  heights: { all: 0, open: 0 },
  distances: { all: 0, open: 0 },
  counterfactual: { all: 0, open: 0 },
  causes: { all: 0, open: 0 },
  bent: 0,
  byKind: new Map(),
  seen: [],
});

const AXES: Axis[] = ['x', 'y'];
const boxesOf = (analysis: Analysis): number[] =>
  Array.from({ length: analysis.reading.count }, (_, i) => i).filter((i) => hasBox(analysis.tree, i));

/** Makes every account, with the content widths that they need. */
export const complete = (opened: Opened, analysis: Analysis): Promise<void> =>
  opened.complete(analysis, () => {
    for (const box of boxesOf(analysis)) for (const axis of AXES) sizeEffects(analysis, box, axis);
  });

const words = ({ used, residual, terms }: Account): string =>
  `${used.toFixed(2)}, ${residual.toFixed(2)} open = ${terms.map(({ px, what, rule, note }) => `${px.toFixed(2)} ${what}/${rule}${note ? ` (${note.slice(0, 50)})` : ''}`).join(' + ')}`;

/** Rules whose px is the box's own measure: such a sum fits whatever is true, so it is not counted. */
const MEASURED = new Set(['drawn', 'control', 'alternative', 'columns', 'pieces']);
const isMeasured = ({ terms }: Account): boolean => terms.some(({ rule }) => MEASURED.has(rule));

export function residuals(analysis: Analysis, name: string, result: Result): void {
  const count = (share: Share, account: Account, where: () => string): void => {
    share.all++;
    if (Math.abs(account.residual) < NEAR) return;
    share.open++;
    result.seen.push(`${name} ${where()}: ${words(account)}`);
  };
  for (const box of boxesOf(analysis)) {
    const kind = analysis.tree.kinds[box]!;
    for (const axis of AXES) {
      const account = sizeAccount(analysis, box, axis);
      if (isMeasured(account)) continue;
      count(
        axis === 'x' ? result.widths : result.heights,
        account,
        () => `${pathOf(analysis.reading, box)} [${kind}] ${axis}`,
      );
      const share = result.byKind.get(kind) ?? { all: 0, open: 0 };
      share.all++;
      if (!(Math.abs(account.residual) < NEAR)) share.open++;
      result.byKind.set(kind, share);
    }
    for (const gap of gapsOf(analysis, box))
      count(
        result.distances,
        gap,
        () => `${pathOf(analysis.reading, box)} gap ${gap.before ?? 'start'} to ${gap.after ?? 'end'}`,
      );
  }
}

const NUMBER =
  /^(width|height|min-|max-|margin-|padding-|border-.*-width|top|right|bottom|left|line-height|font-size|row-gap|column-gap|flex-basis)/;
/** The steps by which a value is changed: whole, half, and one short enough to pass no flip; in px. */
const STEPS = { whole: 2, half: 1, short: 0.5 };
/** Engines round ascents, descents and half of the leading to whole px: heights show no slope over short steps. */
const FONT_STEPS = { whole: 4, half: 2, short: 2 };
const isOfFont = (property: string): boolean => property === 'font-size' || property === 'line-height';

/** The value that makes the used one `by` px larger; null where it cannot be said so. */
function changed(analysis: Analysis, box: number, property: string, by: number): string | null {
  const used = usedText(analysis.reading, property, box);
  const { value: written } = declaredOf(analysis, box, property);
  if (property === 'line-height' && /^[\d.]+$/.test(written))
    return String(
      (Number.parseFloat(used) + by) / Number.parseFloat(usedText(analysis.reading, 'font-size', box)),
    );
  if (property === 'line-height') return /px$/.test(used) ? `calc(${used} + ${by}px)` : null;
  if (property === 'font-size') return `calc(${used} + ${by}px)`;
  const { value } = declaredOf(analysis, box, property);
  if (/^(auto|none|normal|initial|content|.*-content|stretch)$/i.test(value)) return null;
  const plain = /^(thin|medium|thick)$/i.test(value)
    ? { thin: '1px', medium: '3px', thick: '5px' }[value.toLowerCase()]!
    : value;
  return `calc(${/^[-+]?[\d.]+$/.test(plain) && Number(plain) === 0 ? '0px' : plain} + ${by}px)`;
}

interface Seen {
  /** By box: how far its left, its top, its width and its height change, in px. */
  changes: number[];
  /** Lines break elsewhere, or a scrollbar comes or goes: such changes are flips, not slopes. */
  flips: boolean;
}

/** Runs in the specimen: one property of one element changed, every box measured, and the change undone. */
function tryInPage([index, property, value]: [number, string, string]): Seen {
  const elements: Element[] = [];
  // A field of a form may be called like a property of it.
  const childrenOf = Object.getOwnPropertyDescriptor(Element.prototype, 'children')!.get!;
  const visit = (element: Element) => {
    elements.push(element);
    for (const child of Array.from(childrenOf.call(element) as HTMLCollection)) visit(child);
  };
  visit(document.documentElement);
  const element = elements[index] as HTMLElement | undefined;
  const style = element?.getAttribute('style') ?? null;
  const measure = () => {
    const rects = elements.flatMap((element) => {
      const { left, top, width, height } = element.getBoundingClientRect();
      return [left, top, width, height];
    });
    let texts = 0;
    const room = document.documentElement.clientWidth;
    const range = document.createRange();
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    for (let node = walker.nextNode(); node; node = walker.nextNode()) {
      range.selectNodeContents(node);
      texts += range.getClientRects().length;
    }
    return { rects, texts, room };
  };
  // Transitions would put the change off; what is animated stands still within one task.
  const still = document.createElement('style');
  still.textContent = '* { transition: none !important }';
  document.head.append(still);
  const before = measure();
  element?.style.setProperty(property, value, 'important');
  const after = measure();
  if (style === null) element?.removeAttribute('style');
  else element?.setAttribute('style', style);
  still.remove();
  return {
    changes: after.rects.map((rect, i) => rect - before.rects[i]!),
    flips: after.texts !== before.texts || after.room !== before.room,
  };
}

/** Changes `tries` properties, one after the other, and compares every size with what its sum says. */
export async function counterfactuals(
  page: Page,
  opened: Opened,
  analysis: Analysis,
  name: string,
  draw: Draw,
  tries: number,
  result: Result,
): Promise<void> {
  const frame = page.frames().find((frame) => frame.url() === opened.address)!;
  await frame.evaluate('globalThis.__name = (f) => f');
  const boxes = boxesOf(analysis);
  const effects = new Map(
    AXES.flatMap((axis) => boxes.map((box) => [`${box} ${axis}`, sizeEffects(analysis, box, axis)] as const)),
  );
  const causes = [...new Set([...effects.values()].flatMap((value) => [...value.keys()]))].filter((key) =>
    NUMBER.test(key.slice(key.indexOf(' ') + 1)),
  );
  const counting = new Set(causes);
  const lost = boxes
    .flatMap((box) => AXES.flatMap((axis) => sizeAccount(analysis, box, axis).lost))
    .map((entry) => ({ key: effectKey(entry), px: entry.px }))
    .filter(({ key }) => NUMBER.test(key.slice(key.indexOf(' ') + 1)) && !counting.has(key));
  for (let n = 0; n < tries; n++) {
    const losing = lost.length > 0 && draw.chance(0.25);
    if (!losing && causes.length === 0) return;
    const { key, px = 0 } = losing ? draw.pick(lost) : { key: draw.pick(causes) };
    const [id, property = ''] = key.split(' ');
    const box = Number(id);
    // A losing length is brought nearer to 0, so that it does not come to win; a maximum is made larger.
    const direction = losing && px >= 0 && !property.startsWith('max-') ? -1 : 1;
    if (changed(analysis, box, property, direction) === null) continue;
    const seen = new Map<number, Seen>();
    const wanted = new Set([...Object.values(STEPS), ...(isOfFont(property) ? Object.values(FONT_STEPS) : [])]);
    for (const step of wanted) {
      const by = step * direction;
      const value = changed(analysis, box, property, by)!;
      const after = await frame.evaluate(tryInPage, [box, property, value] as [number, string, string]);
      if (!after.flips) seen.set(step, after);
    }
    if (seen.size < wanted.size) continue;
    for (const element of boxes)
      for (const axis of AXES) {
        if (isMeasured(sizeAccount(analysis, element, axis))) continue;
        const at = element * 4 + (axis === 'x' ? 2 : 3);
        const ownEffects = effects.get(`${element} ${axis}`)!;
        const slope = ownEffects.get(key) ?? 0;
        const rounds = isOfFont(property) && axis === 'y';
        const steps = rounds ? FONT_STEPS : STEPS;
        const rounding = rounds ? 1.2 : isOfFont(property) ? 0.3 : 0.1;
        const changeOver = (step: number) => seen.get(step)!.changes[at]!;
        const far = changeOver(steps.whole);
        // Where another item comes to be the largest on the way, the engine's own answer is no straight line: the number
        // is then held at the step before.
        const straight = Math.abs(far - 2 * changeOver(steps.half)) <= Math.min(rounding, 0.6);
        const change = straight ? far : changeOver(steps.short);
        const by = (straight ? steps.whole : steps.short) * direction;
        const said = slope * by;
        const moves = Math.abs(change) > NEAR;
        const where = () =>
          `${name} ${pathOf(analysis.reading, element)} [${analysis.tree.kinds[element]}] ${axis}: ${by} px more ${property} of ${pathOf(analysis.reading, box)} changes it by ${change.toFixed(2)}, the sum says ${said.toFixed(2)} = ${words(sizeAccount(analysis, element, axis))}`;
        if (!straight) result.bent++;
        // Over the steps that fonts need, a flip on the way cannot be told from a slope.
        if (!straight && rounds) continue;
        if (moves && !losing) {
          result.causes.all++;
          if (!ownEffects.has(key)) {
            result.causes.open++;
            result.seen.push(`cause missing: ${where()}`);
          }
        }
        if (!moves && said === 0 && !(losing && element === box)) continue;
        result.counterfactual.all++;
        if (Math.abs(change - said) > rounding + (property === 'font-size' ? Math.abs(change) * 0.05 : 0)) {
          result.counterfactual.open++;
          result.seen.push(`counterfactual: ${where()}`);
        }
      }
  }
}
