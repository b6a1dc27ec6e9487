/** Declarations that do nothing wherever they apply, though their author wanted something seen. */
import { authorDeclaration } from '../../accounts/author-declaration.ts';
import { inertOf } from '../../accounts/inert.ts';
import { declaredPx } from '../../accounts/sizing/declared.ts';
import type { Analysis } from '../../analysis.ts';
import { laidAreas } from '../../boxes/areas.ts';
import { refusal } from '../../boxes/kinds.ts';
import { childrenOf, hasBox, inside, rectOf, usedText } from '../../boxes/tree.ts';
import { candidates } from '../../css/cascade/candidates.ts';
import type { Plan } from '../../css/cascade/plan.ts';
import type { Candidate, Source, Styles } from '../../css/cascade/styles.ts';
import { appliesUnderAnotherCondition } from '../../evidence/applies-under-another-condition.ts';
import { observed, oncePerAnalysis, type Observed, type Rule } from '../model.ts';
import { linesAt } from '../../boxes/text-lines.ts';
import { facts, type Fact } from '../../evidence/model.ts';
import { contentEnds } from '../../visibility/content-extent.ts';
import { flowContents } from '../../visibility/flow-contents.ts';
import { isSolid } from '../../visibility/placement.ts';
import {
  inkOf,
  intersection,
  isSelfOrAncestor,
  visibilityOf,
  selfAndAncestors,
  boxName,
} from '../../visibility/visibility.ts';
import { stopsByEvidence, stopsByGeometry, stopsByVisibility } from '../stops.ts';

/** What would be seen by its effect; what only readies a box for later is left out. */
const VISIBLE =
  /^(position|z-index|(min-|max-)?(width|height)|margin-(top|bottom|left|right)|top|right|bottom|left|vertical-align|float|clear|(column|row)-gap|justify-(content|items|self)|align-(items|content|self)|order|flex-(grow|shrink|basis|direction|wrap)|grid-.*|aspect-ratio|object-fit|overflow-[xy]|transform|text-(align|overflow)|table-layout|border-spacing|border-(top|right|bottom|left)-width)$/;

/** What is declared of a box, and of others of which the same is; declarations by their numbers. */
interface Declared {
  visible: { property: string; number: number }[];
  numbers: readonly number[];
}

const declared = new WeakMap<ReadonlyMap<string, Candidate[]>, Declared>();

/** Numbers of declarations, by where they stand in the sheets of one plan. */
const numbers = new WeakMap<Plan, Map<string, number>>();

function numberOf(plan: Plan, { sheet, line, column, property }: Source): number {
  let cached = numbers.get(plan);
  if (!cached) numbers.set(plan, (cached = new Map()));
  const key = `${sheet} ${line} ${column} ${property}`;
  let number = cached.get(key);
  if (number === undefined) cached.set(key, (number = cached.size));
  return number;
}

function declaredOf({ plan }: Styles, all: ReadonlyMap<string, Candidate[]>): Declared {
  let cached = declared.get(all);
  if (!cached) {
    const firsts = [...all].flatMap(([property, [first]]) =>
      first ? [{ property, number: numberOf(plan, first.source) }] : [],
    );
    cached = {
      visible: firsts.filter(({ property }) => VISIBLE.test(property)),
      numbers: [...new Set(firsts.map(({ number }) => number))],
    };
    declared.set(all, cached);
  }
  return cached;
}

const NOTHING =
  /^(0(px|%)?|auto|none|normal|initial|inherit|unset|baseline|static|visible|stretch|flex-start|start)$/i;

const SIZES = /width$|height$/;

const sizeOf = (property: string) => (property.endsWith('width') ? 'width' : 'height');

/** Selectors that reach whatever comes say nothing of the box at hand. */
const SWEEPING = /^\*|^(html|body)$|,[^,]*,[^,]*,|^[a-z]+(, *[a-z]+)+$/;

/** Whether a box that does not fill its container could be moved along in it. */
function hasRoomBeside({ tree, reading }: Analysis, element: number): boolean {
  const parent = reading.parent[element]!;
  if (
    parent < 0 ||
    !hasBox(tree, parent) ||
    !/^(float|inline-block|inline-replaced)$/.test(tree.kinds[element]!)
  )
    return false;
  const alone = childrenOf(tree, parent).filter((child) => hasBox(tree, child)).length === 1;
  return alone && rectOf(reading, element).width < laidAreas(tree, parent).content.width - 16;
}

/**
 * Whether what stands in a box's container leaves room above or below it, so that it could stand higher or lower than it
 * does: where it is as it is to be by other means, nothing is missed.
 */
function hasRoomAbove(analysis: Analysis, element: number, place: string): boolean {
  const { tree, reading } = analysis;
  const parent = reading.parent[element]!;
  if (parent < 0 || !hasBox(tree, parent)) return false;
  // Where the container says how it aligns its items, that is what was wanted.
  if (/^(flex|grid)-item$/.test(tree.kinds[element]!) && authorDeclaration(analysis, parent, 'align-items'))
    return false;
  const { y, height } = laidAreas(tree, parent).content;
  const boxes = childrenOf(tree, parent).filter((child) => hasBox(tree, child));
  const laid = boxes.map((box) => laidAreas(tree, box));
  const above = Math.min(...laid.map(({ rect, margin }) => rect.y - margin.top)) - y;
  const below = y + height - Math.max(...laid.map(({ rect, margin }) => rect.y + rect.height + margin.bottom));
  if (/top$/.test(place)) return above >= 3;
  if (/bottom$/.test(place)) return below >= 3;
  return place === 'middle' ? Math.abs(above - below) >= 3 : above >= 3 || below >= 3;
}

/** Whether a box has room above or below what is in it that an alignment of its own content would share out. */
function hasRoomInside(analysis: Analysis, element: number, place: string): boolean {
  const ends = contentEnds(analysis, element);
  if (!ends || !hasBox(analysis.tree, element)) return false;
  const { y, height } = laidAreas(analysis.tree, element).content;
  const [above, below] = [ends.top - y, y + height - ends.bottom];
  if (place === 'middle') return Math.abs(above - below) >= 6;
  return place === 'bottom' && below >= 6;
}

/** Whether a box that is painted later lies over what a box holds. */
function isCovered(analysis: Analysis, element: number): boolean {
  const { tree, reading, order } = analysis;
  const rect = rectOf(reading, element);
  const { visible } = visibilityOf(analysis);
  for (let i = 1; i < tree.count; i++) {
    if (order[i]! <= order[element]! || !visible[i] || isSelfOrAncestor(analysis, element, i)) continue;
    const common = intersection(rect, rectOf(reading, i));
    if (common && Math.min(common.width, common.height) >= 3 && isSolid(analysis, i)) return true;
  }
  return false;
}

/** Whether the text of a box goes on in further lines, or sticks out of it. */
function hasLongText(analysis: Analysis, element: number): boolean {
  if (linesOf(analysis, element) > 1) return true;
  const { x, width } = rectOf(analysis.reading, element);
  return inkOf(analysis, element).some((ink) => ink.x + ink.width > x + width + 1);
}

const linesOf = ({ tree }: Analysis, element: number): number =>
  linesAt(
    Float64Array.from(
      (inside(tree).texts.get(element) ?? []).flatMap(({ pieces }) =>
        pieces.map(({ y, height }) => y + height / 2),
      ),
    ).sort(),
  );

/** Whether the sides of a box are not in the ratio that is declared of it. */
function isOffRatio({ tree }: Analysis, element: number, value: string): boolean {
  const [across = NaN, down = 1] = (/[\d.]+(\s*\/\s*[\d.]+)?/.exec(value)?.[0] ?? '').split('/').map(Number);
  const { width, height } = laidAreas(tree, element).rect;
  return height > 0 && Math.abs(width / height / (across / down) - 1) > 0.05;
}

/** Whether a box is alone in a container that has room beside it. */
function hasRoomBesideText(analysis: Analysis, element: number): boolean {
  const { tree, reading } = analysis;
  const parent = reading.parent[element]!;
  if (parent < 0 || !hasBox(tree, parent)) return false;
  const isAlone = flowContents(analysis, parent)?.length === 1;
  return isAlone && laidAreas(tree, parent).content.width - rectOf(reading, element).width > 16;
}

/** Whether a float stands beside a box that does not clear it. */
function hasFloatBeside(analysis: Analysis, element: number): boolean {
  const { tree, reading } = analysis;
  const { y, height } = rectOf(reading, element);
  return selfAndAncestors(analysis, reading.parent[element]!)
    .flatMap((above) => childrenOf(tree, above))
    .some((box) => {
      if (tree.kinds[box] !== 'float' || isSelfOrAncestor(analysis, box, element)) return false;
      const beside = rectOf(reading, box);
      return beside.y < y + height && beside.y + beside.height > y + 1;
    });
}

/** Whether a box does not stand at the side of its container to which it is to float. */
function isAside(analysis: Analysis, element: number, side: string): boolean {
  const { tree, reading } = analysis;
  const parent = reading.parent[element]!;
  if (parent < 0 || !hasBox(tree, parent)) return true;
  const { content } = laidAreas(tree, parent);
  const { rect, margin } = laidAreas(tree, element);
  const isRight = side === 'right' || side === 'inline-end';
  return isRight
    ? content.x + content.width - (rect.x + rect.width + margin.right) > 3
    : rect.x - margin.left - content.x > 3;
}

/** Whether something would be seen of it if the declaration did what it says. */
function isMissed(analysis: Analysis, element: number, property: string, value: string): boolean {
  if (property === 'vertical-align')
    return hasRoomAbove(analysis, element, value) || hasRoomInside(analysis, element, value);
  if (property === 'z-index') return isCovered(analysis, element);
  if (property === 'text-overflow') return hasLongText(analysis, element);
  if (property === 'aspect-ratio') return isOffRatio(analysis, element, value);
  if (property === 'text-align') return hasRoomBesideText(analysis, element);
  if (
    /^(table-layout|flex-|order|grid-|align-self|justify-self|justify-items|overflow-|object-fit)/.test(
      property,
    )
  )
    return false;
  if (property === 'float') return isAside(analysis, element, value);
  return property !== 'clear' || hasFloatBeside(analysis, element);
}

/** Which rule an inert declaration is told by. */
type InertOn = 'inline' | 'sticky' | 'other';

/** Declarations that do nothing, by whose rule tells of them: of inline boxes, of sticky positioning, or any other. */
export const inertDeclarations = oncePerAnalysis((analysis): Record<InertOn, Observed[]> => {
  const { tree, styles } = analysis;
  const { visible } = visibilityOf(analysis);
  const without = new Map<
    number,
    { source: Source; elements: number[]; why: string; value: string; property: string; evidence: Fact[] }
  >();
  /** Those that are known to work: what works on one box is of use, whatever it does on the others. */
  const works: boolean[] = [];
  /** What is declared and known to work altogether, of whichever boxes. */
  const settled = new Set<Declared>();
  for (let i = 1; i < tree.count; i++) {
    if (stopsByGeometry(analysis, i, !hasBox(tree, i) && 'it has no box')) continue;
    const all = declaredOf(styles, candidates(styles, i));
    if (
      stopsByEvidence(
        analysis,
        i,
        settled.has(all) && 'its declarations are those of other boxes, on which they have an effect',
      )
    )
      continue;
    const kindOf = tree.kinds[i]!;
    // Whether a size is beaten by another is seen in its account; here it is whether the box takes sizes at all.
    const asked: string[] = [];
    for (const { property, number } of all.visible) {
      if (works[number]) continue;
      if (property === 'position' && usedText(tree.reading, 'position', i) !== 'sticky') continue;
      if (SIZES.test(property) && refusal(kindOf, sizeOf(property)) === null) continue;
      asked.push(property);
    }
    const inert = asked.length === 0 ? [] : inertOf(analysis, i, asked);
    stopsByGeometry(
      analysis,
      i,
      inert.length === 0 && 'none of its declarations that this rule asks about is without effect',
    );
    const seen = new Set<number>();
    for (const { property: names, value, source, why } of inert) {
      const property = names.split(', ')[0]!;
      const centres = /^margin-(left|right)$/.test(property) && value === 'auto' && hasRoomBeside(analysis, i);
      const isDefault =
        (NOTHING.test(value) && !centres) || !/^(author|inline)$/.test(source.origin) || source.line === 0;
      if (
        stopsByEvidence(
          analysis,
          i,
          isDefault && `${property}: ${value} asks for nothing, or is no declaration of the author`,
        )
      )
        continue;
      const isOfFloat = property === 'vertical-align' && tree.kinds[i] === 'float';
      if (
        stopsByEvidence(
          analysis,
          i,
          isOfFloat && 'vertical-align does nothing on floats, and nothing is missed',
        )
      )
        continue;
      const number = numberOf(styles.plan, source);
      seen.add(number);
      if (stopsByVisibility(analysis, i, !visible[i] && 'it cannot be seen')) continue;
      const previous = without.get(number) ?? {
        source,
        elements: [],
        why,
        value,
        property,
        // Of the first of them: the others are there for the same reason.
        evidence: facts(
          [
            'nothing-is-missed',
            !isMissed(analysis, i, property, value) &&
              `Nothing would be seen of it if ${property}: ${value} had its effect`,
          ],
          [
            'for-another-condition',
            appliesUnderAnotherCondition(analysis, i, property) &&
              `${property}: ${value} has its effect under another condition`,
          ],
        ),
      };
      previous.elements.push(i);
      without.set(number, previous);
    }
    for (const number of all.numbers) if (!seen.has(number)) works[number] = true;
    if (all.numbers.every((number) => works[number])) settled.add(all);
  }
  const out: Record<InertOn, Observed[]> = { inline: [], sticky: [], other: [] };
  for (const [number, { source, elements, why, value, property, evidence }] of without) {
    const [first] = elements;
    if (
      stopsByEvidence(
        analysis,
        first!,
        works[number] === true && `${property}: ${value} has an effect on other boxes`,
      )
    )
      continue;
    const wanted = declaredPx(analysis, first!, property, value);
    if (
      stopsByVisibility(
        analysis,
        first!,
        Number.isFinite(wanted) && Math.abs(wanted) < 3 && `${property}: ${value} is less than 3 px`,
      )
    )
      continue;
    const { width, height } = rectOf(analysis.reading, first!);
    const has = property.endsWith('width') ? width : property.endsWith('height') ? height : 0;
    // A limit that the box keeps anyway has nothing to do.
    const isKept = /^max-/.test(property) ? has <= wanted : /^min-/.test(property) && has >= wanted;
    if (stopsByVisibility(analysis, first!, isKept && `it keeps ${property}: ${value} anyway`)) continue;
    const on = property === 'position' ? 'sticky' : tree.kinds[first!] === 'inline' ? 'inline' : 'other';
    out[on].push(
      observed({
        // What it asks for and does not get; not a matter of px where that is no length.
        px: Number.isFinite(wanted) ? Math.abs(wanted - has) : 0,
        axis: /height|top|bottom|row/.test(property) ? 'y' : 'x',
        subject: first!,
        what: `${source.property}: ${source.value} does nothing on ${elements.length === 1 ? boxName(analysis, first!) : `${elements.length} boxes`}: ${why}`,
        evidence: [
          ...evidence,
          ...facts([
            'sweeping-selector',
            SWEEPING.test(source.selector) &&
              `${source.selector} reaches many boxes, and says nothing of this one`,
          ]),
        ],
        places: elements,
        weight: 8,
        source,
      }),
    );
  }
  return out;
});

export const rule: Rule<'declaration/inert'> = {
  id: 'declaration/inert',
  kind: 'inert',
  title: 'A declaration does nothing',
  spec: ['CSS 2.2 §6.1'],
  why: 'A property applies to some kinds of boxes alone, and some have no effect without another one.',
  usual: 'Give it what it needs to have its effect, or take it out.',
  example: `<style>p { left: 30px }</style><p>Not moved: it is not positioned</p>`,
  observe: (analysis) => inertDeclarations(analysis).other,
};
