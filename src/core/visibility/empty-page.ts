/** Whether anything can be seen on a page. */
import type { RawReading } from '../reading/reading.ts';
import { rectOf } from '../boxes/tree.ts';
import { tagOf } from '../reading/labels.ts';

/** Elements with a picture of their own (HTML §15.4, §15.5). */
const SHOWING = new Set([
  'audio',
  'button',
  'canvas',
  'embed',
  'frame',
  'iframe',
  'img',
  'input',
  'math',
  'meter',
  'object',
  'picture',
  'progress',
  'select',
  'svg',
  'textarea',
  'video',
]);

/** No text, picture or control lies anywhere on it. Grounds and borders alone are no content. */
export function isEmptyPage(reading: RawReading): boolean {
  if (reading.texts.length > 0) return false;
  for (let i = 0; i < reading.count; i++) {
    const { width, height } = rectOf(reading, i);
    if (SHOWING.has(tagOf(reading, i)) && width > 0 && height > 0) return false;
  }
  return true;
}
