/** The specimen that a view is of. */
import { error } from '@sveltejs/kit';
import { findSpecimen } from './specimens.ts';

type Database = Parameters<typeof findSpecimen>[0];

/** Throws the answer that there is none. */
export async function specimenOr404(
  db: Database,
  id: string,
): Promise<NonNullable<Awaited<ReturnType<typeof findSpecimen>>>> {
  const found = await findSpecimen(db, id);
  if (!found)
    error(
      404,
      'There is no such specimen. It may have been deleted: deleted ones can be taken back on the Shelf for a moment.',
    );
  return found;
}
