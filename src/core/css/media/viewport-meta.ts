/**
 * The layout viewport that a viewport meta element gives a device, and the zoom at which the page is shown first
 * (CSS Viewport 1 §3 and appendix; CSS Device Adaptation 1 §7 and §10, which say how its keys are read).
 */

/** Widths and heights in CSS px at zoom 1. */
export interface Device {
  width: number;
  height: number;
}

export interface LayoutViewport {
  /** CSS px. */
  width: number;
  height: number;
  /** The zoom that the page is shown at first: the layout viewport times it is what fills the device, or more. */
  zoom: number;
  minZoom: number;
  maxZoom: number;
  /** Whether the user may change the zoom. */
  userZoom: boolean;
  /** Whether the page says at which zoom it is shown first. */
  saysZoom: boolean;
}

/** How a device shows a page that it has laid out. */
export interface Shown {
  /** The zoom at first. */
  zoom: number;
  /** CSS px that come into view at the least zoom: what is fixed is laid out as wide (CSS Positioned Layout 3 §2.1). */
  most: number;
}

/** What phones lay a page out at that says nothing of their width. */
export const FALLBACK = 980;
const LEAST_ZOOM = 0.25;
const MOST_ZOOM = 5;

type Length = number | 'auto' | 'device-width' | 'device-height' | 'extend-to-zoom';
type Zoom = number | 'auto';

const SPACE = /[\t\n\r ]/;
const isSeparator = (c: string): boolean => c === '=' || c === ',' || SPACE.test(c);

/** Keys and values in their order, as engines read them: a semicolon separates nothing. */
export function viewportPairs(content: string): [string, string][] {
  const text = content.toLowerCase();
  const out: [string, string][] = [];
  let i = 0;
  const skip = (goesOn: (c: string) => boolean): number => {
    while (i < text.length && goesOn(text[i]!)) i++;
    return i;
  };
  while (i < text.length) {
    const keyStart = skip(isSeparator);
    const key = text.slice(
      keyStart,
      skip((c) => !isSeparator(c)),
    );
    skip((c) => c !== '=' && c !== ',');
    skip((c) => isSeparator(c) && c !== ',');
    const valueStart = i;
    const value = text.slice(
      valueStart,
      skip((c) => !isSeparator(c)),
    );
    if (key !== '') out.push([key, value]);
  }
  return out;
}

/** The number that a value begins with; NaN: it begins with none. */
const numberOf = (value: string): number => {
  const found = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?/.exec(value);
  return found ? Number(found[0]) : NaN;
};

const clamp = (value: number, least: number, most: number): number => Math.min(most, Math.max(least, value));

function lengthOf(value: string): Length {
  if (value === 'device-width' || value === 'device-height') return value;
  const number = numberOf(value);
  // What is no number is as good as nothing said.
  if (Number.isNaN(number) || number < 0) return 'auto';
  return clamp(number, 1, 10_000);
}

function zoomOf(value: string): Zoom {
  if (value === 'yes') return 1;
  if (value === 'no') return 0.1;
  if (value === 'device-width' || value === 'device-height') return 10;
  const number = numberOf(value) || 0;
  return number < 0 ? 'auto' : clamp(number, 0.1, 10);
}

function isUserZoom(value: string): boolean {
  if (value === 'yes' || value === 'device-width' || value === 'device-height') return true;
  if (value === 'no') return false;
  return Math.abs(numberOf(value) || 0) >= 1;
}

interface Read {
  width: Length;
  height: Length;
  zoom: Zoom;
  minZoom: Zoom;
  maxZoom: Zoom;
  userZoom: boolean;
}

function readContent(content: string): Read {
  const out: Read = {
    width: 'auto',
    height: 'auto',
    zoom: 'auto',
    minZoom: 'auto',
    maxZoom: 'auto',
    userZoom: true,
  };
  for (const [key, value] of viewportPairs(content))
    if (key === 'width' || key === 'height') out[key] = lengthOf(value);
    else if (key === 'initial-scale') out.zoom = zoomOf(value);
    else if (key === 'minimum-scale') out.minZoom = zoomOf(value);
    else if (key === 'maximum-scale') out.maxZoom = zoomOf(value);
    else if (key === 'user-scalable') out.userZoom = isUserZoom(value);
  return out;
}

/** The smaller or larger of two values, of which either may be `auto` and then does not count. */
const of = (pick: (a: number, b: number) => number, a: Zoom, b: Zoom): Zoom =>
  a === 'auto' ? b : b === 'auto' ? a : pick(a, b);

/** `contents`: of the page's viewport meta elements, in their order: the last one has the say. */
export function layoutViewport(contents: readonly string[], device: Device): LayoutViewport {
  const last = contents.at(-1);
  const read = last === undefined ? null : readContent(last);
  const minZoom: Zoom = read?.minZoom ?? 'auto';
  let maxZoom: Zoom = read?.maxZoom ?? 'auto';
  let zoom: Zoom = read?.zoom ?? 'auto';
  // Device Adaptation §7.2: min-zoom wins over max-zoom, and zoom lies between them.
  if (minZoom !== 'auto' && maxZoom !== 'auto') maxZoom = Math.max(minZoom, maxZoom);
  if (zoom !== 'auto')
    zoom = clamp(of(Math.max, minZoom, of(Math.min, maxZoom, zoom)) as number, LEAST_ZOOM, MOST_ZOOM);
  const extend = of(Math.min, zoom, maxZoom);

  const along = (length: Length, deviceSize: number): [Length, Length] =>
    length === 'auto'
      ? ['auto', 'auto']
      : ['extend-to-zoom', length === 'extend-to-zoom' ? deviceSize : length];
  let [minWidth, maxWidth] = along(read?.width ?? 'auto', device.width);
  const [minHeight, maxHeight] = along(read?.height ?? 'auto', device.height);
  if (maxWidth === 'auto')
    if (zoom === 'auto') [minWidth, maxWidth] = ['extend-to-zoom', FALLBACK];
    else if (maxHeight === 'auto') [minWidth, maxWidth] = ['extend-to-zoom', 'extend-to-zoom'];

  const resolved = (least: Length, most: Length, zoom: number): Zoom => {
    const px = (length: Length): Zoom | 'extend-to-zoom' =>
      length === 'device-width' ? device.width : length === 'device-height' ? device.height : length;
    const [low, high] = [px(least), px(most)];
    const room = extend === 'auto' ? 'auto' : zoom / extend;
    const max: Zoom = high === 'extend-to-zoom' ? room : high;
    const min: Zoom = low === 'extend-to-zoom' ? (room === 'auto' ? max : of(Math.max, room, max)) : low;
    return min === 'auto' && max === 'auto' ? 'auto' : of(Math.max, min, of(Math.min, max, zoom));
  };
  let width = resolved(minWidth, maxWidth, device.width);
  let height = resolved(minHeight, maxHeight, device.height);
  if (width === 'auto') width = height === 'auto' ? device.width : (height * device.width) / device.height;
  if (height === 'auto') height = (width * device.height) / device.width;

  const userZoom = read?.userZoom ?? true;
  const lowest = minZoom === 'auto' ? LEAST_ZOOM : clamp(minZoom, LEAST_ZOOM, MOST_ZOOM);
  const highest = Math.max(lowest, maxZoom === 'auto' ? MOST_ZOOM : clamp(maxZoom, LEAST_ZOOM, MOST_ZOOM));
  // No layout viewport is narrower than what fills the device at its largest zoom.
  const fitting = Math.max(width, device.width / MOST_ZOOM);
  height *= fitting / width;
  width = fitting;
  // Where nothing is said of the zoom, the whole width of the layout viewport is shown.
  const shown = clamp(zoom === 'auto' ? device.width / width : zoom, lowest, highest);
  return {
    width,
    height,
    zoom: shown,
    minZoom: userZoom ? lowest : shown,
    maxZoom: userZoom ? highest : shown,
    userZoom,
    saysZoom: zoom !== 'auto',
  };
}

/** `scrollWidth`: CSS px that the page reaches to. A device can be zoomed out until all of it is in view, and is where nothing is said. */
export function shownOn(layout: LayoutViewport, device: Device, scrollWidth: number): Shown {
  const least = clamp(device.width / Math.max(layout.width, scrollWidth), layout.minZoom, layout.maxZoom);
  return { zoom: layout.saysZoom ? layout.zoom : least, most: device.width / least };
}

const percent = (zoom: number): string => `${Math.round(zoom * 100)} %`;

/** What becomes of a page that reaches beyond the layout viewport, in one sentence without a full stop; '': it does not. */
export function beyondWords(contents: readonly string[], device: Device, scrollWidth: number): string {
  const layout = layoutViewport(contents, device);
  if (scrollWidth < layout.width + 1) return '';
  const { zoom, most } = shownOn(layout, device, scrollWidth);
  const least = device.width / most;
  const reaches = `The page reaches to ${Math.round(scrollWidth)} px`;
  if (zoom < layout.zoom - 0.005)
    return most < scrollWidth - 1
      ? `${reaches}: the device zooms out as far as it may, and ${Math.round(most)} px of it are in view`
      : `${reaches}: the device zooms out to ${percent(zoom)} until all of it is in view, and 16 px look like ${Math.round(zoom * 160) / 10}`;
  if (least < zoom - 0.005) return `${reaches}: it can be dragged sideways and zoomed out to ${percent(least)}`;
  return `${reaches}: it can be dragged sideways`;
}

/** Why a device lays a page out as wide as it does, in one sentence without a full stop. `scrollWidth`: what it reaches to. */
export function viewportWords(contents: readonly string[], device: Device, scrollWidth = 0): string {
  const layout = layoutViewport(contents, device);
  const { width } = layout;
  const { zoom } = shownOn(layout, device, scrollWidth);
  const px = Math.round(width);
  const last = contents.at(-1);
  const more = contents.length > 1 ? `, the last of ${contents.length},` : '';
  const shown = `shows it at ${percent(zoom)} of its size`;
  if (last === undefined)
    return `There is no viewport meta element: the device lays the page out ${px} px wide and ${shown}`;
  const keys = new Map(viewportPairs(last));
  const says = `The viewport meta element${more} says “${last}”`;
  if (Math.abs(width - device.width) < 1)
    return Math.abs(zoom - 1) < 0.005
      ? `${says}: the page is laid out as wide as the device and shown as large as it is`
      : `${says}: the page is laid out as wide as the device, and ${percent(zoom)} of its size is where it is shown first`;
  if (last.includes(';') && /device-width\s*;/.test(last.toLowerCase()))
    return `${says}: a semicolon separates nothing there, so no width is understood; the device lays the page out ${px} px wide and ${shown}`;
  if (!keys.has('width') && !keys.has('initial-scale'))
    return `${says} and nothing of the width: the device lays the page out ${px} px wide and ${shown}`;
  if (
    keys.has('width') &&
    typeof lengthOf(keys.get('width')!) === 'string' &&
    keys.get('width') !== 'device-width'
  )
    return `${says}: ${keys.get('width')} is no width that is understood; the device lays the page out ${px} px wide and ${shown}`;
  return `${says}: the device, ${device.width} px wide, lays the page out ${px} px wide and ${shown}`;
}
