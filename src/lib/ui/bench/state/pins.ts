/** Measurements that a user keeps, remembered by the browser from one visit to the next. */
import { pathOf } from '$core/reading/labels.ts';
import type { RawReading } from '$core/reading/reading.ts';
import { z } from 'zod';
import type { Edge } from './measuring.ts';

export interface Pinned {
  id: number;
  from: Edge;
  to: Edge;
}

const edgeSchema = z.object({
  path: z.string(),
  area: z.enum(['margin', 'border', 'padding', 'content']),
  side: z.enum(['left', 'right', 'top', 'bottom']),
});
const storedSchema = z.array(z.object({ from: edgeSchema, to: edgeSchema }));

/** Boxes are kept by path, since a later visit numbers them anew. */
export function storePins(key: string, reading: RawReading, pinned: Pinned[]): void {
  const named = ({ element, area, side }: Edge) => ({ path: pathOf(reading, element), area, side });
  localStorage.setItem(
    key,
    JSON.stringify(pinned.map(({ from, to }) => ({ from: named(from), to: named(to) }))),
  );
}

/** Those whose boxes are still there. */
export async function recallPins(
  key: string,
  elementAt: (path: string) => Promise<number>,
): Promise<Omit<Pinned, 'id'>[]> {
  const kept = storedSchema.safeParse(JSON.parse(localStorage.getItem(key) ?? '[]'));
  if (!kept.success) return [];
  const edge = async ({ path, area, side }: z.infer<typeof edgeSchema>): Promise<Edge> => ({
    element: await elementAt(path),
    area,
    side,
  });
  const found = await Promise.all(
    kept.data.map(async ({ from, to }) => ({ from: await edge(from), to: await edge(to) })),
  );
  return found.filter(({ from, to }) => from.element >= 0 && to.element >= 0);
}
