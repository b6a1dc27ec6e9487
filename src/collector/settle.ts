/** Waits for what changes layout after a document has loaded: the frame's new size, fonts, images. */

import { layAnew } from './restyle.ts';

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

async function until(holds: () => boolean, end: number): Promise<boolean> {
  while (!holds()) {
    if (performance.now() > end) return false;
    await pause(4);
  }
  return true;
}

/** \`waited\` names what had not come by the end of \`ms\`. */
export async function settle({
  width,
  height,
  ms,
}: {
  width: number;
  height: number;
  ms: number;
}): Promise<{ width: number; height: number; waited: string[] }> {
  const end = performance.now() + ms;
  const waited: string[] = [];
  if (!(await until(() => innerWidth === width && innerHeight === height, end)))
    waited.push('the size of the frame');
  // Fonts are asked for by layout: without one, none would be loading yet.
  document.documentElement.getBoundingClientRect();
  if (!(await until(() => document.fonts.status === 'loaded', end))) waited.push('fonts');
  const images = Array.from(document.images);
  if (!(await until(() => images.every((image) => image.complete || image.loading === 'lazy'), end)))
    waited.push('images');
  if (waited.length === 0) layAnew();
  return { width: innerWidth, height: innerHeight, waited };
}
