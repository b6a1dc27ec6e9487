/** What of a page depends on default styles: measured as rendered and under others, each pin proved. */
import type { Analysis } from '../../../core/analysis.ts';
import type { Profile } from '../../../core/css/defaults/profile.ts';
import { dependence, detectBetween } from '../../../core/rules/defaults/dependence.ts';
import type { Observation } from '../../../core/finding.ts';
import { blameDefaults } from '../../../core/proof/pinning-defaults.ts';
import { reliances } from '../../../core/rules/defaults/reliance.ts';
import { dependenceDocument, type DependenceDocument } from '../../../core/reports/findings.ts';
import type { Blame } from '../../../core/proof/prover.ts';
import type { Opened } from './headless.ts';

export interface Beneath {
  /** The same page as rendered. */
  plain: Opened;
  own: Profile;
  other: Profile;
}

export interface Depending {
  observation: Observation;
  blame: Blame;
  under: Analysis;
}

/** `opened`: the page under the other defaults, shown at the same width. What depends on them, and the report of it. */
export async function dependingOn(
  opened: Opened,
  { plain, own, other }: Beneath,
): Promise<{ found: Depending[]; report: DependenceDocument }> {
  const rendered = await plain.measure();
  const under = await opened.measure();
  const out: Depending[] = [];
  for (const entry of detectBetween(rendered, under, dependence(rendered, own, other), other.title)) {
    const blame = await blameDefaults({
      rendered,
      under,
      ...entry,
      measure: async (edits) => {
        const { failed } = await opened.lay(edits);
        return failed.length > 0 ? null : opened.measure();
      },
    });
    out.push({ observation: entry.observation, under, blame });
  }
  await opened.lay([]);
  const report = dependenceDocument(other.title, reliances(rendered, own, other), rendered, under);
  return { found: out, report };
}
