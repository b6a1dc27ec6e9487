/** What changes layout after a document has loaded, and is not there yet: the frame's new size, fonts, images. */
import { layAnew } from './restyle.ts';

/**
 * `waited` names what is not there. Whoever asks asks again: the engine wakes a frame that it takes for unimportant once in a
 * second.
 */
export function settle({ width, height }: { width: number; height: number }): {
  width: number;
  height: number;
  waited: string[];
} {
  const waited: string[] = [];
  if (innerWidth !== width || innerHeight !== height) waited.push('the size of the frame');
  else {
    // Fonts are asked for by layout: without one, none would be loading yet.
    document.documentElement.getBoundingClientRect();
    if (document.fonts.status !== 'loaded') waited.push('fonts');
    const images = Array.from(document.images);
    if (!images.every((image) => image.complete || image.loading === 'lazy')) waited.push('images');
  }
  if (waited.length === 0) layAnew();
  return { width: innerWidth, height: innerHeight, waited };
}
