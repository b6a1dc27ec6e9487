/** What a page's own sheets use: custom properties and units, for whoever writes more of the same. */
import type { Plan } from '../cascade/plan.ts';

export interface InUse {
  /** Custom properties with the last value that a rule gives them. */
  variables: { name: string; value: string }[];
  /** Units of lengths and percentages, the most used one first. */
  units: string[];
}

const DIMENSION = /(?:^|[\s,(+*/-])[-+]?(?:\d+\.?\d*|\.\d+)(%|[a-z]{1,5})(?![\w(-])/gi;
const NOT_LENGTHS = new Set(['s', 'ms', 'deg', 'rad', 'grad', 'turn', 'fr', 'dpi', 'dpcm', 'dppx', 'x', 'hz']);

export function unitsInUse({ sheets }: Plan): InUse {
  const variables = new Map<string, string>();
  const counts = new Map<string, number>();
  for (const { rules } of sheets)
    for (const { declarations } of rules)
      for (const { property, value } of declarations) {
        if (property.startsWith('--')) variables.set(property, value);
        for (const [, unit] of value.matchAll(DIMENSION)) {
          const name = unit!.toLowerCase();
          if (!NOT_LENGTHS.has(name)) counts.set(name, (counts.get(name) ?? 0) + 1);
        }
      }
  return {
    variables: [...variables]
      .map(([name, value]) => ({ name, value }))
      .sort((a, b) => (a.name < b.name ? -1 : 1)),
    units: [...counts].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1)).map(([unit]) => unit),
  };
}
