/** What is changed in a page's HTML before its frame gets it: where the collector goes in, and what is taken out of effect. */
import { scanHtml } from '../../../core/html/scan.ts';

/** A piece of the text with others in its place. */
export interface Replacement {
  start: number;
  end: number;
  /** Other text; null: the document of a frame element, which `inner` says how to change. */
  text: string | null;
  inner?: { html: string; places: FramePlaces };
}

export interface FramePlaces {
  /** Offset at which the collector's script goes in: before anything of the page can run, behind the doctype. */
  at: number;
  /** In the order of their places. */
  replacements: Replacement[];
}

/** Names of the same length, so that nothing else in the file moves. */
const HELD_REFRESH = 'data-equiv';
/** Documents in frames that get a collector, in all and one in the other: more are not read (`station/framed.ts`). */
const MOST_FRAMES = 20;
const DEEPEST = 3;

/** Links that make engines connect to other hosts, whatever the policy says (HTML §4.6.8). */
const CONNECTING = new Set(['preconnect', 'dns-prefetch', 'prefetch', 'prerender']);

/**
 * A page under measurement stays where it is: the `http-equiv` of a refresh is given another name. It reaches no other host:
 * neither do links that connect ahead. A document written in a `srcdoc` gets the collector like any other.
 */
export function framePlaces(html: string, budget = { frames: MOST_FRAMES }, depth = 0): FramePlaces {
  const replacements: Replacement[] = [];
  const found = scanHtml(html, {
    element: ({ tag, isHtml, attributes, location }) => {
      const value = (name: string) => attributes.find((attr) => attr.name === name)?.value;
      const place = (name: string) => location.attrs?.[name];
      const refresh =
        tag === 'meta' && value('http-equiv')?.trim().toLowerCase() === 'refresh'
          ? place('http-equiv')
          : undefined;
      if (refresh)
        replacements.push({
          start: refresh.startOffset,
          end: refresh.startOffset + 'http-equiv'.length,
          text: HELD_REFRESH,
        });
      const rel = tag === 'link' ? value('rel') : undefined;
      const at = place('rel');
      if (at && rel?.split(/\s+/).some((word) => CONNECTING.has(word.toLowerCase()))) {
        const kept = rel.split(/\s+/).filter((word) => !CONNECTING.has(word.toLowerCase()));
        replacements.push({
          start: at.startOffset,
          end: at.endOffset,
          text: `rel="${escapeAttribute(kept.join(' '))}"`.padEnd(at.endOffset - at.startOffset),
        });
      }
      const srcdoc = tag === 'iframe' && isHtml ? place('srcdoc') : undefined;
      if (srcdoc && depth < DEEPEST && budget.frames > 0) {
        budget.frames -= 1;
        const inner = value('srcdoc') ?? '';
        replacements.push({
          start: srcdoc.startOffset,
          end: srcdoc.endOffset,
          text: null,
          inner: { html: inner, places: framePlaces(inner, budget, depth + 1) },
        });
      }
    },
  });
  // An element that is put in again by the parser is told twice.
  const seen = new Set<number>();
  return {
    at: found.headTagEnd ?? found.htmlTagEnd ?? found.doctypeEnd ?? 0,
    replacements: replacements
      .sort((replacement, other) => replacement.start - other.start)
      .filter(({ start }) => !seen.has(start) && seen.add(start)),
  };
}

export const escapeAttribute = (text: string): string => text.replace(/&/g, '&amp;').replace(/"/g, '&quot;');

/** The page with `tag` as its first script. */
export function framed(html: string, { at, replacements }: FramePlaces, tag: string): string {
  const pieces: string[] = [];
  let last = 0;
  let isPlaced = false;
  const place = (): void => {
    pieces.push(html.slice(last, at), tag);
    last = at;
    isPlaced = true;
  };
  for (const { start, end, text, inner } of replacements) {
    if (!isPlaced && start >= at) place();
    pieces.push(html.slice(last, start));
    pieces.push(text ?? `srcdoc="${escapeAttribute(framed(inner!.html, inner!.places, tag))}"`);
    last = end;
  }
  if (!isPlaced) place();
  pieces.push(html.slice(last));
  return pieces.join('');
}
