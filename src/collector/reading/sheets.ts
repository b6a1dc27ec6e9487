/** The style sheets in effect, with their texts where the document holds them. */
import { isOfBars } from '../document/scrollbars.ts';
import type { SheetFound } from '../../core/reading/reading.ts';
import { isUnderlay } from '../document/underlay.ts';

export function sheetsOf(roots: (Document | ShadowRoot)[]): SheetFound[] {
  const out: SheetFound[] = [];
  roots.forEach((root, index) => {
    const styles = Array.from(root.querySelectorAll('style')).filter((style) => !isUnderlay(style));
    const links = Array.from(root.querySelectorAll('link[rel~="stylesheet" i]'));
    for (const sheet of Array.from(root.styleSheets)) {
      if (sheet.disabled) continue;
      const owner = sheet.ownerNode;
      if (isUnderlay(owner as Element | null)) continue;
      const media = sheet.media.mediaText;
      const style = styles.indexOf(owner as HTMLStyleElement);
      if (style >= 0) {
        const written = owner?.textContent ?? '';
        const text = written.trim() === '' && sheet.cssRules.length > 0 ? rulesText(sheet) : written;
        out.push({ root: index, owner: style, form: 'style', address: '', media, text });
      } else {
        out.push({
          root: index,
          owner: links.indexOf(owner as Element),
          form: 'link',
          address: sheet.href ?? '',
          media,
          text: '',
        });
      }
    }
    for (const sheet of root.adoptedStyleSheets ?? [])
      if (!sheet.disabled && !isOfBars(sheet))
        out.push({
          root: index,
          owner: -1,
          form: 'constructed',
          address: '',
          media: sheet.media.mediaText,
          text: rulesText(sheet),
        });
  });
  return out;
}

const rulesText = (sheet: CSSStyleSheet): string =>
  Array.from(sheet.cssRules, (rule) => rule.cssText).join('\n');
