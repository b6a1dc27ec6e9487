/** The kinds of changes; each proposes some for what looks wrong. */
import type { Analysis } from '../analysis.ts';
import type { Proposal, Suspect } from '../findings/finding.ts';
import * as align from './align.ts';
import * as boxSizing from './box-sizing.ts';
import * as declaration from './declaration.ts';
import * as hold from './hold.ts';
import * as loosen from './loosen.ts';
import * as margins from './margins.ts';
import type { Remedy } from './proposal.ts';
import * as wrap from './wrap.ts';

const REMEDIES: Remedy[] = [wrap, loosen, boxSizing, margins, hold, align, declaration];

/** All changes that may take a finding away, the likeliest first. */
export const proposalsFor = (analysis: Analysis, suspect: Suspect): Proposal[] =>
  REMEDIES.flatMap(({ propose }) => propose(analysis, suspect)).sort((a, b) => b.rank - a.rank);
