/** Drawings of specimens that were never measured: each is opened out of sight, once. */
import { drawingOf } from '$core/reports/drawing.ts';
import { readingSchema } from '$core/reading/reading.ts';
import type { ShelfEntry } from './entry.ts';
import { openFrame } from '$station/frame.ts';
import { takeReading } from '$station/survey.ts';
import { frameAddress } from '../frames.ts';
import { okSchema, send } from '../send.ts';

const SIZE = { width: 1280, height: 960 };

export async function drawMissing(
  specimens: ShelfEntry[],
  host: string,
  workshop: HTMLElement,
  begin: (id: string) => void,
  finish: () => Promise<void>,
  signal: AbortSignal,
): Promise<void> {
  for (const { id, key, entry, drawing } of specimens) {
    if (drawing || signal.aborted) continue;
    begin(id);
    try {
      const frame = await openFrame(workshop, frameAddress(host, key, entry), SIZE, signal);
      const { reading } = await takeReading(frame, SIZE, 'outline');
      frame.close();
      await send(
        'PATCH',
        `/api/specimens/${id}`,
        okSchema,
        { drawing: drawingOf(readingSchema.parse(reading)) },
        signal,
      );
      await finish();
    } catch (error) {
      // A page that cannot be measured says so when it is opened; the Shelf shows it without a drawing.
      if (!signal.aborted) console.warn(`No drawing of ${entry}:`, error);
    }
  }
  begin('');
}
