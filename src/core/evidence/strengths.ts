import type { Observation } from '../finding.ts';

/**
 * How strongly each signal speaks for a mistake (above 0) or for something that is meant (below 0). A sum of 1 or more is
 * graded wrong, one of −1 or less meant (`model.ts`). `npm run grades` holds the table against labelled pages.
 */
export const STRENGTHS = {
  // What speaks for a mistake.
  'letters-cut-through': 1,
  'text-hidden-in-flow': 1,
  'at-some-widths': 0.5,
  'unlike-its-sort': 1,
  'for-another-layout': 1,
  'seen-by-its-ground': 0.25,
  'mostly-empty': 0.5,
  'keeps-empty-tracks': 1,
  'gap-beside-margins': 0.5,
  'unlike-the-other-axis': 0.75,
  'collapses-elsewhere': 1,
  'made-to-meet': 1.5,
  'no-space-of-their-own': 0.75,
  'much-is-cut': 0.5,
  'outline-of-the-author': 1.5,
  'two-rules-disagree': 0.5,
  'words-hold-it-open': 0.5,
  'picture-is-lost': 0.75,
  'holds-what-is-out-of-flow': 0.25,
  'room-beside': 1.5,
  'nobody-asked-to-scroll': 1,
  'asked-on-both-axes': 0.25,
  'as-tall-as-the-view-and-scrolls': 0.5,
  'waits-beyond-the-end': 1,
  'placed-beyond-the-end': 0.5,
  // What speaks against it.
  'scrolls-by-itself': -1,
  'nothing-is-missed': -2,
  'for-another-condition': -4,
  'sweeping-selector': -3,
  'limit-beside-the-size': -2,
  'limit-is-of-the-room': -4,
  'whole-text-is-told': -2,
  'unlike-sorts': -0.5,
  'as-tall-as-the-view': -3,
  'height-is-declared': -0.75,
  'room-for-what-is-placed': -2,
  'layered-by-hand': -2,
  'one-of-a-stack': -3,
  'scripts-are-held': -2,
  'page-hides-it': -4,
  'declared-to-scroll': -4,
  'negative-margin': -4,
  'from-side-to-side': -4,
  'moved-by-transform': -4,
  'moved-by-offset': -4,
  'negative-indent': -4,
  'placed-by-hand': -4,
  'stays-while-scrolling': -4,
  'one-grid-area': -4,
  'one-control': -4,
  'says-the-same': -4,
  'sticks-over-the-one-before': -4,
  'height-of-empty-box': -4,
  'automatic-margin': -4,
  'nothing-to-be-seen': -4,
  'pile': -4,
  'declared-to-cut': -2,
  'closed': -4,
  'picture-frame': -4,
  'animated': -4,
  'waiting-slide': -4,
} as const satisfies Record<string, number>;

export type SignalId = keyof typeof STRENGTHS;

/** How strongly what a rule tells speaks for a mistake by itself, where that is not as good as certain. */
const PRIORS: Partial<Record<Observation['rule'], number>> = {
  'gap/auto-margin': 0.5,
  'gap/held-open': 0.25,
  'gap/empty-tracks': 0,
  'gap/added-margins': 0,
  'scroll/slight': 0.75,
  'scroll/nested': 0.5,
  'scroll/placed-beyond': 0.25,
  'clip/control-text': 0.75,
  'clip/focus-outline': -0.5,
  'size/clamped': 0.75,
  'size/table-cell': 0.5,
  'size/no-size': 0.5,
  'gap/white-space-parts': 0,
};

const CERTAIN = 2;

export const priorOf = (rule: Observation['rule']): number => PRIORS[rule] ?? CERTAIN;
