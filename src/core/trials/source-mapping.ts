/** Places in texts under a trial given back as places in the files as they are. */
import type { Source } from '../css/cascade/styles.ts';
import type { Overlay } from './overlay.ts';
import { mapBack, offsetOf, placeOf } from './text-patch.ts';

/** The same with every source in it at its place in `texts`; what an edit put there has the origin `trial`. */
export function mapToSource<T>(result: T, over: Overlay, texts: Readonly<Record<string, string>>): T {
  if (Object.keys(over.texts).length === 0) return result;
  const byKey = new Map<string, Pick<Source, 'origin' | 'line' | 'column'>>();
  const place = (source: Source): Source => {
    const text = over.texts[source.sheet];
    if (text === undefined || source.line === 0) return source;
    const key = `${source.sheet} ${source.line} ${source.column}`;
    let back = byKey.get(key);
    if (!back) {
      const patches = over.patches[source.sheet]!;
      const { offset, edit } = mapBack(patches, offsetOf(text, source.line, source.column));
      back = {
        origin: edit === null ? source.origin : 'trial',
        ...placeOf(texts[source.sheet] ?? '', offset),
      };
      byKey.set(key, back);
    }
    return { ...source, ...back };
  };
  const visit = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(visit);
    if (typeof value !== 'object' || value === null || ArrayBuffer.isView(value) || value instanceof Map)
      return value;
    const mapped = Object.fromEntries(Object.entries(value).map(([name, entry]) => [name, visit(entry)]));
    return 'sheet' in mapped && 'line' in mapped && 'origin' in mapped
      ? place(mapped as unknown as Source)
      : mapped;
  };
  return visit(result) as T;
}
