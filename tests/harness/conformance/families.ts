/** Pages made at random from a seed, one family for each kind of layout. Sizes are plain, so that what comes out can be told by the rules. */
import { random } from '../../support/generate.ts';

export interface Draw {
  pick: <T>(list: readonly T[]) => T;
  chance: (share: number) => boolean;
  int: (low: number, high: number) => number;
}

export const draw = (seed: number): Draw => {
  const next = random(seed);
  return {
    pick: (list) => list[Math.floor(next() * list.length)]!,
    chance: (share) => next() < share,
    int: (low, high) => low + Math.floor(next() * (high - low + 1)),
  };
};

export const WORDS = 'ferry quay mast rope tide berth deck sail port wave buoy crane'.split(' ');

interface Family {
  name: string;
  quirks?: boolean;
  css?: string;
  body: (draw: Draw) => string;
}

const words = ({ pick, int }: Draw, most = 4): string =>
  Array.from({ length: int(1, most) }, () => pick(WORDS)).join(' ');
const style = (list: (string | false)[]): string => list.filter(Boolean).join(';');
const el = (tag: string, css: string, inner: string): string =>
  `<${tag}${css ? ` style="${css}"` : ''}>${inner}</${tag}>`;
const many = (from: number, to: number, { int }: Draw, make: () => string): string =>
  Array.from({ length: int(from, to) }, make).join('');

const edges = ({ chance, int, pick }: Draw): string =>
  style([
    chance(0.3) && `padding:${int(0, 12)}px ${int(0, 12)}px`,
    chance(0.2) && `padding-${pick(['top', 'bottom', 'left', 'right'])}:${int(1, 15)}px`,
    chance(0.25) && `border:${int(1, 4)}px solid`,
    chance(0.15) && `border-${pick(['top', 'bottom'])}:${int(1, 5)}px solid`,
    chance(0.2) && 'box-sizing:border-box',
  ]);
const margins = ({ chance, int, pick }: Draw): string =>
  style([
    chance(0.4) && `margin:${int(-6, 24)}px ${int(0, 20)}px`,
    chance(0.3) && `margin-top:${int(-10, 30)}px`,
    chance(0.3) && `margin-bottom:${int(-10, 30)}px`,
    chance(0.1) && `margin-left:${pick(['auto', '5%', '1em', '12px'])}`,
  ]);
const sizes = ({ chance, int, pick }: Draw): string =>
  style([
    chance(0.3) &&
      `width:${pick([`${int(40, 300)}px`, `${int(20, 90)}%`, '10em', 'calc(50% - 10px)', '20vw'])}`,
    chance(0.2) && `height:${pick([`${int(0, 90)}px`, '3em', '50%'])}`,
    chance(0.15) && `min-width:${int(30, 200)}px`,
    chance(0.15) && `max-width:${pick([`${int(60, 300)}px`, '60%'])}`,
    chance(0.15) && `min-height:${int(10, 80)}px`,
    chance(0.1) && `max-height:${int(10, 80)}px`,
  ]);

function blocks(d: Draw, depth: number, more: (d: Draw) => string = () => ''): string {
  const entry = (): string => {
    const inner = depth > 3 || d.chance(0.35) ? (d.chance(0.25) ? '' : words(d)) : blocks(d, depth + 1, more);
    const css = style([edges(d), margins(d), sizes(d), more(d)]);
    return el(
      d.pick(['div', 'p', 'section', 'h2', 'blockquote', 'ul']).replace(/^p$/, depth > 2 ? 'p' : 'div'),
      css,
      inner,
    );
  };
  return many(1, 4, d, entry);
}

const FAMILIES: Family[] = [
  {
    name: 'block flow and collapsing',
    body: (d) =>
      blocks(d, 0, ({ chance, pick }) =>
        style([chance(0.1) && `overflow:${pick(['hidden', 'auto'])}`, chance(0.05) && 'display:flow-root']),
      ),
  },
  {
    name: 'floats and clearance',
    body: (d) =>
      blocks(d, 1, ({ chance, pick, int }) =>
        chance(0.3)
          ? `float:${pick(['left', 'right'])};width:${int(40, 160)}px;height:${int(20, 80)}px`
          : style([
              chance(0.25) && `clear:${pick(['left', 'right', 'both'])}`,
              chance(0.15) && 'overflow:hidden',
              chance(0.1) && 'display:flow-root',
            ]),
      ),
  },
  {
    name: 'sizing keywords and clamps',
    body: (d) =>
      many(3, 6, d, () =>
        el(
          'div',
          style([edges(d), margins(d), d.chance(0.5) && `width:${d.int(200, 600)}px`]),
          many(1, 3, d, () =>
            el(
              'div',
              style([
                edges(d),
                sizes(d),
                `width:${d.pick(['min-content', 'max-content', 'fit-content', 'stretch', 'auto', '120px', '70%', 'calc(100% - 2em)'])}`,
                d.chance(0.3) && `display:${d.pick(['inline-block', 'block'])}`,
                d.chance(0.2) && 'aspect-ratio:2/1',
              ]),
              words(d, 6),
            ),
          ),
        ),
      ),
  },
  {
    name: 'percentage heights',
    css: 'html, body { height: 100% }',
    body: (d) => {
      const inner = (depth: number): string =>
        many(1, 2, d, () =>
          el(
            'div',
            style([
              d.chance(0.7) && `height:${d.pick(['50%', '100%', '25%', '120px', 'auto', 'calc(50% - 5px)'])}`,
              d.chance(0.25) && `min-height:${d.pick(['30px', '20%'])}`,
              d.chance(0.15) && `max-height:${d.pick(['80px', '60%'])}`,
              d.chance(0.2) && 'display:flex',
              d.chance(0.2) && 'position:relative',
              d.chance(0.1) && 'position:absolute;top:0;bottom:0',
              edges(d),
            ]),
            depth > 3 ? words(d, 2) : inner(depth + 1),
          ),
        );
      return inner(0);
    },
  },
  {
    name: 'flex',
    body: (d) =>
      many(2, 5, d, () =>
        el(
          'div',
          style([
            `display:${d.pick(['flex', 'flex', 'inline-flex'])}`,
            d.chance(0.3) && `flex-direction:${d.pick(['column', 'row-reverse'])}`,
            d.chance(0.3) && 'flex-wrap:wrap',
            d.chance(0.4) && `gap:${d.int(1, 20)}px`,
            d.chance(0.4) && `align-items:${d.pick(['center', 'flex-start', 'baseline', 'flex-end'])}`,
            d.chance(0.3) && `justify-content:${d.pick(['center', 'space-between', 'flex-end'])}`,
            d.chance(0.3) && `width:${d.int(200, 700)}px`,
            d.chance(0.2) && `height:${d.int(60, 200)}px`,
            edges(d),
          ]),
          many(1, 4, d, () =>
            el(
              'div',
              style([
                edges(d),
                d.chance(0.3) && `margin:${d.int(0, 12)}px`,
                d.chance(0.6) &&
                  `flex:${d.pick(['1', '2', '1 1 auto', '0 0 100px', '0 1 200px', 'none', '1 2 150px'])}`,
                d.chance(0.3) && `width:${d.int(50, 300)}px`,
                d.chance(0.2) && `min-width:${d.pick(['0', '80px'])}`,
                d.chance(0.15) && `max-width:${d.int(60, 160)}px`,
                d.chance(0.2) && `height:${d.int(20, 80)}px`,
                d.chance(0.15) && 'overflow:hidden',
              ]),
              words(d, 3),
            ),
          ),
        ),
      ),
  },
  {
    name: 'grid',
    body: (d) =>
      many(2, 4, d, () =>
        el(
          'div',
          style([
            'display:grid',
            `grid-template-columns:${d.pick(['1fr 1fr', '120px 1fr', 'auto 1fr auto', 'repeat(3, 1fr)', '2fr 1fr 80px', 'minmax(100px, 1fr) auto', 'max-content 1fr', '30% 1fr', 'repeat(2, 100px)'])}`,
            d.chance(0.3) &&
              `grid-template-rows:${d.pick(['60px auto', '1fr 1fr', 'auto 40px', 'minmax(30px, auto)'])}`,
            d.chance(0.5) && `gap:${d.int(1, 20)}px`,
            d.chance(0.3) && `justify-items:${d.pick(['start', 'center', 'end'])}`,
            d.chance(0.3) && `align-items:${d.pick(['start', 'center', 'end'])}`,
            d.chance(0.3) && `width:${d.int(300, 700)}px`,
            d.chance(0.2) && `height:${d.int(120, 260)}px`,
            edges(d),
          ]),
          many(2, 6, d, () =>
            el(
              'div',
              style([
                edges(d),
                d.chance(0.3) && `margin:${d.int(0, 10)}px`,
                d.chance(0.2) && `width:${d.pick(['50%', '70px'])}`,
                d.chance(0.2) && `height:${d.pick(['30px', '50%'])}`,
                d.chance(0.15) && `grid-column:${d.pick(['span 2', '1 / 3'])}`,
                d.chance(0.1) && 'min-width:0',
              ]),
              words(d, 3),
            ),
          ),
        ),
      ),
  },
  {
    name: 'tables',
    body: (d) => {
      const columns = d.int(2, 4);
      const cell = (tag: string) =>
        el(
          tag,
          style([
            d.chance(0.3) && `width:${d.pick(['80px', '1%', '25%', '140px'])}`,
            d.chance(0.3) && `padding:${d.int(0, 10)}px`,
            d.chance(0.2) && `border:${d.int(1, 4)}px solid`,
            d.chance(0.2) && `height:${d.int(20, 60)}px`,
            d.chance(0.2) && `vertical-align:${d.pick(['top', 'middle', 'bottom'])}`,
          ]),
          words(d, 5),
        );
      return many(1, 3, d, () =>
        el(
          'table',
          style([
            d.chance(0.4) && `width:${d.pick(['100%', '400px', '60%'])}`,
            d.chance(0.3) && 'border-collapse:collapse',
            d.chance(0.3) && `border-spacing:${d.int(0, 10)}px`,
            d.chance(0.2) && 'table-layout:fixed',
            d.chance(0.3) && `border:${d.int(1, 5)}px solid`,
            d.chance(0.2) && `margin:${d.int(0, 20)}px`,
          ]),
          (d.chance(0.3) ? el('caption', '', words(d)) : '') +
            many(
              1,
              4,
              d,
              () =>
                `<tr>${Array.from({ length: columns }, () => cell(d.pick(['td', 'td', 'th']))).join('')}</tr>`,
            ),
        ),
      );
    },
  },
  {
    name: 'inline and images',
    body: (d) => {
      const image = () =>
        `<img alt="" style="${style([d.chance(0.8) && `width:${d.int(10, 90)}px`, d.chance(0.6) && `height:${d.int(10, 90)}px`, d.chance(0.4) && `vertical-align:${d.pick(['middle', 'top', 'bottom', 'text-bottom', '5px'])}`, d.chance(0.3) && `margin:${d.int(0, 8)}px`])}" src="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='60' height='30'/%3E">`;
      const span = () =>
        el(
          d.pick(['span', 'b', 'em', 'code', 'small', 'sup']),
          style([
            d.chance(0.3) && `padding:${d.int(0, 6)}px`,
            d.chance(0.2) && `border:${d.int(1, 3)}px solid`,
            d.chance(0.2) && `font-size:${d.int(10, 30)}px`,
            d.chance(0.2) && `line-height:${d.pick(['1', '2', '30px'])}`,
            d.chance(0.2) && `margin:0 ${d.int(0, 10)}px`,
          ]),
          words(d, 2),
        );
      const block = () =>
        el(
          'span',
          style([
            'display:inline-block',
            edges(d),
            d.chance(0.4) && `width:${d.int(30, 120)}px`,
            d.chance(0.3) && `height:${d.int(10, 60)}px`,
            d.chance(0.3) && `vertical-align:${d.pick(['top', 'middle'])}`,
          ]),
          words(d, 2),
        );
      return many(3, 6, d, () =>
        el(
          'div',
          style([
            edges(d),
            margins(d),
            d.chance(0.3) && `line-height:${d.pick(['1', '1.5', '28px', 'normal'])}`,
            d.chance(0.2) && `font-size:${d.int(12, 24)}px`,
          ]),
          many(1, 5, d, () => d.pick([image, span, block, () => words(d, 3)])() + d.pick(['', ' ', '<br>'])),
        ),
      );
    },
  },
  {
    name: 'positioning',
    body: (d) => {
      const inset = () =>
        style([
          d.chance(0.6) && `left:${d.pick(['10px', '5%', '0'])}`,
          d.chance(0.5) && `right:${d.pick(['20px', '10%', '0'])}`,
          d.chance(0.6) && `top:${d.pick(['10px', '5%', '0'])}`,
          d.chance(0.4) && `bottom:${d.pick(['15px', '0'])}`,
        ]);
      return many(2, 5, d, () =>
        el(
          'div',
          style([
            `position:${d.pick(['relative', 'relative', 'static'])}`,
            `min-height:${d.int(60, 160)}px`,
            edges(d),
            margins(d),
            d.chance(0.2) && 'transform:translate(10px, 5px)',
            d.chance(0.3) && inset(),
          ]),
          words(d, 3) +
            many(1, 3, d, () =>
              el(
                'div',
                style([
                  `position:${d.pick(['absolute', 'absolute', 'relative', 'fixed'])}`,
                  inset(),
                  edges(d),
                  sizes(d),
                  d.chance(0.2) && 'margin:auto',
                  d.chance(0.2) && `margin:${d.int(0, 12)}px`,
                ]),
                words(d, 3),
              ),
            ),
        ),
      );
    },
  },
  {
    name: 'right to left and vertical',
    body: (d) =>
      many(2, 4, d, () =>
        el(
          'div',
          style([
            d.pick([
              'direction:rtl',
              'writing-mode:vertical-rl;height:300px',
              'writing-mode:vertical-lr;height:260px',
            ]),
            edges(d),
          ]),
          blocks(d, 2),
        ),
      ),
  },
  {
    name: 'quirks',
    quirks: true,
    body: (d) =>
      blocks(d, 1, ({ chance, pick }) => style([chance(0.3) && `height:${pick(['50%', '100%', '30px'])}`])) +
      el('table', '', `<tr><td><p>${words(d)}</p></td><td>${words(d)}</td></tr>`),
  },
];

export const FAMILY_NAMES = FAMILIES.map(({ name }) => name);

export function familyPage(name: string, seed: number): string {
  const family = FAMILIES.find((family) => family.name === name)!;
  const d = draw(seed);
  return `${family.quirks ? '' : '<!doctype html>'}<html><head><title>${name} ${seed}</title><style>body { font: 16px/1.5 sans-serif } ${family.css ?? ''}</style></head><body>${family.body(d)}</body></html>`;
}
