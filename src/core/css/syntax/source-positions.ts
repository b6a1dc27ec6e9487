/** Lines and columns of offsets in a sheet's text. */
import type { Sheet } from './style-sheets.ts';

export function lineStarts(text: string): number[] {
  const starts = [0];
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c === 10 || c === 12 || (c === 13 && text.charCodeAt(i + 1) !== 10)) starts.push(i + 1);
  }
  return starts;
}

/** Line and column, from 1, of an offset of the sheet's text in the file that holds the sheet. */
export function placeIn(sheet: Sheet, offset: number): { line: number; column: number } {
  let low = 0;
  let high = sheet.lineStarts.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (sheet.lineStarts[middle]! <= offset) low = middle;
    else high = middle - 1;
  }
  const column = offset - sheet.lineStarts[low]!;
  return { line: sheet.line + low, column: column + (low === 0 ? sheet.column : 1) };
}
