/**
 * What is visibly wrong on a page, asked of the engine alone: letters that are cut, covered, over other letters, outside their
 * ground or off the page; controls that cannot be hit; pictures out of their ratio; what scrolls. Nothing of it uses the product.
 */
export interface Harm {
  kind: 'scroll' | 'cut' | 'covered' | 'letters' | 'outside' | 'off' | 'unreachable' | 'ratio' | 'inner-scroll';
  /** A selector of the element, from the root. */
  path: string;
  px: number;
}

/** A function of the page: the path of an element from the root. */
export const PATH_OF = `const pathOf = (e) => {
  const parts = [];
  for (let at = e; at && at !== document.documentElement; at = at.parentElement)
    parts.unshift(at.tagName.toLowerCase() + ':nth-child(' + (1 + [...at.parentElement.children].indexOf(at)) + ')');
  return ['html', ...parts].join(' > ');
};
`;

/** An expression that gives a list of `Harm` as JSON text, in the page. */
export const HARM = `(() => {
  ${PATH_OF}
  const out = [];
  const root = document.scrollingElement;
  const add = (kind, e, px) => px >= 3 && out.push({ kind, path: pathOf(e), px: Math.round(px) });
  add('scroll', document.body, root.scrollWidth - root.clientWidth);
  const styles = new Map();
  const styleOf = (e) => { let s = styles.get(e); if (!s) styles.set(e, (s = getComputedStyle(e))); return s; };
  const isGround = (e) => {
    const s = styleOf(e);
    return /rgba\\(.*, 0\\)|transparent/.test(s.backgroundColor) === false || s.backgroundImage !== 'none' || /^(IMG|VIDEO|CANVAS|IFRAME|INPUT|SELECT|TEXTAREA|BUTTON)$/.test(e.tagName);
  };
  const isClip = (e) => styleOf(e).overflowX !== 'visible' || styleOf(e).overflowY !== 'visible';
  const isShown = (e) => e.checkVisibility({ checkOpacity: true, checkVisibilityCSS: true });
  for (const e of document.body.querySelectorAll('*')) {
    const s = styleOf(e);
    if (/auto|scroll/.test(s.overflowX) && isShown(e)) add('inner-scroll', e, e.scrollWidth - e.clientWidth);
    if (/auto|scroll/.test(s.overflowY) && isShown(e)) add('inner-scroll', e, e.scrollHeight - e.clientHeight);
  }
  const lines = [];
  const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let node = walk.nextNode(); node; node = walk.nextNode()) {
    const e = node.parentElement;
    if (!/\\S/.test(node.data) || !isShown(e) || /^(SCRIPT|STYLE|OPTION|NOSCRIPT|TEXTAREA)$/.test(e.tagName)) continue;
    const s = styleOf(e);
    if (parseFloat(s.fontSize) < 2 || /rgba\\(.*, 0\\)/.test(s.color)) continue;
    const range = document.createRange();
    range.selectNodeContents(node);
    const rects = [...range.getClientRects()].filter((r) => r.width > 3 && r.height > 3);
    if (rects.length === 0) continue;
    // Text kept for those who hear the page alone.
    let hidden = false;
    for (let at = e; at; at = at.parentElement) {
      const b = at.getBoundingClientRect();
      if (isClip(at) && (b.width <= 2 || b.height <= 2)) hidden = true;
      if (styleOf(at).clipPath !== 'none' || styleOf(at).textIndent.startsWith('-9')) hidden = true;
    }
    // What clips an end keeps letters from lying over others.
    const clips = [];
    for (let at = e; at && at !== document.body; at = at.parentElement) if (isClip(at) && styleOf(at).display !== 'inline') clips.push(at.getBoundingClientRect());
    if (!hidden) lines.push({ e, clips, rects: rects.map((r) => {
      // The letters, without the room above and below them.
      const size = parseFloat(s.fontSize), middle = (r.top + r.bottom) / 2;
      return { left: r.left, right: r.right, top: Math.max(r.top, middle - size * 0.36), bottom: Math.min(r.bottom, middle + size * 0.36) };
    }) });
  }
  for (const { e, rects } of lines) {
    let cut = 0, outside = 0, off = 0;
    for (const r of rects) {
      let ground = null;
      let canScroll = false;
      for (let at = e; at && at !== document.documentElement; at = at.parentElement) {
        const b = at.getBoundingClientRect();
        const s = styleOf(at);
        if (at !== document.body && isClip(at) && s.display !== 'inline') {
          const fits = { left: b.left + at.clientLeft, top: b.top + at.clientTop };
          const rights = { right: fits.left + at.clientWidth, bottom: fits.top + at.clientHeight };
          const x = Math.max(fits.left - r.left, r.right - rights.right, 0);
          const y = Math.max(fits.top - r.top, r.bottom - rights.bottom, 0);
          if (x > 0 && /auto|scroll/.test(s.overflowX)) canScroll = true; else if (x > cut && !canScroll) cut = x;
          if (y > 0 && /auto|scroll/.test(s.overflowY)) canScroll = true; else if (y > cut && !canScroll) cut = y;
        }
        if (!ground && at !== document.body && isGround(at) && s.display !== 'inline') ground = b;
        if (s.position === 'fixed') break;
      }
      if (ground && cut === 0 && !canScroll)
        outside = Math.max(outside, ground.left - r.left, r.right - ground.right, ground.top - r.top, r.bottom - ground.bottom);
      if (cut === 0 && !canScroll) off = Math.max(off, -(r.left + scrollX), -(r.top + scrollY));
    }
    add('cut', e, cut);
    add('outside', e, outside);
    add('off', e, off);
  }
  // Letters over letters, but for those that stay while others pass.
  const isStuck = (e) => { for (let at = e; at; at = at.parentElement) if (/fixed|sticky/.test(styleOf(at).position)) return true; return false; };
  const flat = lines.flatMap(({ e, clips, rects }) => rects.map((r) => ({ e, r: clips.reduce((a, b) => ({ left: Math.max(a.left, b.left), right: Math.min(a.right, b.right), top: Math.max(a.top, b.top), bottom: Math.min(a.bottom, b.bottom) }), r) }))).filter(({ e, r }) => r.right > r.left && r.bottom > r.top && !isStuck(e)).sort((a, b) => a.r.top - b.r.top);
  const worst = new Map();
  for (let i = 0; i < flat.length; i++)
    for (let j = i + 1; j < flat.length && flat[j].r.top < flat[i].r.bottom; j++) {
      const [a, b] = [flat[i].r, flat[j].r];
      const x = Math.min(a.right, b.right) - Math.max(a.left, b.left), y = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
      if (x > 3 && y > 3) for (const { e } of [flat[i], flat[j]]) worst.set(e, Math.max(worst.get(e) ?? 0, Math.min(x, y)));
    }
  for (const [e, px] of worst) add('letters', e, px);
  for (const img of document.images) {
    const r = img.getBoundingClientRect();
    if (!isShown(img) || !img.naturalWidth || r.width < 16 || r.height < 16 || styleOf(img).objectFit !== 'fill') continue;
    const s = styleOf(img);
    const w = img.clientWidth - parseFloat(s.paddingLeft) - parseFloat(s.paddingRight);
    const h = img.clientHeight - parseFloat(s.paddingTop) - parseFloat(s.paddingBottom);
    if (w > 4 && h > 4) add('ratio', img, Math.abs(w - (h * img.naturalWidth) / img.naturalHeight) > 0.05 * w ? Math.abs(w - (h * img.naturalWidth) / img.naturalHeight) : 0);
  }
  // What a pointer meets, in the middle of letters and of controls.
  const at = [scrollX, scrollY];
  // Wherever the page is scrolled to: a bar that stays where it is covers what passes under it, and that is no harm.
  const isMet = (x, y, test) => {
    const pageY = y + at[1];
    const met = [];
    for (const part of [0.5, 0.25, 0.75, 0.05, 0.95]) {
      scrollTo({ left: 0, top: pageY - innerHeight * part, behavior: 'instant' });
      const found = document.elementFromPoint(x, pageY - scrollY);
      if (!test(found)) return true;
    }
    return false;
  };
  const isOther = (found, e) => found && found !== e && !found.contains(e) && !e.contains(found) && !(found.closest('label') && found.closest('label').contains(e)) && !(found.control === e);
  const groundBetween = (found, e) => {
    for (let node = found; node && !node.contains(e); node = node.parentElement) if (isGround(node)) return node;
    return null;
  };
  for (const { e, rects } of lines) {
    let covered = 0;
    for (const r of rects.slice(0, 6))
      for (const part of [0.08, 0.5, 0.92]) {
        const x = r.left + (r.right - r.left) * part;
        if (x < 0 || x >= innerWidth) continue;
        if (!isMet(x, (r.top + r.bottom) / 2, (found) => isOther(found, e) && groundBetween(found, e))) covered = Math.max(covered, r.bottom - r.top);
      }
    add('covered', e, covered);
  }
  for (const e of document.querySelectorAll('a[href], button, input, select, textarea, summary')) {
    scrollTo({ left: at[0], top: at[1], behavior: 'instant' });
    const r = [...e.getClientRects()].find(({ width, height }) => width > 3 && height > 3);
    if (!r || !isShown(e) || styleOf(e).pointerEvents === 'none' || e.disabled) continue;
    if (!isMet((r.left + r.right) / 2, (r.top + r.bottom) / 2, (found) => isOther(found, e))) add('unreachable', e, Math.min(r.width, r.height));
  }
  scrollTo({ left: at[0], top: at[1], behavior: 'instant' });
  return JSON.stringify(out);
})()`;

/** The harms of `after` that `before` has not, or has by less than half; what scrolled before may scroll further. */
export function freshHarms(before: readonly Harm[], after: readonly Harm[]): Harm[] {
  const had = new Map(before.map((harm) => [`${harm.kind} ${harm.path}`, harm.px]));
  return after.filter((harm) => {
    const was = had.get(`${harm.kind} ${harm.path}`) ?? 0;
    return harm.px >= 5 && (harm.kind === 'inner-scroll' ? was === 0 : harm.px > 2 * was);
  });
}
