/** The rules, and all that they tell of a reading. Adding a rule is adding its file and its line here. */
import type { Analysis } from '../analysis.ts';
import { isTurned } from '../boxes/transforms.ts';
import { judging } from '../evidence/index.ts';
import { GRADES } from '../evidence/model.ts';
import type { Observation, Suspect } from '../finding.ts';
import type { Wish } from '../wishes/model.ts';
import { standingsOf, worstOf } from '../wishes/quantities.ts';
import { labelOf } from '../reading/labels.ts';
import { selfAndAncestors } from '../visibility/visibility.ts';
import { rule as clipClipPath } from './clip/clip-path.ts';
import { rule as clipCutOff } from './clip/cut-off.ts';
import { rule as declarationDropped } from './declaration/dropped.ts';
import { rule as declarationInert } from './declaration/inert.ts';
import { rule as declarationInertOnInline } from './declaration/inert-on-inline.ts';
import { rule as declarationNeverSticks } from './declaration/never-sticks.ts';
import { rule as defaultsDependence } from './defaults/dependence.ts';
import { rule as gapBelowFloat } from './gap/below-float.ts';
import { rule as gapBodyMargin } from './gap/body-margin.ts';
import { rule as gapCellMiddle } from './gap/cell-middle.ts';
import { rule as gapClearance } from './gap/clearance.ts';
import { rule as gapEmptyBox } from './gap/empty-boxes.ts';
import { rule as gapEmptyLines } from './gap/empty-lines.ts';
import { rule as gapEscapedMargin } from './gap/escaped-margins.ts';
import { rule as gapFigureMargin } from './gap/figure-margin.ts';
import { rule as gapFlexBasisAsHeight } from './gap/flex-basis-as-height.ts';
import { rule as gapImplicitColumns } from './gap/implicit-columns.ts';
import { rule as gapLineBreaks } from './gap/line-breaks.ts';
import { rule as gapListPadding } from './gap/list-padding.ts';
import { rule as gapPictureOnBaseline } from './gap/picture-on-baseline.ts';
import { rule as gapUnevenEnd } from './gap/uneven-end.ts';
import { rule as gapUnevenStart } from './gap/uneven-start.ts';
import { rule as gapUnevenSpacing } from './gap/uneven-spacing.ts';
import { rule as gapWhiteSpaceBetween } from './gap/white-space-between.ts';
import { rule as gapWrappedRow } from './gap/wrapped-row.ts';
import { rule as overflowBeforePage } from './overflow/before-page.ts';
import { rule as overflowContainer } from './overflow/container.ts';
import { rule as overflowContentBelow } from './overflow/content-below.ts';
import { rule as overflowFixedBeyondView } from './overflow/fixed-beyond-view.ts';
import { rule as overflowGeneratedContent } from './overflow/generated-content.ts';
import { rule as overflowIntoPadding } from './overflow/into-padding.ts';
import { rule as overflowNeverScrolls } from './overflow/never-scrolls.ts';
import { rule as overflowOwnText } from './overflow/own-text.ts';
import { rule as overflowPage } from './overflow/page.ts';
import { rule as overflowScrollContainer } from './overflow/scroll-container.ts';
import { rule as overflowUncontainedFloat } from './overflow/uncontained-float.ts';
import { rule as overlapCloseLines } from './overlap/close-lines.ts';
import { rule as overlapContentBelow } from './overlap/content-below.ts';
import { rule as overlapCovered } from './overlap/covered.ts';
import { rule as overlapDisplacedBackground } from './overlap/displaced-background.ts';
import { rule as overlapFixedBar } from './overlap/fixed-bar.ts';
import { rule as overlapGeneratedContent } from './overlap/generated-content.ts';
import { rule as overlapInk } from './overlap/ink-over-ink.ts';
import { rule as overlapLineGround } from './overlap/line-ground.ts';
import { rule as overlapSiblings } from './overlap/siblings.ts';
import { rule as overlapStackedSticky } from './overlap/stacked-sticky.ts';
import { rule as scrollFits } from './scroll/fits.ts';
import { rule as scrollUnseen } from './scroll/unseen.ts';
import { rule as sizeAspectRatio } from './size/aspect-ratio.ts';
import { rule as sizeContentMinimum } from './size/content-minimum.ts';
import { rule as sizeDeclared } from './size/declared.ts';
import { rule as sizeObjectFit } from './size/object-fit.ts';
import { rule as sizePercentHeight } from './size/percent-height.ts';
import { rule as sizePercentHeightOfPage } from './size/percent-height-of-page.ts';
import { rule as sizeRound } from './size/round.ts';
import { rule as sizeSquare } from './size/square.ts';
import { rule as viewportDeviceWidth } from './viewport/device-width.ts';
import { rule as viewportMissing } from './viewport/missing.ts';
import { rule as viewportNoZoom } from './viewport/no-zoom.ts';
import { rule as gapDammedFloat } from './gap/dammed-float.ts';
import { rule as gapAutoMargin } from './gap/auto-margin.ts';
import { rule as gapHeldOpen } from './gap/held-open.ts';
import { rule as gapEmptyTracks } from './gap/empty-tracks.ts';
import { rule as gapAddedMargins } from './gap/added-margins.ts';
import { rule as gapWhiteSpaceParts } from './gap/white-space-parts.ts';
import { rule as clipControlText } from './clip/control-text.ts';
import { rule as clipFocusOutline } from './clip/focus-outline.ts';
import { rule as sizeClamped } from './size/clamped.ts';
import { rule as sizeTableCell } from './size/table-cell.ts';
import { rule as sizeNoSize } from './size/no-size.ts';
import { rule as scrollSlight } from './scroll/slight.ts';
import { rule as scrollNested } from './scroll/nested.ts';
import { rule as scrollPlacedBeyond } from './scroll/placed-beyond.ts';
import { rule as gapEmptyBoxMargins } from './gap/empty-box-margins.ts';
import { rule as gapBreaksInText } from './gap/breaks-in-text.ts';
import { rule as gapBaselineDip } from './gap/baseline-dip.ts';
import { rule as scrollIdleBar } from './scroll/idle-bar.ts';
import { rule as sizeStretched } from './size/stretched.ts';
import { rule as sizeUnevenTracks } from './size/uneven-tracks.ts';
import { rule as declarationUnknownArea } from './declaration/unknown-area.ts';
import { rule as declarationInvalidVariable } from './declaration/invalid-variable.ts';
import { rule as overlapOutOfReach } from './overlap/out-of-reach.ts';
import { rule as gapDefaultMargin } from './gap/default-margin.ts';
import { rule as gapBorderSpacing } from './gap/border-spacing.ts';
import { rule as gapSpreadLines } from './gap/spread-lines.ts';
import { rule as gapOffCentre } from './gap/off-centre.ts';
import { rule as sizeUnevenRow } from './size/uneven-row.ts';
import { rule as sizeUnlikeFields } from './size/unlike-fields.ts';
import { rule as gapCornerAtCentre } from './gap/corner-at-centre.ts';
import { rule as sizeGrownLastLine } from './size/grown-last-line.ts';
import type { Rule } from './model.ts';

/** In the order in which they are asked. */
export const RULES = [
  overflowPage,
  overflowGeneratedContent,
  overflowBeforePage,
  overflowScrollContainer,
  overflowContainer,
  overflowOwnText,
  overflowUncontainedFloat,
  overflowContentBelow,
  overflowFixedBeyondView,
  overflowIntoPadding,
  overflowNeverScrolls,
  scrollUnseen,
  scrollFits,
  scrollSlight,
  scrollNested,
  scrollIdleBar,
  scrollPlacedBeyond,
  overlapContentBelow,
  overlapSiblings,
  overlapCloseLines,
  overlapFixedBar,
  overlapStackedSticky,
  overlapDisplacedBackground,
  overlapGeneratedContent,
  overlapInk,
  overlapCovered,
  overlapLineGround,
  overlapOutOfReach,
  clipCutOff,
  clipClipPath,
  clipControlText,
  clipFocusOutline,
  gapBodyMargin,
  gapListPadding,
  gapFigureMargin,
  gapDefaultMargin,
  gapBorderSpacing,
  gapUnevenSpacing,
  gapUnevenEnd,
  gapUnevenStart,
  gapWrappedRow,
  gapFlexBasisAsHeight,
  gapImplicitColumns,
  gapPictureOnBaseline,
  gapBaselineDip,
  gapWhiteSpaceBetween,
  gapWhiteSpaceParts,
  gapEscapedMargin,
  gapEmptyBox,
  gapEmptyLines,
  gapEmptyBoxMargins,
  gapLineBreaks,
  gapBreaksInText,
  gapCellMiddle,
  gapClearance,
  gapBelowFloat,
  gapDammedFloat,
  gapAutoMargin,
  gapHeldOpen,
  gapEmptyTracks,
  gapSpreadLines,
  gapOffCentre,
  gapCornerAtCentre,
  gapAddedMargins,
  sizeRound,
  sizeSquare,
  sizeAspectRatio,
  sizeDeclared,
  sizeClamped,
  sizeTableCell,
  sizeNoSize,
  sizeStretched,
  sizeUnevenTracks,
  sizeUnevenRow,
  sizeGrownLastLine,
  sizeUnlikeFields,
  sizeContentMinimum,
  sizeObjectFit,
  sizePercentHeight,
  sizePercentHeightOfPage,
  declarationInert,
  declarationInertOnInline,
  declarationNeverSticks,
  declarationUnknownArea,
  declarationDropped,
  declarationInvalidVariable,
  viewportMissing,
  viewportDeviceWidth,
  viewportNoZoom,
  defaultsDependence,
] as const;

export type RuleId = (typeof RULES)[number]['id'];

const byId = new Map<string, Rule>(RULES.map((rule) => [rule.id, rule]));
/** What the rule that told of an observation suspects. */
export const suspectsOf = (analysis: Analysis, observation: Observation): Suspect[] =>
  byId.get(observation.rule)?.suspects?.(analysis, observation) ?? [];

/** What should hold instead of an observation; null: its rule says it by itself, or the number that it has is not off. */
export function wishOf(analysis: Analysis, observation: Observation): Wish | null {
  const wish = byId.get(observation.rule)?.wish?.(analysis, observation) ?? null;
  const standings = wish && standingsOf(analysis, wish);
  // What is met already would prove any remedy.
  return standings && worstOf(standings).missing > 0 ? wish : null;
}

export const ruleById = (id: RuleId): Rule => byId.get(id)!;

/**
 * All that looks wrong, what a visitor would notice most first; what is probably meant comes last. `isWhole`: also what
 * is told as part of something else.
 */
export function observeAll(
  analysis: Analysis,
  kinds: readonly string[] | null = null,
  isWhole = false,
): Observation[] {
  const looking = observing(analysis, kinds, isWhole);
  for (;;) {
    const step = looking.next();
    if (step.done) return step.value;
  }
}

/** The same rule by rule, for whoever has other things to do in between. */
export function* observing(
  analysis: Analysis,
  kinds: readonly string[] | null = null,
  isWhole = false,
): Generator<void, Observation[]> {
  const all: Observation[] = [];
  const judge = judging(analysis);
  for (const { id, kind, observe } of RULES) {
    if (kinds && !kinds.includes(kind)) continue;
    for (const observed of observe(analysis)) all.push(judge({ ...observed, rule: id, kind }));
    yield;
  }
  const seen = (isWhole ? all : withoutPairsTwice(analysis, all)).filter(
    (observation) => !isTurnedAway(analysis, observation),
  );
  return grouped(analysis, isWhole ? seen : withoutTwice(seen)).sort(
    (a, b) => standing(a) - standing(b) || b.weight - a.weight || a.subject - b.subject,
  );
}

const standing = ({ grade }: Observation): number => GRADES.indexOf(grade);

/** Whether a relation of boxes is told that are seen from the side, so that their rectangles say nothing of it. */
function isTurnedAway(analysis: Analysis, { kind, subject, other }: Observation): boolean {
  if (/^(inert|dropped|viewport|percent-height)$/.test(kind)) return false;
  const isIn = (element: number) =>
    selfAndAncestors(analysis, element).some((at) => isTurned(analysis.reading, at));
  return isIn(subject) && (other === null ? !/^(overflow|stray-scroll)$/.test(kind) : isIn(other));
}

/** What two boxes do to each other is told once: by the rule that knows most of it. Ink over ink knows least. */
function withoutPairsTwice({ reading }: Analysis, list: readonly Observation[]): Observation[] {
  // Text that sticks out of its box lies under the ground of what comes next: that is told as what it does.
  const stuckOut = new Set(
    list
      .filter(
        ({ kind, rule, grade }) =>
          /^(overflow|overlap)$/.test(kind) && rule !== 'overlap/covered' && grade !== 'meant',
      )
      .flatMap(({ subject, other }) => [subject, ...(other === null ? [] : [other])]),
  );
  const all = list.filter(({ rule, subject, other, variant }) => {
    if (rule !== 'overlap/covered') return true;
    if (variant === 'sticking-out' && stuckOut.has(subject)) return false;
    for (let at = other ?? -1; at > 0 && at !== reading.parent[subject]; at = reading.parent[at]!)
      if (stuckOut.has(at)) return false;
    return true;
  });
  const seen = new Set(
    all
      .filter(({ kind, rule }) => kind === 'overlap' && rule !== 'overlap/ink')
      .flatMap(({ subject, other }) => [`${subject} ${other}`, `${other} ${subject}`]),
  );
  return all.filter(({ rule, subject, other }) => rule !== 'overlap/ink' || !seen.has(`${subject} ${other}`));
}

/** What text does to another box is told as that, and not again as what it does to its own. */
function withoutTwice(all: readonly Observation[]): Observation[] {
  const over = all.filter(({ kind }) => kind === 'overlap');
  return all.filter(
    ({ rule, axis, subject }) =>
      rule !== 'overflow/own-text' ||
      !over.some((observation) => observation.axis === axis && observation.places.includes(subject)),
  );
}

/** What boxes that are alike have alike is one finding with many places. */
function grouped({ reading }: Analysis, all: readonly Observation[]): Observation[] {
  const out = new Map<string, Observation>();
  const sign = (element: number | null) =>
    element === null ? '' : labelOf(reading, element).replace(/#.*/, '#');
  // Of boxes with one declaration the first in the document speaks for all, whatever rule it is told by.
  const inOrder = [
    ...all.filter(({ source }) => !source),
    ...all.filter(({ source }) => source).sort((a, b) => a.subject - b.subject),
  ];
  for (const observation of inOrder) {
    const { source, subject, other } = observation;
    const parent = reading.parent[subject]!;
    const what = source
      ? `${source.sheet} ${source.line} ${source.column}`
      : `${sign(subject)} ${sign(other)} ${sign(parent)}`;
    const key = `${observation.kind} ${observation.axis} ${observation.grade} ${what}`;
    const previous = out.get(key);
    if (!previous) {
      out.set(key, observation);
      continue;
    }
    const [worse, lesser] =
      observation.px > previous.px + 0.5 && !source ? [observation, previous] : [previous, observation];
    out.set(key, {
      ...worse,
      least: Math.min(worse.least, lesser.least),
      places: [...new Set([...worse.places, ...lesser.places])],
      boxes: [...new Set([...worse.boxes, ...lesser.boxes])],
      weight: worse.weight + 1,
    });
  }
  return [...out.values()];
}
