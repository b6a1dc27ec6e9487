/**
 * Runs in a document that holds a specimen's and nothing else: of one site with it, so that a new size is there at once, without
 * a frame being painted first. Where the specimen's collector says that nothing is missed, its frame lies out of sight once it
 * has got another size than it was opened with, and is not painted at all: engines lay out what they are asked about, all the
 * same.
 */
import { CONNECT, FRAME_CAN_REST, type Size } from '../protocol/protocol.ts';

const embedder = window.parent;
const { width, height, address } = JSON.parse(decodeURIComponent(location.hash.slice(1))) as Size & {
  address: string;
};
const frame = document.createElement('iframe');
frame.setAttribute('sandbox', 'allow-scripts');
frame.style.cssText = 'border:0;position:absolute;top:0';
let mayRest = false;
let isAsOpened = true;

function place(size: Size): void {
  isAsOpened &&= size.width === width && size.height === height;
  frame.style.width = `${size.width}px`;
  frame.style.height = `${size.height}px`;
  frame.style.left = mayRest && !isAsOpened ? `${-2 * size.width - 100}px` : '0';
}

let loads = 0;
const loaded = new Promise<void>((resolve) => {
  frame.addEventListener('load', () => {
    loads++;
    resolve();
    // The page went elsewhere by itself: whoever is around hears of it as of any frame's.
    if (loads > 1) location.reload();
  });
});

window.addEventListener('message', ({ source, data, ports }: MessageEvent<unknown>) => {
  const size = data as Partial<Size> | null;
  if (source === frame.contentWindow && data === FRAME_CAN_REST) mayRest = true;
  if (source !== embedder) return;
  const [port] = ports;
  if (data === CONNECT && port) void loaded.then(() => frame.contentWindow?.postMessage(CONNECT, '*', [port]));
  else if (typeof size?.width === 'number' && typeof size.height === 'number')
    place({ width: size.width, height: size.height });
});

place({ width, height });
frame.src = address;
document.body.append(frame);
