/** A specimen as the Shelf shows it. */
import type { Drawing } from '$core/reports/drawing.ts';

export interface ShelfEntry {
  id: string;
  name: string;
  demo: boolean;
  drawing: Drawing | null;
  measuredAt: string | null;
  key: string;
  entry: string;
  pages: number;
  missing: number;
  readings: number;
  /** The folder or the address that it is taken from; null: its files were brought in. */
  origin: string | null;
}
