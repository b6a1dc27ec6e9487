/** Pages made at random from a seed, of what real pages do with the width: wrap, share, stack, hide, reorder, stick out. */
import { draw, WORDS, type Draw } from '../conformance/families.ts';

const LONG = ['timetable', 'harbourmaster'];
const words = ({ pick, int }: Draw, least: number, most: number): string =>
  Array.from({ length: int(least, most) }, () => pick([...WORDS, ...LONG])).join(' ');
const times = (count: number, make: (i: number) => string): string =>
  Array.from({ length: count }, (_, i) => make(i)).join('');

interface Part {
  css: string;
  html: string;
}

/** A length that depends on the width, or not. */
const length = ({ pick, int }: Draw, low: number, high: number): string => {
  const px = int(low, high);
  return pick([
    `${px}px`,
    `${px}px`,
    `${px / 16}rem`,
    `${int(20, 100)}%`,
    `${int(10, 60)}vw`,
    `min(${px}px, 100%)`,
    `max(${Math.round(px / 2)}px, ${int(10, 40)}%)`,
    `clamp(${Math.round(px / 2)}px, ${int(10, 50)}vw, ${px}px)`,
    `calc(${int(20, 100)}% - ${int(0, 40)}px)`,
  ]);
};

/** Parts of a page by what they do; `name` is the class of the part. */
const PARTS: ((at: Draw, name: string) => Part)[] = [
  (at, name) => ({
    css: `.${name} { display: flex; flex-wrap: ${at.pick(['wrap', 'wrap', 'nowrap'])}; gap: ${at.int(0, 20)}px; justify-content: ${at.pick(['start', 'space-between', 'center'])} }
.${name} > div { flex: ${at.pick(['1', '0 1 auto', 'none', `1 1 ${at.int(100, 300)}px`])}; width: ${length(at, 90, 320)}; min-width: ${at.pick(['0', 'auto', `${at.int(60, 200)}px`])}; border: 1px solid; padding: ${at.int(0, 16)}px }`,
    html: times(at.int(2, 7), () => `<div>${words(at, 1, 12)}</div>`),
  }),
  (at, name) => ({
    css: `.${name} { display: grid; grid-template-columns: ${at.pick([
      `repeat(auto-fill, minmax(${at.int(90, 260)}px, 1fr))`,
      `repeat(auto-fit, ${at.int(90, 260)}px)`,
      `${at.int(80, 240)}px 1fr`,
      `1fr ${at.int(80, 240)}px minmax(0, 2fr)`,
      `repeat(${at.int(2, 4)}, 1fr)`,
    ])}; gap: ${at.int(0, 24)}px }`,
    html: times(at.int(2, 8), () => `<p>${words(at, 1, 14)}</p>`),
  }),
  (at, name) => ({
    css: `.${name} a { display: inline-block; padding: ${at.int(2, 10)}px ${at.int(4, 24)}px; ${at.pick(['', 'white-space: nowrap;'])} margin-right: ${at.int(0, 10)}px }`,
    html: times(at.int(3, 9), () => `<a href="#">${words(at, 1, 2)}</a>${at.pick(['', ' ', '\n'])}`),
  }),
  (at, name) => ({
    css: `.${name} table { width: ${at.pick(['100%', 'auto', length(at, 300, 800)])}; table-layout: ${at.pick(['auto', 'fixed'])}; border-collapse: ${at.pick(['collapse', 'separate'])} }
.${name} td { padding: ${at.int(1, 12)}px; border: ${at.int(0, 3)}px solid; ${at.pick(['', '', 'white-space: nowrap;'])} }
.${name} { overflow-x: ${at.pick(['visible', 'visible', 'auto', 'hidden'])} }`,
    html: `<table>${times(at.int(2, 4), () => `<tr>${times(4, () => `<td>${words(at, 1, 5)}</td>`)}</tr>`)}</table>`,
  }),
  (at, name) => ({
    css: `.${name} h2 { font-size: ${at.pick(['2rem', `${at.int(4, 9)}vw`, `clamp(1rem, ${at.int(3, 8)}vw, 3rem)`])}; margin: ${at.int(0, 30)}px 0; ${at.pick(['', 'overflow: hidden; text-overflow: ellipsis; white-space: nowrap;', 'letter-spacing: .1em;'])} }
.${name} div { width: ${length(at, 200, 900)}; height: ${at.pick(['60px', '10vw', 'auto'])}; background: #ccd; max-width: ${at.pick(['none', 'none', '100%'])} }`,
    html: `<h2>${words(at, 2, 7)}</h2><div>${words(at, 0, 4)}</div>`,
  }),
  (at, name) => {
    const side = at.int(100, 320);
    return {
      css: `.${name}::after { content: ''; display: block; clear: both }
.${name} aside { float: ${at.pick(['left', 'right'])}; width: ${at.pick([`${side}px`, `${at.int(20, 45)}%`])} }
.${name} article { ${at.pick([`margin-left: ${side}px`, 'overflow: hidden', 'display: flow-root', ''])} }`,
      html: `<aside>${words(at, 4, 20)}</aside><article>${words(at, 10, 40)}</article>`,
    };
  },
  (at, name) => ({
    css: `.${name} { position: relative; padding: ${at.int(4, 30)}px; min-height: ${at.int(30, 90)}px; max-width: ${at.pick(['none', `${at.int(300, 900)}px`])}; margin: 0 auto }
.${name} b { position: absolute; ${at.pick(['right', 'left'])}: ${at.int(-30, 20)}px; top: ${at.int(-12, 12)}px; width: ${length(at, 40, 200)}; background: #fdb }`,
    html: `<b>${words(at, 1, 2)}</b>${words(at, 3, 20)}`,
  }),
  (at, name) => ({
    css: `.${name} { column-count: ${at.int(2, 4)}; column-gap: ${at.int(8, 40)}px; ${at.pick(['', `column-width: ${at.int(140, 300)}px;`])} }`,
    html: times(at.int(2, 4), () => `<p>${words(at, 6, 24)}</p>`),
  }),
  (at, name) => ({
    css: `.${name} { container-type: inline-size; width: ${at.pick(['auto', length(at, 260, 700)])} }
@container (min-width: ${at.int(260, 900)}px) { .${name} p { ${at.pick(['float: left; width: 50%', 'display: inline-block', 'padding-left: 120px', 'font-size: 20px'])} } }`,
    html: times(at.int(2, 3), () => `<p>${words(at, 4, 16)}</p>`),
  }),
  (at, name) => ({
    css: `.${name} label { display: inline-block; width: ${at.pick(['auto', `${at.int(80, 200)}px`, '30%'])} }
.${name} input { width: ${length(at, 120, 400)}; padding: ${at.int(2, 12)}px; box-sizing: ${at.pick(['content-box', 'border-box'])} }`,
    html: times(
      at.int(2, 4),
      () => `<p><label>${words(at, 1, 3)}</label> <input value="${words(at, 1, 2)}"></p>`,
    ),
  }),
  (at, name) => ({
    css: `.${name} pre { ${at.pick(['', 'overflow: auto;', 'white-space: pre-wrap;'])} margin: 0 }
.${name} code { ${at.pick(['', 'overflow-wrap: anywhere;', 'word-break: break-all;'])} }`,
    html: `<pre>${words(at, 8, 16)}</pre><p>${words(at, 1, 3)} <code>${'quay/'.repeat(at.int(4, 18))}</code></p>`,
  }),
];

/** What a media query does to a part. */
const TURNS: ((at: Draw, name: string) => string)[] = [
  (_, name) => `.${name} { display: none }`,
  (_, name) => `.${name} { flex-direction: column; grid-template-columns: 1fr; columns: auto }`,
  (at, name) => `.${name} { padding: ${at.int(0, 40)}px; font-size: ${at.int(12, 22)}px }`,
  (at, name) => `.${name} > :first-child { order: ${at.int(1, 3)}; float: none; width: auto }`,
  (at, name) => `.${name} > :last-child { width: ${length(at, 80, 500)} }`,
  (_, name) => `.${name} > * { white-space: nowrap }`,
];

/** The page of a seed; the same everywhere. */
export function responsivePage(seed: number): string {
  const at = draw(seed);
  const parts = Array.from({ length: at.int(3, 7) }, (_, i) => {
    const name = `part-${i}`;
    return { name, ...at.pick(PARTS)(at, name) };
  });
  const turns = times(at.int(0, 5), () => {
    const width = at.int(280, 1600);
    const condition = at.pick([
      `(max-width: ${width}px)`,
      `(min-width: ${width}px)`,
      `(min-width: ${width}px) and (max-width: ${width + at.int(20, 300)}px)`,
      `(width <= ${width / 16}em)`,
    ]);
    return `@media ${condition} { ${at.pick(TURNS)(at, at.pick(parts).name)} }\n`;
  });
  const page = `body { margin: ${at.int(0, 30)}px; font: ${at.int(13, 20)}px/${at.pick(['1.2', '1.5', 'normal'])} sans-serif; ${at.pick(['', '', `max-width: ${at.int(600, 1200)}px;`, `min-width: ${at.int(300, 700)}px;`])} }`;
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Page ${seed}</title><style>
${page}
${parts.map(({ css }) => css).join('\n')}
${turns}</style></head><body>
${parts.map(({ name, html }) => `<section class="${name}">${html}</section>`).join('\n')}
</body></html>`;
}
