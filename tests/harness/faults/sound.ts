/** A page on which nothing is wrong, to plant faults on. */
import type { CorpusPage } from '../../support/corpus.ts';

const TEXT =
  'The mail boat leaves the north mole at seven and calls at every landing where a flag is shown. Bicycles go by the forward ramp, dogs on a lead by the after one. In a gale she waits behind the lee pier until the mate hoists a black ball, and nobody goes ashore before it comes down again. ';
const CSS = `body { margin: 0; font: 16px/1.5 serif }
main { max-width: 640px; margin: 0 auto; padding: 16px }
h1 { margin: 0 0 16px }
p { margin: 0 0 12px }
`;
const HTML = `<!doctype html><html><head><meta name="viewport" content="width=device-width"><title>Landings</title><link rel="stylesheet" href="look.css"></head><body><main><h1>Landings</h1>${Array.from({ length: 6 }, (_, i) => `<p>${TEXT.repeat(1 + (i % 2))}<a href="#">Skerrow</a></p>`).join('')}</main></body></html>`;

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

export const SOUND: CorpusPage = {
  name: 'sound',
  entry: 'index.html',
  files: [
    { path: 'index.html', type: 'text/html', bytes: bytes(HTML) },
    { path: 'look.css', type: 'text/css', bytes: bytes(CSS) },
  ],
} as CorpusPage;
