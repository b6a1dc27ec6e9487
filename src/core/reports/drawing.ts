/** A page's boxes reduced to a small drawing: the largest that are seen, as rectangles in tenths of a per cent of its width. */
import { z } from 'zod';
import type { RawReading } from '../reading/reading.ts';
import { tagOf } from '../reading/labels.ts';

const mark = z.number().int().min(-10_000).max(10_000);

export const drawingSchema = z.object({
  width: z.number().min(1).max(10_000),
  height: z.number().min(0).max(10_000),
  /** x, y, width, height and what it is: 0 box, 1 text-like (inline or leaf), 2 replaced, 3 control. */
  marks: z.array(z.tuple([mark, mark, mark, mark, mark])).max(300),
});
export type Drawing = z.infer<typeof drawingSchema>;

const REPLACED = new Set(['img', 'svg', 'video', 'canvas', 'iframe', 'picture', 'object']);
const CONTROLS = new Set(['input', 'button', 'select', 'textarea']);
const MOST = 220;

export function drawingOf(reading: RawReading): Drawing {
  const width = Math.max(reading.document.clientWidth, 1);
  const height = Math.min(Math.max(reading.document.scrollHeight, 1), width * 0.75);
  const unit = 1000 / width;
  const hasChild = new Uint8Array(reading.count);
  for (let i = 0; i < reading.count; i++) if (reading.parent[i]! >= 0) hasChild[reading.parent[i]!] = 1;
  const marks: Drawing['marks'] = [];
  for (let i = 0; i < reading.count; i++) {
    const [x, y, w, h] = reading.rects.subarray(i * 4, i * 4 + 4) as unknown as [
      number,
      number,
      number,
      number,
    ];
    const tag = tagOf(reading, i);
    if (
      w < 2 ||
      h < 2 ||
      y >= height ||
      x >= width ||
      x + w <= 0 ||
      y + h <= 0 ||
      tag === 'html' ||
      tag === 'body'
    )
      continue;
    const kind = REPLACED.has(tag) ? 2 : CONTROLS.has(tag) ? 3 : hasChild[i] ? 0 : 1;
    // Only what lies on the drawing is drawn: boxes can reach as far beyond it as engines count.
    const [left, top] = [Math.max(x, 0), Math.max(y, 0)];
    marks.push([
      Math.round(left * unit),
      Math.round(top * unit),
      Math.round((Math.min(x + w, width) - left) * unit),
      Math.round((Math.min(y + h, height) - top) * unit),
      kind,
    ]);
  }
  const area = (mark: Drawing['marks'][number]) => mark[2] * mark[3];
  const kept = new Set([...marks].sort((a, b) => area(b) - area(a)).slice(0, MOST));
  return { width: 1000, height: Math.round(height * unit), marks: marks.filter((mark) => kept.has(mark)) };
}
