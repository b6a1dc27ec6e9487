/** Colours as engines serialise them, and the contrast of text with what is behind it (WCAG 2.2 §1.4.3). */
import { usedPx, usedText } from '../boxes/tree.ts';
import type { RawReading } from '../reading/reading.ts';

/** Red, green, blue from 0 to 255 and alpha from 0 to 1. */
export type Color = readonly [number, number, number, number];

/** `rgb()`, `rgba()` and `color(srgb ...)`; null for any other notation. */
export function parseColor(text: string): Color | null {
  const numbers = (text.match(/-?[\d.]+(e-?\d+)?%?/g) ?? []).map((text) =>
    text.endsWith('%') ? Number.parseFloat(text) / 100 : Number(text),
  );
  if (/^rgba?\(/.test(text) && numbers.length >= 3)
    return [numbers[0]!, numbers[1]!, numbers[2]!, numbers[3] ?? 1];
  if (/^color\(srgb /.test(text) && numbers.length >= 3)
    return [numbers[0]! * 255, numbers[1]! * 255, numbers[2]! * 255, numbers[3] ?? 1];
  return text === 'transparent' ? [0, 0, 0, 0] : null;
}

const over = (top: Color, below: Color): Color => {
  const alpha = top[3];
  const mix = (i: 0 | 1 | 2) => top[i] * alpha + below[i] * (1 - alpha);
  return [mix(0), mix(1), mix(2), 1];
};

function luminance([red, green, blue]: Color): number {
  const [r, g, b] = [red, green, blue].map((channel) => {
    const c = channel / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

export interface Contrast {
  color: string;
  background: string;
  /** From 1 to 21; null where a colour is in a notation that is not understood. */
  ratio: number | null;
  /** 3 for large text (24 px, or 18.66 px and bold), else 4.5. */
  needed: number;
  passes: boolean;
}

const hex = ([r, g, b]: Color): string =>
  `#${[r, g, b].map((c) => Math.round(c).toString(16).padStart(2, '0')).join('')}`;

/** The element's text colour against the background colours behind it, down to white. Images are not looked at. */
export function contrastOf(reading: RawReading, element: number): Contrast {
  const layers: Color[] = [];
  let understood = true;
  for (let at = element; at >= 0; at = reading.parent[at]!) {
    const color = parseColor(usedText(reading, 'background-color', at));
    if (!color) {
      understood &&= usedText(reading, 'background-color', at) === '';
      continue;
    }
    if (color[3] > 0) layers.push(color);
    if (color[3] === 1) break;
  }
  const behind = layers.reduceRight<Color>((below, layer) => over(layer, below), [255, 255, 255, 1]);
  const ownColor = parseColor(usedText(reading, 'color', element));
  const size = usedPx(reading, 'font-size', element);
  const bold = Number(usedText(reading, 'font-weight', element)) >= 700;
  const needed = size >= 24 || (bold && size >= 18.66) ? 3 : 4.5;
  if (!ownColor || !understood)
    return {
      color: usedText(reading, 'color', element),
      background: hex(behind),
      ratio: null,
      needed,
      passes: false,
    };
  const front = over(ownColor, behind);
  const [a, b] = [luminance(front), luminance(behind)];
  const ratio = (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);
  return { color: hex(front), background: hex(behind), ratio, needed, passes: ratio >= needed };
}
