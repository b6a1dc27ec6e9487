/** Labelled pages: each has one mistake, and a twin that is sound or shows the same relation on purpose. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

interface CulpritLabel {
  selectors: string[];
  properties: string[];
  sheet: string | null;
  /** Line in the sheet; null: it is no declaration of the author. */
  line: number | null;
  /** Whether a browser default may be named as well. */
  orDefault: boolean;
}

/** One pair, as `cases.json` has it. */
export interface LabelledPair {
  file: string;
  twin: string;
  kind: string;
  /** Kinds by which the mistake may be told. */
  kinds: string[];
  widths: number[];
  badWidths: number[];
  /** Selectors of boxes that may be named as what is wrong. */
  subject: string[];
  culprit: CulpritLabel;
  /** An expression that is true on the page exactly where the mistake shows. */
  symptom: string;
  /** Whether the twin shows the same relation on purpose. */
  intended: boolean;
  /** Whether the page is laid out as on a phone. */
  mobile?: boolean;
  note: string;
}

export interface LabelledSet {
  pages: string;
  pairs: LabelledPair[];
}

/** The sets in folders that hold `cases.json` and `pages/`. Throws where one is not there. */
export const readSets = (folders: readonly string[]): LabelledSet[] =>
  folders.map((folder) => ({
    pages: join(folder, 'pages'),
    pairs: JSON.parse(readFileSync(join(folder, 'cases.json'), 'utf8')) as LabelledPair[],
  }));

/** The fold of a page, from 0 to 2: by its name alone, so that it is the same in every run. */
export function foldOf(name: string): number {
  let hash = 2166136261;
  for (const letter of name) hash = Math.imul(hash ^ letter.charCodeAt(0), 16777619) >>> 0;
  return hash % 3;
}
