/** Replacements in a text, and where what came through them stood before. */

export interface Patch {
  /** Offsets in the text as it was; equal: something is put in. */
  start: number;
  end: number;
  text: string;
  /** Index of the edit that asks for it. */
  edit: number;
}

/**
 * Patches in order and without overlap: what lies in a part that is replaced as a whole goes with it, and of two for the
 * same place the later one stands. What is put in at one place stays, one after the other.
 */
export function settled(patches: readonly Patch[]): Patch[] {
  const order = patches
    .map((patch, i) => ({ patch, i }))
    .sort((a, b) => a.patch.start - b.patch.start || b.patch.end - a.patch.end || a.i - b.i);
  const out: { patch: Patch; i: number }[] = [];
  for (const entry of order) {
    const last = out.at(-1);
    const { start, end } = entry.patch;
    if (last && start < last.patch.end) {
      const same = start === last.patch.start && end === last.patch.end;
      if (same && entry.i > last.i) out[out.length - 1] = entry;
      continue;
    }
    out.push(entry);
  }
  return out.map(({ patch }) => patch).sort((a, b) => a.start - b.start || a.end - b.end);
}

export function applyPatches(text: string, patches: readonly Patch[]): string {
  let out = '';
  let at = 0;
  for (const { start, end, text: put } of settled(patches)) {
    out += text.slice(at, start) + put;
    at = end;
  }
  return out + text.slice(at);
}

/** Where an offset of the patched text stood before: its offset then, or the patch that it lies in. */
export function mapBack(patches: readonly Patch[], offset: number): { offset: number; edit: number | null } {
  let shift = 0;
  for (const { start, end, text, edit } of settled(patches)) {
    const from = start + shift;
    if (offset < from) break;
    if (offset < from + text.length) return { offset: start, edit };
    shift += text.length - (end - start);
  }
  return { offset: offset - shift, edit: null };
}

/** Line and column, from 1, of an offset. */
export function placeOf(text: string, offset: number): { line: number; column: number } {
  const before = text.slice(0, offset);
  const line = before.split('\n').length;
  return { line, column: offset - (before.lastIndexOf('\n') + 1) + 1 };
}

/** The offset of a line and column, both from 1. */
export function offsetOf(text: string, line: number, column: number): number {
  let at = 0;
  for (let n = 1; n < line; n++) {
    const next = text.indexOf('\n', at);
    if (next < 0) return text.length;
    at = next + 1;
  }
  return Math.min(text.length, at + column - 1);
}
