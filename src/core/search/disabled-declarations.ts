/** Every declaration of a page's own sheets that matches something, as the edit that takes it out. */
import type { RawReading } from '../reading/reading.ts';
import type { Plan } from '../css/cascade/plan.ts';
import { editSchema, type Edit } from '../trials/edit.ts';
import { targetOf, type Files } from '../trials/targets.ts';

export interface DisabledDeclaration {
  edit: Edit;
  words: string;
}

export function disabledDeclarations(
  { sheets, rules }: Plan,
  { matches }: RawReading,
  files: Files,
): DisabledDeclaration[] {
  const planned = new Map(rules.map((rule) => [`${rule.sheet} ${rule.rule.start}`, rule]));
  const styles = new Map<string, number>();
  return sheets.flatMap((sheet, index) => {
    if (sheet.form === 'attribute') return [];
    const style = sheet.form === 'file' ? -1 : (styles.get(sheet.file) ?? 0);
    if (sheet.form === 'element') styles.set(sheet.file, style + 1);
    const placed = files.sheet(sheet.file, style);
    return (placed?.sheet.rules ?? []).flatMap((rule) => {
      const selectors = planned.get(`${index} ${rule.start}`)?.selectors ?? [];
      if (!selectors.some(({ query }) => (matches[query]?.length ?? 0) > 0)) return [];
      const at = targetOf(placed!, rule);
      return rule.declarations.map(({ property, value }, n): DisabledDeclaration => {
        const nth = rule.declarations
          .slice(0, n)
          .filter((declaration) => declaration.property === property).length;
        const change = { do: 'mute', at, nth, was: value, property };
        const edit = editSchema.parse({ id: `${index}-${rule.start}-${n}`, change });
        return { edit, words: `${rule.prelude} { ${property}: ${value} }` };
      });
    });
  });
}
