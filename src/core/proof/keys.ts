/** By what a finding is known again in another reading of its page. */
import type { Analysis } from '../analysis.ts';
import type { Observation } from '../finding.ts';
import { pathOf } from '../reading/labels.ts';

export const keyOf = ({ reading }: Analysis, { kind, axis, subject, source }: Observation): string =>
  [
    kind,
    axis,
    source && (kind === 'inert' || kind === 'dropped')
      ? `${source.property} ${source.value}`
      : pathOf(reading, subject),
  ].join(' ');
