/** The boxes that grades of the user are about, on a page that is open. */
import type { UserGrade } from '../../../core/evidence/user-grades.ts';
import { PROJECT_FILE } from '../../../core/reports/project.ts';
import { Refusal } from '../ingest/refusal.ts';
import type { Opened } from './headless.ts';

/** The elements of the last reading that each place of some grades is about. Throws a Refusal where one is no selector. */
export async function placesOf(
  opened: Opened,
  grades: readonly UserGrade[],
): Promise<Map<string, ReadonlySet<number>>> {
  const out = new Map<string, ReadonlySet<number>>();
  for (const { place } of grades) {
    if (place === '' || out.has(place)) continue;
    const found = await opened.ask('find', { selector: place }).catch(() => null);
    if (!found)
      throw new Refusal(`${PROJECT_FILE}: ${place} is not a selector. Write one as in a style sheet.`);
    out.set(place, new Set(found));
  }
  return out;
}
