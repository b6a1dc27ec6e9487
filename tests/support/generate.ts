/** Pages made at random from a seed: rules of every kind over a tree of elements. */

/** A small generator of numbers from 0 to 1 (mulberry32), so that a seed gives the same pages everywhere. */
export function random(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

const CLASSES = ['a', 'b', 'c', 'd', 'e'];
const TAGS = ['div', 'p', 'section', 'ul', 'li', 'span', 'em', 'h2', 'table', 'blockquote', 'pre', 'a'];
const LENGTHS = [
  '0',
  '3px',
  '-2px',
  '1.5em',
  '2rem',
  '10%',
  '4vw',
  'calc(1px + 2%)',
  'var(--x)',
  'var(--y, 6px)',
  'inherit',
  'initial',
  'unset',
  'revert',
  'revert-layer',
  '7 px',
];
const DECLARATIONS: [string, string[]][] = [
  ['margin', LENGTHS],
  ['margin-left', LENGTHS],
  ['margin-inline-start', LENGTHS],
  ['padding', LENGTHS],
  ['padding-block', LENGTHS],
  ['width', [...LENGTHS, 'auto', 'min-content']],
  ['inline-size', LENGTHS],
  ['height', LENGTHS],
  ['inset', LENGTHS],
  ['top', LENGTHS],
  ['font-size', ['12px', '1.2em', '90%', 'smaller', 'inherit', 'initial', 'unset', 'revert']],
  ['line-height', ['1.4', '20px', '150%', 'normal', 'inherit']],
  ['font', ['italic 600 15px/1.3 serif', 'inherit', '2em monospace']],
  ['border', ['1px solid red', 'thick dotted', 'none', 'inherit', '0', 'var(--z)']],
  ['border-width', ['1px 2px', 'thin', 'revert-layer']],
  ['border-inline', ['2px solid', 'none']],
  ['display', ['block', 'inline-block', 'flex', 'grid', 'inherit', 'revert', 'unset']],
  ['flex', ['1', 'none', '2 0 10px', 'auto']],
  ['gap', ['3px', '1px 2px']],
  ['overflow', ['hidden', 'auto scroll', 'visible']],
  ['position', ['relative', 'absolute', 'static']],
  ['direction', ['rtl', 'ltr', 'inherit']],
  ['writing-mode', ['vertical-rl', 'horizontal-tb', 'inherit']],
  ['color', ['red', 'currentcolor', 'var(--color, blue)', 'inherit']],
  ['text-align', ['center', 'start', 'inherit']],
  ['white-space', ['nowrap', 'pre', 'normal']],
  ['--x', ['5px', '1em', 'initial', 'inherit', 'var(--w, 9px)']],
  ['--y', ['8px', 'var(--x)', '']],
  ['--z', ['3px double green', 'none']],
  ['all', ['unset', 'revert', 'initial']],
];

export function page(seed: number): string {
  const next = random(seed);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!;
  const chance = (share: number) => next() < share;

  const compound = (): string => {
    const base = chance(0.3) ? pick(TAGS) : `.${pick(CLASSES)}`;
    const more = chance(0.25) ? `.${pick(CLASSES)}` : '';
    const pseudo = chance(0.3)
      ? pick([
          ':first-child',
          ':last-of-type',
          ':nth-child(2n + 1)',
          `:not(.${pick(CLASSES)})`,
          `:is(.${pick(CLASSES)}, #one)`,
          `:where(.${pick(CLASSES)})`,
          `:has(> .${pick(CLASSES)})`,
          ':empty',
        ])
      : '';
    return base + more + pseudo;
  };
  const selector = (): string => {
    let text = compound();
    while (chance(0.35)) text += pick([' ', ' > ', ' + ', ' ~ ']) + compound();
    return chance(0.15) ? `${text}, ${compound()}` : text;
  };
  const declaration = (): string => {
    const [property, values] = pick(chance(0.03) ? DECLARATIONS : DECLARATIONS.slice(0, -1));
    return `${property}: ${pick(values)}${chance(0.1) ? ' !important' : ''}`;
  };
  const body = (): string => Array.from({ length: 1 + Math.floor(next() * 4) }, declaration).join('; ');
  const rule = (depth: number): string => {
    const nested =
      depth < 2 && chance(0.2) ? `; ${pick(['&', '> ', '& ', ''])}${compound()} { ${body()} }` : '';
    return `${selector()} { ${body()}${nested} }`;
  };
  const group = (depth: number): string => {
    const inner = () =>
      Array.from({ length: 1 + Math.floor(next() * 3) }, () =>
        depth < 3 && chance(0.3) ? group(depth + 1) : rule(depth),
      ).join('\n');
    const heads = [
      '@layer one',
      '@layer two',
      '@layer',
      '@layer one.inner',
      '@media (min-width: 500px)',
      '@media (max-width: 500px)',
      '@media not print',
      '@supports (display: grid)',
      '@supports (nonsense: 1)',
      `@scope (.${pick(CLASSES)})`,
      `@scope (.${pick(CLASSES)}) to (.${pick(CLASSES)})`,
    ];
    return `${pick(heads)} {\n${inner()}\n}`;
  };
  const sheet = `${chance(0.5) ? '@layer two, one;\n' : ''}${Array.from({ length: 24 }, () => (chance(0.3) ? group(0) : rule(0))).join('\n')}`;

  let count = 0;
  const element = (depth: number): string => {
    const tag = pick(TAGS);
    const id = count++ === 3 ? ' id="one"' : '';
    const classes = CLASSES.filter(() => chance(0.3)).join(' ');
    const style = chance(0.15) ? ` style="${body()}"` : '';
    const children =
      depth > 4 ? '' : Array.from({ length: Math.floor(next() * 4) }, () => element(depth + 1)).join('');
    return `<${tag}${id} class="${classes}"${style}>t${children}</${tag}>`;
  };
  return `<!doctype html><html><head><title>${seed}</title><style>${sheet}</style></head><body>${Array.from({ length: 5 }, () => element(0)).join('\n')}</body></html>`;
}
